"""The highest limiter and overspeed at which every control verdict holds, what governs, and what would raise it."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from arcstack.assess import cam, control, elastic
from arcstack.assess.context import Context, MissingInput, figure
from arcstack.dynamics.model import Chain, Train
from arcstack.dynamics.motion import AtSpeed
from arcstack.dynamics.question import Question, Run
from arcstack.dynamics.sweep import parting_rpm
from arcstack.mech.cam.law import Array, WidenedLaw
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
        held: Array = sum(
            (c.load_N + lift_mm * (c.rate_N_per_mm + c.stiffening_N_per_mm2 * lift_mm) for c in self.chains),
            start=0.0 * lift_mm,
        )
        return held


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


def _limits(ctx: Context, separation_rpm: float, rows: Sequence[AtSpeed] | None) -> SpeedLimit:
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
    try:
        answer = elastic.answer(ctx)
        rows = answer.rows[elastic.AS_BUILT]
        runs = list(answer.rows.values())
    except MissingInput:
        rows = None
    tried = [_limits(ctx, slowest, run) for run in runs]
    least = min(t.governs.rpm for t in tried), min(t.governs_overspeed.rpm for t in tried)
    return replace(_limits(ctx, found.value, rows), least=least)


LIGHTER_KG, STIFFER, FIRMER, GENTLER, LESS_LASH_MM = 0.010, 1.10, 1.10, 1.03, 0.05


@dataclass(frozen=True)
class Raises:
    """One change, and the limiter and overspeed it would allow (rpm), against those of the build as it is."""

    words: str
    limiter_rpm: float
    overspeed_rpm: float
    gains_rpm: float
    gains_overspeed_rpm: float


def _changes(ctx: Context) -> list[tuple[str, Callable[[Train], Train]]]:
    def springs(train: Train, load: float, rate: float) -> Train:
        chains = tuple(
            replace(
                c,
                load_N=c.load_N * load,
                rate_N_per_mm=c.rate_N_per_mm * rate,
                stiffening_N_per_mm2=c.stiffening_N_per_mm2 * rate,
            )
            for c in train.springs
        )
        return replace(train, springs=chains)

    rows: list[tuple[str, Callable[[Train], Train]]] = [
        ("10 g off the valve", lambda t: replace(t, mass_kg=t.mass_kg - LIGHTER_KG)),
        ("10 % more rate, same seat load", lambda t: springs(t, 1.0, STIFFER)),
        ("10 % more seat load, same rate", lambda t: springs(t, FIRMER, 1.0)),
        (
            "a lobe 3 % gentler: same lift, 3 % more angle",
            lambda t: replace(t, valve_law=WidenedLaw(t.valve_law, GENTLER)),
        ),
        ("a train 20 % stiffer", lambda t: replace(t, stiffness_N_per_mm=1.2 * t.stiffness_N_per_mm)),
    ]
    if cam.lash(ctx).value > LESS_LASH_MM:
        rows.insert(4, ("0.05 mm less lash", lambda t: replace(t, lash_mm=t.lash_mm - LESS_LASH_MM)))
    return rows


@figure
def raising_question(ctx: Context) -> Question:
    """The sweep of each change, the build as it is among them."""
    train, speeds = elastic.train(ctx), elastic.swept(ctx, elastic.BAND_STEP_RPM)
    speeds = tuple(s for s in speeds if s >= 0.55 * speeds[-1])
    runs = [Run(elastic.AS_BUILT, train, speeds)]
    runs += [Run(words, make(train), speeds) for words, make in _changes(ctx)]
    return Question(tuple(runs))


def raising(ctx: Context) -> list[Raises]:
    """What would raise the speed, most first, each change worked through both trains. Raises ``MissingInput``."""
    question = raising_question(ctx)
    answer = ctx.sweeps(question)
    if answer is None:
        raise elastic.Working
    found: dict[str, SpeedLimit] = {}
    for run in question.runs:
        parts = rigid(run.train).separation()
        found[run.name] = _limits(ctx, parts.rpm if parts else math.inf, answer.rows[run.name])
    now = found.pop(elastic.AS_BUILT)
    rows = [
        Raises(
            words,
            limit.governs.rpm,
            limit.governs_overspeed.rpm,
            limit.governs.rpm - now.governs.rpm,
            limit.governs_overspeed.rpm - now.governs_overspeed.rpm,
        )
        for words, limit in found.items()
    ]
    return sorted(rows, key=lambda r: -r.gains_rpm)
