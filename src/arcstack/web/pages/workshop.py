from flask import Blueprint, make_response, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.document import Build, named
from arcstack.errors import DocumentError, FieldError
from arcstack.formats import read_build, write_build
from arcstack.store import Kind, Reason
from arcstack.units import System
from arcstack.web.kit import asked, links
from arcstack.web.kit.session import current_who, remember, start_sitting, workshop

blueprint = Blueprint("workshop", __name__)


@blueprint.get("/")
def index() -> str:
    return _page()


def _page(error: str = "", at: str = "", name: str = "") -> str:
    builds = workshop().builds(asked.whole(request.args, "page") or 1)
    return render_template("workshop/index.html", builds=builds, who=current_who().name, error=error, at=at, name=name)


@blueprint.post("/builds")
def create() -> Response | tuple[str, int]:
    typed = request.form.get("name", "")
    try:
        name = named(typed, "name", "A build")
    except FieldError as error:
        return _page(error.message, "new", typed[:80]), 422
    build_id = workshop().create(Build(name=name), current_who())
    return redirect(links.stage(build_id, "brief", "intake"))


@blueprint.post("/builds/import")
def import_build() -> Response | tuple[str, int]:
    upload = request.files.get("file")
    if upload is None or not upload.filename:
        return _page("Choose the JSON file of a build first.", "import"), 422
    try:
        build = read_build(upload.stream.read())
    except DocumentError as error:
        return _page(f"{upload.filename[:60]}: {error}. Nothing was stored.", "import"), 422
    build_id = workshop().create(build, current_who(), Reason(Kind.IMPORTED, after=upload.filename[:60]))
    return redirect(links.stage(build_id, "stack", "intake"))


@blueprint.get("/builds/<int:build_id>/export")
def export(build_id: int) -> Response:
    build = workshop().open(build_id).build
    name = "".join(c if c.isascii() and (c.isalnum() or c in " -") else "" for c in build.name).strip() or "build"
    response = Response(write_build(build), mimetype="application/json")
    response.headers["Content-Disposition"] = f'attachment; filename="{name.replace(" ", "-").lower()}.json"'
    return response


@blueprint.post("/units")
def units() -> Response:
    """Switch every page between mm and in."""
    chosen = request.form.get("system", "")
    remember("system", System.INCH if chosen == System.INCH else System.MM)
    return redirect(_back())


@blueprint.post("/who")
def who() -> Response:
    name = asked.name(request.form, "who")
    if name is None:
        return redirect(_back())
    remember("who", name)
    return redirect(_back())


@blueprint.post("/sitting")
def sitting() -> Response:
    """Name the instrument and the hand of this sitting: what *measured* asks for."""
    hand, instrument = asked.name(request.form, "hand"), asked.name(request.form, "instrument")
    if not hand or not instrument:
        return make_response("Name the instrument and the hand, each with at most 80 characters.", 422)
    start_sitting(hand, instrument)
    return make_response("", 204)


def _back() -> str:
    """The page the form stood on, never another site."""
    return asked.own_path(request.form.get("back", "/"))
