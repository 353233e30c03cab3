"""Cams side by side on one head: each tried in place of the present one, everything else left alone."""

import math
from collections.abc import Callable
from dataclasses import dataclass

from arcstack.assess import Assessment, assess, cam, timing
from arcstack.assess.catalogue import find
from arcstack.assess.context import Context
from arcstack.checks import Figure, Level
from arcstack.document import Build, set_cam
from arcstack.errors import NotKnown
from arcstack.mech.cam.facts import lobe_area_mm_rad
from arcstack.services import Kept
from arcstack.units import System, show

MOST = 6
"""Cams that may be compared at once, the present one included."""


@dataclass(frozen=True)
class Cell:
    """One figure of one cam or pack: as shown, its verdict where it has one, whether it is the row's best or worst,
    and how far it is from the one that is fitted."""

    text: str
    level: Level | None = None
    proven: bool = False
    rank: str = ""
    against: str = ""


@dataclass(frozen=True)
class CompareRow:
    label: str
    cells: list[Cell]


@dataclass(frozen=True)
class TriedCam:
    """A cam tried on the head."""

    name: str
    assessment: Assessment
    side: str

    @property
    def ctx(self) -> Context:
        return self.assessment.sides[self.side]


def tried(build: Build, side: str, kept: list[Kept]) -> list[TriedCam]:
    """The present cam and each kept one in its place."""
    rows = [TriedCam("now: " + (build.side(side).cam.code or "present cam"), assess(build), side)]
    for k in kept[: MOST - 1]:
        rows.append(TriedCam(k.name, assess(set_cam(build, side, k.cam)), side))
    return rows


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
        values = [f.value for f in found if isinstance(f, Figure)]
        cells = []
        for t, f in zip(cams, found, strict=True):
            if not isinstance(f, Figure):
                cells.append(Cell("–"))
                continue
            verdict = next((v for v in t.assessment.of_side(t.side) if v.id == check), None)
            level = verdict.level if verdict else None
            proven = verdict.proven if verdict else False
            cells.append(Cell(str(show(f.value, f.dimension, system)), level, proven, rank(f.value, values, better)))
        rows.append(CompareRow(label, cells))
    return rows


def rank(value: float, values: list[float], better: int) -> str:
    if better == 0 or len(values) < 2 or math.isclose(min(values), max(values), rel_tol=1e-6):
        return ""
    best, worst = (max(values), min(values)) if better > 0 else (min(values), max(values))
    return "best" if value == best else "worst" if value == worst else ""


def _degrees(angle: float) -> str:
    return f"{math.degrees(angle):.1f}°"


def _duration(t: TriedCam) -> str:
    return _degrees(timing.events(t.ctx, 1.0 + cam.lash(t.ctx).value).duration_rad)


def _events(t: TriedCam) -> str:
    e = timing.events(t.ctx, 1.0 + cam.lash(t.ctx).value)
    first, last = (-e.opens_rad, e.closes_rad - math.pi) if t.ctx.intake else (-e.opens_rad - math.pi, e.closes_rad)
    return f"{_degrees(first)} / {_degrees(last)}"


def _nose(t: TriedCam) -> str:
    return _degrees(abs(cam.nose_crank_rad(t.ctx)))


def _area(t: TriedCam) -> str:
    return f"{math.degrees(lobe_area_mm_rad(cam.curve(t.ctx).valve)):.0f} mm·°"


_SHAPES: tuple[tuple[str, Callable[[TriedCam], str]], ...] = (
    ("Duration at 1 mm net", _duration),
    ("Opens / closes at 1 mm net", _events),
    ("Maximum lift from TDC", _nose),
    ("Area under the curve", _area),
)


def _shape(t: TriedCam, work: Callable[[TriedCam], str]) -> Cell:
    try:
        return Cell(work(t).replace("-", "−"))
    except (NotKnown, ValueError):
        return Cell("–")
