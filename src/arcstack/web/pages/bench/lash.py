"""Lash on the page: shims that change places, shims that are bought, and what services tell of each valve."""

import math
from collections.abc import Callable
from dataclasses import dataclass

from flask import Blueprint, redirect, render_template, request
from markupsafe import Markup
from werkzeug.wrappers import Response

from arcstack.application.acts import lash as acts
from arcstack.checks import Level, Verdict
from arcstack.document import Sitting
from arcstack.document.firing import read_firing_order
from arcstack.document.parts import FollowerKind
from arcstack.drawings.lash_line import lash_line
from arcstack.errors import FieldError, NotKnown
from arcstack.readings.asked import hydraulic
from arcstack.readings.event import of_kind
from arcstack.readings.lash_history import CAUSES, Bled, History, services_of
from arcstack.readings.taking import How
from arcstack.settings import setting
from arcstack.trials.lashing import (
    COLD_WORDS,
    Plan,
    is_cold,
    judged,
    rise,
    sequence,
)
from arcstack.units import FORCE, LENGTH, System, show
from arcstack.web.kit import links
from arcstack.web.kit.form import Form, sent
from arcstack.web.kit.session import current_hand, current_system, current_who, workshop
from arcstack.web.pages.bench.shown import Head, around_bench, head
from arcstack.web.pages.bench.sitting import hand_with, stage_now

MOST_KM, MOST_HOURS = setting("wear.most_km"), setting("wear.most_hours")
MOST_EVENTS, HOTTEST_C, COLDEST_C = 1e6, 120.0, -40.0

blueprint = Blueprint("lash", __name__, url_prefix="/builds/<int:build_id>/<side:side>/bench/lash")


@dataclass(frozen=True)
class Turn:
    """One step of the sequence: the crank turned by so much, and the places whose lobes then point away."""

    words: str
    cylinder: int
    places: tuple[tuple[str, bool], ...]


def _sequence(here: Head) -> list[Turn]:
    """By the firing order: which valves can be read after each turn, and which are, at this stage."""
    order = here.current.build.engine.firing_order
    if not order or acts.why_no_sequence(here):
        return []
    now, turns = stage_now(here.sheet), []
    of_head = {p.cylinder for p in here.sheet.places}
    for cylinder, turn in sequence(read_firing_order(order), of_head):
        own = [p for p in here.sheet.places if p.cylinder == cylinder and p.side == here.side]
        if not own:
            continue
        read = [(p.label, bool(here.sheet.at(p.label, "lash", now.phase, now.service))) for p in own]
        words = f"then turn {math.degrees(turn):.0f}°" if turn else "at firing TDC"
        turns.append(Turn(words, cylinder, tuple(read)))
    return turns


def _at_lobe(here: Head) -> bool:
    lever = here.current.build.engine.follower is not FollowerKind.BUCKET
    return lever and request.values.get("blade") == "lobe"


@blueprint.get("")
def index(build_id: int, side: str, wrong: str = "") -> str:
    """Every valve's lash, what goes in, and its history."""
    here = head(workshop().open(build_id), side)
    if not here.sheet.places:
        return render_template("bench/nowhere.html", **around_bench(here, "lash", "Lash"))
    found, why = None, ""
    try:
        found = acts.planned(here, _at_lobe(here))
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
        typed=request.form if wrong else {},
        is_cold=is_cold,
        cold_words=COLD_WORDS,
        told=_told(here, found, system) if found else [],
        causes=CAUSES,
        hand=current_who().name,
        lever=here.current.build.engine.follower is not FollowerKind.BUCKET,
        turns=_sequence(here),
        left_out=acts.why_no_sequence(here),
        now=stage_now(here.sheet).words,
        served=services_of(here.sheet.events).get(stage_now(here.sheet).service),
        plungers=_plungers(here, system) if hydraulic(here.current.build, side) else None,
        bled=[e for e in of_kind(here.sheet.events, Bled) if e.side == side][-1:],
        at_lobe=_at_lobe(here),
    )


