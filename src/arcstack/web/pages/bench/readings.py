"""Readings taken at the bench: one field at a time, in the order of the hand, typed or sent by a gauge."""

from dataclasses import dataclass, replace
from typing import Any

from flask import Blueprint, Response, abort, redirect, render_template, request

from arcstack.application.acts.matching import shims_in_words, shims_on_hand
from arcstack.assess.context import known
from arcstack.document.entry import same_hand
from arcstack.document.parts import FollowerKind
from arcstack.document.places import Place
from arcstack.drawings.head_map import head_map
from arcstack.errors import Doubtful, FieldError, QuantityError
from arcstack.readings import ASKED, Reading, Step
from arcstack.readings.asked import ITEMS
from arcstack.readings.exchange import exchanged
from arcstack.readings.instruments import KINDS
from arcstack.readings.left import Spot, following, spots
from arcstack.readings.swinging import seconds, swung
from arcstack.readings.taking import How, asked_for, place_called
from arcstack.trials.meaning import HEIGHTS, HeightMeans, Lies, band_means, height_means, seat_against_face
from arcstack.units import ANGLE, FORCE, LENGTH, MASS, System, parse, show
from arcstack.units.display import plain
from arcstack.web.kit import links
from arcstack.web.kit.session import (
    bench,
    current_hand,
    current_system,
    current_who,
    instruments,
    remember,
    workshop,
)
from arcstack.web.pages.bench.shown import Head, around_bench, cells, head
from arcstack.web.pages.bench.sitting import hand_with, instrument_for, phase_key, stage_now, stages_of, zero_now

blueprint = Blueprint("bench", __name__, url_prefix="/builds/<int:build_id>/<side:side>/bench")

READ_STEPS = tuple(s for s in Step if s is not Step.SPRINGS)
LAST = 5


@dataclass(frozen=True)
class Said:
    """What is said of the reading that was sent: a question, a refusal, or what became of it."""

    text: str = ""
    question: str = ""
    wrong: str = ""
    readings: tuple[str, ...] = ()


def spot_asked(here: Head) -> Spot:
    """What the address asks for: a figure and a place, else the first that is left to read."""
    key, label = request.values.get("key", ""), request.values.get("place", "")
    asked = ASKED.get(key)
    if asked is None or asked.item:
        rest = next((of_step for step in READ_STEPS if (of_step := here.rest_of(step))), None)
        if rest is None:
            asked = ASKED["installed_height"]
        else:
            # of the step that is next, the side that is asked for comes first
            nearest = next((x for x in rest if x.spot.place.side == here.side), rest[0])
            asked = nearest.spot.asked
            label = label or nearest.spot.place.label
    place = next((p for p in here.sheet.places if p.label.lower() == label.lower()), None)
    if place is None:
        row = list(spots(here.sheet, asked.step, optional=True))
        own = [s for s in row if s.asked is asked]
        now = stage_now(here.sheet)
        unread = next((s for s in own if here.sheet.settled(s.place, asked.key, now.phase, now.service) is None), None)
        found = unread or next(iter(own), None)
        if found is None:
            abort(404)
        return found
    return Spot(asked, place)


@blueprint.get("")
def index(build_id: int, side: str) -> str:
    """Readings, at a figure and a place."""
    here = head(workshop().open(build_id), side)
    if not here.sheet.places:
        return render_template("bench/nowhere.html", **around_bench(here, "readings", "Readings"))
    return page(here, spot_asked(here))


def page(here: Head, spot: Spot, said: Said | None = None, typed: str = "") -> str:
    if here.side != spot.place.side:
        here = replace(here, side=spot.place.side)
    return render_template(
        "bench/readings.html", **around_bench(here, "readings", "Readings"), **_shown(here, spot, said, typed)
    )


