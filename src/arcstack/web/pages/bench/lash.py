"""Lash on the page: shims that change places, shims that are bought, and what services tell of each valve."""

from flask import Blueprint, redirect, render_template, request
from markupsafe import Markup
from werkzeug.wrappers import Response

from arcstack.checks import Level
from arcstack.document.parts import FollowerKind
from arcstack.errors import FieldError, NotKnown
from arcstack.readings.lash_history import CAUSES, Caused, History
from arcstack.readings.taking import How, place_called
from arcstack.shelf import PartKind
from arcstack.trials.lashing import Plan, aim_of, judged, plan, rise
from arcstack.units import FORCE, LENGTH, System, show
from arcstack.web.drawings.lash_line import lash_line
from arcstack.web.kit import links
from arcstack.web.kit.session import bench, current_hand, current_system, current_who, part_shelf, workshop
from arcstack.web.pages.bench.shown import Head, around_bench, head
from arcstack.web.pages.bench.sitting import hand_with, stage_now

blueprint = Blueprint("lash", __name__, url_prefix="/builds/<int:build_id>/<side:side>/bench/lash")


def sizes_on_shelf() -> tuple[float, ...]:
    """Thicknesses of the lash shims that the shelf offers, mm."""
    found = set()
    for part in part_shelf().offered():
        if part.kind is PartKind.LASH_SHIM:
            thick = getattr(part.body, "thickness", None)
            if thick is not None and hasattr(thick, "value"):
                found.add(round(float(thick.value), 6))
    return tuple(sorted(found))


def _at_lobe(here: Head) -> bool:
    lever = here.current.build.engine.follower is not FollowerKind.BUCKET
    return lever and request.values.get("blade") == "lobe"


def _plan(here: Head) -> Plan:
    ctx = here.design.sides[here.side]
    return plan(ctx, here.sheet, aim_of(ctx, sizes_on_shelf(), at_lobe=_at_lobe(here)))


@blueprint.get("")
def index(build_id: int, side: str, wrong: str = "") -> str:
    """Every valve's lash, what goes in, and its history."""
    here = head(workshop().open(build_id), side)
    if not here.sheet.places:
        return render_template("bench/nowhere.html", **around_bench(here, "lash", "Lash"))
    found, why = None, ""
    try:
        found = _plan(here)
    except NotKnown as error:
        why = ", ".join(m.label.lower() for m in error.missing) or error.why
    system = current_system()

    def mm(value: float | None) -> str:
        return str(show(value, LENGTH, system)) if value is not None else "–"

    return render_template(
        "bench/lash.html",
        **around_bench(here, "lash", "Lash"),
        plan=found,
        why=why,
        wrong=wrong,
        mm=mm,
        told=_told(here, found, system) if found else [],
        causes=CAUSES,
        hand=current_who().name,
        lever=here.current.build.engine.follower is not FollowerKind.BUCKET,
        at_lobe=_at_lobe(here),
    )


def _told(here: Head, found: Plan, system: System) -> list[tuple[History, Level, str, str, Markup]]:
    """Each valve that has a history: how it stands, in words, what it means, and its line."""
    ctx, rows = here.design.sides[here.side], []
    for own in found.histories:
        if len(own.stages) < 2:
            continue
        level, words = judged(own)
        means = rise(ctx, own)
        says = ""
        if means.mm > 1e-9 and not own.beds:
            says = f"the stem stands {show(means.mm, LENGTH, system)} higher"
            if means.lost_N is not None:
                says += f", the spring carries {show(means.lost_N, FORCE, system)} less"
        rows.append((own, level, words, says, lash_line(own, found.target_mm, found.band_mm)))
    return rows


@blueprint.post("/fit")
def fit(build_id: int, side: str) -> Response | tuple[str, int]:
    """Lay the shims as they were planned: assumed until they are read, and each lash is read again."""
    here = head(workshop().open(build_id), side)
    try:
        found = _plan(here)
        shown = ",".join(f"{line.place.label}={line.put_mm}" for line in found.moves)
        if request.form.get("layout") != shown:
            raise FieldError("layout", "Something was read meanwhile and the plan is another now: look again.")
        if not found.moves:
            raise FieldError("layout", "Nothing is to be changed.")
        now = stage_now(here.sheet)
        how = How(hand_with(None), now.phase, now.service, sure=True, note="as planned", system=System.MM)
        rows = [("lash_shim", line.place.label, "", f"{line.put_mm:.3f} mm", how) for line in found.moves]
        bench().take_all(build_id, here.current.build, rows)
    except NotKnown as error:
        return index(build_id, side, wrong=error.why), 409
    except FieldError as error:
        return index(build_id, side, wrong=error.message), 409
    return redirect(links.at("lash.index", build_id, side))


@blueprint.post("/cause")
def cause(build_id: int, side: str) -> Response | tuple[str, int]:
    """Say what a hand found to be the cause of a lash that closes."""
    here, form = head(workshop().open(build_id), side), request.form
    try:
        place, by = place_called(here.sheet, form.get("place", "")).label, current_hand()
        note = " ".join(form.get("note", "").split())[:200]
        if by.hand == "workshop":
            raise FieldError("hand", "Whose hand found it? A cause has a name.")
        if form.get("cause") not in CAUSES or len(note) < 3:
            raise FieldError("cause", "Say which cause it was, and what was read or done about it.")
        bench().happened(build_id, Caused(0, place, form["cause"], note, by))
    except FieldError as error:
        return index(build_id, side, wrong=error.message), 422
    return redirect(links.at("lash.index", build_id, side))
