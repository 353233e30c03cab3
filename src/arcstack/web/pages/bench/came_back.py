"""The head that comes back: received, torn down in its order, and what is found on it."""

from collections import Counter
from dataclasses import dataclass

from flask import Blueprint, redirect, render_template, request
from markupsafe import Markup
from werkzeug.wrappers import Response

from arcstack.document.places import Place
from arcstack.document.words import one_line
from arcstack.drawings.head_map import Cell, State, head_map
from arcstack.drawings.signs import sign_drawing
from arcstack.errors import FieldError
from arcstack.readings.pictured import pictures
from arcstack.readings.returning import Found, FoundNot, Look, Received, Severity, findings, received
from arcstack.readings.sent_on import this_life
from arcstack.readings.taking import place_called
from arcstack.settings import setting
from arcstack.wear.diagnosis import contradicts
from arcstack.wear.order import look_now, order_of, passes
from arcstack.wear.signs import Sign, signs
from arcstack.web.kit import asked, links
from arcstack.web.kit.session import bench, current_hand, current_who, workshop
from arcstack.web.pages.bench.shown import Head, around_work, head

blueprint = Blueprint("came_back", __name__, url_prefix="/builds/<int:build_id>/<side:side>/back")

PARTS = {
    "lash": "Lash", "valve": "Valve", "seat": "Seat", "follower": "Follower", "lobe": "Lobe", "journal": "Journal",
    "spring": "Spring", "seal": "Seal, retainer, locks", "chamber": "Chamber",
}  # fmt: skip
_SHOWN_WITH = {"retainer": "seal", "locks": "seal"}
MOST_KM, MOST_HOURS = setting("wear.most_km"), setting("wear.most_hours")
LONGEST = int(setting("assembly.longest_text"))
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


def _back(build_id: int, side: str, tail: str = "") -> Response:
    return redirect(links.at("came_back.index", build_id, side) + tail)


def _words(name: str, longest: int = LONGEST) -> str:
    return one_line(request.form.get(name, ""), longest)


@blueprint.post("/receive")
def receive(build_id: int, side: str) -> Response | tuple[str, int]:
    """Say how the head came in."""
    by = current_hand()
    try:
        if by.hand == "workshop":
            raise FieldError("hand", "Whose hand receives it? It has a name.")
        complaint = _words("complaint", COMPLAINT)
        if not complaint:
            raise FieldError("complaint", "What does its customer say? In his own words; “nothing” is an answer.")
        events = asked.bare_number(request.form, "events", "Limiter events", 1e6)
        made = Received(
            0, complaint, _words("touched"), asked.bare_number(request.form, "distance", "Distance", MOST_KM),
            asked.bare_number(request.form, "hours", "Hours", MOST_HOURS), None if events is None else int(events), by,
        )  # fmt: skip
    except FieldError as error:
        return index(build_id, side, error.message), 422
    bench().happened(build_id, made)
    return _back(build_id, side)


@blueprint.post("/stage")
def stage(build_id: int, side: str) -> Response | tuple[str, int]:
    """Pass a stage of the teardown."""
    here = head(workshop().open(build_id), side)
    taken = len(pictures(this_life(here.sheet.events)))
    try:
        came = received(here.sheet.events)
        read = sum(r.number > came.number for r in here.sheet.readings) if came is not None else 0
        event = passes(here.sheet.events, request.form.get("stage", ""), _words("reason"), taken, current_hand(), read)
    except FieldError as error:
        return index(build_id, side, error.message), 422
    bench().happened(build_id, event)
    return _back(build_id, side)


@blueprint.post("/find")
def find(build_id: int, side: str) -> Response | tuple[str, int]:
    """Take a finding: a sign at its places, or looked for there and not found."""
    here, by, form = head(workshop().open(build_id), side), current_hand(), request.form
    try:
        if by.hand == "workshop":
            raise FieldError("hand", "Whose eye saw it? It has a name.")
        if received(here.sheet.events) is None:
            raise FieldError("sign", "Receive the head first: what was found on which head, and when.")
        if form.get("sign") not in signs():
            raise FieldError("sign", "Choose what was seen, or looked for.")
        places = tuple(place_called(here.sheet, label).label for label in form.getlist("places"))
        if not places and form.get("whole") != "1":
            raise FieldError("places", "Where? Choose its places, or say that it is of the whole head.")
        absent = form.get("absent") == "1"
        severity = next((s for s in Severity if s.value == form.get("severity")), None)
        if severity is None and not absent:
            raise FieldError("severity", "How much of it: seen, catches a nail, or a step that can be measured?")
        value = _words("value", 40)
        if severity is Severity.STEP and not absent and not value:
            raise FieldError("value", "A measurable step has a measure: how much?")
        made = Found(
            0, form["sign"], places, severity or Severity.SEEN, look_now(here.sheet.events), by, absent,
            _words("extent", 60), _words("colour", 40), value, _words("note"),
        )  # fmt: skip
    except FieldError as error:
        return index(build_id, side, error.message), 422
    bench().happened(build_id, made)
    return _back(build_id, side, f"?part={form.get('part', '')}" if form.get("part") in PARTS else "")


@blueprint.post("/take-back")
def take_back(build_id: int, side: str) -> Response | tuple[str, int]:
    """Take a finding back; it stays in the record."""
    here, number = head(workshop().open(build_id), side), asked.whole(request.form, "finding")
    if number not in {f.number for f in findings(here.sheet.events)}:
        return index(build_id, side, "That finding was taken back already."), 422
    bench().happened(build_id, FoundNot(0, number, current_hand()))
    return _back(build_id, side)
