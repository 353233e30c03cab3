"""Whether a head has changed since a page of it was drawn."""

from flask import Blueprint, g, jsonify
from werkzeug.wrappers import Response

from arcstack.web.kit.session import bench, workshop

blueprint = Blueprint("watching", __name__, url_prefix="/builds/<int:build_id>/mark")


def mark_of(build_id: int) -> str:
    """What changes with every reading, event and revision of a head."""
    readings, events = bench().marks(build_id)
    return f"{readings}.{events}.{workshop().row(build_id).newest}"


@blueprint.get("")
def index(build_id: int) -> Response:
    """The mark as it stands."""
    return jsonify(mark=mark_of(build_id))


def noted() -> str:
    """The mark as it stood before this page was drawn: what comes in between is told at the first look."""
    found: str = g.get("head_mark", "")
    return found
