"""The cam library seen from a build: keep, use, compare."""

from flask import Blueprint, abort, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.document import SIDES
from arcstack.errors import FieldError, NameTaken, NotFound, StaleRevision
from arcstack.services import CamLibrary, Carrier
from arcstack.store import Kind, Reason
from arcstack.web import asked, links
from arcstack.web.charts.curves import compare_chart
from arcstack.web.pages.bench import around
from arcstack.web.session import assessed, current_system, current_who, workshop
from arcstack.web.view.compare import MOST, table, tried

blueprint = Blueprint("cams", __name__, url_prefix="/builds/<int:build_id>/<side>/cams")


def library() -> CamLibrary:
    return CamLibrary(workshop().database, workshop())


@blueprint.get("")
def index(build_id: int, side: str) -> str:
    return _page(build_id, side)


def _page(build_id: int, side: str, told: str = "", taken: dict[str, object] | None = None) -> str:
    if side not in SIDES:
        abort(404)
    current, system = workshop().open(build_id), current_system()
    kept = library().all()
    wanted = request.args.getlist("cam")[: MOST - 1]
    chosen = [k for k in kept if k.key in wanted]
    cams = tried(current.build, side, chosen)
    return render_template(
        "cams/index.html",
        **around(current, side, assessed(current.build), system),
        kept=[(k, library().uses(k.key)) for k in kept],
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
    if side not in SIDES:
        abort(404)
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
    except StaleRevision:
        return _page(build_id, side, "A build was changed in another window meanwhile; look again."), 409
    return redirect(links.cams(build_id, side))


@blueprint.post("/use")
def use(build_id: int, side: str) -> Response | tuple[str, int]:
    """Put a kept cam on this side."""
    if side not in SIDES:
        abort(404)
    base = asked.base(request.form)
    try:
        kept = library().get(request.form.get("key", ""))
        changed = library().use(kept.key, workshop().open(build_id, base).build, side)
        workshop().save(build_id, base, changed, current_who(), Reason(Kind.CAM_USED, f"{side}.cam", after=kept.name))
    except NotFound as error:
        return _page(build_id, side, str(error)), 404
    except StaleRevision:
        return _page(build_id, side, "The build was changed in another window; look again."), 409
    return redirect(links.stage(build_id, "cam", side))


@blueprint.post("/forget")
def forget(build_id: int, side: str) -> Response:
    """Take a cam out of the library; builds that carry it keep theirs."""
    if side not in SIDES:
        abort(404)
    library().forget(request.form.get("key", ""))
    return redirect(links.cams(build_id, side))
