"""Sheets: each on the page and as PDF, of the head as it was signed or as it stands."""

from urllib.parse import quote

from flask import Blueprint, Response, abort, render_template, request

from arcstack.document import SIDES
from arcstack.errors import DocumentError
from arcstack.formats.sheets import pdf
from arcstack.formats.sheets.pdf import mark_name
from arcstack.record.plain import languages
from arcstack.sheets.kinds import KINDS, UNITS, Kind
from arcstack.sheets.saying import Printing, Say, printing
from arcstack.web.kit.rest import Rest
from arcstack.web.kit.session import current_system, current_who, shop, workshop
from arcstack.web.kit.stage import STAGES
from arcstack.web.pages.bench.shown import Head, around_work, head

blueprint = Blueprint("sheets", __name__, url_prefix="/builds/<int:build_id>/<side:side>/sheets")


def _say() -> Say:
    asked = request.args.get("units", "")
    return UNITS[asked] if asked in UNITS else Say(current_system())


def _language() -> str:
    asked = request.args.get("language", "")
    return asked if asked in languages() else "en"


def _printing(build_id: int) -> Printing:
    return printing(shop(), build_id, _say(), current_who().name, list(STAGES), _language())


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
    of = _printing(build_id)
    later = kind.built and Head(of.here.shop, of.current, of.here.side, of.here.sheet).later(*SIDES)
    return render_template(
        "record/sheet.html", build_id=build_id, side=side, sheet=None if later else kind.make(of), kind=kind,
        units=_units(), mark_name=mark_name, title=kind.title, rest=Rest("work") if later else None,
    )  # fmt: skip


@blueprint.get("/<key>.pdf")
def as_pdf(build_id: int, side: str, key: str) -> Response | tuple[str, int]:
    """The same as PDF."""
    kind = _kind(key)
    made = _printing(build_id)
    try:
        data = pdf(kind.make(made))
    except DocumentError as error:
        return render_template("layout/error.html", title="No sheet", message=f"{error.message}."), 500
    name = f"{made.current.build.name} r{made.current.revision} {kind.title}.pdf"
    plain = "".join(c if c.isascii() and (c.isalnum() or c in " .-") else "_" for c in name)
    response = Response(data, mimetype="application/pdf")
    response.headers["Content-Disposition"] = f"inline; filename=\"{plain}\"; filename*=UTF-8''{quote(name)}"
    return response
