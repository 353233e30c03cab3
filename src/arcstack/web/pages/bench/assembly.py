"""Assembly: one step fills the page, the rest is a list with counts; and the whole of it to print."""

from dataclasses import dataclass, fields
from typing import Any

from flask import Blueprint, abort, redirect, render_template, request
from markupsafe import Markup
from werkzeug.wrappers import Response

from arcstack.assembly.counts import Count, counts_of
from arcstack.assembly.doing import Limits, begun, done, maker_words, prelube, reopened, skipped
from arcstack.assembly.progress import Standing, after, counted, next_step, standings
from arcstack.assembly.second import Again, read_again, table
from arcstack.assembly.steps import Step, tools_of
from arcstack.assembly.wrong_way import Pair, pairs
from arcstack.document import SIDES
from arcstack.document.entry import amount
from arcstack.drawings.wrong_way import Sizes, one_way
from arcstack.errors import FieldError, QuantityError
from arcstack.readings.assembling import Held, SetUp, State, Tooled, Where, set_up, tools_held
from arcstack.settings import setting
from arcstack.units import FINE_LENGTH, LENGTH, parse, show
from arcstack.web.kit import links
from arcstack.web.kit.session import bench, current_hand, current_system, current_who, workshop
from arcstack.web.pages.bench.shown import Head, around_work, head

blueprint = Blueprint("assembly", __name__, url_prefix="/builds/<int:build_id>/<side:side>/bench/assembly")

LIMITS = ("bucket.clearance", "second.height")
MOST_STANDING_DAYS = setting("assembly.most_standing")


def limits_of(here: Head) -> Limits:
    return {key: here.design.sides[here.side].limit(key) for key in LIMITS}


def again_of(here: Head) -> tuple[Again, ...]:
    most = limits_of(here)["second.height"].high
    assert most is not None
    return table(here.sheet, most)


def stood(here: Head) -> tuple[Standing, ...]:
    """Every step of the head as it stands."""
    return standings(here.sheet, again_of(here))


@dataclass(frozen=True)
class Shown:
    """A pair of ways with its pictures and its figures, worded."""

    pair: Pair
    right: Markup
    wrong: Markup
    rows: tuple[tuple[str, str, str, bool], ...]
    side: str


def _sizes(here: Head, side: str) -> Sizes:
    """The sizes that are known of a side; the usual one for the rest."""
    stack = here.current.build.side(side).stack
    told = {
        "step": stack.locator.step, "thick": stack.locator.thickness, "retainer_step": stack.retainer.step,
        "outer": stack.outer.outside, "inner": stack.inner.outside, "wire": stack.outer.wire,
        "inner_wire": stack.inner.wire, "stem": stack.valve.stem, "guide": stack.guide.outside,
        "seal": stack.seal_height, "coils": stack.outer.coils, "inner_coils": stack.inner.coils,
        "installed": stack.target_height,
    }  # fmt: skip
    known = {name: value for name, entry in told.items() if (value := amount(entry)) is not None and value > 0.0}
    return Sizes(**{f.name: known[f.name] for f in fields(Sizes) if f.name in known})


def _pictures(here: Head, step: Step) -> list[Shown]:
    """Both sides where they differ, one where they are alike."""
    found: list[Shown] = []
    system = current_system()
    for side in SIDES:
        for pair in pairs(step.picture, here.design.sides[side]):
            rows = tuple(
                (m.label, str(show(m.right, m.dimension, system)), str(show(m.wrong, m.dimension, system)), m.fails)
                for m in pair.moved
            )
            same = next((s for s in found if s.pair.title == pair.title and s.rows == rows), None)
            if same is not None:
                found[found.index(same)] = Shown(same.pair, same.right, same.wrong, same.rows, "")
                continue
            sizes, pressed = _sizes(here, side), "pressed" in pair.title
            found.append(
                Shown(
                    pair,
                    one_way(pair.key, sizes, False, pressed, f"Right: {pair.right}"),
                    one_way(pair.key, sizes, True, pressed, f"Wrong: {pair.wrong}"),
                    rows,
                    side,
                )
            )
    return found


