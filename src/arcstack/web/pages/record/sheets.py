"""Sheets: each on the page and as PDF, of the head as it was signed or as it stands."""

from collections.abc import Callable
from dataclasses import dataclass
from urllib.parse import quote

from flask import Blueprint, Response, abort, render_template, request

from arcstack.document import SIDES
from arcstack.errors import DocumentError
from arcstack.formats.sheets import Printed, pdf
from arcstack.formats.sheets.pdf import mark_name
from arcstack.record.plain import languages
from arcstack.units import System
from arcstack.web.kit.rest import Rest
from arcstack.web.kit.session import current_system, current_who, workshop
from arcstack.web.pages.bench.shown import around_work, head
from arcstack.web.sheets.bench import bench_sheet
from arcstack.web.sheets.lists import assembly_sheet, order_sheet, springs_sheet, timing_sheet
from arcstack.web.sheets.report import customer_report
from arcstack.web.sheets.saying import Printing, Say, printing
from arcstack.web.sheets.whole import build_sheet

blueprint = Blueprint("sheets", __name__, url_prefix="/builds/<int:build_id>/<side:side>/sheets")


@dataclass(frozen=True)
class Kind:
    """One kind of sheet: its address, its title, what it is for, how it is made, whether of every valve."""

    key: str
    title: str
    about: str
    make: Callable[[Printing], Printed]
    built: bool = False


KINDS = {
    k.key: k
    for k in (
        Kind(
            "report",
            "Report",
            "For the customer, in plain words: asked, found, done, not checked.",
            customer_report,
            True,
        ),
        Kind(
            "build",
            "Build sheet",
            "Everything entered, every verdict with its evidence, the section drawn.",
            build_sheet,
        ),
        Kind("bench", "Bench sheet", "One row for every valve, as it was measured.", bench_sheet, True),
        Kind("springs", "Springs wanted", "For whoever makes or sells them.", springs_sheet),
        Kind("orders", "Order list", "Every line, and what it is measured against when it comes.", order_sheet),
        Kind("assembly", "Assembly list", "Steps and counts to tick by hand.", assembly_sheet),
        Kind("timing", "Timing sheet", "What the cams are timed to, and what was read.", timing_sheet),
    )
}

UNITS = {"mm": Say(System.MM), "in": Say(System.INCH), "both": Say(System.MM, True)}


def _say() -> Say:
    asked = request.args.get("units", "")
    return UNITS[asked] if asked in UNITS else Say(current_system())


def _language() -> str:
    asked = request.args.get("language", "")
    return asked if asked in languages() else "en"


def _kind(key: str) -> Kind:
    return KINDS.get(key) or abort(404)


@blueprint.get("")
def index(build_id: int, side: str) -> str:
    """Every sheet there is."""
    here = head(workshop().open(build_id), side)
    return render_template(
        "record/sheets.html",
        **around_work(here, "sheets", "Sheets"),
        kinds=KINDS.values(),
        units=_units(),
        languages=languages().values(),
        language=_language(),
    )


def _units() -> str:
    asked = request.args.get("units", "")
    return asked if asked in UNITS else current_system().value


@blueprint.get("/<key>")
def one(build_id: int, side: str, key: str) -> str:
    """A sheet as a page: block for block what its PDF has."""
    kind = _kind(key)
    of = printing(build_id, _say(), current_who().name, _language())
    later = kind.built and of.here.later(*SIDES)
    return render_template(
        "record/sheet.html", build_id=build_id, side=side, sheet=None if later else kind.make(of), kind=kind,
        units=_units(), mark_name=mark_name, title=kind.title, rest=Rest("work") if later else None,
    )  # fmt: skip


@blueprint.get("/<key>.pdf")
def as_pdf(build_id: int, side: str, key: str) -> Response | tuple[str, int]:
    """The same as PDF."""
    kind = _kind(key)
    made = printing(build_id, _say(), current_who().name, _language())
    try:
        data = pdf(kind.make(made))
    except DocumentError as error:
        return render_template("layout/error.html", title="No sheet", message=f"{error.message}."), 500
    name = f"{made.current.build.name} r{made.current.revision} {kind.title}.pdf"
    plain = "".join(c if c.isascii() and (c.isalnum() or c in " .-") else "_" for c in name)
    response = Response(data, mimetype="application/pdf")
    response.headers["Content-Disposition"] = f"inline; filename=\"{plain}\"; filename*=UTF-8''{quote(name)}"
    return response
