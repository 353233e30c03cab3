"""Cams side by side on one head: each tried in place of the present one, everything else left alone."""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from arcstack.assess import cam, placed, timing
from arcstack.assess.catalogue import find
from arcstack.assess.context import Context, known
from arcstack.assess.placed import has_curve
from arcstack.checks import Figure
from arcstack.mech.cam.law import Array
from arcstack.trials.cams import TriedCam
from arcstack.units import LENGTH, System, show
from arcstack.units.convert import factor
from arcstack.views.cells import Cell, rank
from arcstack.views.series import STYLES, Chart

MOST = 6
"""Cams that may be compared at once, the present one included."""


@dataclass(frozen=True)
class CompareRow:
    label: str
    cells: list[Cell]


_FIGURES: tuple[tuple[str, str, str, int], ...] = (
    ("Net lift", "lift.net", "lift.net", 1),
    ("Contact off centre", "follower.eccentricity", "follower.edge_margin", -1),
    ("Overlap, phased", "timing.overlap", "timing.overlap", -1),
    ("Separation", "control.separation_gas", "control.separation", 1),
    ("Reserve, outer", "spring.reserve.outer", "spring.reserve.outer", 1),
    ("Reserve, inner", "spring.reserve.inner", "spring.reserve.inner", 1),
    ("Open load", "spring.open_load", "spring.open_load", 0),
    ("Retainer to seal", "stack.retainer_seal", "stack.retainer_seal", 1),
    ("Piston, phased", "piston.swept", "piston.clearance_swept", 1),
)
"""Label, figure, the check that judges it, and which way is better (0: neither)."""


def table(cams: list[TriedCam], system: System) -> list[CompareRow]:
    """Events, area, and what each cam asks of the springs and leaves at the piston."""
    rows = [CompareRow(label, [_shape(t, work) for t in cams]) for label, work in _SHAPES]
    for label, figure, check, better in _FIGURES:
        found = [find(t.ctx, figure) for t in cams]
        texts = [str(show(f.value, f.dimension, system)) if isinstance(f, Figure) else "–" for f in found]
        cells = []
        for t, f, text in zip(cams, found, texts, strict=True):
            if not isinstance(f, Figure):
                cells.append(Cell("–"))
                continue
            verdict = next((v for v in t.assessment.of_side(t.side) if v.id == check), None)
            level = verdict.level if verdict else None
            proven = verdict.proven if verdict else False
            cells.append(Cell(text, level, proven, rank(text, texts, better)))
        rows.append(CompareRow(label, cells))
    return rows


def _degrees(angle: float) -> str:
    return f"{math.degrees(angle):.1f}°"


def _duration(t: TriedCam) -> str:
    return _degrees(timing.events_net(t.ctx).duration_rad)


def _events(t: TriedCam) -> str:
    first, last = timing.from_centres(t.ctx, timing.events_net(t.ctx))
    return f"{_degrees(first)} / {_degrees(last)}"


def _nose(t: TriedCam) -> str:
    return _degrees(abs(placed.nose_crank_rad(t.ctx)))


def _area(t: TriedCam) -> str:
    return f"{cam.area_mm_deg(t.ctx):.0f} mm·°"


_SHAPES: tuple[tuple[str, Callable[[TriedCam], str]], ...] = (
    ("Duration at 1 mm net", _duration),
    ("Opens / closes at 1 mm net", _events),
    ("Maximum lift from TDC", _nose),
    ("Area under the curve", _area),
)


def _shape(t: TriedCam, work: Callable[[TriedCam], str]) -> Cell:
    return Cell((known(lambda: work(t)) or "–").replace("-", "−"))


def compare_chart(cams: list[tuple[str, Context]], system: System) -> Chart | None:
    """Lift, velocity and acceleration of several cams over the crank, each where its own centreline puts it."""
    drawn = [(name, ctx, style) for (name, ctx), style in zip(cams, STYLES, strict=False) if has_curve(ctx)]
    if not drawn:
        return None
    degrees = np.arange(-300.0, 301.0, 2.0) if len({c.intake for _, c, _ in drawn}) > 1 else _span(drawn[0][1])
    crank = np.radians(degrees)
    length = factor(LENGTH, LENGTH.unit(system))
    names = ("lift", "velocity", "acceleration")
    units = ("", "/rad", "/rad²")
    panels = []
    for order, (name, per) in enumerate(zip(names, units, strict=True)):
        series = []
        for label, ctx, style in drawn:
            y = placed.over_crank(ctx, crank, order)
            series.append({"name": label, "style": style, "y": [round(float(v) / length, 5) for v in y]})
        panels.append({"name": f"{name}, {LENGTH.unit(system)}{per}", "decimals": 3, "series": series})
    return {"x": [float(d) for d in degrees], "x_name": "crank degrees, 0 at gas-exchange TDC", "panels": panels}


def _span(ctx: Context) -> Array:
    return np.arange(-60.0, 301.0, 2.0) if ctx.intake else np.arange(-300.0, 61.0, 2.0)
