"""The head that comes back: received, torn down in its order, and what is found on it."""

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass

from flask import Blueprint, redirect, render_template, request
from markupsafe import Markup
from werkzeug.wrappers import Response

from arcstack.application.acts import receiving
from arcstack.document import Sitting
from arcstack.document.places import Place
from arcstack.drawings.head_map import Cell, State, head_map
from arcstack.drawings.signs import sign_drawing
from arcstack.errors import FieldError
from arcstack.readings.pictured import pictures
from arcstack.readings.returning import Found, Look, Severity, findings, received
from arcstack.settings import setting
from arcstack.wear.diagnosis import contradicts
from arcstack.wear.order import look_now, order_of
from arcstack.wear.signs import Sign, signs
from arcstack.web.kit import asked, links
from arcstack.web.kit.form import Form, sent
from arcstack.web.kit.session import current_hand, current_who, workshop
from arcstack.web.pages.bench.shown import Head, around_work, head

blueprint = Blueprint("came_back", __name__, url_prefix="/builds/<int:build_id>/<side:side>/back")

PARTS = {
    "lash": "Lash", "valve": "Valve", "seat": "Seat", "follower": "Follower", "lobe": "Lobe", "journal": "Journal",
    "spring": "Spring", "seal": "Seal, retainer, locks", "chamber": "Chamber",
}  # fmt: skip
_SHOWN_WITH = {"retainer": "seal", "locks": "seal"}
MOST_KM, MOST_HOURS = setting("wear.most_km"), setting("wear.most_hours")
MOST_EVENTS = 1e6
COMPLAINT = int(setting("wear.longest_complaint"))


@dataclass(frozen=True)
class Card:
    """One sign to choose, with its drawing."""

    sign: Sign
    drawing: Markup


def _cards(part: str) -> list[Card]:
    own = [s for s in signs().values() if _SHOWN_WITH.get(s.part, s.part) == part]
    return [Card(s, sign_drawing(s.id, s.title)) for s in own]


@dataclass(frozen=True)
class Row:
    """One finding of the list, its sign, and whether a later look contradicts or an earlier one agrees."""

    found: Found
    title: str
    normal: bool
    told: str


def rows_of(found: tuple[Found, ...]) -> list[Row]:
    """Findings, the last first, each with what another look says of it."""
    rows = []
    for n, f in enumerate(found):
        sign = signs().get(f.sign)
        later = next((o for o in found[n + 1 :] if contradicts(o, f)), None)
        earlier = next((o for o in found[:n] if contradicts(f, o)), None)
        told = f"contradicted by a later look, {later.look.value}" if later else ""
        if earlier and not told:
            told = f"contradicts what was seen with the {earlier.look.value}" if earlier.look is Look.WHOLE else ""
        rows.append(Row(f, sign.title if sign else f.sign, bool(sign and sign.normal), told))
    return rows[::-1]


def _map(here: Head, found: tuple[Found, ...], at: str) -> Markup:
    """How findings lie over the head: how many signs a valve shows, and the worst of them."""

    def cell(place: Place) -> Cell:
        own = [f for f in found if place.label in f.places]
        seen = {f.sign for f in own if not f.absent}
        bad = [s for s in seen if s in signs() and not signs()[s].normal]
        state = State.OUT if bad else State.READ if own else State.EMPTY
        address = f"{links.at('came_back.index', here.current.id, here.side)}?at={place.label}"
        return Cell(place, state, str(len(bad)) if bad else "0" if own else "–", place.label == at, address)

    return head_map([cell(p) for p in here.sheet.places], "Findings over the head: how many signs at each valve")


@blueprint.get("")
def index(build_id: int, side: str, wrong: str = "") -> str:
    """Receiving, the order of the teardown, and findings."""
    here = head(workshop().open(build_id), side)
    if not here.sheet.places:
        return render_template("bench/nowhere.html", **around_work(here, "came_back", "Came back"))
    found, events = findings(here.sheet.events), here.sheet.events
    part = request.values.get("part", "")
    part = part if part in PARTS else "valve"
    at = request.args.get("at", "")
    shown = [r for r in rows_of(found) if not at or not r.found.places or at in r.found.places]
    chosen = {label for label in request.form.getlist("places")} if wrong else {at} if at else set()
    return render_template(
        "bench/came_back.html",
        **around_work(here, "came_back", "Came back"),
        came=received(events),
        order=order_of(events),
        look=look_now(events),
        found=shown,
        all_found=len(found),
        cards=_cards(part),
        part=part,
        parts=PARTS,
        severities=Severity,
        map=_map(here, found, at),
        shown_in=Counter(p.finding for p in pictures(events) if p.finding),
        pictured=[p for p in pictures(events) if not at or p.place == at],
        at=at,
        chosen=chosen,
        cylinders=sorted({p.cylinder for p in here.sheet.places}),
        wrong=wrong,
        typed=request.form if wrong else {},
        hand=current_who().name,
    )


def _acted(
    build_id: int, side: str, act: Callable[[Head, Sitting, Form], None], tail: str = ""
) -> Response | tuple[str, int]:
    try:
        act(head(workshop().open(build_id), side), current_hand(), sent())
    except FieldError as error:
        return index(build_id, side, error.message), 422
    return redirect(links.at("came_back.index", build_id, side) + tail)


@blueprint.post("/receive")
def receive(build_id: int, side: str) -> Response | tuple[str, int]:
    """Say how the head came in."""

    def act(here: Head, by: Sitting, form: Form) -> None:
        receiving.receive(
            here, by,
            complaint=form.line("complaint", COMPLAINT),
            touched=form.line("touched"),
            distance_km=form.number("distance", "Distance", MOST_KM),
            hours=form.number("hours", "Hours", MOST_HOURS),
            limiter_events=form.count("events", "Limiter events", MOST_EVENTS, "Limiter events are counted."),
        )  # fmt: skip

    return _acted(build_id, side, act)


@blueprint.post("/stage")
def stage(build_id: int, side: str) -> Response | tuple[str, int]:
    """Pass a stage of the teardown."""

    def act(here: Head, by: Sitting, form: Form) -> None:
        receiving.pass_stage(here, by, stage=form.text("stage"), reason=form.line("reason"))

    return _acted(build_id, side, act)


@blueprint.post("/find")
def find(build_id: int, side: str) -> Response | tuple[str, int]:
    """Take a finding: a sign at its places, or looked for there and not found."""

    def act(here: Head, by: Sitting, form: Form) -> None:
        receiving.find(
            here, by,
            sign=form.text("sign"),
            places=request.form.getlist("places"),
            whole_head=form.ticked("whole"),
            absent=form.ticked("absent"),
            severity=form.choice("severity", Severity),
            extent=form.line("extent", 60),
            colour=form.line("colour", 40),
            value=form.line("value", 40),
            note=form.line("note"),
        )  # fmt: skip

    part = request.form.get("part", "")
    return _acted(build_id, side, act, f"?part={part}" if part in PARTS else "")


@blueprint.post("/take-back")
def take_back(build_id: int, side: str) -> Response | tuple[str, int]:
    """Take a finding back; it stays in the record."""
    number = asked.whole(request.form, "finding")
    return _acted(build_id, side, lambda here, by, _: receiving.take_back(here, by, finding=number))