def _asked(found: tuple[Standing, ...]) -> Standing:
    """The step that this page shows: the one that is asked for, else the next one."""
    name = request.values.get("step", "")
    if name:
        return next((s for s in found if s.step.id == name), None) or abort(404)
    return next_step(found) or found[-1]


@blueprint.get("")
def index(build_id: int, side: str, wrong: str = "") -> str:
    """One step, large."""
    here = head(workshop().open(build_id), side)
    if not here.sheet.places:
        return render_template("bench/nowhere.html", **around_work(here, "assembly", "Assembly"))
    found = stood(here)
    this = _asked(found)
    following = next_step([s for s in found if s.step.id != this.step.id])
    typed = dict(this.fields) | (request.form.to_dict() if wrong else {})
    stands = set_up(here.sheet.events)
    parts = counted(found, here.sheet)
    return render_template(
        "bench/assembly.html",
        **around_work(here, "assembly", "Assembly"),
        standings=found,
        this=this,
        number=found.index(this) + 1,
        following=following,
        closed=sum(s.closed for s in found),
        parts_in=parts[0],
        parts_of=parts[1],
        counts=counts_of(this.step, here.sheet, typed),
        typed=typed,
        wrong=wrong,
        after=after(this.step, found) if this.closed else [],
        pictures=_pictures(here, this.step),
        where=Where,
        stands=stands,
        lube=prelube(stands.standing_days) if stands else None,
        hand=current_who().name,
        **_of_step(here, this),
    )


def _of_step(here: Head, this: Standing) -> dict[str, Any]:
    """What single steps show beside what all of them do."""
    system = current_system()
    held = tools_held(here.sheet.events)
    rows = [(key, words, held.get(key)) for key, words in tools_of(here.sheet).items()]
    typical = {}
    for field in this.step.fields:
        limit = limits_of(here).get(field.limit)
        if limit is not None and limit.low is not None and limit.high is not None:
            typical[field.key] = f"{show(limit.low, FINE_LENGTH, system)} to {show(limit.high, FINE_LENGTH, system)}"
    again = again_of(here) if this.step.id == "second" else ()
    return {
        "tools": rows if this.step.id in ("tools", "packed") else [],
        "held_by": [h for h in Held if h is not Held.BACK],
        "own_tools": [words for key, words in tools_of(here.sheet).items() if key in this.step.tools],
        "typical": typical,
        "again": [
            (
                a,
                str(show(a.first_mm, LENGTH, system)) if a.first_mm is not None else "–",
                str(show(a.again.value_mm, LENGTH, system)) if a.again is not None else "",
                str(show(a.apart_mm, LENGTH, system)) if a.apart_mm is not None else "",
            )
            for a in again
        ],
    }


@blueprint.post("")
def act(build_id: int, side: str) -> Response | tuple[str, int]:
    """Begin, do, skip or reopen the step that is shown: it is added, never changed."""
    here = head(workshop().open(build_id), side)
    if not here.sheet.places:
        abort(404)
    this, form, by = _asked(stood(here)), request.form.to_dict(), current_hand()
    system, sheet = current_system(), here.sheet
    wanted = form.get("act", "")
    try:
        if this.closed and wanted in ("done", "begin"):
            raise FieldError("act", f"{this.step.title} is {this.state.value}: reopen it first.")
        match wanted:
            case "done":
                event = done(this, sheet, form, by, limits_of(here), system)
            case "begin":
                event = begun(this.step, sheet, form, by, system)
            case "skip":
                event = skipped(this, form.get("reason", ""), by)
            case "reopen":
                event = reopened(this, form.get("reason", ""), by)
            case _:
                raise FieldError("act", "That is nothing a step takes.")
    except FieldError as error:
        if wanted == "done" and not this.closed and not this.waits:
            # what was typed is kept, whatever is still short
            bench().happened(build_id, begun(this.step, sheet, form, by, system))
        return index(build_id, side, error.message), 422
    bench().happened(build_id, event)
    stays = event.state in (State.DOING, State.REOPENED)
    query = f"?step={this.step.id}" if stays else ""
    return redirect(links.at("assembly.index", build_id, side) + query)


