"""The shelf: parts listed and found, entered and changed, taken in and carried away as files."""

from dataclasses import dataclass, field
from typing import Any
from urllib.parse import urlencode

from flask import Blueprint, redirect, render_template, request, url_for
from werkzeug.wrappers import Response

from arcstack.checks import Evidence
from arcstack.document import Absent, Entry, said
from arcstack.errors import DocumentError, FieldError, NameTaken
from arcstack.formats import text_table
from arcstack.formats.shelf_csv import LARGEST_SHELF, ShelfReading, read_shelf, write_shelf
from arcstack.formats.shelf_json import read_shelf_json, write_shelf_json
from arcstack.shelf import (
    KINDS,
    OWN,
    PartKind,
    ShelfPart,
    changed,
    fields_of,
    found,
    read_query,
    summary,
    title_of,
)
from arcstack.units import System, digits_in
from arcstack.views.rows import measure_of
from arcstack.web.kit.session import current_hand, current_system, current_who, part_shelf

blueprint = Blueprint("shelf", __name__, url_prefix="/shelf")

MOST_SHOWN = 400


def kind_called(text: str) -> PartKind | None:
    """The kind that an address names; None for none."""
    return PartKind(text) if text in tuple(PartKind) else None


@dataclass(frozen=True)
class Listed:
    """A part as the list shows it."""

    part: ShelfPart
    kind: str
    summary: str


def _asked() -> dict[str, Any]:
    """The parts that the address asks for, and how that was understood."""
    text, system = request.args.get("q", "")[:200], current_system()
    kind, retired = kind_called(request.args.get("kind", "")), request.args.get("retired") == "1"
    query, parts = read_query(text), part_shelf().all()
    rows = [p for p in found(parts, query, system) if p.retired is retired and kind in (None, p.kind)]
    counts = {k: sum(p.kind is k and p.retired is retired for p in parts) for k in PartKind}
    return {
        "rows": [Listed(p, KINDS[p.kind].title, summary(p, system)) for p in rows[:MOST_SHOWN]],
        "more": max(len(rows) - MOST_SHOWN, 0),
        "said": query.said(system) if query.figures else "",
        "q": text,
        "kind": kind,
        "retired": retired,
        "counts": counts,
        "kinds": KINDS,
        "any_retired": any(p.retired for p in parts),
        "none_at_all": not parts,
    }


@blueprint.get("")
def index() -> str:
    return _index()


def _index(error: str = "", name: str = "") -> str:
    return render_template("shelf/index.html", error=error, name=name, **_asked())


@blueprint.get("/listed")
def listed() -> str:
    return render_template("shelf/_list.html", **_asked())


@blueprint.post("/add")
def add() -> Response | tuple[str, int]:
    """A new part, empty or as another stands."""
    kind = kind_called(request.form.get("kind", ""))
    of = request.form.get("of", "")
    name = request.form.get("name", "")
    try:
        if kind is None:
            return _index("Say what kind of part it is.", name[:80]), 422
        part = part_shelf().add(kind, name, current_who(), part_shelf().get(of) if of else None)
    except FieldError as error:
        return _index(error.message, name[:80]), 422
    except NameTaken as error:
        return _index(str(error), name[:80]), 409
    return redirect(url_for("shelf.part", key=part.key))


# -- one part


@dataclass
class Row:
    """A field of a part as its page shows it; ``error`` is what was wrong with what was typed."""

    path: str
    label: str
    kind: str
    text: str
    unit: str = ""
    evidence: str = ""
    help: str = ""
    options: tuple[str, ...] = ()
    assumed: str = ""
    error: str = ""


@dataclass
class Group:
    title: str
    rows: list[Row] = field(default_factory=list)


EVIDENCES = tuple(e.value for e in Evidence if e is not Evidence.CALCULATED)


def _rows(part: ShelfPart, system: System, typed: dict[str, str], errors: dict[str, str]) -> list[Group]:
    own = Group("The part")
    for path in OWN:
        value = getattr(part, path)
        text = value.typed if isinstance(value, Entry) else "" if value is None else str(value)
        own.rows.append(
            Row(path, title_of(part.kind, path), "words", typed.get(path, text), error=errors.get(path, ""))
        )
    groups = {"": Group("Figures"), "outer": Group("Outer spring"), "inner": Group("Inner spring")}
    for path, spec in fields_of(part.kind).items():
        if spec.lists or path in OWN or path == "code":
            continue
        head, _, last = path.rpartition(".")
        if last == "code":
            continue
        value = part.at(path)
        row = Row(
            path,
            spec.label,
            spec.kind.value,
            typed.get(path, _shown(part, path, system)),
            help=spec.help,
            error=errors.get(path, ""),
        )
        if spec.quantity is not None:
            row.unit = spec.quantity.dimension.unit(system)
            row.evidence = typed.get(
                f"{path}:is", value.evidence.value if isinstance(value, Entry) else Evidence.PRINTED.value
            )
        row.options, row.assumed = spec.options, spec.assumed
        groups[head].rows.append(row)
    return [own, *(g for g in groups.values() if g.rows)]


def _shown(part: ShelfPart, path: str, system: System) -> str:
    """What stands in a field: bare digits where they were typed in the unit that is shown beside them."""
    value = getattr(part, path) if path in OWN else part.said(path)
    if not isinstance(value, Entry | Absent) and value is not None:
        return str(value)
    spec = None if path in OWN else fields_of(part.kind)[path].quantity
    if isinstance(value, Entry) and spec is not None:
        return digits_in(value.typed, spec.dimension, spec.dimension.unit(system)) or value.typed
    return said(value)


