"""Diagnosis on the page: what speaks for and against each cause, chains, conflicts, the record, what would decide."""

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.application.acts.receiving import diagnosed, is_within, name_cause
from arcstack.document import SIDES
from arcstack.errors import FieldError
from arcstack.readings.returning import OPEN_QUESTION, findings, named
from arcstack.wear.diagnosis import headline
from arcstack.wear.report import where
from arcstack.wear.signs import Cause, causes
from arcstack.wear.witness import Witness, of_cause, witnesses
from arcstack.web.kit import links
from arcstack.web.kit.form import sent
from arcstack.web.kit.session import current_hand, current_system, current_who, workshop
from arcstack.web.pages.bench.shown import Head, around_work, coming, head

blueprint = Blueprint("diagnosis", __name__, url_prefix="/builds/<int:build_id>/<side:side>/back/diagnosis")

MOST_TOLD = 4

READINGS = {
    "seat": ("bench.index", "?key=seat_width"), "springs": ("springs_bench.index", ""),
    "solid": ("springs_bench.index", ""), "lash": ("lash.index", ""), "runout": ("bench.index", "?key=runout"),
    "height": ("bench.index", "?key=installed_height"), "seal": ("as_built.index", "?check=stack.retainer_seal"),
    "look": ("came_back.index", "#find"),
}  # fmt: skip
"""Where the reading that would decide is taken; the elastic train, oil and bores have pages or fields of their own."""


def _scope(here: Head) -> tuple[str, frozenset[str] | None]:
    """Which places are weighed: the whole head, a side, a cylinder."""
    name = request.args.get("of", "")
    own = [p for p in here.sheet.places if name and is_within(name, p)]
    return (name, frozenset(p.label for p in own)) if own else ("", None)


def reading_link(here: Head, reading: str) -> str:
    """Where a reading that would decide is taken."""
    build_id, side = here.current.id, here.side
    if reading == "elastic":
        return links.stage(build_id, "control", side)
    if reading == "oil":
        return links.stage(build_id, "turbo", side)
    endpoint, tail = READINGS.get(reading, ("came_back.index", "#find"))
    return links.at(endpoint, build_id, side) + tail


def record_link(here: Head, told: Witness) -> str:
    """Where a testimony stands."""
    build_id, side = here.current.id, told.side or here.side
    if told.check == "lash.trend":
        return links.at("lash.index", build_id, side)
    if told.check == "":
        return links.at("assembly.printed", build_id, side) if told.cause == "wrong_assembly" else ""
    if told.check == "life.limiter" or not told.place:
        return links.stage(build_id, "turbo" if told.check == "life.limiter" else "control", side)
    return f"{links.at('as_built.index', build_id, side)}?check={told.check}&place={told.place}"


@blueprint.get("")
def index(build_id: int, side: str, wrong: str = "") -> str:
    """What the findings come to."""
    here = head(workshop().open(build_id), side)
    if not here.sheet.places:
        return render_template("bench/nowhere.html", **around_work(here, "diagnosis", "Diagnosis"))
    if here.later(*SIDES):
        return coming(here, "diagnosis", "Diagnosis")
    scope, at = _scope(here)
    told, record = diagnosed(here, at), witnesses(here.design, here.built, here.sheet, current_system())
    words, reading = told.next_reading
    weighed = told.weighed
    return render_template(
        "bench/diagnosis.html",
        **around_work(here, "diagnosis", "Diagnosis"),
        told=told,
        weighed=weighed,
        record=_record(record, [s.cause for s in weighed]),
        scope=scope,
        cylinders=sorted({p.cylinder for p in here.sheet.places}),
        next_words=words,
        next_link=reading_link(here, reading),
        record_link=lambda t: record_link(here, t),
        causes=causes(),
        said=named(here.sheet.events),
        where=where,
        open_question=OPEN_QUESTION,
        by_side=_by_side(here) if not scope else [],
        found=len(findings(here.sheet.events)),
        wrong=wrong,
        typed=request.form if wrong else {},
        hand=current_who().name,
    )


def _by_side(here: Head) -> list[tuple[str, str]]:
    """Each side's one headline, where both sides show something: its chain, its leading cause, or an open question."""
    own = {side: frozenset(p.label for p in here.sheet.places if p.side == side) for side in SIDES}
    spoken = [side for side in SIDES if any(set(f.places) & own[side] for f in findings(here.sheet.events))]
    if len(spoken) < len(SIDES):
        return []
    return [(side, headline(diagnosed(here, own[side]))) for side in SIDES]


def _record(found: tuple[Witness, ...], weighed: list[Cause]) -> list[tuple[Cause, tuple[Witness, ...]]]:
    """What the record says, causes that are weighed first; of the others only what speaks."""
    rows = []
    for cause in [*weighed, *(c for c in causes().values() if c not in weighed)]:
        own = of_cause(found, cause.id)
        own = own[:MOST_TOLD] if cause in weighed else tuple(t for t in own if t.speaks > 0)
        if own:
            rows.append((cause, own))
    return rows


@blueprint.post("")
def name(build_id: int, side: str) -> Response | tuple[str, int]:
    """Name the cause by a hand."""
    form, here = sent(), head(workshop().open(build_id), side)
    at = form.text("at")
    try:
        name_cause(here, current_hand(), cause=form.text("cause"), reason=form.text("reason"), at=at)
    except FieldError as error:
        return index(build_id, side, error.message), 422
    return redirect(links.at("diagnosis.index", build_id, side) + (f"?of={at}" if at else ""))