def _shown(here: Head, spot: Spot, said: Said | None, typed: str) -> dict[str, Any]:
    build, system, now = here.current.build, current_system(), stage_now(here.sheet)
    quantity = spot.asked.quantity(build, spot.place.side)
    row = [s for s in spots(here.sheet, spot.asked.step, optional=True) if s.asked is spot.asked]
    done = sum(here.sheet.settled(s.place, s.asked.key, now.phase, now.service) is not None for s in row)
    instrument = instrument_for(spot.asked.instrument, here)
    zero = zero_now(here, instrument) if instrument else None
    after = following(here.sheet, spot, now.phase, now.service)
    steps = []
    for step in READ_STEPS:
        steps.append((step, len(here.rest_of(step)), next(iter(spots(here.sheet, step)), None)))
    own = here.sheet.at(spot.place.label, spot.asked.key)
    side = spot.place.side
    labels = {a.key: a.quantity(build, side).label for a in ASKED.values() if a.applies(build, side)}

    def address(place: Place) -> str:
        return f"{links.at('bench.index', here.current.id, place.side)}?key={spot.asked.key}&place={place.label}"

    map_cells = cells(here, lambda p: Spot(spot.asked, p), spot.place, address)
    return {
        "spot": spot,
        "quantity": quantity,
        "unit": quantity.dimension.unit(system),
        "phases": stages_of(here.sheet),
        "phase": now,
        "instrument": instrument,
        "changes": request.args.get("sit") == "1",
        "kind": KINDS[spot.asked.instrument],
        "zero": zero,
        "kinds": [i for i in instruments().all() if i.kind == spot.asked.instrument],
        "bench_steps": steps,
        "figures": [(a, labels[a.key]) for a in ASKED.values() if a.step is spot.asked.step and a.key in labels],
        "map": head_map(map_cells, f"{quantity.label}, every place of the head"),
        "done": done,
        "of": len(row),
        "minutes": -(-(len(row) - done) * spot.asked.seconds // 60),
        "after": after,
        "own": own,
        "history": _history(here, spot),
        "said": said or Said(),
        "typed": typed,
        "kept": request.form if typed else {},
        "consequence": consequence(here, spot, own),
        "items": _items(here, spot.place),
        "seen": own[-1].number if own else 0,
        "swing": _swing(here, spot),
        "hand": current_who().name,
        "phases_here": _phases(here, spot),
        "last_five": [r for r in reversed(here.sheet.readings) if not r.void and not r.item][:LAST],
        "labels": labels,
    }


def _history(here: Head, spot: Spot) -> list[tuple[Reading, bool]]:
    """Every reading of a figure at a place, with whether it stands; replaced ones stay to be seen."""
    voids = {r.replaces for r in here.sheet.readings if r.void}
    rows = [r for r in here.sheet.readings if r.place == spot.place.label and r.key == spot.asked.key and not r.void]
    return [(r, r.number not in here.sheet.replaced and r.number not in voids) for r in rows]


def _phases(here: Head, spot: Spot) -> list[tuple[str, str]]:
    """What each phase reads at a place, side by side."""
    dimension = spot.asked.quantity(here.current.build, spot.place.side).dimension
    found = []
    for stage in stages_of(here.sheet):
        settled = here.sheet.settled(spot.place, spot.asked.key, stage.phase, stage.service)
        if settled is not None:
            found.append((stage.words, str(show(settled.value, dimension, current_system()))))
    return found


def _items(here: Head, place: Place) -> str:
    stack = here.current.build.side(place.side).stack
    names = [] if here.sheet.item_at(place.label, "valve") else [stack.valve.code and f"valve {stack.valve.code}"]
    names += [i and f"{sort} {i}" for sort in ITEMS if (i := here.sheet.item_at(place.label, sort))]
    shims = here.sheet.settled(place, "shims")
    names += [f"shims {shims.last.typed}"] if shims is not None else []
    return " · ".join(n for n in names if n)


def consequence(here: Head, spot: Spot, own: tuple[Reading, ...]) -> list[str]:
    """What the reading at a place means: against the target, in load, and which shims would bring it there."""
    ctx, system = here.built.contexts[spot.place.label], current_system()
    told: list[str] = []
    if spot.asked.key in HEIGHTS and own:
        means = height_means(ctx, here.design.sides[spot.place.side], spot.place, shims_on_hand(here))
        told += _height_words(means, system) if means is not None else []
    if spot.asked.key == "angle_seat" and own:
        lies = seat_against_face(ctx, own[-1].value)
        if lies is not None:
            told.append(
                lies[0].value if lies[0] is Lies.SAME else f"the seat is {show(lies[1], ANGLE, system)} {lies[0]}"
            )
    if spot.asked.key.startswith("band_") and spot.asked.key != "band_edge":
        told += [words for words in (band_means(ctx),) if words]
    exchange = exchanged(here.sheet, spot.place, spot.asked.key)
    if exchange is not None:
        told.append(f"against {exchange.places[1]}, its valve exchanged: the difference {exchange.follows.value}")
    settled = here.sheet.settled(spot.place, spot.asked.key)
    if settled is not None and len(settled.readings) > 1:
        told.append(f"mean of {len(settled.readings)}, {show(settled.scatter, LENGTH, system)} apart")
    if settled is not None and settled.again and spot.asked.times > 1:
        told.append("once more" if len(settled.readings) < spot.asked.times else "they do not agree: a third decides")
    return told


@dataclass(frozen=True)
class Swing:
    """A finger or rocker weighed at its tip and swung: what was typed, and the mass that it comes to at the valve."""

    at_tip: str
    arm: str
    period: str
    comes_to: str = ""
    put: str = ""
    wrong: str = ""


def _swing(here: Head, spot: Spot) -> Swing | None:
    """The way to a lever's mass at the valve without a drawing of it; None for a bucket or another figure."""
    build, args, system = here.current.build, request.args, current_system()
    if spot.asked.key != "follower_mass" or build.engine.follower is FollowerKind.BUCKET:
        return None
    arm = known(lambda: here.design.sides[spot.place.side].entry(f"follower.{build.engine.follower.value}.arm", "r"))
    typed = (
        args.get("at_tip", ""),
        args.get("arm", str(show(arm.value, LENGTH, system)) if arm else ""),
        args.get("period", ""),
    )
    if not any(name in args for name in ("at_tip", "period")):
        return Swing(*typed)
    try:
        weight = parse(typed[0], MASS, MASS.unit(system)).value
        if not typed[2].strip():
            # nothing lies beyond the tip: what the scale shows there is the most that it can be
            return Swing(*typed, f"at most {show(weight, MASS, system)}, by weighing alone", plain(weight, MASS))
        length, period = parse(typed[1], LENGTH, LENGTH.unit(system)).value, seconds(typed[2])
        mass = swung(weight, length, period)
    except (QuantityError, FieldError) as error:
        return Swing(*typed, wrong=str(error))
    return Swing(*typed, f"{show(mass, MASS, system)}", plain(mass, MASS))


def _height_words(means: HeightMeans, system: System) -> list[str]:
    told = [f"stands at {show(means.height_mm, LENGTH, system)}, target {show(means.target_mm, LENGTH, system)}"]
    if means.load_off_N is not None:
        more = "more" if means.load_off_N > 0 else "less"
        told.append(f"{show(abs(means.load_off_N), FORCE, system, 1)} {more} on the seat than the design")
    if means.shims is not None:
        names = shims_in_words(means.shims.shims_mm)
        told.append(f"shims {names} would bring it to {show(means.would_be_mm, LENGTH, system)}")
    return told


# -- taking


@blueprint.post("")
def take(build_id: int, side: str) -> str | tuple[str, int]:
    """Take the reading that was typed or sent, and go to the next place; or ask, or refuse."""
    current = workshop().open(build_id)
    here, form = head(current, side), request.form
    spot = spot_asked(here)
    try:
        place_called(here.sheet, form.get("place", ""))
        asked_for(form.get("key", ""))
    except FieldError as error:
        return page(here, spot, Said(wrong=f"{error.message} Nothing was taken."), form.get("text", "")), 422
    text = form.get("text", "").strip()
    instrument = instrument_for(spot.asked.instrument, here)
    zero = zero_now(here, instrument) if instrument else None
    if instrument is None or zero is None or not zero.good:
        return page(here, spot, Said(wrong="Name the instrument and try its zero first."), text), 422
    condition = {"with_spring": 1.0} if form.get("with_spring") == "1" and spot.asked.step is Step.VACUUM else {}
    system = System.INCH if form.get("unit") == "in" else System.MM if form.get("unit") == "mm" else current_system()
    note = " ".join(form.get("note", "").split())[:200]
    if note and not note.isprintable():
        note = ""
    now = stage_now(here.sheet)
    how = How(
        hand_with(instrument),
        now.phase,
        now.service,
        instrument.resolution,
        system,
        condition,
        note,
        int(form.get("seen", "0")) if form.get("seen", "0").isdigit() else 0,
        form.get("sure") == "1" and form.get("sure_of", "").strip() == text,
        correction=zero.correction,
    )
    try:
        made = bench().read(build_id, current.build, spot.asked.key, spot.place.label, text, how)
    except Doubtful as question:
        return page(here, spot, Said(question=str(question)), text)
    except FieldError as error:
        return page(here, spot, Said(wrong=error.message, readings=error.readings), text), 422
    here = head(current, side)
    after = following(here.sheet, spot, now.phase, now.service)
    told = f"{spot.place.label}: {made.typed} taken."
    if after is not None and after.place != spot.place:
        means = consequence(here, spot, here.sheet.at(spot.place.label, spot.asked.key))
        told = f"{told} {spot.place.label} {'; '.join(means)}." if means else told
    if condition:
        told = f"{spot.place.label}: {made.typed} kept, with spring: it does not count for the seal."
    if after is None:
        return page(here, _next_figure(here, spot) or spot, Said(text=f"{told} {spot.asked.step.value}: done."))
    return page(here, after, Said(text=told))


def _next_figure(here: Head, spot: Spot) -> Spot | None:
    """The first that is left after this step, or before it."""
    at = READ_STEPS.index(spot.asked.step)
    for step in (*READ_STEPS[at + 1 :], *READ_STEPS[:at]):
        if rest := here.rest_of(step):
            return rest[0].spot
    return None


@blueprint.post("/back")
def back(build_id: int, side: str) -> str:
    """Take the last reading of this hand back, and stand at its place."""
    current = workshop().open(build_id)
    here = head(current, side)
    own = [r for r in here.sheet.standing if same_hand(r.by.hand, current_who().name) and not r.item]
    if not own:
        return page(here, spot_asked(here), Said(wrong="There is nothing of yours to take back."))
    last = max(own, key=lambda r: r.number)
    bench().take_back(build_id, current.build, last.number, current_hand())
    here = head(current, side)
    place = next(p for p in here.sheet.places if p.label == last.place)
    return page(
        here, Spot(ASKED[last.key], place), Said(text=f"{last.place}: {last.typed} taken back; it stays to be seen.")
    )


@blueprint.post("/phase")
def phase(build_id: int, side: str) -> Response:
    """The phase that this browser reads in from now on."""
    name, sheet = request.form.get("phase", ""), bench().sheet(build_id, workshop().open(build_id).build)
    if name not in {stage.words for stage in stages_of(sheet)}:
        abort(400)
    remember(phase_key(), name)
    return back_to(build_id, side)


def back_to(build_id: int, side: str) -> Response:
    key, place = request.form.get("key", ""), request.form.get("place", "")
    if request.form.get("to") == "tester":
        return redirect(f"{links.at('springs_bench.index', build_id, side)}?sort={request.form.get('sort', '')}")  # type: ignore[return-value]
    return redirect(f"{links.at('bench.index', build_id, side)}?key={key}&place={place}")  # type: ignore[return-value]
