from dataclasses import dataclass

from flask import Blueprint, abort, make_response, redirect, render_template, request, url_for
from werkzeug.wrappers import Response

from arcstack.application import Page, Standing, standing
from arcstack.application.starts import template, templates
from arcstack.application.summary import read, written
from arcstack.document import Build, named
from arcstack.errors import DocumentError, FieldError, StaleRevision
from arcstack.formats.readings_json import read_whole, write_whole
from arcstack.practice import BALANCED, practice
from arcstack.readings import Event, Reading
from arcstack.readings.brought import document_by_file
from arcstack.store import BuildRow, Kind, Order, Reason, Shelf
from arcstack.units import System
from arcstack.web.kit import asked, links
from arcstack.web.kit.session import (
    assessed,
    assessments,
    bench,
    current_hand,
    current_who,
    kept_backups,
    remember,
    start_sitting,
    workshop,
)

blueprint = Blueprint("workshop", __name__)

ORDERS = {
    Order.CHANGED: "last change",
    Order.NAME: "name",
    Order.CUSTOMER: "customer",
    Order.JOB: "job",
    Order.WORST: "worst verdict",
}
SHELVES = {Shelf.OPEN: "At work", Shelf.ARCHIVED: "Archived", Shelf.DELETED: "Deleted"}


@dataclass(frozen=True)
class Row:
    """A build in the list, with how it stands; None while that is still to be worked out."""

    build: BuildRow
    standing: Standing | None


@dataclass(frozen=True)
class Wanted:
    """What part of the list is asked for."""

    shelf: Shelf
    search: str
    order: Order
    page: int

    @property
    def address(self) -> str:
        """The list's address without its page."""
        return url_for("workshop.index", shelf=self.shelf.value, search=self.search, order=self.order.value)


def _wanted() -> Wanted:
    values = request.args
    shelf, order = values.get("shelf", ""), values.get("order", "")
    return Wanted(
        Shelf(shelf) if shelf in tuple(Shelf) else Shelf.OPEN,
        " ".join(values.get("search", "")[:80].split()),
        Order(order) if order in tuple(Order) else Order.CHANGED,
        asked.whole(values, "page") or 1,
    )


def _listed(wanted: Wanted) -> Page[Row]:
    found = workshop().builds(wanted.page, wanted.shelf, wanted.search, wanted.order)
    return Page([Row(b, _known(b)) for b in found.rows], found.number, found.of)


def _known(build: BuildRow) -> Standing | None:
    """How a build stands where that was kept, or where its verdicts are at hand."""
    kept = read(build.summary, build.newest)
    if (kept is None or kept.partial) and build.id in assessments():
        return _worked(build)
    return kept


def _worked(build: BuildRow) -> Standing:
    current = workshop().open(build.id)
    found = standing(assessed(current), current.revision)
    workshop().summarise(build.id, found.place, written(found))
    return found


@blueprint.get("/")
def index() -> str:
    return _page()


def _page(error: str = "", at: str = "", name: str = "", again: "Again | None" = None) -> str:
    wanted = _wanted()
    told = asked.whole(request.args, "moved")
    return render_template(
        "workshop/index.html",
        builds=_listed(wanted),
        wanted=wanted,
        orders=ORDERS,
        shelves=[(shelf, title, workshop().count(shelf)) for shelf, title in SHELVES.items()],
        templates=templates(),
        moved=workshop().row(told) if told else None,
        who=current_who().name,
        backup_trouble=backups.trouble() if (backups := kept_backups()) is not None else "",
        error=error,
        at=at,
        name=name,
        again=again,
    )


@blueprint.get("/list")
def listed() -> Response:
    """The list alone, as one types in the search."""
    wanted = _wanted()
    response = make_response(render_template("workshop/_list.html", builds=_listed(wanted), wanted=wanted))
    response.headers["X-Listed"] = wanted.address
    return response


@blueprint.get("/builds/<int:build_id>/standing")
def stands(build_id: int) -> str:
    """One row of the list, with how the build stands worked out."""
    build = workshop().row(build_id)
    return render_template("workshop/_row.html", row=Row(build, _worked(build)), wanted=_wanted())


@blueprint.post("/builds")
def create() -> Response | tuple[str, int]:
    typed, start = request.form.get("name", ""), request.form.get("start", "")
    try:
        name = named(typed, "name", "A build")
    except FieldError as error:
        return _page(error.message, "new", typed[:80]), 422
    if start and start not in templates():
        abort(400)
    why = Reason(Kind.TEMPLATE, after=templates()[start].partition(":")[0]) if start else Reason(Kind.NEW)
    build = template(start) if start else Build(name=name, practice_version=practice(BALANCED).version)
    build_id = workshop().create(build.model_copy(update={"name": name}), current_who(), why)
    return redirect(links.stage(build_id, "brief", "intake"))


