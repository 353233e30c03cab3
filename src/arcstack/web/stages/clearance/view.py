"""The clearance chart, valves and piston to look at, the ways out of a gap too small, and where the sliders stand."""

import math
from dataclasses import dataclass
from typing import Any

from arcstack.application import CamLibrary
from arcstack.assess import phaser, piston, running
from arcstack.assess.context import Context, known
from arcstack.drawings.chamber import Poise, drawing
from arcstack.trials.clearing import condition, tight
from arcstack.trials.timing import centreline_deg
from arcstack.units import LENGTH, show
from arcstack.views.drawn import drawn
from arcstack.web.kit.session import workshop
from arcstack.web.kit.stage import On
from arcstack.web.stages.clearance.charts import clearance_chart


@dataclass(frozen=True)
class Span:
    """A phaser's slider, crank degrees earlier than parked."""

    low: float
    high: float
    at: float


@dataclass(frozen=True)
class Look:
    """Where crank and phasers stand as the page opens: at the least gap of its side. ``sets`` puts them there again."""

    crank: float
    spans: dict[str, Span]

    @property
    def sets(self) -> dict[str, float]:
        return {"crank": self.crank, **{side: span.at for side, span in self.spans.items()}}


def spans_deg(ctx: Context) -> tuple[float, float]:
    """How far a side's phaser may be put, crank degrees later (negative) and earlier than parked."""
    found = known(lambda: phaser.used(ctx))
    if found is None:
        return 0.0, 0.0
    # a slider counts its steps from its low end: a hair below a whole step it would never reach the last
    return round(-math.degrees(found[1].value), 3), round(math.degrees(found[0].value), 3)


def _half_deg(rad: float) -> float:
    return round(2.0 * math.degrees(rad)) / 2.0


def _look(on: On) -> Look | None:
    found = known(lambda: piston.swept(on.ctx)[1]) or known(lambda: piston.parked(on.ctx)[1])
    if found is None:
        return None
    spans = {}
    for side, ctx in on.assessment.sides.items():
        low, high = spans_deg(ctx)
        spans[side] = Span(low, high, round(math.degrees(found.phaser_rad), 1) if side == on.side else 0.0)
    return Look(_half_deg(found.crank_rad), spans)


def poise_of(look: Look) -> Poise:
    return Poise(math.radians(look.crank), {side: math.radians(span.at) for side, span in look.spans.items()})


@dataclass(frozen=True)
class Taken:
    """One row of what the cold gap becomes: its words, its figure, and where its bar lies, in percent of the gap."""

    label: str
    note: str
    shown: str
    kind: str
    start: float
    width: float


def budget(on: On) -> list[Taken]:
    """The cold gap, what is taken from it, and what is left; nothing while the train is still turned."""
    steps = known(lambda: running.steps(on.ctx))
    if steps is None:
        return []
    cold, *takes, left = steps
    whole = max(cold.figure.value, *(abs(t.figure.value) for t in takes), 1e-6)
    rows = [_row(on, t, "given" if t.gives else "taken", whole) for t in takes]
    return [_row(on, cold, "cold", whole), *rows, _row(on, left, "left", whole)]


def _row(on: On, step: running.Step, kind: str, whole: float) -> Taken:
    figure = step.figure
    start, end = sorted(min(max(v / whole, 0.0), 1.0) * 100.0 for v in (step.start_mm, step.end_mm))
    band = ""
    if figure.band is not None:
        ends = [show(v, LENGTH, on.system).number for v in figure.band]
        band = f"{ends[0]} to {ends[1]}"
    worth = figure.weakest.value if kind in ("taken", "given") else ""
    note = ", ".join(t for t in (worth, band) if t)
    sign = "−" if kind == "taken" else "+" if kind == "given" else ""
    text = show(abs(figure.value) if sign else figure.value, LENGTH, on.system)
    sign = sign if any(digit in "123456789" for digit in text.number) else ""
    return Taken(figure.label, note, f"{sign}{text}", kind, round(start, 1), round(end - start, 1))


def content(on: On) -> dict[str, Any]:
    look = _look(on)
    made = drawn(lambda: drawing(on.assessment, on.side, poise_of(look), on.system)) if look is not None else None
    library = CamLibrary(workshop().database, workshop())
    return {
        "chart": drawn(lambda: clearance_chart(on.ctx, on.system)),
        "centrelines": {side: centreline_deg(ctx) for side, ctx in on.assessment.sides.items()},
        "look": look if made is not None else None,
        "drawing": made[0] if made is not None else None,
        "assumed": made[1].assumed if made is not None else (),
        "tight": drawn(lambda: tight(on.assessment, on.side, [(k.name, k.cam) for k in library.all()], on.system)),
        "say": lambda value: str(show(value, LENGTH, on.system)),
        "swept_level": on.assessment.verdict("piston.clearance_swept", on.side).level,
        "budget": budget(on),
        "held": condition(on.ctx, on.system),
    }
