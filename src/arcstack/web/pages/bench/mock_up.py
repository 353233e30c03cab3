"""The mock-up on the page: how the engine stands, true TDC, both flanks, what to move, valve to piston as pushed."""

import math

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.assess.context import Context
from arcstack.document import SIDES, Entry
from arcstack.drawings.gear_turn import gear_turn
from arcstack.errors import FieldError, NotKnown
from arcstack.readings.mock_up import ADJUSTERS, EDGES, MockUp
from arcstack.trials.clearances import least_of_side
from arcstack.trials.mocked import Mocked, mocked
from arcstack.trials.timed import Timed, along_slot_mm, told_apart, twisted
from arcstack.units import ANGLE, LENGTH, show
from arcstack.web.kit import links
from arcstack.web.kit.form import sent
from arcstack.web.kit.session import current_hand, current_system, current_who, instruments, remember, workshop
from arcstack.web.pages.bench.mock_up_acts import ACTS
from arcstack.web.pages.bench.mock_up_chart import gap_chart
from arcstack.web.pages.bench.shown import Head, around_bench, head
from arcstack.web.pages.bench.sitting import instrument_for
from arcstack.web.pages.bench.turning import engine

blueprint = Blueprint("mock_up", __name__, url_prefix="/builds/<int:build_id>/<side:side>/bench/mock-up")


@blueprint.get("")
def index(build_id: int, side: str) -> str:
    return page(build_id, side)


def page(build_id: int, side: str, wrong: str = "", act: str = "") -> str:
    """The page, with what was wrong about an act on it."""
    here = head(workshop().open(build_id), side)
    if not here.sheet.places:
        return render_template("bench/nowhere.html", **around_bench(here, "mock_up", "Mock-up"))
    made, own = mocked(here.design, here.sheet, side), [p for p in here.sheet.places if p.side == side]
    found = made.timed
    system = current_system()

    def deg(value: float) -> str:
        return str(show(value, ANGLE, system))

    def mm(value: float) -> str:
        return str(show(value, LENGTH, system))

    return render_template(
        "bench/mock_up.html",
        **around_bench(here, "mock_up", "Mock-up"),
        mock=made.mock,
        engine=engine(here),
        linked={kind: linked(kind) for kind in LINKED},
        choices={kind: [i.name for i in instruments().all() if i.kind == kind and i.address] for kind in LINKED},
        next_crank=_next_crank(made.mock),
        found=found,
        measured=[(g, gap_chart(g, system)) for g in made.gaps],
        others=_others(here, made),
        between=made.between,
        in_head=made.in_head,
        against=made.against,
        own_places=own,
        inlets=[p for p in here.sheet.places if p.side == SIDES[0]],
        outlets=[p for p in here.sheet.places if p.side == SIDES[1]],
        adjusters=ADJUSTERS,
        edges=EDGES,
        why=made.why,
        wrong=wrong,
        act=act,
        typed=request.form if wrong else {},
        words=_words(here, found) if found else [],
        drawing=gear_turn(found.turn_cam_rad, "the way the camshaft is turned within its gear")
        if found and found.shows_turn
        else None,
        deg=deg,
        mm=mm,
        intake=side == "intake",
        hand=current_who().name,
        gasket=_gasket(here),
        lash=_lash(here),
    )


def _gasket(here: Head) -> str:
    entry = here.current.build.engine.gasket
    return str(show(entry.value, LENGTH, current_system())) if isinstance(entry, Entry) else ""


def _lash(here: Head) -> str:
    entry = here.design.sides[here.side].side.cam.lash
    return str(show(entry.value, LENGTH, current_system())) if isinstance(entry, Entry) else ""


def _others(here: Head, made: Mocked) -> dict[str, tuple[str, float]]:
    """By the place that was pushed: which place of the side then stands worst, and its least gap."""
    if not made.gaps:
        return {}
    built = {p.label: here.built.contexts[p.label] for p in here.sheet.places if p.side == here.side}
    found = {g.place: least_of_side(built, g) for g in made.gaps}
    return {place: worst for place, worst in found.items() if worst is not None}