@dataclass(frozen=True)
class Again:
    """A document that is a copy of a build that is here: its text, and the build."""

    text: str
    file: str
    here: BuildRow
    same: bool


@blueprint.post("/builds/import")
def import_build() -> Response | tuple[str, int]:
    """Take a build's file in; where the build is here already, ask whether it is its next revision."""
    answer, text = request.form.get("answer", ""), request.form.get("text", "")
    upload = request.files.get("file")
    file = (upload.filename if upload else request.form.get("name", "")) or ""
    if not answer and not file:
        return _page("Choose the JSON file of a build first.", "import"), 422
    try:
        build, readings, events = read_whole(upload.stream.read() if upload else text)
    except DocumentError as error:
        return _page(f"{file[:60]}: {error}. Nothing was stored.", "import"), 422
    here = workshop().same(build)
    bare = _bare(build)
    if here is not None and not answer:
        again = Again(write_whole(build, readings, events), file[:60], here, bare == workshop().open(here.id).build)
        return _page(again=again), 409
    if here is not None and answer == "next":
        return _next_revision(here, document_by_file(bare, workshop().open(here.id).build), file, readings, events)
    build = document_by_file(build)
    why = Reason(Kind.IMPORTED, after=file[:60])
    # the build and its readings come in together or not at all
    with workshop().database.session(writes=True) as unit:
        build_id = workshop().add(unit, _bare(build) if answer == "own" else build, current_who(), why)
        bench().brought(unit, build_id, readings, events, file, current_hand())
    return redirect(links.stage(build_id, "stack", "intake"))


def _bare(build: Build) -> Build:
    return build.model_copy(update={"identity": ""})


def _next_revision(
    here: BuildRow, build: Build, file: str, readings: list[Reading], events: list[Event]
) -> Response | tuple[str, int]:
    why = Reason(Kind.IMPORTED_NEXT, after=file[:60])
    base = asked.base(request.form)
    try:
        with workshop().database.session(writes=True) as unit:
            workshop().append(unit, here.id, base, build, current_who(), why)
            bench().brought(unit, here.id, readings, events, file, current_hand())
    except StaleRevision:
        return _page("The build was changed meanwhile; import the file again.", "import"), 409
    return redirect(links.revisions(here.id, "intake"))


@blueprint.post("/builds/<int:build_id>/duplicate")
def duplicate(build_id: int) -> Response:
    """A new build that starts as this one stands, to be named on its Brief."""
    held = workshop().open(build_id).build.name
    made = workshop().duplicate(build_id, f"{held[:70]}, copy", current_who())
    return redirect(links.stage(made, "brief", "intake") + "#f-name")


@blueprint.post("/builds/<int:build_id>/shelf")
def shelve(build_id: int) -> Response:
    """Archive a build, delete it, or bring it back."""
    to = request.form.get("to", "")
    if to not in tuple(Shelf):
        abort(400)
    before = workshop().shelve(build_id, Shelf(to), current_who())
    return redirect(url_for("workshop.index", shelf=before.shelf.value, moved=build_id))


@blueprint.post("/builds/<int:build_id>/remove")
def remove(build_id: int) -> Response:
    """Take a deleted build away for good."""
    workshop().remove(build_id)
    return redirect(url_for("workshop.index", shelf=Shelf.DELETED.value))


@blueprint.get("/builds/<int:build_id>/export")
def export(build_id: int) -> Response:
    build = workshop().exported(build_id)
    sheet = bench().sheet(build_id, build)
    name = "".join(c if c.isascii() and (c.isalnum() or c in " -") else "" for c in build.name).strip() or "build"
    response = Response(write_whole(build, sheet.readings, sheet.events), mimetype="application/json")
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
    """Name the instrument and the hand of this sitting for a sort of figures: what *measured* asks for."""
    hand, instrument = asked.name(request.form, "hand"), asked.name(request.form, "instrument")
    if not hand or not instrument:
        return make_response("Name the instrument and the hand, each with at most 80 characters.", 422)
    start_sitting(hand, instrument, request.form.get("measure", "")[:20])
    return make_response("", 204)


def _back() -> str:
    """The page the form stood on, never another site."""
    return asked.own_path(request.form.get("back", "/"))
