"""The highest limiter and overspeed at which every control verdict holds, what governs, and what would raise it."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from arcstack.assess import control, elastic
from arcstack.assess.context import Context, figure, known
from arcstack.dynamics.model import Chain, Train
from arcstack.dynamics.motion import AtSpeed
from arcstack.dynamics.sweep import parting_rpm
from arcstack.mech.cam.law import Array
from arcstack.mech.control import RigidTrain


@dataclass(frozen=True)
class Holds:
    """One verdict: the highest speed at which it holds; ``bounded`` is False where nothing tried reaches its limit."""

    check: str
    title: str
    rpm: float
    bounded: bool = True


@dataclass(frozen=True)
class SpeedLimit:
    """What each control verdict allows: of the limiter, and of overspeed. ``elastic`` tells if that train is in.

    ``least`` are the limiter and the overspeed (rpm) that the worst of all lobes and trains tried allows.
    """

    limiter: list[Holds]
    overspeed: list[Holds]
    elastic: bool
    least: tuple[float, float] = (0.0, 0.0)

    @property
    def governs(self) -> Holds:
        return min(self.limiter, key=lambda h: h.rpm)

    @property
    def governs_overspeed(self) -> Holds:
        return min(self.overspeed, key=lambda h: h.rpm)


@dataclass(frozen=True)
class _ChainPack:
    """The chains' springs without their mass, for the rigid train."""

    chains: tuple[Chain, ...]

    def load_N(self, lift_mm: Array) -> Array:
        held: Array = sum((c.load_at_N(lift_mm) for c in self.chains), start=0.0 * lift_mm)
        return held

    def straight(self) -> None:
        """A chain stiffens as it closes: its load runs on no line."""


def rigid(train: Train) -> RigidTrain:
    """An elastic train with all its give taken out."""
    return RigidTrain(
        train.valve_law, _ChainPack(train.springs), train.moving_mass_kg, train.lash_mm, train.opening_force_N
    )


def _first_above(rows: Sequence[AtSpeed], take: Callable[[AtSpeed], float], limit: float) -> float | None:
    """Speed at which a figure first passes its limit, straight between speeds; None where it never does."""
    before: AtSpeed | None = None
    for row in rows:
        if take(row) > limit:
            if before is None:
                return row.rpm
            share = (limit - take(before)) / (take(row) - take(before))
            return before.rpm + share * (row.rpm - before.rpm)
        before = row
    return None


def limits(ctx: Context, separation_rpm: float, rows: Sequence[AtSpeed] | None) -> SpeedLimit:
    """``separation_rpm`` of the rigid train, ``rows`` of the elastic one where they are known."""
    reserve, share = ctx.limit("control.force_reserve").low, ctx.limit("control.separation").low
    assert reserve is not None
    assert share is not None
    limiter = [
        Holds("control.force_reserve", "Force reserve", separation_rpm / math.sqrt(reserve)),
        Holds("control.separation", "Rigid separation", separation_rpm / share),
    ]
    overspeed = [Holds("control.overspeed", "Rigid separation", separation_rpm)]
    if rows is None:
        return SpeedLimit(limiter, overspeed, elastic=False)
    parts, top = parting_rpm(rows, elastic.parting_gap(ctx).value), rows[-1].rpm
    own = ctx.limit("control.elastic_separation").low
    assert own is not None
    title = "Elastic separation"
    limiter.append(Holds("control.elastic_separation", title, (parts or top) / own, parts is not None))
    overspeed.append(Holds("control.elastic_separation", title, parts or top, parts is not None))
    others: tuple[tuple[str, str, Callable[[AtSpeed], float]], ...] = (
        ("control.seating_velocity", "Seating", lambda r: r.seating_m_per_s),
        ("control.bounce", "Bounce", lambda r: r.bounce_mm),
    )
    for check, title, take in others:
        most = ctx.limit(check).high
        assert most is not None
        passed = _first_above(rows, take, most)
        limiter.append(Holds(check, title, passed or top, passed is not None))
    return SpeedLimit(limiter, overspeed, elastic=True)


@figure
def speed_limit(ctx: Context) -> SpeedLimit:
    """With the rated speed taken at the limiter, the cautious way. Raises ``MissingInput``."""
    found = control.separation(ctx).speed
    slowest = found.band[0] if found.band else found.value
    runs: Sequence[Sequence[AtSpeed] | None] = [None]
    answer = known(lambda: elastic.answer(ctx))
    rows = None
    if answer is not None:
        rows, runs = answer.rows[elastic.AS_BUILT], list(answer.rows.values())
    tried = [limits(ctx, slowest, run) for run in runs]
    least = min(t.governs.rpm for t in tried), min(t.governs_overspeed.rpm for t in tried)
    return replace(limits(ctx, found.value, rows), least=least)
