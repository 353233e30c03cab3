"""A cut before it is made: what heights, loads, lash, tip and margin become at one valve, and what is left to take."""

from dataclasses import dataclass

from arcstack.assess.assessment import verdict
from arcstack.assess.built import OF_DESIGN
from arcstack.assess.catalogue import checks
from arcstack.assess.context import Context
from arcstack.checks import Verdict
from arcstack.document import Build, Entry
from arcstack.document.draft import Draft
from arcstack.document.parts import Adjuster
from arcstack.readings import Cut
from arcstack.readings.built import moved_by
from arcstack.settings import setting
from arcstack.units import LENGTH
from arcstack.units.display import plain

HARD_TIP_MM = setting("bench.hard_tip")


@dataclass(frozen=True)
class Outcome:
    """One check before and after a cut."""

    before: Verdict
    after: Verdict

    @property
    def moves(self) -> bool:
        """Whether the cut changes its figure or how it stands."""
        old, new = self.before.figure, self.after.figure
        return self.before.level is not self.after.level or (old and old.value) != (new and new.value)


@dataclass(frozen=True)
class Proposed:
    """What a cut would do at a place.

    ``tip_left_mm`` is what is left of the hard skin of the tip; ``held_open_mm`` by how much the valve would hang open
    until its lash is set, None where a hydraulic adjuster takes that up or no lash is known.
    """

    cut: Cut
    outcomes: tuple[Outcome, ...]
    lash_change_mm: float
    tip_left_mm: float
    held_open_mm: float | None


def with_cut(build: Build, side: str, cut: Cut) -> Build:
    """One valve's document as a cut would leave it: heights rise by face and seat, a bucket's lash closes by as much.

    Source: a valve that sits deeper in the chamber stands as much higher at its tip.
    """
    told = "as the proposed cut would leave it"
    draft, rises = Draft(build), cut.raises_mm
    moved_by(draft, f"{side}.stack.open_height", rises, told)
    moved_by(draft, f"{side}.stack.valve.margin", -cut.face_mm, told)
    moved_by(draft, f"{side}.bench.tip_height", rises - cut.tip_mm, told)
    moved_by(draft, f"{side}.stack.tip_proud", -cut.tip_mm, told)
    moved_by(draft, f"{side}.stack.valve.groove_below_tip", -cut.tip_mm, told)
    # a valve that sits deeper stands further from the crown
    moved_by(draft, f"{side}.clearance.drop_at_tdc", rises, told)
    _with_lash(draft, side, cut)
    return draft.done()


def _with_lash(draft: Draft, side: str, cut: Cut) -> None:
    lash = lash_at(draft, side)
    if lash is None or cut.raises_mm == cut.tip_mm:
        return
    value = max(_lash_left_mm(lash, cut), 0.0)
    moved = {"value": value, "typed": plain(value, LENGTH), "outdated": "before it is set again"}
    draft.put(f"{side}.bench.lash", lash.model_copy(update=moved))


def lash_at(draft: Draft, side: str) -> Entry | None:
    """The lash that a valve stands at: as it was read there, else as it is to be set."""
    read = draft.get(f"{side}.bench.lash")
    found = read if isinstance(read, Entry) else draft.get(f"{side}.cam.lash")
    return found if isinstance(found, Entry) else None


def _lash_left_mm(lash: Entry, cut: Cut) -> float:
    return round(lash.value - cut.raises_mm + cut.tip_mm, 9)


def _held_open_mm(ctx: Context, cut: Cut) -> float | None:
    lash = lash_at(Draft(ctx.build), ctx.side_name)
    taken_up = not ctx.bucket and ctx.lever.adjuster is Adjuster.HYDRAULIC
    return None if lash is None or taken_up else max(-_lash_left_mm(lash, cut), 0.0)


def proposed(ctx: Context, cut: Cut, taken_off_tip_mm: float = 0.0) -> Proposed:
    """A cut tried at one valve as built: every closed check that it moves, before and after."""
    after = ctx.of(with_cut(ctx.build, ctx.side_name, cut))
    outcomes = []
    for about in checks().values():
        if about.id in OF_DESIGN:
            continue
        old, new = verdict(ctx, about), verdict(after, about)
        if old is not None and new is not None:
            outcomes.append(Outcome(old, new))
    moved = tuple(sorted((o for o in outcomes if o.moves), key=lambda o: -o.after.level.severity))
    tip_left = HARD_TIP_MM - taken_off_tip_mm - cut.tip_mm
    return Proposed(cut, moved, cut.tip_mm - cut.raises_mm, tip_left, _held_open_mm(ctx, cut))
