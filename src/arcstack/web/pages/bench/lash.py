"""Lash on the page: shims that change places, shims that are bought, and what services tell of each valve."""

import math
from dataclasses import dataclass

from flask import Blueprint, redirect, render_template, request
from markupsafe import Markup
from werkzeug.wrappers import Response

from arcstack.checks import Level, Verdict
from arcstack.document import Entry
from arcstack.document.firing import read_cylinders, read_firing_order
from arcstack.document.parts import FollowerKind, Shimming
from arcstack.document.places import cylinders_of
from arcstack.drawings.lash_line import lash_line
from arcstack.errors import FieldError, NotKnown
from arcstack.readings import Phase, Waived
from arcstack.readings.asked import hydraulic
from arcstack.readings.lash_history import CAUSES, NO_RISE, Bled, Caused, History, Served, services_of
from arcstack.readings.taking import How, place_called
from arcstack.shelf import PartKind
from arcstack.trials.lashing import (
    COLD_WORDS,
    TREND,
    Plan,
    aim_of,
    is_cold,
    judged,
    plan,
    rise,
    seat_read,
    sequence,
    trend_stands,
)
from arcstack.units import FORCE, LENGTH, System, show
from arcstack.web.kit import asked, links
from arcstack.web.kit.session import bench, current_hand, current_system, current_who, part_shelf, workshop
from arcstack.web.pages.bench.shown import Head, around_bench, head
from arcstack.web.pages.bench.sitting import hand_with, stage_now

blueprint = Blueprint("lash", __name__, url_prefix="/builds/<int:build_id>/<side:side>/bench/lash")


def sizes_on_shelf(here: Head) -> dict[float, int]:
    """Thicknesses of the shelf’s lash shims, mm, or crowns of its graded buckets, and how many of each there are."""
    bucket = here.current.build.engine.follower is FollowerKind.BUCKET
    graded = bucket and here.current.build.side(here.side).follower.bucket.shimming is Shimming.GRADED
    kind, field = (PartKind.BUCKET, "crown") if graded else (PartKind.LASH_SHIM, "thickness")
    found: dict[float, int] = {}
    for part in part_shelf().offered():
        thick = getattr(part.body, field, None) if part.kind is kind else None
        if isinstance(thick, Entry):
            size = round(thick.value, 6)
            found[size] = found.get(size, 0) + part.on_hand
    return dict(sorted(found.items()))


@dataclass(frozen=True)
class Turn:
    """One step of the sequence: the crank turned by so much, and the places whose lobes then point away."""

    words: str
    cylinder: int
    places: tuple[tuple[str, bool], ...]


def _not_of_this_head(here: Head) -> str:
    """Why no sequence can be told: its order leaves cylinders out, or nobody said which a bank holds; else empty."""
    build = here.current.build
    named = read_firing_order(build.engine.firing_order)
    several = build.engine.banks is not None and build.engine.banks.value > 1
    if named and several and len(read_cylinders(build.head.cylinders)) != cylinders_of(build.engine):
        return "Say at the brief which cylinders of the engine this bank holds"
    missing = sorted({p.cylinder for p in here.sheet.places} - set(named)) if named else []
    told = ", ".join(str(c) for c in missing)
    return f"The firing order leaves out cylinder {told}: mend it at the brief" if missing else ""


def _sequence(here: Head) -> list[Turn]:
    """By the firing order: which valves can be read after each turn, and which are, at this stage."""
    order = here.current.build.engine.firing_order
    if not order or _not_of_this_head(here):
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


def _plan(here: Head) -> Plan:
    ctx = here.design.sides[here.side]
    return plan(ctx, here.sheet, aim_of(ctx, sizes_on_shelf(here), at_lobe=_at_lobe(here)))


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
        typed=request.form if wrong else {},
        is_cold=is_cold,
        cold_words=COLD_WORDS,
        told=_told(here, found, system) if found else [],
        causes=CAUSES,
        hand=current_who().name,
        lever=here.current.build.engine.follower is not FollowerKind.BUCKET,
        turns=_sequence(here),
        left_out=_not_of_this_head(here),
        now=stage_now(here.sheet).words,
        served=services_of(here.sheet.events).get(stage_now(here.sheet).service),
        plungers=_plungers(here, system) if hydraulic(here.current.build, side) else None,
        bled=[e for e in here.sheet.events if isinstance(e, Bled) and e.side == side][-1:],
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
        if means.mm > 1e-9 and not own.beds:
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


