"""Sign-off: what stands against it, who let it pass, the signature, and the head opened again."""

from dataclasses import dataclass

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.application.acts import signing
from arcstack.application.record import open_again
from arcstack.assess import checks
from arcstack.assess.built import today
from arcstack.document import SIDES
from arcstack.errors import FieldError
from arcstack.readings.event import of_kind
from arcstack.readings.recorded import Released, Reopened, release
from arcstack.record.owed import Group, Kind, Owed, grouped, titled
from arcstack.web.frame.waiting import questions
from arcstack.web.kit import asked, links
from arcstack.web.kit.form import sent
from arcstack.web.kit.session import bench, current_hand, current_who, sweeps, workshop
from arcstack.web.kit.stage import STAGES
from arcstack.web.pages.bench.shown import around_work, coming, head
from arcstack.web.pages.people import confirmed

blueprint = Blueprint("sign_off", __name__, url_prefix="/builds/<int:build_id>/<side:side>/sign-off")

_PAGES = {
    "to_do": "left.index", "lash": "lash.index", "mock_up": "mock_up.index", "assembly": "assembly.index",
    "back": "dispositions.index", "orders": "orders.index", "bench": "as_built.index",
}  # fmt: skip


@dataclass(frozen=True)
class Row:
    """One line of what is owed, and where it is mended."""

    owed: Group
    link: str


def address(build_id: int, a: Group, side: str) -> str:
    """Where a thing that stands is mended."""
    to = a.side or side
    if a.kind in (Kind.BUILT, Kind.UNREAD, Kind.LOOSENED) and a.key in checks() and a.places:
        return f"{links.at('as_built.index', build_id, to)}?check={a.key}&place={a.places[0]}"
    if a.stage in _PAGES:
        return links.at(_PAGES[a.stage], build_id, to)
    return links.stage(build_id, a.stage if STAGES.find(a.stage) else "stack", to)


@blueprint.get("")
def index(build_id: int, side: str, wrong: str = "") -> str:
    """The list, the waivers, the signature."""
    here = head(workshop().open(build_id), side)
    made = release(here.sheet.events)
    for on in SIDES:
        for ask in questions(here.design.sides[on]):
            sweeps().start(ask.question)
    if made is None and here.later(*SIDES):
        return coming(here, "sign_off", "Sign-off")
    found = signing.asked_for(here, today()) if made is None else ()
    of = {s: sum(p.side == s for p in here.sheet.places) for s in SIDES}
    rows = grouped(found, of)
    marks = bench().marks(build_id)
    history = of_kind(here.sheet.events, Released, Reopened)
    since = 0
    if made is not None:
        since = sum(r.number > made.readings for r in here.sheet.readings)
    return render_template(
        "record/sign_off.html",
        **around_work(here, "sign_off", "Sign-off"),
        kinds=[
            (kind, own)
            for kind in Kind
            if (
                own := [
                    Row(a, address(build_id, a, side)) for a in rows if a.kind is kind and a.standing and not a.waiting
                ]
            )
        ],
        passed=[a for a in rows if not a.standing],
        standing=sum(a.standing for a in found),
        lines=sum(a.standing for a in rows),
        waiting=sum(a.waiting and a.standing for a in found),
        lapsed=signing.lapsed(here, found),
        titled=titled,
        made=made,
        since=since,
        history=[(e, isinstance(e, Released)) for e in reversed(history)],
        marks=f"{marks[0]}.{marks[1]}",
        wrong=wrong,
        typed=request.form if wrong else {},
        hand=current_who().name,
    )


def _marks(text: str) -> tuple[int, int] | None:
    """The last reading and the last event that a page was shown with; None for what no page sends."""
    first, _, second = text.partition(".")
    if not (first.isdigit() and second.isdigit() and len(first) + len(second) < 19):
        return None
    return int(first), int(second)


@blueprint.post("")
def sign(build_id: int, side: str) -> Response | tuple[str, int]:
    """Sign the newest revision off."""
    base, form = asked.base(request.form), sent()
    here = head(workshop().open(build_id, base), side)
    try:
        signing.sign_head(
            here, current_hand(), today(), marks=_marks(form.text("marks")), answers=form.line("answers", 80),
            next_look=form.line("next_look"), confirmed=confirmed,
        )  # fmt: skip
    except FieldError as error:
        return index(build_id, side, error.message), 422
    return redirect(links.at("sign_off.index", build_id, side))


@blueprint.post("/waive")
def waive(build_id: int, side: str) -> Response | tuple[str, int]:
    """Let a line, or all of a kind, pass by a name, for a reason, until an end; or end that."""
    here, form = head(workshop().open(build_id), side), sent()
    try:
        signing.let_pass(
            here, current_hand(), today(), _meant, reason=form.line("reason"), until=form.line("until"),
            settles=form.line("settles"), ended=form.ticked("ended"),
        )  # fmt: skip
    except FieldError as error:
        return index(build_id, side, error.message), 422
    return redirect(links.at("sign_off.index", build_id, side))


def _meant(o: Owed) -> bool:
    """Whether the form speaks of a thing: by its key, side and state at every place, or by its kind."""
    form = request.form
    if form.get("kind"):
        return o.kind.value == form["kind"] and not o.never
    return (o.key, o.side, o.state) == (form.get("key"), form.get("on", ""), form.get("state"))


@blueprint.post("/open")
def reopen(build_id: int, side: str) -> Response | tuple[str, int]:
    """Open a released head for its next revision."""
    base = asked.base(request.form)
    try:
        open_again(workshop(), bench(), build_id, base, sent().line("reason"), current_who(), current_hand())
    except FieldError as error:
        return index(build_id, side, error.message), 422
    return redirect(links.at("sign_off.index", build_id, side))
