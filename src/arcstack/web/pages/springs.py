"""Springs beside each other: candidates entered, compared, fitted; the window of heights."""

from dataclasses import replace

from flask import Blueprint, abort, make_response, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.document import SIDES, SLOTS, Build
from arcstack.document.parts import Candidate
from arcstack.errors import StaleRevision
from arcstack.services import State
from arcstack.store import Kind, Reason
from arcstack.trials.packs import as_candidate, exchanged, filled, with_candidate
from arcstack.web import asked, links
from arcstack.web.session import assessed, current_system, current_who, sweeps, workshop
from arcstack.web.view.pack_fields import pack_groups
from arcstack.web.view.spring_parts import compared

blueprint = Blueprint("springs", __name__, url_prefix="/builds/<int:build_id>/<side>/packs")


@blueprint.get("/compare")
def compare(build_id: int, side: str) -> str:
    """The comparison on the basis asked for."""
    _side(side)
    current = workshop().open(build_id)
    ctx = assessed(current.build).sides[side]
    shown = compared(ctx, request.args.to_dict(), current_system())
    going = [q for q in shown.waits if sweeps().start(q).state not in (State.FAILED, State.STOPPED)]
    return render_template(
        "springs/_compare.html",
        compared=replace(shown, waits=going),
        build_id=build_id,
        side=side,
        revision=current.revision,
    )


@blueprint.get("/fields")
def fields(build_id: int, side: str) -> str:
    """The fields of one pack: slot 0 is the fitted one."""
    _side(side)
    slot = asked.whole(request.args, "slot") or 0
    if slot not in (0, *SLOTS):
        abort(404)
    build = workshop().open(build_id).build
    return render_template(
        "springs/_fields.html", pack_groups=pack_groups(build, side, slot, current_system()), slot=slot
    )


@blueprint.post("/take")
def take(build_id: int, side: str) -> Response:
    """Copy the fitted pack into the first free slot, to be changed there."""
    _side(side)
    build = workshop().open(build_id).build
    free = next((s for s in SLOTS if s not in filled(build, side)), None)
    if free is None:
        return _told("Every slot is taken", "Six packs can stand side by side; clear one first.")
    copied = as_candidate(build, side)
    copied = copied.model_copy(update={"name": f"{copied.name or 'fitted'}, copy"[:80]})
    return _save(
        build_id,
        side,
        with_candidate(build, side, free, copied),
        Reason(Kind.PACK_COPIED, f"{side}.candidates.{free}"),
        free,
    )


@blueprint.post("/fit")
def fit(build_id: int, side: str) -> Response:
    """Fit a slot's pack; the one that was fitted takes its slot."""
    slot = _slot(build_id, side)
    build = exchanged(workshop().open(build_id).build, side, slot)
    return _save(build_id, side, build, Reason(Kind.PACK_FITTED, f"{side}.candidates.{slot}"), 0)


@blueprint.post("/clear")
def clear(build_id: int, side: str) -> Response:
    """Empty a slot."""
    slot = _slot(build_id, side)
    build = with_candidate(workshop().open(build_id).build, side, slot, Candidate())
    return _save(build_id, side, build, Reason(Kind.PACK_CLEARED, f"{side}.candidates.{slot}"), 0)


def _side(side: str) -> None:
    if side not in SIDES:
        abort(404)


def _slot(build_id: int, side: str) -> int:
    _side(side)
    slot = asked.whole(request.form, "slot") or 0
    if slot not in filled(workshop().open(build_id).build, side):
        abort(404)
    return slot


def _save(build_id: int, side: str, build: Build, why: Reason, slot: int) -> Response:
    base = asked.base(request.form)
    try:
        workshop().save(build_id, base, build, current_who(), why)
    except StaleRevision:
        return _told("Another window was faster", "The build was changed in another window. Reload to see it.")
    return redirect(links.stage(build_id, "springs", side) + (f"?pack={slot}" if slot else ""))


def _told(title: str, message: str) -> Response:
    return make_response(render_template("layout/error.html", title=title, message=message), 409)
