"""A lift curve that was taken by dial at the valve, made the side's measured table."""

import math

from arcstack.document import Build, Sitting, change, set_curve
from arcstack.document.parts import MeasuredCurve, Place
from arcstack.errors import FieldError
from arcstack.formats import AngleUnit, Choices, Direction, LiftUnit, read_table
from arcstack.readings.mock_up import MockUp
from arcstack.settings import setting
from arcstack.store import Kind, Reason

BACK_MM = setting("mock_up.run_back")
MOST_RESOLUTION_MM, MOST_NOISE_MM = setting("curve.most_resolution"), setting("curve.most_noise")


def table_of(mock: MockUp) -> tuple[MeasuredCurve, float]:
    """A run as a measured curve, and the lash it was read with (mm). Raises ``FieldError`` for one that is none."""
    run = mock.lifted
    if not run:
        raise FieldError("lift", "No lift curve was taken yet.")
    if run[0].lift_mm > BACK_MM or run[-1].lift_mm > BACK_MM:
        raise FieldError("lift", "A run begins and ends with the lobe away, its dial at nought: this one does not.")
    first, error = run[0], mock.error_for[run[0].number]
    rows = [f"{math.degrees((r.crank_rad - error) / 2.0):.4f};{r.lift_mm:.4f}" for r in run]
    columns = Choices(0, 1, AngleUnit.CAM, LiftUnit.MM, Direction.AS_READ)
    found = read_table("cam degrees;lift mm\n" + "\n".join(rows), columns)
    if not found.sound or found.facts is None:
        told = "; ".join(f.message for f in found.findings) or "no lobe can be read off it"
        raise FieldError("lift", f"That is no lift table yet: {told}.")
    curve = MeasuredCurve(
        origin=f"by dial at {first.place}", place=Place.VALVE, cam_rad=found.cam_rad, lift_mm=found.lift_mm,
        resolution_mm=min(found.facts.resolution_mm, MOST_RESOLUTION_MM),
        noise_mm=min(found.facts.noise_mm, MOST_NOISE_MM), by=first.by,
    )  # fmt: skip
    return curve, mock.stood_for[first.number].lash_mm


def make_table(build: Build, by: Sitting, side: str, curve: MeasuredCurve, lash_mm: float) -> tuple[Build, Reason]:
    """Make a curve the side's measured table, with the lash it was read with."""
    made = change(set_curve(build, side, curve), f"{side}.cam.curve_lash", f"{lash_mm:.3f} mm", by=by)
    return made, Reason(Kind.CURVE_TAKEN, f"{side}.cam.curve")
