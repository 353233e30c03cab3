"""Assessments kept, so that an edit works only what it touches."""

from collections import OrderedDict
from threading import Lock

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
        self._lock = Lock()
        self._kept: OrderedDict[int, list[Assessment]] = OrderedDict()

    def __contains__(self, build_id: int) -> bool:
        """Whether an assessment of a build is at hand, so that another costs little."""
        return build_id in self._kept

    def of(self, build_id: int, build: Build) -> Assessment:
        """Every verdict of a build, the elastic train's where its sweep is known.

        What does not differ from an assessment at hand is taken over from it; of a build that is met for the first
        time from the last one that was asked for, since many heads of a shop are much alike.
        """
        with self._lock:
            kept = list(self._kept.get(build_id, ()))
            lately = next(reversed(self._kept.values()))[0] if self._kept else None
        found = next((a for a in kept if a.build is build), None)
        if found is not None and not found.waiting:
            return found
        before = found or (kept[0] if kept else lately)
        made = assess(build, self._sweeps.known, before)
        if before is lately and before is not None and not kept:
            # what was tried of the other head is no use to this one
            for ctx in made.sides.values():
                ctx.aside = {}
        with self._lock:
            rest = [a for a in self._kept.pop(build_id, []) if a.build is not build]
            self._kept[build_id] = [made, *rest][:OF_EACH]
            while len(self._kept) > KEPT_BUILDS:
                self._kept.popitem(last=False)
        return made
