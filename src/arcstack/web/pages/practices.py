"""The workshop's practices: shipped ones to copy, one's own to change."""

from dataclasses import dataclass
from typing import Any

from flask import Blueprint, redirect, render_template, request, url_for
from pydantic import ValidationError
from werkzeug.wrappers import Response

from arcstack.application import PracticeLibrary
from arcstack.assess.catalogue import limit_title
from arcstack.errors import FieldError, NameTaken, PracticeError, QuantityError
from arcstack.practice import LimitSpec, OwnLimit, OwnPractice, OwnSchool, practice, practices, write_own
from arcstack.practice.model import SIDES_TAKEN
from arcstack.units import System, parse, plain
from arcstack.web.kit.session import current_system, current_who, workshop

blueprint = Blueprint("practices", __name__, url_prefix="/practices")

MATTERS = {
    "boost": "Boost rule that judges",
    "gas_in_separation": "Gas force off the spring, in separation",
    "lift_basis": "Lift that governs",
    "load": "Spring load judged",
    "reserve": "Reserve before solid",
}


def library() -> PracticeLibrary:
    return PracticeLibrary(workshop().database)


@dataclass(frozen=True)
class Row:
    """One limit as it is edited; ``base`` is what the practice underneath says."""

    key: str
    title: str
    side: str
    low: str | None
    high: str | None
    tight: str
    reason: str
    base: str
    changed: bool


def _text(spec: LimitSpec, name: str, system: System) -> str | None:
    value = getattr(spec, name)
    return None if value is None else plain(value, spec.dimension, system)


def _rows(own: OwnPractice, typed: dict[str, str], system: System) -> list[Row]:
    whole, under = own.whole(), practice(own.based_on, own.based_on_version)
    found = []
    for key, spec in whole.limits.items():
        base = under.limits[key]
        ends = {n: _text(spec, n, system) for n in ("low", "high", "tight")}
        said = " to ".join(t for n in ("low", "high") if (t := _text(base, n, system)) is not None)
        for name, text in ends.items():
            if text is not None:
                ends[name] = typed.get(f"{key}:{name}", text)
        found.append(
            Row(
                key, limit_title(key), key.partition("@")[2], ends["low"], ends["high"], ends["tight"] or "",
                typed.get(f"{key}:reason", spec.reason), said, key in own.limits,
            )
        )  # fmt: skip
    return found


@blueprint.get("")
def index() -> str:
    return _page()


def _page(error: str = "", at: str = "", name: str = "") -> str:
    return render_template(
        "practices/index.html", shipped=practices(), own=library().all(), error=error, at=at, name=name
    )


@blueprint.post("/copy")
def copy() -> Response | tuple[str, int]:
    """Copy a practice under a name of one's own."""
    of, name = request.form.get("of", ""), request.form.get("name", "")
    try:
        made = library().copy(of, name, current_who())
    except FieldError as error:
        return _page(error.message, of, name[:80]), 422
    except NameTaken as error:
        return _page(str(error), of, name[:80]), 409
    return redirect(url_for("practices.edit", key=made.id))


@blueprint.post("/import")
def take() -> Response | tuple[str, int]:
    upload = request.files.get("file")
    if upload is None or not upload.filename:
        return _page("Choose the JSON file of a practice first.", "import"), 422
    try:
        made = library().take(upload.stream.read(), current_who())
    except PracticeError as error:
        return _page(f"{upload.filename[:60]}: {error}. Nothing was stored.", "import"), 422
    except NameTaken as error:
        return _page(str(error), "import"), 409
    return redirect(url_for("practices.edit", key=made.id))


@blueprint.get("/<key>")
def edit(key: str) -> str:
    return _edit(library().get(key))


def _edit(own: OwnPractice, error: str = "", typed: dict[str, str] | None = None) -> str:
    typed, whole = typed or {}, own.whole()
    schools = [
        (name, MATTERS[name], [str(c) for c in choices], typed.get(f"school:{name}", str(getattr(whole.schools, name))),
         typed.get(f"school:{name}:reason", whole.school_reasons[name]))
        for name, choices in SIDES_TAKEN.items()
    ]  # fmt: skip
    return render_template(
        "practices/edit.html",
        own=own,
        base=practice(own.based_on, own.based_on_version),
        name=typed.get("name", own.name),
        about=typed.get("about", own.about),
        schools=schools,
        words=WORDS,
        rows=_rows(own, typed, current_system()),
        error=error,
    )


