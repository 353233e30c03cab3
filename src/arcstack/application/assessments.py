"""Assessments kept, so that an edit works only what it touches."""

from arcstack.application.kept import Kept
from arcstack.application.sweeps import Sweeps
from arcstack.assess import Assessment, assess
from arcstack.document import Build
from arcstack.settings import setting

KEPT_BUILDS = int(setting("assessments.kept_builds"))

OF_EACH = int(setting("assessments.of_each"))


class Assessments:
    """The last assessments of each build, by its id."""

    def __init__(self, sweeps: Sweeps) -> None:
        self._sweeps = sweeps
        self._kept: Kept[int, list[Assessment]] = Kept(KEPT_BUILDS)

    def __contains__(self, build_id: int) -> bool:
        """Whether an assessment of a build is at hand, so that another costs little."""
        return build_id in self._kept

    def of(self, build_id: int, build: Build) -> Assessment:
        """Every verdict of a build, the elastic train's where its sweep is known.

        What does not differ from an assessment at hand is taken over from it; of a build that is met for the first
        time from the last one that was asked for, since many heads of a shop are much alike.
        """
        kept, last = self._kept.get(build_id) or [], self._kept.latest
        lately = last[0] if last else None
        found = next((a for a in kept if a.build is build), None)
        if found is not None and not found.waiting:
            return found
        before = found or (kept[0] if kept else lately)
        made = assess(build, self._sweeps.known, before)
        if before is lately and before is not None and not kept:
            # what was tried of the other head is no use to this one
            for ctx in made.sides.values():
                ctx.aside = {}
        rest = [a for a in self._kept.get(build_id) or [] if a.build is not build]
        self._kept.put(build_id, [made, *rest][:OF_EACH])
        return made
