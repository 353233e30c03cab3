"""Springs on the tester: each by its serial, sorted by its own solid height, and by what it lost in service."""

from dataclasses import dataclass

from flask import Blueprint, render_template, request
from werkzeug.datastructures import ImmutableMultiDict

from arcstack.assess.bench import tallest_solid
from arcstack.assess.context import known
from arcstack.assess.spring import line as spring_line
from arcstack.checks import Level
from arcstack.document import FIELDS, Entry
from arcstack.document.parts import Pack
from arcstack.drawings.spring_lines import lines_over_mean
from arcstack.errors import Doubtful, FieldError, QuantityError
from arcstack.readings import ASKED, Settled
from arcstack.readings.instruments import KINDS
from arcstack.readings.pressing import STEEP, Pressed, pressed, presses_in
from arcstack.readings.taking import How, serial_of
from arcstack.trials.matching import SpringOf, springs_read, useful
from arcstack.units import FORCE, LENGTH, System, parse, show
from arcstack.units.display import plain
from arcstack.web.kit.session import bench, current_system, current_who, instruments, workshop
from arcstack.web.pages.bench.shown import Head, around_bench, head
from arcstack.web.pages.bench.sitting import hand_with, instrument_for, stage_now, zero_now

blueprint = Blueprint("springs_bench", __name__, url_prefix="/builds/<int:build_id>/<side:side>/bench/springs")

FIELDS_READ = ("free_length", "load_1", "load_2", "solid", "mass")


@dataclass(frozen=True)
class Row:
    """One spring as the page shows it; ``passes`` is None while its solid height is not known."""

    item: str
    place: str
    figures: dict[str, str]
    rate: str
    passes: bool | None
    loss: str
    retire: bool
    stale: str


def _heights(here: Head, sort: str) -> tuple[float, float] | None:
    """Where the tester reads: the design's installed height of this spring, and that less net lift."""
    found = useful(here.design.sides[here.side])
    if found is None or sort == "outer":
        return found
    from arcstack.assess.stack import inner_height

    inner = known(lambda: inner_height(here.design.sides[here.side]))
    return None if inner is None else (inner.value, inner.value - (found[0] - found[1]))


def _settled(here: Head, item: str, sort: str) -> dict[str, Settled]:
    found = {f: here.sheet.of_item(item, f"{sort}.{f}") for f in FIELDS_READ}
    return {f: s for f, s in found.items() if s is not None}


def loss_of(here: Head, item: str, sort: str) -> float | None:
    """What a spring lost in service at one height, a share of its load before."""
    pair = here.sheet.before_and_after(item, f"{sort}.load_1")
    return (pair[0].value - pair[1].value) / pair[0].value if pair else None


def rows_of(here: Head, sort: str, system: System) -> list[Row]:
    """Every spring of a sort with what was read of it, and whether it passes."""
    ctx = here.design.sides[here.side]
    allowed = known(lambda: tallest_solid(ctx, sort))
    limit = ctx.limit("spring.loss").high or 0.0
    by_item = {s.item: s for s in springs_read(here.sheet, sort)}
    found = []
    for item, of in here.sheet.springs.items():
        place = here.sheet.place_of(item)
        if of != sort or (place is not None and place.side != here.side):
            continue
        settled = _settled(here, item, sort)
        figures = {
            f: show(
                s.value, ASKED[f"{sort}.{f}"].quantity(here.current.build, here.side).dimension, system, f == "solid"
            ).number
            for f, s in settled.items()
        }
        rate = by_item[item].rate_N_per_mm if item in by_item else None
        solid = settled.get("solid")
        passes = None if solid is None or allowed is None else solid.value <= allowed.value + 1e-9
        loss = loss_of(here, item, sort)
        found.append(
            Row(
                item,
                place.label if place else "",
                figures,
                f"{rate:.1f}" if rate is not None else "",
                passes,
                f"{loss * 100:.1f} %" if loss is not None else "",
                loss is not None and loss > limit,
                next((s.stale for s in settled.values() if s.stale), ""),
            )
        )
    return found


def rejected(here: Head, sort: str) -> frozenset[str]:
    """Springs that go solid too early or have lost too much."""
    return frozenset(r.item for r in rows_of(here, sort, System.MM) if r.passes is False or r.retire)