WORDS = {
    "True": "taken off", "False": "not taken off", "boost": "boost rule", "difference": "difference rule",
    "lobe": "lobe × ratio, less lash", "measured": "measured at the valve", "light": "too much", "band": "both ends",
    "heavy": "too little", "floor": "a floor only",
}  # fmt: skip


@blueprint.post("/<key>")
def save(key: str) -> Response | tuple[str, int]:
    """Keep what was changed as the next version; builds stay with the one that they were judged by."""
    held, typed = library().get(key), request.form.to_dict()
    try:
        library().save(_changed(held, typed), current_who())
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        where = str(first["loc"][-1]) if first["loc"] else "it"
        return _edit(held, f"Not saved; {where}: {first['msg'].removeprefix('Value error, ')}.", typed), 422
    except (PracticeError, FieldError) as error:
        return _edit(held, f"Not saved; {error}.", typed), 422
    except NameTaken as error:
        return _edit(held, str(error), typed), 409
    return redirect(url_for("practices.edit", key=key))


def _changed(held: OwnPractice, typed: dict[str, str]) -> OwnPractice:
    """The practice as the form has it: what it says otherwise than the one it stands on, and no more."""
    under, whole, system = practice(held.based_on, held.based_on_version), held.whole(), current_system()
    limits: dict[str, Any] = {}
    for key, base in under.limits.items():
        now, given = whole.limits[key], {}
        for name in ("low", "high", "tight"):
            shown = _text(now, name, system)
            text = typed.get(f"{key}:{name}", shown or "").strip()
            if getattr(base, name) is None:
                continue
            kept = held.limits.get(key)
            # a figure that stands as it was shown keeps its own text
            if text == shown:
                text = (kept and getattr(kept, name)) or ("" if getattr(now, name) == getattr(base, name) else text)
            elif not text:
                raise PracticeError(f"{limit_title(key)}: say its {name} end")
            if text:
                given[name] = _with_unit(text, now, system)
        reason = " ".join(typed.get(f"{key}:reason", now.reason).split())
        if given or reason != base.reason:
            limits[key] = OwnLimit(**given, reason=reason)
    schools: dict[str, Any] = {}
    for name in SIDES_TAKEN:
        value = typed.get(f"school:{name}", str(getattr(whole.schools, name)))
        said: str | bool = {"True": True, "False": False}.get(value, value)
        reason = " ".join(typed.get(f"school:{name}:reason", whole.school_reasons[name]).split())
        if said != getattr(under.schools, name) or reason != under.school_reasons[name]:
            schools[name] = OwnSchool(value=said, reason=reason)
    return OwnPractice(
        **held.model_dump(exclude={"limits", "schools", "name", "about"}), name=typed.get("name", held.name),
        about=" ".join(typed.get("about", held.about).split()), limits=limits, schools=schools,
    )  # fmt: skip


def _with_unit(text: str, spec: LimitSpec, system: System) -> str:
    """The text with its unit, where it was typed bare in the unit shown. Raises ``PracticeError``."""
    try:
        return parse(text, spec.dimension, spec.dimension.unit(system)).typed
    except QuantityError as error:
        raise PracticeError(f"{limit_title(spec.key)}: {error}") from error


@blueprint.get("/<key>/export")
def export(key: str) -> Response:
    own = library().get(key)
    name = "".join(c if c.isascii() and (c.isalnum() or c in " -") else "" for c in own.name).strip() or "practice"
    response = Response(write_own(own), mimetype="application/json")
    response.headers["Content-Disposition"] = f'attachment; filename="{name.replace(" ", "-").lower()}.json"'
    return response


@blueprint.post("/<key>/forget")
def forget(key: str) -> Response:
    """Take a practice out of the workshop; builds that carry it keep it."""
    library().forget(key)
    return redirect(url_for("practices.index"))