@blueprint.post("/set-up")
def stand(build_id: int, side: str) -> Response | tuple[str, int]:
    """Say where the head goes together and for how long it will stand."""
    text = request.form.get("days", "").replace(",", ".").strip()
    try:
        days = float(text)
    except ValueError:
        return index(build_id, side, "Days until it is started: a number, as 3 or 30."), 422
    named = next((w for w in Where if w.value == request.form.get("where")), None)
    if named is None or not 0.0 <= days <= MOST_STANDING_DAYS:
        return index(build_id, side, f"Days until it is started lie between 0 and {MOST_STANDING_DAYS:,.0f}."), 422
    bench().happened(build_id, SetUp(0, named, days, current_hand()))
    return redirect(links.at("assembly.index", build_id, side) + _step_query())


def _step_query() -> str:
    name = request.form.get("step", "")
    return f"?step={name}" if name.replace("_", "").isalnum() else ""


@blueprint.post("/tools")
def tools(build_id: int, side: str) -> Response | tuple[str, int]:
    """Say how each tool comes to hand, or that a borrowed one was given back."""
    here, by = head(workshop().open(build_id), side), current_hand()
    held = tools_held(here.sheet.events)
    for key in tools_of(here.sheet):
        named = next((h for h in Held if h.value == request.form.get(f"tool.{key}")), None)
        if named is None and key not in held and request.form.get("rest") == Held.OWNED.value:
            named = Held.OWNED
        if named is not None and held.get(key) is not named:
            bench().happened(build_id, Tooled(0, key, named, by))
    return redirect(links.at("assembly.index", build_id, side) + _step_query())


@blueprint.post("/second")
def second(build_id: int, side: str) -> Response | tuple[str, int]:
    """Take what another hand read."""
    here, system, by = head(workshop().open(build_id), side), current_system(), current_hand()
    taken = []
    try:
        if by.hand == "workshop":
            raise FieldError("hand", "Whose hand reads it again? It has a name.")
        for row in again_of(here):
            text = request.form.get(f"again.{row.key}.{row.place.label}", "").strip()
            if not text:
                continue
            try:
                read = parse(text, LENGTH, LENGTH.unit(system))
            except QuantityError as error:
                raise FieldError("second", f"{row.label} of {row.place.label}: {error}") from error
            if row.first_mm is not None and abs(read.value - row.first_mm) > MOST_APART_MM:
                raise FieldError(
                    "second", f"{row.label} of {row.place.label}: {read.typed} is far from the first. Look again."
                )
            taken.append(read_again(row, read.value, read.typed, by))
        if not taken:
            raise FieldError("second", "Nothing was typed.")
    except FieldError as error:
        return index(build_id, side, error.message), 422
    for event in taken:
        bench().happened(build_id, event)
    return redirect(links.at("assembly.index", build_id, side) + "?step=second")


MOST_APART_MM = setting("second.wild")


@blueprint.get("/list")
def printed(build_id: int, side: str) -> str:
    """Every step with hand, time, counts and the maker's figures, to print."""
    here = head(workshop().open(build_id), side)
    if not here.sheet.places:
        return render_template("bench/nowhere.html", **around_work(here, "assembly", "Assembly list"))
    found, stands = stood(here), set_up(here.sheet.events)
    rows = [(s, maker_words(s.step, s.fields), _closed_counts(here, s)) for s in found]
    held = tools_held(here.sheet.events)
    return render_template(
        "bench/assembly_list.html",
        **around_work(here, "assembly", "Assembly list"),
        rows=rows,
        stands=stands,
        lube=prelube(stands.standing_days) if stands else None,
        tools=[(words, held.get(key)) for key, words in tools_of(here.sheet).items()],
    )


def _closed_counts(here: Head, s: Standing) -> list[tuple[Count, str]]:
    return [(c, s.fields.get(f"count.{c.key}", "")) for c in counts_of(s.step, here.sheet, s.fields)]
