"""Springs beside each other: candidates entered, compared, fitted; the window of heights."""

from collections.abc import Callable
from dataclasses import replace

from flask import Blueprint, abort, make_response, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.application import State
from arcstack.document import SLOTS, Build, named
from arcstack.document.parts import Candidate
from arcstack.errors import FieldError
from arcstack.store import Kind, Reason
from arcstack.trials.packs import as_candidate, exchanged, filled, with_candidate
from arcstack.web.kit import asked, links
from arcstack.web.kit.change import accept
from arcstack.web.kit.session import assessed, current_system, sweeps, workshop
from arcstack.web.stages.springs.fields import pack_groups
from arcstack.web.stages.springs.view import compared

blueprint = Blueprint(
    "springs", __name__, url_prefix="/builds/<int:build_id>/<side:side>/packs", template_folder="templates"
)


@blueprint.get("/compare")
def compare(build_id: int, side: str) -> str:
    """The comparison on the basis asked for."""
    current = workshop().open(build_id)
    ctx = assessed(current).sides[side]
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
    build = workshop().open(build_id).build
    free = next((s for s in SLOTS if s not in filled(build, side)), None)
    if free is None:
        message = "Six packs can stand side by side; clear one first."
        return make_response(render_template("layout/error.html", title="Every slot is taken", message=message), 409)

    try:
        typed = request.form.get("name", "")
        name = named(typed, "name", "A pack") if typed.strip() else ""
    except FieldError as error:
        return make_response(render_template("layout/error.html", title="Not added", message=error.message), 422)

    def copied(build: Build) -> tuple[Build, Reason]:
        pack = as_candidate(build, side)
        pack = pack.model_copy(update={"name": name or f"{(pack.name or 'fitted')[:70]}, copy"})
        return with_candidate(build, side, free, pack), Reason(Kind.PACK_COPIED, f"{side}.candidates.{free}")

    return _accept(build_id, side, copied, free)


@blueprint.post("/fit")
def fit(build_id: int, side: str) -> Response:
    """Fit a slot's pack; the one that was fitted takes its slot."""
    slot = _slot(build_id, side)
    pack = workshop().open(build_id).build.side(side).candidate(slot).name
    why = Reason(Kind.PACK_FITTED, f"{side}.candidates.{slot}", after=pack)
    return _accept(build_id, side, lambda build: (exchanged(build, side, slot), why), 0)


@blueprint.post("/clear")
def clear(build_id: int, side: str) -> Response:
    """Empty a slot."""
    slot = _slot(build_id, side)
    why = Reason(Kind.PACK_CLEARED, f"{side}.candidates.{slot}")
    return _accept(build_id, side, lambda build: (with_candidate(build, side, slot, Candidate()), why), 0)


def _slot(build_id: int, side: str) -> int:
    slot = asked.whole(request.form, "slot") or 0
    if slot not in filled(workshop().open(build_id).build, side):
        abort(404)
    return slot


def _accept(build_id: int, side: str, make: Callable[[Build], tuple[Build, Reason]], slot: int) -> Response:
    accept(build_id, make)
    return redirect(links.stage(build_id, "springs", side) + (f"?pack={slot}" if slot else ""))
