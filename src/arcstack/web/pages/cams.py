"""The cam library seen from a build: keep, use, compare."""

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.application import CamLibrary, Carrier
from arcstack.document import set_cam
from arcstack.errors import FieldError, NameTaken, NotFound
from arcstack.store import Kind, Reason
from arcstack.trials.cams import tried
from arcstack.web.frame.around import around
from arcstack.web.kit import links
from arcstack.web.kit.change import accept
from arcstack.web.kit.session import assessed, current_system, current_who, workshop
from arcstack.web.pages.compare import MOST, compare_chart, table

MOST_NAMED = 3
"""So many that carry a cam are named; a shop may have it on a hundred heads."""

blueprint = Blueprint("cams", __name__, url_prefix="/builds/<int:build_id>/<side:side>/cams")


def library() -> CamLibrary:
    return CamLibrary(workshop().database, workshop())


@blueprint.get("")
def index(build_id: int, side: str) -> str:
    return _page(build_id, side)


def _page(build_id: int, side: str, told: str = "", taken: dict[str, object] | None = None) -> str:
    current, system = workshop().open(build_id), current_system()
    kept, assessment = library().all(), assessed(current)
    wanted = request.args.getlist("cam")[: MOST - 1]
    chosen = [k for k in kept if k.key in wanted]
    cams = tried(assessment, side, [(k.name, k.cam) for k in chosen]) if chosen else []
    carried = library().carried(MOST_NAMED)
    return render_template(
        "cams/index.html",
        **around(current, side, assessment, system),
        kept=[(k, carried.get(k.key)) for k in kept],
        chosen={k.key for k in chosen},
        names=[t.name for t in cams],
        rows=table(cams, system) if chosen else [],
        chart=compare_chart([(t.name, t.ctx) for t in cams], system) if chosen else None,
        most=MOST - 1,
        told=told,
        asked=taken,
        title="Cams",
    )


@blueprint.post("/keep")
def keep(build_id: int, side: str) -> Response | str | tuple[str, int]:
    """Keep the side's cam under a name; where that name is taken, ask before anything is touched."""
    name = " ".join(request.form.get("name", "").split())
    held = library().named(name)
    answer = request.form.get("answer", "")
    uses = [u for u in library().uses(held.key) if (u.build_id, u.side) != (build_id, side)] if held else []
    if held is not None and answer not in ("library", "builds"):
        return _page(build_id, side, taken={"name": name, "uses": uses}), 409
    also: list[Carrier] = uses if answer == "builds" else []
    current = workshop().open(build_id)
    try:
        library().keep(name, current.build.side(side).cam, current_who(), also, (build_id, current.revision, side))
    except FieldError as error:
        return _page(build_id, side, error.message), 422
    except NameTaken as error:
        return _page(build_id, side, str(error)), 409
    return redirect(links.at("cams.index", build_id, side))


@blueprint.post("/use")
def use(build_id: int, side: str) -> Response | tuple[str, int]:
    """Put a kept cam on this side."""
    try:
        kept = library().get(request.form.get("key", ""))
    except NotFound as error:
        return _page(build_id, side, str(error)), 404
    why = Reason(Kind.CAM_USED, f"{side}.cam", after=kept.name)
    accept(build_id, lambda build: (set_cam(build, side, kept.cam), why))
    return redirect(links.stage(build_id, "cam", side))


@blueprint.post("/forget")
def forget(build_id: int, side: str) -> Response:
    """Take a cam out of the library; builds that carry it keep theirs."""
    library().forget(request.form.get("key", ""))
    return redirect(links.at("cams.index", build_id, side))