def _pressed(here: Head, sort: str, steps: list[tuple[float, float]]) -> Pressed:
    """What the presses so far come to. Raises ``FieldError``."""
    return pressed(steps, _rate(here, sort, max(steps)[0]) if len(steps) > 1 else None)


def _rate(here: Head, sort: str, height_mm: float) -> float | None:
    """The rate of the spring in hand near a height, N/mm: by its own two loads where the form has them."""
    at, form, system = _heights(here, sort), request.form, current_system()
    try:
        heights = [_height(form.get(f"height_{n}"), at, n, f"{here.side}.stack.{sort}", system) for n in (1, 2)]
        loads = [parse(form.get(f"load_{n}", ""), FORCE, FORCE.unit(system)).value for n in (1, 2)]
        own = (loads[1] - loads[0]) / (heights[0] - heights[1])
    except (QuantityError, ZeroDivisionError):
        own = 0.0
    if own > 0.0:
        return own
    line = known(lambda: spring_line(here.design.sides[here.side], sort))
    return line.curve.rate_at(height_mm) if line is not None else None


def _sort() -> str:
    return "inner" if request.values.get("sort") == "inner" else "outer"


def page(build_id: int, side: str, wrong: str = "", question: str = "", told: str = "", keep: bool = False) -> str:
    """The page; ``keep`` holds on to what was typed."""
    here, system = head(workshop().open(build_id), side), current_system()
    sort = _sort()
    ctx = here.design.sides[side]
    allowed = known(lambda: tallest_solid(ctx, sort))
    instrument = instrument_for("tester", here)
    zero = zero_now(here, instrument) if instrument else None
    rows = rows_of(here, sort, system)
    own = {r.item for r in rows}
    springs = tuple(s for s in springs_read(here.sheet, sort) if s.item in own)
    at = _heights(here, sort)
    keep = keep or bool(question or wrong)
    presses = request.form.get("presses", "") if keep else ""
    try:
        on_tester = _pressed(here, sort, presses_in(presses))
    except FieldError as error:
        on_tester, wrong = Pressed(), wrong or error.message
    entry = getattr(here.current.build.side(side).stack, sort).solid
    after = on_tester.after(entry.value if isinstance(entry, Entry) else None, at[1] if at else None)
    values = dict(request.form) if keep else {}
    if on_tester.solid is not None:
        values["solid"] = plain(on_tester.solid.height_mm, LENGTH)
    values["press_height"] = str(show(after, LENGTH, system).number)
    values["press_load"] = ""
    return render_template(
        "bench/tester.html",
        **around_bench(here, "tester", "Tester"),
        rows=rows,
        sort=sort,
        dual=here.current.build.side(side).stack.pack is not Pack.SINGLE,
        allowed=show(allowed.value, LENGTH, system) if allowed else None,
        allowed_figure=allowed,
        heights=[str(show(h, LENGTH, system)) for h in at] if at else [],
        instrument=instrument,
        scale=instrument_for("scale", here),
        changes=request.args.get("sit") == "1",
        kind=KINDS["tester"],
        testers=[i.name for i in instruments().all() if i.kind == "tester"],
        ready=instrument is not None and zero is not None and zero.good,
        wrong=wrong,
        question=question,
        asked_of=asked_of(),
        told=told,
        values=values,
        pressed=on_tester,
        press_rows=[
            (show(h, LENGTH, system), show(f, FORCE, system), slope)
            for (h, f), slope in zip(on_tester.steps, on_tester.slopes, strict=True)
        ],
        steep=STEEP,
        units=(LENGTH.unit(system), FORCE.unit(system)),
        level=Level,
        curves=lines_over_mean(list(springs), at) if at and len(springs) > 1 else None,
        mean=_mean(springs, at),
        zero=zero,
        hand=current_who().name,
    )


def _mean(springs: tuple[SpringOf, ...], at: tuple[float, float] | None) -> str:
    if not springs or at is None:
        return ""
    loads = [s.load_at(at[0]) for s in springs]
    mean = sum(loads) / len(loads)
    worst = max(springs, key=lambda s: abs(s.load_at(at[0]) - mean))
    off = f"{(worst.load_at(at[0]) - mean) / mean * 100.0:+.1f}".replace("-", "−")
    return f"mean {mean:.1f} N, spread {max(loads) - min(loads):.1f} N; {worst.item} is {off} % off it"