LINKED = ("wheel", "dial")
"""What a mock-up is read with over a link."""


def linked(kind: str) -> str:
    """The name of the linked instrument of a kind that this sitting reads with; empty where a hand types."""
    found = instrument_for(kind)
    return found.name if found is not None and found.address else ""


@blueprint.post("/with")
def read_with(build_id: int, side: str) -> Response:
    """Read with linked instruments from now on, or by hand again."""
    for kind in LINKED:
        name = request.form.get(kind, "")
        if name in ("", *(i.name for i in instruments().all() if i.kind == kind)):
            remember(f"instrument {kind}", name)
    return redirect(links.at("mock_up.index", build_id, side))


def _next_crank(mock: MockUp) -> str:
    """Where the next point of a lift curve would be taken: as far on as the last was."""
    run = [math.degrees(p.crank_rad) for p in mock.lifted]
    if not run:
        return ""
    return f"{run[-1] + (run[-1] - run[-2] if len(run) > 1 else USUAL_STEP_DEG):g}"


USUAL_STEP_DEG = 5.0


def _words(here: Head, found: Timed) -> list[str]:
    """What the timing says, what to do, and what tells its causes apart."""
    ctx = here.design.sides[here.side]
    told = _moves(ctx, found)
    other = SIDES[1] if here.side == SIDES[0] else SIDES[0]
    apart = told_apart(ctx, found, mocked(here.design, here.sheet, other).timed)
    told += [apart] if apart else []
    twist = twisted(ctx, found)
    if twist is not None and found.twist_rad is not None:
        by = show(found.twist_rad, ANGLE, current_system())
        told.append(
            f"Its valves lie {by} apart: a twisted cam, or a dial that moved."
            if twist
            else f"Its valves agree to {by}: the cam is not twisted."
        )
    return told


def _moves(ctx: Context, found: Timed) -> list[str]:
    """What a mock-up says of the cam, and what to do about it, in words."""
    if found.advance_rad is None or found.points is None:
        return []
    system = current_system()
    early = "advanced" if found.is_early else "retarded"
    words = f"{show(abs(found.advance_rad), ANGLE, system)} ± {show(found.advance_half_rad, ANGLE, system)} {early}"
    told = [f"{found.place}: {words}: {found.points.value}."]
    if found.is_lash_or_ratio:
        turned = f"; with that taken out, {words}" if found.is_off_beside else ""
        told = [f"{found.place}: {found.points.value}{turned}."]
    if found.teeth:
        count = f"{abs(found.teeth)} {'tooth' if abs(found.teeth) == 1 else 'teeth'}"
        told.append(f"That is {count} of its gear: look there before any slot.")
    if found.asks_turn:
        radius, moves = along_slot_mm(ctx, found)
        way = "the way it runs" if found.turn_cam_rad > 0 else "against the way it runs"
        by = show(abs(found.turn_cam_rad), ANGLE, system, 1)
        told.append(
            f"To the card: crank, chain and gear held, turn the camshaft {by} of cam {way}; at a slot radius of "
            f"{show(radius, LENGTH, system)} that is {show(moves, LENGTH, system)}. Then read again."
        )
    elif found.leaves_gear:
        told.append("Leave the gear alone: read lash, check lift, ratio and follower again, in that order.")
    return told


@blueprint.post("")
def take(build_id: int, side: str) -> Response | tuple[str, int]:
    """Take one act of a mock-up: it is added, never changed."""
    here, act = head(workshop().open(build_id), side), request.form.get("act", "")
    try:
        if act not in ACTS:
            return page(build_id, side, "That is no part of a mock-up.", act), 422
        ACTS[act](here, current_hand(), sent())
    except FieldError as error:
        return page(build_id, side, error.message, act), 422
    except NotKnown as error:
        needs = ", ".join(m.label.lower() for m in error.missing) or error.why
        return page(build_id, side, f"The design lacks what this is held to: {needs}.", act), 422
    return redirect(f"{links.at('mock_up.index', build_id, side)}#{act}")
