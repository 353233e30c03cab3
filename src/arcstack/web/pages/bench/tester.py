"""Springs on the tester: each by its serial, sorted by its own solid height, and by what it lost in service."""

from dataclasses import dataclass

from flask import Blueprint, render_template, request

from arcstack.assess.bench import tallest_solid
from arcstack.assess.context import known
from arcstack.checks import Level
from arcstack.document import FIELDS
from arcstack.document.parts import Pack
from arcstack.errors import Doubtful, FieldError, QuantityError
from arcstack.readings import ASKED, Settled
from arcstack.readings.taking import How, serial_of
from arcstack.trials.matching import SpringOf, springs_read, useful
from arcstack.units import FORCE, LENGTH, System, parse, show
from arcstack.units.display import plain
from arcstack.web.drawings.spring_lines import lines_over_mean
from arcstack.web.kit.session import bench, current_system, current_who, workshop
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


def _sort() -> str:
    return "inner" if request.values.get("sort") == "inner" else "outer"


def _page(build_id: int, side: str, wrong: str = "", question: str = "", told: str = "") -> str:
    here, system = head(workshop().open(build_id), side), current_system()
    sort = _sort()
    ctx = here.design.sides[side]
    allowed = known(lambda: tallest_solid(ctx, sort))
    instrument = instrument_for("tester", here)
    zero = zero_now(here, instrument) if instrument else None
    rows = rows_of(here, sort, system)
    springs: tuple[SpringOf, ...] = springs_read(here.sheet, sort)
    at = _heights(here, sort)
    serial = request.values.get("item", "") if question or wrong else ""
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
        ready=instrument is not None and zero is not None and zero.good,
        wrong=wrong,
        question=question,
        told=told,
        values=request.form,
        serial=serial,
        units=(LENGTH.unit(system), FORCE.unit(system)),
        level=Level,
        curves=lines_over_mean([s for s in springs if s.item in {r.item for r in rows}], at)
        if at and len(springs) > 1
        else None,
        mean=_mean(springs, at),
        hand=current_who().name,
    )


def _mean(springs: tuple[SpringOf, ...], at: tuple[float, float] | None) -> str:
    if not springs or at is None:
        return ""
    loads = [s.load_at(at[0]) for s in springs]
    mean = sum(loads) / len(loads)
    worst = max(springs, key=lambda s: abs(s.load_at(at[0]) - mean))
    off = (worst.load_at(at[0]) - mean) / mean * 100.0
    return f"mean {mean:.1f} N, spread {max(loads) - min(loads):.1f} N; {worst.item} is {off:+.1f} % off it".replace(
        "-", "−"
    )


@blueprint.get("")
def index(build_id: int, side: str) -> str:
    """The tester's page."""
    return _page(build_id, side)


def _height(text: str | None, at: tuple[float, float] | None, number: int, spring: str, system: System) -> float:
    """The height of a load: as typed, or where the design has it. Raises ``QuantityError``."""
    typed = text or (plain(at[number - 1], LENGTH) if at else "")
    value = parse(typed, LENGTH, LENGTH.unit(system)).value
    spec = FIELDS[f"{spring}.height_{number}"].quantity
    assert spec is not None
    spec.check(value)
    return value


@blueprint.post("")
def take(build_id: int, side: str) -> str | tuple[str, int]:
    """Take what the tester read of one spring: all of it, or nothing."""
    current, form = workshop().open(build_id), request.form
    here, sort, system = head(current, side), _sort(), current_system()
    instrument = instrument_for("tester", here)
    zero = zero_now(here, instrument) if instrument else None
    if instrument is None or zero is None or not zero.good:
        return _page(build_id, side, wrong="Name the tester and try its zero first, on the page of readings."), 422
    at, now = _heights(here, sort), stage_now(here.sheet)
    try:
        item = serial_of(form.get("item", ""))
        heights = [_height(form.get(f"height_{n}"), at, n, f"{side}.stack.{sort}", system) for n in (1, 2)]
        rows = [(f, form.get(f, "").strip()) for f in FIELDS_READ if form.get(f, "").strip()]
        if not rows:
            raise FieldError("item", f"Nothing was read of {item}.")

        def how(figure: str) -> How:
            # a tester weighs nothing: without a scale of this sitting a mass counts as assumed
            by = hand_with(instrument_for("scale", here) if figure == "mass" else instrument)
            load = figure.startswith("load")
            condition = {"height_mm": heights[int(figure[-1]) - 1]} if load else {}
            resolution = instrument.resolution if load else None
            return How(by, now.phase, now.service, resolution, system, condition, sure=form.get("sure") == "1")

        bench().take_all(build_id, current.build, [(f"{sort}.{f}", "", item, text, how(f)) for f, text in rows])
    except Doubtful as question:
        return _page(build_id, side, question=str(question))
    except QuantityError as error:
        return _page(build_id, side, wrong=str(error)), 422
    except FieldError as error:
        return _page(build_id, side, wrong=error.message), 422
    return _page(build_id, side, told=f"{item} taken.")