@blueprint.get("")
def index(build_id: int, side: str) -> str:
    """The tester's page."""
    return page(build_id, side)


def _height(text: str | None, at: tuple[float, float] | None, number: int, spring: str, system: System) -> float:
    """The height of a load: as typed, or where the design has it. Raises ``QuantityError``."""
    typed = text or (plain(at[number - 1], LENGTH) if at else "")
    value = parse(typed, LENGTH, LENGTH.unit(system)).value
    spec = FIELDS[f"{spring}.height_{number}"].quantity
    assert spec is not None
    spec.check(value)
    return value


def asked_of() -> str:
    """What the form holds of a spring, in one text: what a question was asked about."""
    names = ("item", "height_1", "height_2", *FIELDS_READ)
    return "|".join(request.form.get(n, "").strip() for n in names)


@blueprint.post("/press")
def press(build_id: int, side: str) -> str | tuple[str, int]:
    """One press further towards solid; nothing is stored until the spring is taken."""
    here, form, system = head(workshop().open(build_id), side), request.form, current_system()
    try:
        steps = presses_in(form.get("presses", ""))
        height = parse(form.get("press_height", ""), LENGTH, LENGTH.unit(system)).value
        load = parse(form.get("press_load", ""), FORCE, FORCE.unit(system)).value
        found = _pressed(here, _sort(), [*steps, (height, load)])
    except QuantityError as error:
        return page(build_id, side, wrong=str(error)), 422
    except FieldError as error:
        return page(build_id, side, wrong=error.message), 422
    request.form = ImmutableMultiDict({**form.to_dict(), "presses": found.text})
    told = ""
    if found.solid is not None:
        told = (
            f"Solid at {show(found.solid.height_mm, LENGTH, system)}, "
            f"± {show(found.solid.half_mm, LENGTH, system)} and told at the taller end: between "
            f"{show(found.solid.above_mm, LENGTH, system)} and {show(found.solid.below_mm, LENGTH, system)} its load "
            f"climbs more than {STEEP:.0f} times as steep as its rate. Let it up."
        )
    return page(build_id, side, told=told, keep=True)


@blueprint.post("")
def take(build_id: int, side: str) -> str | tuple[str, int]:
    """Take what the tester read of one spring: all of it, or nothing."""
    current, form = workshop().open(build_id), request.form
    here, sort, system = head(current, side), _sort(), current_system()
    instrument = instrument_for("tester", here)
    zero = zero_now(here, instrument) if instrument else None
    if instrument is None or zero is None or not zero.good:
        return page(build_id, side, wrong="Name the tester and try its zero first, on the page of readings."), 422
    at, now = _heights(here, sort), stage_now(here.sheet)
    try:
        item = serial_of(form.get("item", ""))
        heights = [_height(form.get(f"height_{n}"), at, n, f"{side}.stack.{sort}", system) for n in (1, 2)]
        rows = [(f, form.get(f, "").strip()) for f in FIELDS_READ if form.get(f, "").strip()]
        if not rows:
            raise FieldError("item", f"Nothing was read of {item}.")
        on_tester = _pressed(here, sort, presses_in(form.get("presses", "")))

        def how(figure: str) -> How:
            # a tester weighs nothing: without a scale of this sitting a mass counts as assumed
            by = hand_with(instrument_for("scale", here) if figure == "mass" else instrument)
            load = figure.startswith("load")
            condition = {"height_mm": heights[int(figure[-1]) - 1]} if load else {}
            resolution, note = instrument.resolution if load else None, ""
            if figure == "solid" and on_tester.solid is not None:
                resolution = on_tester.solid.half_mm
                note = f"by the slope of {len(on_tester.steps)} presses"
            # a figure that was asked about is taken; another typed in its place is asked about too
            sure = form.get("sure") == "1" and form.get("sure_of", "") == asked_of()
            off = zero.correction if load else 0.0
            return How(
                by, now.phase, now.service, resolution, system, condition, note, sure=sure, side=side, correction=off
            )

        bench().take_all(build_id, current.build, [(f"{sort}.{f}", "", item, text, how(f)) for f, text in rows])
    except Doubtful as question:
        return page(build_id, side, question=str(question))
    except QuantityError as error:
        return page(build_id, side, wrong=str(error)), 422
    except FieldError as error:
        return page(build_id, side, wrong=error.message), 422
    return page(build_id, side, told=f"{item} taken.")
