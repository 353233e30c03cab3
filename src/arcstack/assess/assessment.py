"""All verdicts of a build."""

from dataclasses import dataclass

from arcstack.assess import cam
from arcstack.assess.catalogue import checks
from arcstack.assess.check import Check
from arcstack.assess.context import AskSweep, Context, guarded, no_sweeps
from arcstack.assess.reads import Noting
from arcstack.checks import Figure, Level, Limit, Verdict, judge, worst
from arcstack.document import SIDES, Build, judged_by
from arcstack.errors import CurveConflict, NotKnown, Waiting
from arcstack.practice import Practice


@dataclass(frozen=True)
class Assessment:
    """The verdicts of a build, and for each side the context that holds every figure behind them."""

    build: Build
    practice: Practice
    sides: dict[str, Context]
    verdicts: tuple[Verdict, ...]

    @property
    def waiting(self) -> bool:
        """True where a verdict of either side was left open for a sweep that was not known when it was asked."""
        return any(v.waiting for v in self.verdicts)

    def of_side(self, side: str) -> list[Verdict]:
        """Verdicts of one side, in the order of the work."""
        return [v for v in self.verdicts if v.side == side]

    def tightest_first(self, side: str) -> list[Verdict]:
        """Verdicts of one side for reading: those that judge first, then by level, then by room left."""
        return sorted(
            self.of_side(side),
            key=lambda v: (not v.judges, -v.level.severity, v.room if v.room is not None else 0.0),
        )

    def stage_level(self, stage: str, side: str | None = None) -> Level:
        """The worst level of a stage, of one side or both."""
        return worst(v for v in self.verdicts if v.stage == stage and side in (None, v.side))

    def stage_proven(self, stage: str) -> bool:
        """True when every verdict of the stage that judges is proven."""
        rows = [v for v in self.verdicts if v.stage == stage and v.judges]
        return bool(rows) and all(v.proven for v in rows)

    def verdict(self, check: str, side: str) -> Verdict:
        return next(v for v in self.verdicts if v.id == check and v.side == side)


def work(ctx: Context, check: str) -> tuple[Figure, Limit]:
    """A check's figure and the limit it is held to. Raises ``NotKnown``."""
    about = checks()[check]
    with Noting() as noted:
        found, limit = about.work(ctx), about.limit_for(ctx)
    return ctx.with_unsaid(found, noted.read), limit


def _banded(ctx: Context, check: Check, found: Figure) -> Figure:
    if not check.on_curve or found.band is not None:
        return found
    return cam.banded(ctx, found, check.value)


def level(figure: Figure, limit: Limit) -> Level:
    """How a figure stands, its band and what was loosened for this build counted."""
    found = judge(figure.value, limit, figure.band)
    return Level.WAIVED if figure.waivers and found is not Level.FAIL else found


def verdict(ctx: Context, check: Check) -> Verdict | None:
    """One check of one side, worked once; None where it means nothing for the parts that are fitted."""
    return ctx.once(("verdict", check.id), lambda: _verdict(ctx, check) if check.applies(ctx) else None)


def _verdict(ctx: Context, check: Check) -> Verdict:
    shared = (check.id, ctx.side_name, check.title, check.stage)
    counts = check.judges(ctx)
    try:
        found, limit = guarded(lambda: work(ctx, check.id), check.id)
        found = guarded(lambda: _banded(ctx, check, found), check.id)
    except CurveConflict as conflict:
        if check.id != "cam.card":
            return Verdict(*shared, None, None, Level.OPEN, (), counts, "No curve: the card contradicts itself.")
        return Verdict(*shared, None, None, Level.FAIL, (), counts, conflict.why)
    except NotKnown as told:
        told.with_traceback(None)
        waiting = isinstance(told, Waiting)
        return Verdict(*shared, None, None, Level.OPEN, told.missing, counts, told.why, waiting)
    return Verdict(*shared, found, limit, level(found, limit), (), counts, found.note)


def assess(build: Build, sweeps: AskSweep = no_sweeps, before: Assessment | None = None) -> Assessment:
    """Every check of both sides. Never raises for a build that is incomplete: that check is *open*.

    ``sweeps`` gives what is known of the elastic train; without it those checks are open too. With an assessment
    ``before``, of whatever build, what this one does not change in it is kept, figure for figure.
    """
    intake = Context(build, SIDES[0], sweeps) if before is None else before.sides[SIDES[0]].of(build)
    sides = {SIDES[0]: intake, SIDES[1]: intake.other}
    found = (verdict(ctx, check) for ctx in sides.values() for check in checks().values())
    return Assessment(build, judged_by(build), sides, tuple(v for v in found if v is not None))
