"""Springs on the tester: each by its serial, sorted by its own solid height, and by what it lost in service."""

from dataclasses import dataclass

from flask import Blueprint, render_template, request
from werkzeug.datastructures import ImmutableMultiDict

from arcstack.application.acts import testing
from arcstack.application.acts.testing import FIGURES
from arcstack.assess.bench import tallest_solid
from arcstack.assess.context import known
from arcstack.checks import Level
from arcstack.document import Entry
from arcstack.document.parts import Pack
from arcstack.drawings.spring_lines import lines_over_mean
from arcstack.errors import Doubtful, FieldError, QuantityError
from arcstack.readings import ASKED, Settled
from arcstack.readings.instruments import KINDS
from arcstack.readings.pressing import STEEP, Pressed, presses_in
from arcstack.readings.taking import How
from arcstack.trials.matching import SpringOf, springs_read
from arcstack.units import FORCE, LENGTH, System, parse, show
from arcstack.units.display import plain
from arcstack.web.kit.session import current_system, current_who, instruments, workshop
from arcstack.web.pages.bench.shown import Head, around_bench, head
from arcstack.web.pages.bench.sitting import hand_with, instrument_for, stage_now, zero_now

blueprint = Blueprint("springs_bench", __name__, url_prefix="/builds/<int:build_id>/<side:side>/bench/springs")


@dataclass(frozen=True)
class SpringRow:
    """One spring as the page shows it; ``passes`` is None while its solid height is not known."""

    item: str
    place: str
    figures: dict[str, str]
    rate: str
    passes: bool | None
    loss: str
    retire: bool
    stale: str


def rows_of(here: Head, sort: str, system: System) -> list[SpringRow]:
    """Every spring of a sort with what was read of it, and whether it passes."""

    def read(figure: str, settled: Settled) -> str:
        dimension = ASKED[f"{sort}.{figure}"].quantity(here.current.build, here.side).dimension
        return show(settled.value, dimension, system, figure == "solid").number

    return [
        SpringRow(
            s.item, s.place, {f: read(f, of) for f, of in s.settled.items()},
            f"{s.rate_N_per_mm:.1f}" if s.rate_N_per_mm is not None else "", s.passes,
            f"{s.loss:.1%}".replace("%", " %") if s.loss is not None else "", s.retire, s.stale,
        )
        for s in testing.tested(here, sort)
    ]  # fmt: skip


def _two_loads(here: Head, sort: str) -> testing.TwoLoads | None:
    """The two loads that the form holds of the spring in hand; None where they tell nothing."""
    at, form, system = testing.heights_of(here, sort), request.form, current_system()
    try:
        heights = [_height(form.get(f"height_{n}"), at, n, here, sort, system) for n in (1, 2)]
        loads = [parse(form.get(f"load_{n}", ""), FORCE, FORCE.unit(system)).value for n in (1, 2)]
    except QuantityError:
        return None
    return testing.TwoLoads((heights[0], heights[1]), (loads[0], loads[1]))


def _pressed(here: Head, sort: str, steps: list[tuple[float, float]]) -> Pressed:
    """What the presses so far come to. Raises ``FieldError``."""
    return testing.on_tester(here, sort, steps, _two_loads(here, sort))


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
    at = testing.heights_of(here, sort)
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
    found = testing.spread_of(springs, at[0]) if at is not None else None
    if found is None:
        return ""
    off = f"{found.off:+.1%}".replace("-", "−").replace("%", " %")
    return f"mean {found.mean_N:.1f} N, spread {found.spread_N:.1f} N; {found.furthest} is {off} off it"


@blueprint.get("")
def index(build_id: int, side: str) -> str:
    """The tester's page."""
    return page(build_id, side)


def _height(
    text: str | None, at: tuple[float, float] | None, number: int, here: Head, sort: str, system: System
) -> float:
    """The height of a load: as typed, or where the design has it. Raises ``QuantityError``."""
    typed = text or (plain(at[number - 1], LENGTH) if at else "")
    return testing.checked_height(here, sort, number, parse(typed, LENGTH, LENGTH.unit(system)).value)


def asked_of() -> str:
    """What the form holds of a spring, in one text: what a question was asked about."""
    names = ("item", "height_1", "height_2", *FIGURES)
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
    at, now = testing.heights_of(here, sort), stage_now(here.sheet)
    # a figure that was asked about is taken; another typed in its place is asked about too
    sure = form.get("sure") == "1" and form.get("sure_of", "") == asked_of()
    by, by_scale = hand_with(instrument), hand_with(instrument_for("scale", here))
    how = How(
        by, now.phase, now.service, instrument.resolution, system, sure=sure, side=side, correction=zero.correction
    )
    try:
        heights = [_height(form.get(f"height_{n}"), at, n, here, sort, system) for n in (1, 2)]
        presses = _pressed(here, sort, presses_in(form.get("presses", "")))
        item = testing.take(
            here, by, by_scale, sort=sort, item=form.get("item", ""), heights_mm=heights, presses=presses, how=how,
            texts={f: form.get(f, "").strip() for f in FIGURES},
        )  # fmt: skip
    except Doubtful as question:
        return page(build_id, side, question=str(question))
    except QuantityError as error:
        return page(build_id, side, wrong=str(error)), 422
    except FieldError as error:
        return page(build_id, side, wrong=error.message), 422
    return page(build_id, side, told=f"{item} taken.")
