"""A side copied from the other, or from another build, once it was shown what that changes."""

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.application import differences
from arcstack.application.copying import PARTS, copied, other_side
from arcstack.assess import assess
from arcstack.document import SIDES, Build
from arcstack.errors import FieldError, NotFound
from arcstack.store import Kind, Reason
from arcstack.web.frame.around import around
from arcstack.web.frame.turned import turned
from arcstack.web.kit import asked, links
from arcstack.web.kit.change import accept
from arcstack.web.kit.session import assessed, current_system, sweeps, workshop

blueprint = Blueprint("copying", __name__, url_prefix="/builds/<int:build_id>/<side:side>/copy")

WHOLE = tuple(part for part in PARTS if part != "packs")


def _source(build_id: int, side: str, said: str) -> tuple[str, Build, str]:
    """Where from: the source as it is sent, its build and its side; this head's other side where nothing is said."""
    number, _, of = said.partition("-")
    if not number.isdigit() or len(number) > 9 or of not in SIDES or (int(number) == build_id and of == side):
        number, of = str(build_id), other_side(side)
    return f"{number}-{of}", workshop().open(int(number)).build, of


@blueprint.get("")
def index(build_id: int, side: str) -> str:
    return _page(build_id, side)


def _page(build_id: int, side: str, error: str = "") -> str:
    values, current = request.values, workshop().open(build_id)
    chosen, build, of = _source(build_id, side, values.get("source", ""))
    wanted = [p for p in values.getlist("parts") if p in PARTS] or ([] if "source" in values else list(WHOLE))
    search = values.get("search", "")[:80]
    before, changed = assessed(current), current.build
    try:
        changed = copied(current.build, side, build.side(of), wanted)
    except FieldError as wrong:
        error = error or wrong.message
    others = [b for b in workshop().builds(search=search).rows if b.id != build_id][:12]
    return render_template(
        "copying/index.html",
        **around(current, side, before, current_system()),
        chosen=chosen,
        source_name=_named(current.build, build, of),
        of=of,
        others=others,
        search=search,
        parts=PARTS,
        chosen_parts=wanted,
        changes=differences(current.build, changed),
        turned=turned(before, assess(changed, sweeps().known, before)) if changed is not current.build else [],
        error=error,
        title="Copy",
    )


def _named(here: Build, build: Build, of: str) -> str:
    return of if build is here else f"{of} of {build.name}"


@blueprint.post("")
def copy(build_id: int, side: str) -> Response | tuple[str, int]:
    """Copy what was shown."""
    _, build, of = _source(build_id, side, request.form.get("source", ""))
    wanted = [p for p in request.form.getlist("parts") if p in PARTS]
    words = "side" if set(wanted) >= set(WHOLE) else ", ".join(PARTS[p].lower() for p in wanted)

    def made(here: Build) -> tuple[Build, Reason]:
        why = Reason(Kind.SIDE_COPIED, side, before=of if build == here else f"{build.name}, {of}", after=words)
        return copied(here, side, build.side(of), wanted), why

    try:
        base = asked.base(request.form)
        accept(build_id, made)
    except FieldError as error:
        return _page(build_id, side, error.message), 422
    except NotFound as error:
        return _page(build_id, side, str(error)), 404
    return redirect(links.revisions(build_id, side, base, base + 1))
