"""The section drawing with its scrubber."""

from typing import Any

from flask import Blueprint

from arcstack.drawings.scrubber import scrubber
from arcstack.drawings.section import section
from arcstack.views.drawn import drawn
from arcstack.web.kit.stage import On

blueprint = Blueprint("stack", __name__, template_folder="templates")


def content(on: On) -> dict[str, Any]:
    """Nothing of the drawing where its figures cannot be drawn."""
    made = drawn(lambda: section(on.assessment, on.side, on.system))
    if made is None:
        return {"drawing": None, "curve": None}
    drawing, moving, geometry = made
    curve = drawn(lambda: scrubber(moving, moving.nose))
    return {"drawing": drawing, "frames": moving, "geometry": geometry, "curve": curve, "index": moving.nose}
