"""A lift curve that was taken by dial at the valve, made the side's measured table."""

import math

from flask import redirect
from werkzeug.wrappers import Response

from arcstack.document import Build, change, set_curve
from arcstack.document.parts import MeasuredCurve, Place
from arcstack.errors import FieldError
from arcstack.formats import AngleUnit, Choices, Direction, LiftUnit, read_table
from arcstack.readings.mock_up import MockUp
from arcstack.store import Kind, Reason
from arcstack.web.kit import links
from arcstack.web.kit.change import accept
from arcstack.web.kit.session import current_hand, workshop
from arcstack.web.pages.bench.mock_up import blueprint as blueprint
from arcstack.web.pages.bench.mock_up import page
from arcstack.web.pages.bench.shown import head

BACK_MM = 0.05
"""A run begins and ends on the base circle: at most this."""


def table_of(mock: MockUp) -> tuple[MeasuredCurve, float]:
    """A run as a measured curve, and the lash it was read with (mm). Raises ``FieldError`` for one that is none."""
    run = mock.lifted
    if not run:
        raise FieldError("lift", "No lift curve was taken yet.")
    if run[0].lift_mm > BACK_MM or run[-1].lift_mm > BACK_MM:
        raise FieldError("lift", "A run begins and ends with the lobe away, its dial at nought: this one does not.")
    first, error = run[0], mock.error_for[run[0].number]
    rows = [f"{math.degrees((r.crank_rad - error) / 2.0):.4f};{r.lift_mm:.4f}" for r in run]
    asked = Choices(0, 1, AngleUnit.CAM, LiftUnit.MM, Direction.AS_READ)
    found = read_table("cam degrees;lift mm\n" + "\n".join(rows), asked)
    if not found.sound or found.facts is None:
        told = "; ".join(f.message for f in found.findings) or "no lobe can be read off it"
        raise FieldError("lift", f"That is no lift table yet: {told}.")
    curve = MeasuredCurve(
        origin=f"by dial at {first.place}", place=Place.VALVE, cam_rad=found.cam_rad, lift_mm=found.lift_mm,
        resolution_mm=min(found.facts.resolution_mm, 1.0), noise_mm=min(found.facts.noise_mm, 5.0), by=first.by,
    )  # fmt: skip
    return curve, mock.stood_for[first.number].lash_mm


@blueprint.post("/curve")
def take_curve(build_id: int, side: str) -> Response | tuple[str, int]:
    """Make what was taken the side's measured table, with the lash it was read with."""
    here = head(workshop().open(build_id), side)
    try:
        curve, lash = table_of(here.sheet.mock_up(side))
    except FieldError as error:
        return page(build_id, side, error.message, "lift"), 422

    def made(build: Build) -> tuple[Build, Reason]:
        build = set_curve(build, side, curve)
        build = change(build, f"{side}.cam.curve_lash", f"{lash:.3f} mm", by=current_hand())
        return build, Reason(Kind.CURVE_TAKEN, f"{side}.cam.curve")

    accept(build_id, made)
    return redirect(links.stage(build_id, "cam", side))