@blueprint.post("/pass")
def let_pass(build_id: int, side: str) -> Response | tuple[str, int]:
    """Let a valve that closes have its shim by a hand's name, for a reason, until an end."""
    here, form = head(workshop().open(build_id), side), request.form
    try:
        place, by = place_called(here.sheet, form.get("place", "")).label, current_hand()
        if by.hand == "workshop":
            raise FieldError("hand", "Whose hand lets it pass? It has a name.")
        words = {n: " ".join(form.get(n, "").split())[:200] for n in ("reason", "until")}
        ctx, history = here.design.sides[side], here.sheet.lash_of(place_called(here.sheet, place))
        stands, (level, told) = trend_stands(ctx, history), judged(ctx, history)
        bench().waive(
            build_id,
            Waived(
                0, TREND, side, place, words["reason"], words["until"], "", by, False, told, level.value, stands.value,
                None, stands.high,
            ),
        )  # fmt: skip
    except FieldError as error:
        return index(build_id, side, wrong=error.message), 422
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
        if form["cause"] not in NO_RISE and not seat_read(here.sheet, place):
            words = "Read it there first, since lash was last found: vacuum, tip, height or seat."
            raise FieldError("cause", f"{words} Or let it pass by name.")
        bench().happened(build_id, Caused(0, place, form["cause"], note, by))
    except FieldError as error:
        return index(build_id, side, wrong=error.message), 422
    return redirect(links.at("lash.index", build_id, side))


@blueprint.post("/service")
def service(build_id: int, side: str) -> Response | tuple[str, int]:
    """Say what a service was: distance, hours, limiter events, oil, how cold the engine was."""
    here, form = head(workshop().open(build_id), side), request.form
    try:
        now, by = stage_now(here.sheet), current_hand()
        if by.hand == "workshop":
            raise FieldError("hand", "Whose hand reads it? A service has a name.")
        if now.phase not in (Phase.FINAL, Phase.SERVICE):
            raise FieldError("phase", f"This is the {now.words} phase: choose a service, or final, at the readings.")
        distance = asked.bare_number(form, "distance", "Distance", 5e6)
        hours = asked.bare_number(form, "hours", "Hours", 5e5)
        events = asked.bare_number(form, "events", "Limiter events", 1e6)
        cold = asked.bare_number(form, "cold", "Temperature", 120.0, -40.0)
        if events is not None and events != int(events):
            raise FieldError("events", "Limiter events are counted.")
        made = Served(
            0, now.service, distance, hours, None if events is None else int(events),
            " ".join(request.form.get("oil", "").split())[:80], cold, by,
        )  # fmt: skip
        _not_going_back(here, made)
        bench().happened(build_id, made)
    except FieldError as error:
        return index(build_id, side, wrong=error.message), 422
    return redirect(links.at("lash.index", build_id, side))


def _not_going_back(here: Head, made: Served) -> None:
    """Raise ``FieldError`` where distance or hours lie before an earlier service's, or past a later one's."""
    for number, other in services_of(here.sheet.events).items():
        for word, own, its in (("distance", made.distance_km, other.distance_km), ("hours", made.hours, other.hours)):
            if own is None or its is None or number == made.service:
                continue
            stood = f"service {number}" if number else "the build"
            if number < made.service and own < its:
                raise FieldError(word, f"The {word} goes back: {stood} had {its:,.0f} already.")
            if number > made.service and own > its:
                raise FieldError(word, f"The {word} lies past {stood}, which had {its:,.0f}.")


@blueprint.post("/bled")
def bled(build_id: int, side: str) -> Response | tuple[str, int]:
    """Say that the hydraulic adjusters were primed and bled."""
    here, by = head(workshop().open(build_id), side), current_hand()
    if by.hand == "workshop":
        return index(build_id, side, wrong="Whose hand bled them? It has a name."), 422
    if not hydraulic(here.current.build, side):
        return index(build_id, side, wrong="There are no hydraulic adjusters on this side."), 422
    bench().happened(build_id, Bled(0, side, by))
    return redirect(links.at("lash.index", build_id, side))