def _told(here: Head, found: Plan, system: System) -> list[tuple[History, Level, str, str, Markup]]:
    """Each valve that has a history: how it stands, in words, what it means, and its line."""
    ctx, rows = here.design.sides[here.side], []
    for own in found.histories:
        if len(own.stages) < 2:
            continue
        level, words = judged(ctx, own)
        means = rise(ctx, own)
        says = ""
        if means.is_up and not own.beds:
            says = f"the stem stands {show(means.mm, LENGTH, system)} higher"
            if means.lost_N is not None:
                says += f", the spring carries {show(means.lost_N, FORCE, system)} less"
        rows.append((own, level, words, says, lash_line(own, found.target_mm, found.band_mm)))
    return rows


def _plungers(here: Head, system: System) -> list[tuple[str, str, Verdict]]:
    """Of each hydraulic adjuster: what is left of its plunger, and how that stands."""
    rows = []
    for place in here.sheet.places:
        verdict = here.built.at("lash.plunger", place) if place.side == here.side else None
        if verdict is None:
            continue
        settled = here.sheet.settled(place, "plunger")
        rows.append((place.label, str(show(settled.value, LENGTH, system)) if settled else "–", verdict))
    return rows


@blueprint.post("/fit")
def fit(build_id: int, side: str) -> Response | tuple[str, int]:
    """Lay the shims as they were planned: assumed until they are read, and each lash is read again."""
    here = head(workshop().open(build_id), side)
    now = stage_now(here.sheet)
    how = How(hand_with(None), now.phase, now.service, sure=True, note="as planned", system=System.MM)
    try:
        acts.lay_shims(here, how, request.form.get("layout", ""), _at_lobe(here))
    except NotKnown as error:
        return index(build_id, side, wrong=error.why), 409
    except FieldError as error:
        return index(build_id, side, wrong=error.message), 409
    return redirect(links.at("lash.index", build_id, side))


def _acted(build_id: int, side: str, act: Callable[[Head, Sitting, Form], None]) -> Response | tuple[str, int]:
    try:
        act(head(workshop().open(build_id), side), current_hand(), sent())
    except FieldError as error:
        return index(build_id, side, wrong=error.message), 422
    return redirect(links.at("lash.index", build_id, side))


@blueprint.post("/pass")
def let_pass(build_id: int, side: str) -> Response | tuple[str, int]:
    """Let a valve that closes have its shim by a hand's name, for a reason, until an end."""

    def act(here: Head, by: Sitting, form: Form) -> None:
        acts.let_pass(here, by, place=form.text("place"), reason=form.line("reason"), until=form.line("until"))

    return _acted(build_id, side, act)


@blueprint.post("/cause")
def cause(build_id: int, side: str) -> Response | tuple[str, int]:
    """Say what a hand found to be the cause of a lash that closes."""

    def act(here: Head, by: Sitting, form: Form) -> None:
        acts.name_cause(here, by, place=form.text("place"), cause=form.text("cause"), note=form.line("note"))

    return _acted(build_id, side, act)


@blueprint.post("/service")
def service(build_id: int, side: str) -> Response | tuple[str, int]:
    """Say what a service was: distance, hours, limiter events, oil, how cold the engine was."""

    def act(here: Head, by: Sitting, form: Form) -> None:
        now = stage_now(here.sheet)
        acts.serve(
            here, by, phase=now.phase, service=now.service,
            distance_km=form.number("distance", "Distance", MOST_KM),
            hours=form.number("hours", "Hours", MOST_HOURS),
            limiter_events=form.count("events", "Limiter events", MOST_EVENTS, "Limiter events are counted."),
            oil=form.line("oil", 80),
            cold_C=form.number("cold", "Temperature", HOTTEST_C, COLDEST_C),
        )  # fmt: skip

    return _acted(build_id, side, act)


@blueprint.post("/bled")
def bled(build_id: int, side: str) -> Response | tuple[str, int]:
    """Say that the hydraulic adjusters were primed and bled."""
    return _acted(build_id, side, lambda here, by, _: acts.bleed(here, by))
