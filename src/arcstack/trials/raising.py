"""What would raise the speed a head holds to: one change after another, each through both trains."""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

from arcstack.assess import cam, elastic
from arcstack.assess.context import Context
from arcstack.assess.speed_limit import SpeedLimit, limits, rigid
from arcstack.dynamics.model import Train
from arcstack.dynamics.question import Question, Run
from arcstack.errors import Waiting
from arcstack.mech.cam.law import WidenedLaw

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
    answer = ctx.sweep(question)
    if answer is None:
        raise Waiting
    found: dict[str, SpeedLimit] = {}
    for run in question.runs:
        parts = rigid(run.train).separation()
        found[run.name] = limits(ctx, parts.rpm if parts else math.inf, answer.rows[run.name])
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