@blueprint.get("/part/<key>")
def part(key: str) -> str:
    return _part(part_shelf().get(key))


def _part(held: ShelfPart, typed: dict[str, str] | None = None, errors: dict[str, str] | None = None) -> str:
    return render_template(
        "shelf/part.html",
        part=held,
        about=KINDS[held.kind],
        groups=_rows(held, current_system(), typed or {}, errors or {}),
        errors=errors or {},
        evidences=EVIDENCES,
        users=part_shelf().users(held.key),
        version=(typed or {}).get("version", held.version),
    )


@blueprint.post("/part/<key>")
def save(key: str) -> Response | tuple[str, int]:
    """Keep what was changed; nothing of it where one field is wrong."""
    held, typed = part_shelf().get(key), request.form.to_dict()
    if typed.get("version") != str(held.version):
        told = {"name": f"{held.name} was changed by another window: this is how it stands now. Look again."}
        return _part(held, {}, told), 409
    made, errors = _changed(held, typed)
    if errors:
        return _part(held, typed, errors), 422
    try:
        part_shelf().save(made, current_who())
    except (NameTaken, FieldError) as error:
        return _part(held, typed, {"name": str(error)}), 409
    return redirect(url_for("shelf.part", key=key))


def _changed(held: ShelfPart, typed: dict[str, str]) -> tuple[ShelfPart, dict[str, str]]:
    """The part as the form has it, and what is wrong by field."""
    made, errors, system = held, dict[str, str](), current_system()
    paths = [*OWN, *(p for p, spec in fields_of(held.kind).items() if not spec.lists and p not in OWN)]
    for path in paths:
        if path not in typed:
            continue
        value = getattr(held, path) if path in OWN else held.at(path)
        text, shown = typed[path], _shown(held, path, system)
        evidence = Evidence(typed[f"{path}:is"]) if typed.get(f"{path}:is") in EVIDENCES else None
        if text == shown and (not isinstance(value, Entry) or evidence in (None, value.evidence)):
            continue
        try:
            made = changed(made, path, text, evidence, system, current_hand(measure_of(path)))
        except FieldError as error:
            errors[path] = error.message
    return made, errors


@blueprint.post("/part/<key>/retire")
def retire(key: str) -> Response:
    """Keep a part but offer it no more, or offer it again."""
    held = part_shelf().get(key)
    part_shelf().save(held.model_copy(update={"retired": not held.retired}), current_who())
    return redirect(url_for("shelf.part", key=key))


@blueprint.post("/part/<key>/remove")
def remove(key: str) -> Response:
    """Take a part off the shelf; it can be put back."""
    gone = part_shelf().remove(key)
    return redirect(url_for("shelf.index", kind=gone.kind.value, gone=gone.key, called=gone.name))


@blueprint.post("/put-back")
def put_back() -> Response:
    back = part_shelf().put_back(request.form.get("key", "")[:32])
    return redirect(url_for("shelf.part", key=back.key))


# -- files


@blueprint.get("/export.<form>")
def export(form: str) -> Response:
    """The whole shelf, or one kind of it, as CSV or JSON."""
    kind = kind_called(request.args.get("kind", ""))
    parts = [p for p in part_shelf().all() if kind in (None, p.kind)]
    text = write_shelf_json(parts) if form == "json" else "\ufeff" + write_shelf(parts)
    response = Response(text, mimetype="application/json" if form == "json" else "text/csv")
    name = f"shelf{'-' + kind.value.replace(' ', '-') if kind else ''}.{'json' if form == 'json' else 'csv'}"
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@blueprint.get("/import")
def reading() -> str:
    return _reading()


def _reading(**more: Any) -> str:
    shown = {"read": None, "text": "", "error": "", "told": "", "kind": ""} | more
    return render_template("shelf/import.html", kinds=KINDS, **shown)


@blueprint.post("/import")
def take() -> Response | str | tuple[str, int]:
    """Read a file and show what was understood; with ``answer`` take what was shown."""
    upload, text = request.files.get("file"), request.form.get("text", "")
    data = upload.stream.read() if upload is not None and upload.filename else text.encode()
    if not data.strip():
        return _reading(error="Choose a file, or paste a table, first."), 422
    if len(data) > LARGEST_SHELF:
        return _reading(error=f"This file is longer than {LARGEST_SHELF // 1000:,} kB; split it."), 422
    if data.lstrip()[:1] == b"{":
        return _take_json(data)
    kind = request.form.get("kind", "")
    read = read_shelf(data, kind_called(kind), part_shelf().all())
    answer = request.form.get("answer", "")
    shown = text or text_table.shown(data)
    if read.wrong or not answer or (answer == "all" and not read.sound):
        return _reading(read=read, text=shown, kind=kind, error=read.wrong), 422 if read.wrong else 200
    return _taken(read, shown, kind)


def _taken(read: ShelfReading, text: str, kind: str) -> Response | tuple[str, int]:
    try:
        new, altered = part_shelf().take(read.parts, current_who())
    except NameTaken as error:
        return _reading(read=read, text=text, kind=kind, error=f"{error} Nothing was taken."), 409
    return redirect(f"{url_for('shelf.index')}?{urlencode({'new': new, 'altered': altered})}")


def _take_json(data: bytes) -> Response | tuple[str, int]:
    try:
        new, altered = part_shelf().take(read_shelf_json(data), current_who())
    except DocumentError as error:
        return _reading(error=f"{error}. Nothing was taken."), 422
    except NameTaken as error:
        return _reading(error=f"{error} Nothing was taken."), 409
    return redirect(f"{url_for('shelf.index')}?{urlencode({'new': new, 'altered': altered})}")
