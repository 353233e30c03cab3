"""Sign-off: what stands against it, who let it pass, the signature, and the head opened again."""

from dataclasses import dataclass

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.application.record import open_again, sign_off
from arcstack.assess import checks
from arcstack.assess.built import today
from arcstack.document import SIDES
from arcstack.errors import FieldError
from arcstack.readings import Waived
from arcstack.readings.recorded import Released, Reopened, release
from arcstack.record.owed import Group, Kind, Owed, grouped, owed, titled, waived
from arcstack.web.frame.waiting import questions
from arcstack.web.kit import asked, links
from arcstack.web.kit.session import bench, current_hand, current_who, sweeps, workshop
from arcstack.web.kit.stage import STAGES
from arcstack.web.pages.bench.shown import Head, around_work, coming, head
from arcstack.web.pages.people import confirmed
from arcstack.web.pages.record.asking import words

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


def stands(here: Head) -> tuple[Owed, ...]:
    """Everything that this head's signature asks for."""
    return owed(here.design, here.sheet, here.built, today())


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
    found = stands(here) if made is None else ()
    of = {s: sum(p.side == s for p in here.sheet.places) for s in SIDES}
    rows = grouped(found, of)
    marks = bench().marks(build_id)
    history = [e for e in here.sheet.events if isinstance(e, Released | Reopened)]
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
        lapsed=lapsed(here, found),
        titled=titled,
        made=made,
        since=since,
        history=[(e, isinstance(e, Released)) for e in reversed(history)],
        marks=f"{marks[0]}.{marks[1]}",
        wrong=wrong,
        typed=request.form if wrong else {},
        hand=current_who().name,
    )


def lapsed(here: Head, found: tuple[Owed, ...]) -> list[Waived]:
    """What a name let pass once that holds no more: another figure, another state, an end that is past."""
    held = {o.passed.number for o in found if o.passed is not None}
    open_ = {(o.key, o.side, o.place) for o in found if o.standing}
    return [
        w for w in here.sheet.waivers
        if w.number not in held and ((w.check, w.side, w.place) in open_ or not w.state)
    ]  # fmt: skip


def _marks() -> tuple[int, int]:
    first, _, second = request.form.get("marks", "").partition(".")
    if not (first.isdigit() and second.isdigit() and len(first) + len(second) < 19):
        raise FieldError("marks", "The page is too old: look at what stands against it again.")
    return int(first), int(second)


@blueprint.post("")
def sign(build_id: int, side: str) -> Response | tuple[str, int]:
    """Sign the newest revision off."""
    base = asked.base(request.form)
    here, by = head(workshop().open(build_id, base), side), current_hand()
    try:
        marks = _marks()
        if here.design.waiting:
            raise FieldError("against", "The elastic train is still being turned: its verdicts are not known yet.")
        confirmed()
        sign_off(workshop(), bench(), here.current, stands(here), marks, words("answers", 80), words("next_look"), by)
    except FieldError as error:
        return index(build_id, side, error.message), 422
    return redirect(links.at("sign_off.index", build_id, side))


@blueprint.post("/waive")
def waive(build_id: int, side: str) -> Response | tuple[str, int]:
    """Let a line, or all of a kind, pass by a name, for a reason, until an end; or end that. One entry is kept for each
    check and place."""
    form, here = request.form, head(workshop().open(build_id), side)
    try:
        ended = form.get("ended") == "1"
        name = Waived(0, "", "", "", words("reason"), words("until"), words("settles"), current_hand(), ended)
        meant = [o for o in stands(here) if _meant(o, ended)]
        if not meant:
            raise FieldError("key", "That is not on the list any more: look at it again.")
        never = next((o for o in meant if o.never), None)
        if never is not None:
            raise FieldError("key", f"{never.title}: {never.never}.")
        bench().waive_all(build_id, [waived(o, name) for o in meant])
    except FieldError as error:
        return index(build_id, side, error.message), 422
    return redirect(links.at("sign_off.index", build_id, side))


def _meant(o: Owed, ended: bool) -> bool:
    """Whether a form speaks of a thing: by its key, side and state at every place, or by its kind."""
    form = request.form
    if o.standing is ended or o.waiting:
        return False
    if form.get("kind"):
        return o.kind.value == form["kind"] and not o.never
    return (o.key, o.side, o.state) == (form.get("key"), form.get("on", ""), form.get("state"))


@blueprint.post("/open")
def reopen(build_id: int, side: str) -> Response | tuple[str, int]:
    """Open a released head for its next revision."""
    base = asked.base(request.form)
    try:
        open_again(workshop(), bench(), build_id, base, words("reason"), current_who(), current_hand())
    except FieldError as error:
        return index(build_id, side, error.message), 422
    return redirect(links.at("sign_off.index", build_id, side))
