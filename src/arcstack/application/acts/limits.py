"""By what a build is judged: another practice, a limit of its own, a matter that it decides."""

from collections.abc import Mapping

from arcstack.application.practice_library import PracticeLibrary
from arcstack.assess.catalogue import limit_title
from arcstack.checks import Evidence
from arcstack.document import Build, Decision, Entry, Override, Sitting, judged_by
from arcstack.document.entry import Quantity, enter
from arcstack.errors import FieldError, NotFound, QuantityError
from arcstack.practice import practice
from arcstack.practice.matters import matters
from arcstack.settings import setting
from arcstack.store import Kind, Reason
from arcstack.units import System

LONGEST_REASON, LARGEST_LIMIT = int(setting("limits.longest_reason")), setting("limits.largest")


def judged_anew(build: Build, chosen: str, library: PracticeLibrary) -> Build:
    """The build judged by a practice in the version that is here. Raises ``PracticeError`` for an unknown one."""
    own = library.find(chosen)
    if own is not None:
        return build.model_copy(update={"practice": own.id, "practice_version": own.version, "own_practice": own})
    if build.own_practice is not None and build.own_practice.id == chosen:
        return build
    version = practice(chosen).version
    return build.model_copy(update={"practice": chosen, "practice_version": version, "own_practice": None})


def choose_practice(build: Build, chosen: str, library: PracticeLibrary) -> tuple[Build, Reason]:
    """Judge by another practice, or by the newer version of its own; limits changed for this build stay."""
    changed = judged_anew(build, chosen, library)
    name = judged_by(changed).name
    if chosen == build.practice:
        return changed, Reason(Kind.PRACTICE_NEWER, before=name, after=str(changed.practice_version))
    return changed, Reason(Kind.PRACTICE, before=name, after=chosen)


def decide_matter(build: Build, by: Sitting, *, matter: str, choice: str, reason: str) -> tuple[Build, Reason]:
    """Take a side on a matter that the build decides, or leave it open again where no side is named."""
    about = matters().get(matter)
    if about is None or choice not in ("", *about.sides):
        raise NotFound("There is no such matter, or it has no such side.")
    if len(reason) > LONGEST_REASON or not reason.isprintable():
        raise FieldError(f"decision-{matter}", f"A reason has at most {LONGEST_REASON} characters.")
    decisions = {k: d for k, d in build.decisions.items() if k != matter}
    if choice:
        decisions[matter] = Decision(choice=choice, reason=reason, by=by)
    return build.model_copy(update={"decisions": decisions}), Reason(Kind.DECISION, matter, after=about.said(choice))


def give_back_limit(build: Build, key: str) -> tuple[Build, Reason]:
    """Give a limit back to the practice."""
    _known(build, key)
    overrides = {k: o for k, o in build.overrides.items() if k != key}
    return build.model_copy(update={"overrides": overrides}), Reason(Kind.LIMIT_BACK, key)


def change_limit(
    build: Build, by: Sitting, *, key: str, ends: Mapping[str, str], reason: str, system: System
) -> tuple[Build, Reason]:
    """Give a build its own limit, for a reason: ``ends`` are its low and high as they are typed."""
    _known(build, key)
    spec = judged_by(build).limits[key]
    quantity = Quantity(limit_title(key), spec.dimension, -LARGEST_LIMIT, LARGEST_LIMIT)
    if len(reason) < 3 or len(reason) > LONGEST_REASON or not reason.isprintable():
        raise FieldError(key, "Say in a few words why this build has its own limit.")
    unit = spec.dimension.unit(system)
    try:
        entered = {
            end: enter(ends.get(end, ""), quantity, Evidence.ASSUMED, unit)
            for end in ("low", "high")
            if getattr(spec, end) is not None
        }
    except QuantityError as error:
        raise FieldError(key, str(error)) from error
    low, high = (e if isinstance(e := entered.get(end), Entry) else None for end in ("low", "high"))
    if low and high and low.value >= high.value:
        raise FieldError(key, "The low end must be below the high end.")
    made = Override(low=low, high=high, reason=reason, by=by)
    return build.model_copy(update={"overrides": {**build.overrides, key: made}}), Reason(Kind.LIMIT, key, after=reason)


def _known(build: Build, key: str) -> None:
    if key not in judged_by(build).limits:
        raise NotFound(f"This build's practice has no limit called {key}.")
