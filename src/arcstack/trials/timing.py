"""Both cams slid, a tooth out, a cut head: the build as it would be, and what was done in words."""

import math
from dataclasses import dataclass

from arcstack.assess import Assessment, assess, cam, checks, placed, timing
from arcstack.assess.check import Mover
from arcstack.assess.context import Context, known
from arcstack.checks import Verdict
from arcstack.document import SIDES, Build, amount, change
from arcstack.errors import FieldError
from arcstack.mech import timing as timing_model


@dataclass(frozen=True)
class Moved:
    """What is moved: centrelines (crank degrees, by side), teeth that both cams come late, metal cut (mm)."""

    centrelines_deg: dict[str, float]
    teeth: int = 0
    cut_mm: float = 0.0


@dataclass(frozen=True)
class TriedTiming:
    """The head with its timing moved, and what was done, or could not be, in words."""

    assessment: Assessment
    told: list[str]

    def verdicts(self, before: Assessment) -> list[tuple[Verdict, Verdict]]:
        """Each verdict that timing moves, as it was and as it is; what both sides make together stands once."""
        moved = [c for c in checks().values() if Mover.TIMING in c.moved_by]
        return [
            (before.verdict(c.id, side), self.assessment.verdict(c.id, side))
            for side in SIDES
            for c in moved
            if not (c.head and side == SIDES[1])
            and c.applies(before.sides[side])
            and c.applies(self.assessment.sides[side])
        ]


def centreline_deg(ctx: Context) -> float | None:
    """The side's centreline in crank degrees, stated or worked."""
    found = known(lambda: placed.centreline(ctx))
    return None if found is None else math.degrees(found.value)


def tried(now: Assessment, moved: Moved) -> TriedTiming:
    """The head with both cams moved, everything else left alone."""
    build, told = now.build, []
    late, words = _drive(build, moved)
    told += words
    for side, ctx in now.sides.items():
        held = centreline_deg(ctx)
        if held is None:
            continue
        wanted = moved.centrelines_deg.get(side, held)
        # later is a larger intake centreline (after TDC) and a smaller exhaust one (before TDC)
        build = _set(build, f"{side}.cam.centreline", f"{wanted + late if ctx.intake else wanted - late:.3f} deg", told)
    if moved.cut_mm:
        cut = (amount(build.engine.milling) or 0.0) + moved.cut_mm
        build = _set(build, "engine.milling", f"{cut:.3f} mm", told)
    return TriedTiming(assess(build, before=now), told)


def _set(build: Build, path: str, text: str, told: list[str]) -> Build:
    try:
        return change(build, path, text)
    except FieldError as error:
        told.append(error.message)
        return build


def _drive(build: Build, moved: Moved) -> tuple[float, list[str]]:
    """Crank degrees both cams come late by teeth and by a cut, and the words for it."""
    teeth, pitch = build.engine.sprocket_teeth, build.engine.drive_pitch
    if not (moved.teeth or moved.cut_mm):
        return 0.0, []
    if teeth is None or (moved.cut_mm and pitch is None):
        return 0.0, ["Give the cam sprocket’s teeth and the belt or chain pitch (Cam stage) for teeth and cuts."]
    late = moved.teeth * math.degrees(timing_model.tooth_rad(teeth.value))
    if moved.cut_mm and pitch is not None:
        late += math.degrees(timing_model.milling_retard_rad(moved.cut_mm, teeth.value, pitch.value))
    return late, [f"Both cams {abs(late):.1f} crank degrees {'late' if late >= 0 else 'early'}."]


def closing_after_bdc_rad(ctx: Context) -> float | None:
    """Intake closing at 1 mm net lift; None while there is no curve, or it does not reach that."""
    return known(lambda: timing.events(ctx, 1.0 + cam.lash(ctx).value).closes_rad - math.pi)
