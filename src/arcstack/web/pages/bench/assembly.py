"""Assembly: one step fills the page, the rest is a list with counts; and the whole of it to print."""

from dataclasses import dataclass, fields
from typing import Any

from flask import Blueprint, abort, redirect, render_template, request
from markupsafe import Markup
from werkzeug.wrappers import Response

from arcstack.application.acts import assembling
from arcstack.application.acts.assembling import again_of, limits_of, stood
from arcstack.assembly.counts import Count, counts_of
from arcstack.assembly.doing import maker_words, prelube
from arcstack.assembly.progress import Standing, after, counted, next_step
from arcstack.assembly.steps import Step, tools_of
from arcstack.assembly.wrong_way import Pair, pairs
from arcstack.document import SIDES
from arcstack.document.entry import amount
from arcstack.drawings.wrong_way import Sizes, one_way
from arcstack.errors import FieldError
from arcstack.readings.assembling import Held, Where, set_up, tools_held
from arcstack.units import FINE_LENGTH, LENGTH, show
from arcstack.web.kit import links
from arcstack.web.kit.asked import some_figure
from arcstack.web.kit.form import sent
from arcstack.web.kit.session import current_hand, current_system, current_who, workshop
from arcstack.web.pages.bench.shown import Head, around_work, head

blueprint = Blueprint("assembly", __name__, url_prefix="/builds/<int:build_id>/<side:side>/bench/assembly")


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
    step, form, by, system = _asked(stood(here)).step.id, request.form.to_dict(), current_hand(), current_system()
    reason = form.get("reason", "")
    try:
        match form.get("act", ""):
            case "done":
                assembling.finish(here, by, step=step, typed=form, system=system)
            case "begin":
                assembling.begin(here, by, step=step, typed=form, system=system)
            case "skip":
                assembling.skip(here, by, step=step, reason=reason)
            case "reopen":
                assembling.reopen(here, by, step=step, reason=reason)
            case _:
                return index(build_id, side, "That is nothing a step takes."), 422
    except FieldError as error:
        return index(build_id, side, error.message), 422
    query = f"?step={step}" if assembling.stays_open(here, step) else ""
    return redirect(links.at("assembly.index", build_id, side) + query)


@blueprint.post("/set-up")
def stand(build_id: int, side: str) -> Response | tuple[str, int]:
    """Say where the head goes together and for how long it will stand."""
    here, form = head(workshop().open(build_id), side), sent()
    try:
        days = some_figure({"days": form.text("days").replace(",", ".")}, "days")
        assembling.set_up(here, current_hand(), where=form.choice("where", Where), standing_days=days)
    except FieldError as error:
        return index(build_id, side, error.message), 422
    return redirect(links.at("assembly.index", build_id, side) + _step_query())


def _step_query() -> str:
    name = request.form.get("step", "")
    return f"?step={name}" if name.replace("_", "").isalnum() else ""


@blueprint.post("/tools")
def tools(build_id: int, side: str) -> Response | tuple[str, int]:
    """Say how each tool comes to hand, or that a borrowed one was given back."""
    here, form = head(workshop().open(build_id), side), sent()
    said = {key: how for key in tools_of(here.sheet) if (how := form.choice(f"tool.{key}", Held)) is not None}
    rest_owned = form.choice("rest", Held) is Held.OWNED
    assembling.hold_tools(here, current_hand(), tools=said, rest_owned=rest_owned)
    return redirect(links.at("assembly.index", build_id, side) + _step_query())


@blueprint.post("/second")
def second(build_id: int, side: str) -> Response | tuple[str, int]:
    """Take what another hand read."""
    here = head(workshop().open(build_id), side)
    texts = {name.removeprefix("again."): text for name, text in request.form.items() if name.startswith("again.")}
    try:
        assembling.read_second(here, current_hand(), texts=texts, system=current_system())
    except FieldError as error:
        return index(build_id, side, error.message), 422
    return redirect(links.at("assembly.index", build_id, side) + "?step=second")


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
