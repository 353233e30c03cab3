"""From a wish to parts: what of a shelf would do, what turns the rest away, and one taken."""

import math
from collections.abc import Hashable
from dataclasses import dataclass
from urllib.parse import urlencode

import numpy as np
from flask import Blueprint, abort, redirect, render_template, request
from werkzeug.datastructures import MultiDict
from werkzeug.wrappers import Response

from arcstack.assess import Assessment, assess, elastic
from arcstack.assess.context import Context, known
from arcstack.checks import Level, worst
from arcstack.document import Build, set_cam
from arcstack.errors import ArcStackError, MissingInput, NothingThere, TooMany
from arcstack.services import CamLibrary, Current, Job, Kept
from arcstack.settings import setting
from arcstack.shelf import KINDS, PartKind, ShelfPart
from arcstack.specify import VARIED, Ask, Found, Row, Want, search
from arcstack.specify.rank import cost, frontier
from arcstack.specify.space import space
from arcstack.specify.whynot import Answer, NoAnswer, answers, in_order_of_cost, of_part
from arcstack.store import Kind, Reason
from arcstack.units import FORCE, LENGTH, MASS, MONEY, POWER, SPEED, Dimension, System, show
from arcstack.web.drawings.frontier import Axis, Dot, frontier_drawing
from arcstack.web.frame.around import around
from arcstack.web.frame.turned import turned
from arcstack.web.kit import links
from arcstack.web.kit.change import accept
from arcstack.web.kit.session import (
    assessed,
    current_system,
    part_shelf,
    searches,
    sweeps,
    workshop,
)

blueprint = Blueprint("specify", __name__, url_prefix="/builds/<int:build_id>/<side:side>/specify")

SHOWN = int(setting("specify.shown"))
DRAWN = int(setting("specify.drawn"))
WAIT_S = setting("specify.wait")
MOST_BESIDE = 6

FIRST = (PartKind.PACK, PartKind.RETAINER, PartKind.LOCKS, PartKind.SHIM)
"""Kinds that may change until a builder says otherwise."""

AXES = {
    Want.PRICE: Axis("Price", MONEY),
    Want.FRICTION: Axis("Friction, one valve", POWER),
    Want.SPEED: Axis("Parts at", SPEED),
    Want.RESERVE: Axis("Least reserve to solid", LENGTH),
}

COLUMNS: tuple[tuple[str, str, Dimension], ...] = (
    ("Seat", "spring.seat_load", FORCE),
    ("Open", "spring.open_load", FORCE), ("Outer", "spring.reserve.outer", LENGTH),
    ("Inner", "spring.reserve.inner", LENGTH), ("To seal", "stack.retainer_seal", LENGTH),
    ("Friction", "control.friction", POWER), ("Parts at", "control.separation", SPEED),
)  # fmt: skip


@dataclass(frozen=True)
class Asked:
    """What the address asks: of the shelf, of the drawing, and with which cam."""

    ask: Ask
    across: Want
    up: Want
    cam: str
    values: MultiDict[str, str]

    def query(self, **more: object) -> str:
        """The same question as an address's values, with some of its own."""
        own = [(k, v) for k, v in self.values.items(multi=True) if k not in more and k not in _ONCE]
        return "?" + urlencode([*own, *((k, str(v)) for k, v in more.items() if v != "")])


_ONCE = ("csrf_token", "base", "number", "take", "part", "again")


def _asked() -> Asked:
    values = request.values
    told = values.getlist("vary")
    vary = tuple(k for k in VARIED if k.value in told) if "vary" in values or "asked" in values else FIRST
    wants = [w for name in ("want", "then", "last") if (w := _want(values.get(name))) is not None]
    want = tuple(dict.fromkeys(wants)) or (Want.SPEED, Want.PRICE)
    weights: tuple[float, ...] = ()
    if values.get("weigh") == "1":
        weights = tuple(
            _weight(values.get(name), len(want) - at) for at, name in zip(range(len(want)), _WEIGHTS, strict=False)
        )
        weights = weights if sum(weights) else ()
    shims = values.get("shims", "2")
    ask = Ask(
        vary, want, weights, on_hand_only=values.get("hand") == "1", keeps_fitted=values.get("keep") == "1",
        holds_target=values.get("height") != "any", most_shims=int(shims) if shims in ("0", "1", "2", "3") else 2,
    )  # fmt: skip
    across = _want(values.get("x")) or Want.PRICE
    up = _want(values.get("y")) or Want.SPEED
    across = across if across in AXES else Want.PRICE
    up = up if up in AXES else Want.SPEED
    return Asked(ask, across, up, values.get("cam", "")[:40], MultiDict(values))


_WEIGHTS = ("weight1", "weight2", "weight3")


def _weight(text: str | None, otherwise: int) -> float:
    return float(text) if text is not None and text in ("0", "1", "2", "3", "4", "5") else float(otherwise)


def _want(text: str | None) -> Want | None:
    return next((w for w in Want if w.value == text), None)


@dataclass(frozen=True)
class Head:
    """The build that is searched, with the cam that was chosen for it, and what its shelf holds."""

    current: Current
    side: str
    build: Build
    ctx: Context
    cam: Kept | None
    parts: list[ShelfPart]

    def key(self, asked: Asked) -> Hashable:
        stamp = tuple((p.key, p.version, p.on_hand, p.price.value if p.price else None) for p in self.parts)
        return "search", self.current.id, self.current.revision, self.side, asked.ask, asked.cam, hash(stamp)


def _head(build_id: int, side: str, asked: Asked) -> Head:
    current = workshop().open(build_id)
    ctx = assessed(current).sides[side]
    kept = next((c for c in _cams() if c.key == asked.cam), None)
    build = current.build
    if kept is not None:
        build = set_cam(build, side, kept.cam)
        ctx = ctx.of(build)
    return Head(current, side, build, ctx, kept, list(part_shelf().offered()))


def _cams() -> list[Kept]:
    return CamLibrary(workshop().database, workshop()).all()


def _job(head: Head, asked: Asked, again: bool = False) -> Job:
    return searches().start(
        head.key(asked), lambda count, stop: search(head.ctx, head.parts, asked.ask, count, stop), again
    )


@blueprint.get("")
def index(build_id: int, side: str) -> str:
    asked = _asked()
    head = _head(build_id, side, asked)
    current, system = head.current, current_system()
    now = assessed(current)
    brief = current.build.brief
    stated = [
        (title, f"brief.{name}", entry.typed if entry is not None else "")
        for title, name in (("Limiter", "limiter"), ("Overspeed", "overspeed"), ("Boost", "boost"),
                            ("Back pressure", "back_pressure"), ("Usual speed", "usual_speed"))
        for entry in (getattr(brief, name),)
    ]  # fmt: skip
    return render_template(
        "specify/index.html",
        **around(current, side, now, system),
        asked=asked,
        wants=list(Want),
        kinds=_kinds(head, asked),
        cams=_cams(),
        stated=stated,
        weights=asked.ask.weights or tuple(range(len(asked.ask.want), 0, -1)),
        title="Parts",
    )


def _kinds(head: Head, asked: Asked) -> list[tuple[PartKind, str, int]]:
    """Kinds that may change in this head, and how many parts the shelf has of each."""
    follower = head.build.engine.follower.value
    found = []
    for kind in VARIED:
        if kind.value in ("bucket", "finger", "rocker") and kind.value != follower:
            continue
        count = sum(p.kind is kind and (p.on_hand > 0 or not asked.ask.on_hand_only) for p in head.parts)
        found.append((kind, KINDS[kind].plural, count))
    return found


@blueprint.get("/found")
def found(build_id: int, side: str) -> str:
    """What came of it, or how far it is."""
    asked = _asked()
    head = _head(build_id, side, asked)
    job = _job(head, asked, request.args.get("again") == "1")
    job.ended.wait(WAIT_S)
    place = {"build_id": build_id, "side": side, "asked": asked}
    if not job.done:
        return render_template("specify/_running.html", **place, job=job)
    if job.told is not None:
        return render_template("specify/_told.html", **place, **_told(job.told, head, asked))
    if job.found is None:
        return render_template("specify/_told.html", **place, why="The search was stopped before it began.", missing=())
    return _results(head, asked, job)


def _told(told: ArcStackError, head: Head, asked: Asked) -> dict[str, object]:
    if isinstance(told, TooMany):
        over = space(head.build, head.side, head.parts, asked.ask)
        counts = sorted(((over.along(k), KINDS[k].plural.lower()) for k in asked.ask.vary), reverse=True)
        most = ", ".join(f"{name} ({count:,})" for count, name in counts[:3])
        why = (
            f"{told.size:,} combinations are more than the {told.most:,} that are searched at once. Fix what is settled"
        )
        return {"why": f"{why}; most come of {most}.", "missing": ()}
    if isinstance(told, NothingThere):
        return {"why": f"{told}. Enter some, or leave {'them' if len(told.kinds) > 1 else 'it'} fixed.", "missing": ()}
    if isinstance(told, MissingInput):
        return {"why": told.why, "missing": told.missing}
    return {"why": str(told), "missing": ()}


def _results(head: Head, asked: Asked, job: Job) -> str:
    it: Found = job.found
    system = current_system()
    rows = [(it.row(number), others) for number, others in _each(it)[:SHOWN]]
    away = [
        (check, title, alone, turned_away, turned_away / max(it.tried, 1))
        for check, title, alone, turned_away in in_order_of_cost(it)
    ]
    picture, beaten = _picture(head.current.id, it, asked, system) if len(it.feasible) else ("", 0)
    return render_template(
        "specify/_found.html",
        build_id=head.current.id,
        side=head.side,
        asked=asked,
        found=it,
        took=f"{job.took_s:.1f}",
        rows=[(_row(it, row, asked, system), others) for row, others in rows],
        columns=[(name, dimension.unit(system)) for name, _, dimension in COLUMNS],
        away=away,
        failing=[a for a in it.whatever if a.level is Level.FAIL],
        open=[a for a in it.whatever if a.level is Level.OPEN],
        picture=picture,
        frontier=beaten,
        axes=list(AXES.items()),
        cam=head.cam,
        parts=_choices(it, head),
        nearest=_nearest(it, system) if not len(it.feasible) else None,
    )


def _each(it: Found) -> list[tuple[int, int]]:
    """The best by their parts, each with its best shims, and how many other shims of the best would do with them."""
    first: dict[int, int] = {}
    others: dict[int, int] = {}
    for number in it.best:
        parts = number // len(it.space.shims)
        first.setdefault(parts, number)
        others[parts] = others.get(parts, -1) + 1
    return [(number, others[parts]) for parts, number in first.items()]


def _choices(it: Found, head: Head) -> list[tuple[str, list[ShelfPart]]]:
    """Parts of the kinds that vary, to be asked about."""
    return [
        (KINDS[kind].plural, sorted((p for p in head.parts if p.kind is kind), key=lambda p: p.name.casefold()))
        for kind in it.ask.vary
        if kind is not PartKind.SHIM
    ]


@dataclass(frozen=True)
class Shown:
    """A row of the table."""

    number: int
    parts: list[tuple[str, str]]
    shims: str
    price: str
    missing: int
    cells: list[tuple[str, Level | None]]
    tight: int
    query: str


def _row(it: Found, row: Row, asked: Asked, system: System) -> Shown:
    cells: list[tuple[str, Level | None]] = []
    for _, check, dimension in COLUMNS:
        value = row.values.get(check, math.nan)
        level = row.levels.get(check)
        text = "–" if math.isnan(value) else show(value, dimension, system).number
        cells.append((text, None if level is Level.CLEAR else level))
    return Shown(
        row.number, _names(it, row), row.shims.name, _price(row.price), row.missing, cells,
        sum(level is Level.TIGHT for level in row.levels.values()), asked.query(number=row.number),
    )  # fmt: skip


def _names(it: Found, row: Row) -> list[tuple[str, str]]:
    return [
        (KINDS[kind].title.lower(), row.parts[kind].name or "as fitted")
        for kind in it.ask.vary
        if kind is not PartKind.SHIM and kind in row.parts
    ]


def _price(price: float) -> str:
    return "–" if math.isnan(price) else f"{price:,.2f}"


def _picture(build_id: int, it: Found, asked: Asked, system: System) -> tuple[str, int]:
    """The frontier of price, friction, speed and reserve, on two of them."""
    columns = it.feasible.columns
    told = [w for w in AXES if np.isfinite(columns[w]).any()]
    if asked.across not in told or asked.up not in told or asked.across is asked.up:
        return "", 0
    there = np.isfinite(columns[asked.across]) & np.isfinite(columns[asked.up])
    some = np.nonzero(there)[0]
    unbeaten = frontier([cost(w, columns[w])[some] for w in told])
    standing = some[unbeaten]
    cloud = some[:: max(len(some) // DRAWN, 1)]
    dots = []
    # of many the ones that lie along the edge of this drawing are the ones to take
    edge = standing[
        frontier([cost(asked.across, columns[asked.across])[standing], cost(asked.up, columns[asked.up])[standing]])
    ]
    keep = np.unique(np.concatenate([edge, standing[:: max(len(standing) // 60, 1)]]))
    for at in keep:
        number = int(it.feasible.numbers[at])
        options, shims = it.space.options(number)
        names = [o.name for o in options.values() if o.part is not None]
        words = ", ".join([*names, shims.name])
        figures = ", ".join(
            f"{AXES[w].title.lower()} {_figure(w, float(columns[w][at]), system)}" for w in told
        )  # fmt: skip
        dots.append(
            Dot(
                float(columns[asked.across][at]), float(columns[asked.up][at]), f"{words}: {figures}",
                links.at("specify.look", build_id, it.space.side) + asked.query(number=number),
            )
        )  # fmt: skip
    points = [(float(columns[asked.across][i]), float(columns[asked.up][i])) for i in cloud]
    return frontier_drawing(points, dots, AXES[asked.across], AXES[asked.up], system), len(standing)


def _figure(want: Want, value: float, system: System) -> str:
    if want is Want.PRICE:
        return _price(value)
    return str(show(value, AXES[want].dimension, system))


def _nearest(it: Found, system: System) -> dict[str, object]:
    """The combination that the fewest checks turn away, and what they say of it."""
    row = it.row(it.nearest)
    anyway = it.measured.open_anyway
    stopped = []
    for counted in it.counts:
        level = row.levels.get(counted.check)
        if level is Level.FAIL or (level is Level.OPEN and counted.check not in anyway):
            value = row.values.get(counted.check, math.nan)
            text = "not known" if math.isnan(value) else str(show(value, row.dimensions[counted.check], system))
            stopped.append((counted.title, text, level))
    return {"names": _names(it, row), "shims": row.shims.name, "stopped": stopped}


# -- one that is looked at


def _looked(head: Head, asked: Asked, number: int) -> tuple[Found, Row]:
    """A combination of a search that is at hand, or made again; 404 for one that there is not."""
    job = _job(head, asked)
    job.ended.wait()
    if job.found is None or not 0 <= number < job.found.space.size:
        abort(404)
    return job.found, job.found.row(number)


def _number() -> int:
    text = request.values.get("number", "")
    if not text.isdigit() or len(text) > 9:
        abort(404)
    return int(text)


@blueprint.get("/row")
def row(build_id: int, side: str) -> str:
    """How one of the best stands by every check, the elastic train's too, once that is known."""
    asked = _asked()
    head = _head(build_id, side, asked)
    it, one = _looked(head, asked, _number())
    after = assess(it.space.put_in(one.number), sweeps().known, assessed(head.current))
    waits = _started(after, side)
    return render_template(
        "specify/_whole.html", build_id=build_id, side=side, asked=asked, number=one.number,
        **_standing(it, after, side, current_system()), waits=waits,
    )  # fmt: skip


def _started(after: Assessment, side: str) -> bool:
    """Have the elastic train of a side turned; whether it still is."""
    ctx = after.sides[side]
    question = known(lambda: elastic.question(ctx))
    if question is None or sweeps().known(question) is not None:
        return False
    sweeps().start(question)
    return True


def _standing(it: Found, after: Assessment, side: str, system: System) -> dict[str, object]:
    """How one stands by every check that a choice moves."""
    anyway = {a.check for a in it.whatever}
    rows = [v for v in after.of_side(side) if v.judges and not v.waiting and v.id not in anyway]
    parts = after.verdict("control.elastic_separation", side)
    return {
        "worst": worst(rows),
        "failing": [v.title for v in rows if v.level is Level.FAIL],
        "tight": [v.title for v in rows if v.level is Level.TIGHT],
        "elastic": str(show(parts.figure.value, SPEED, system)) if parts.figure is not None else "",
        "elastic_level": parts.level,
    }


@blueprint.get("/look")
def look(build_id: int, side: str) -> str:
    """What taking one would turn."""
    asked = _asked()
    head = _head(build_id, side, asked)
    it, one = _looked(head, asked, _number())
    now = assessed(head.current)
    after = assess(it.space.put_in(one.number), sweeps().known, now)
    return render_template(
        "specify/_look.html",
        build_id=build_id,
        side=side,
        asked=asked,
        revision=head.current.revision,
        row=_row(it, one, asked, current_system()),
        keys=_keys(one),
        turned=turned(now, after),
        tight=[v for v in after.of_side(side) if v.judges and v.level in (Level.TIGHT, Level.WAIVED)],
        cam=head.cam,
        order=[p for p in one.chosen if p.on_hand < max(now.sides[side].places, 1)],
        needed=now.sides[side].places,
    )


def _keys(one: Row) -> str:
    return "-".join(p.key[:10] for p in one.chosen)


@blueprint.post("")
def take(build_id: int, side: str) -> Response | tuple[str, int]:
    """Fit what was looked at."""
    asked = _asked()
    number, keys = _number(), request.form.get("take", "")

    def made(here: Build) -> tuple[Build, Reason]:
        head = _head(build_id, side, asked)
        it, one = _looked(head, asked, number)
        if head.current.build is not here and head.current.build != here:
            raise MissingInput(why="The build has changed: look again.")
        if _keys(one) != keys:
            raise MissingInput(why="The shelf has changed: look again.")
        names = ", ".join(p.name for p in one.chosen) or "nothing"
        said = (
            f"{asked.ask.want[0].value}, best of {len(it.feasible):,}"
            if number == it.best[0]
            else (f"{asked.ask.want[0].value}, of {len(it.feasible):,} that would do")
        )
        return it.space.put_in(number), Reason(Kind.SPECIFIED, f"{side}.specify", said, names[:200])

    try:
        accept(build_id, made)
    except MissingInput as told:
        return render_template(
            "specify/_told.html", build_id=build_id, side=side, asked=asked, why=told.why, missing=()
        ), 409
    return redirect(links.stage(build_id, "stack", side))


# -- several beside each other


@blueprint.get("/beside")
def beside(build_id: int, side: str) -> str:
    """Up to six beside each other, every check a row."""
    asked = _asked()
    head = _head(build_id, side, asked)
    system = current_system()
    numbers = [int(n) for n in request.args.getlist("lay") if n.isdigit() and len(n) < 10][:MOST_BESIDE]
    if not numbers:
        return render_template("specify/_beside.html", rows=[], lines=[], build_id=build_id, side=side, asked=asked)
    pairs = [_looked(head, asked, number) for number in numbers]
    now = assessed(head.current)
    afters = [assess(it.space.put_in(one.number), sweeps().known, now) for it, one in pairs]
    verdicts = [{v.id: v for v in after.of_side(side)} for after in afters]
    lines = []
    for check in dict.fromkeys(c for held in verdicts for c in held):
        cells = []
        for held in verdicts:
            v = held.get(check)
            text = str(show(v.figure.value, v.figure.dimension, system)) if v and v.figure else "–"
            cells.append((text, v.level if v else None, bool(v and v.proven)))
        title = next(held[check].title for held in verdicts if check in held)
        lines.append((title, cells, len({c[0] for c in cells}) > 1))
    return render_template(
        "specify/_beside.html",
        build_id=build_id,
        side=side,
        asked=asked,
        rows=[_row(it, one, asked, system) for it, one in pairs],
        lines=sorted(lines, key=lambda line: not line[2]),
        masses=[str(show(one.mass_kg, MASS, system)) for _, one in pairs],
    )


# -- why not


@blueprint.get("/why")
def why(build_id: int, side: str) -> str:
    """The smallest single change that would let something through."""
    asked = _asked()
    head = _head(build_id, side, asked)
    it, _ = _looked(head, asked, 0)
    key = ("why", head.key(asked))
    job = searches().start(
        key, lambda count, stop: answers(head.ctx, head.parts, it, count, stop), request.args.get("again") == "1"
    )
    job.ended.wait(WAIT_S)
    told: list[Answer | NoAnswer] = job.found or []
    system = current_system()
    return render_template(
        "specify/_why.html",
        build_id=build_id,
        side=side,
        asked=asked,
        job=job,
        answers=[_answer(head, it, a, system) for a in told if isinstance(a, Answer)],
        nothing=list(dict.fromkeys(a.change.title.lower() for a in told if isinstance(a, NoAnswer))),
    )


def _answer(head: Head, it: Found, answer: Answer, system: System) -> tuple[str, str, str, int, str]:
    """A change in words, the parts that would do then, how many more would, and where it is made."""
    change = answer.change
    names = ", ".join([n for _, n in _names(it, answer.row)] + [answer.row.shims.name])
    if change.dimension.name == "ratio":
        words = f"{answer.by:.0%} {'more' if change.sign > 0 else 'less'}".replace("%", " %")
    else:
        more = "more" if change.sign > 0 else "less"
        if change.dimension in (SPEED, LENGTH):
            more = "higher" if change.sign > 0 else "lower"
        words = f"{show(answer.by, change.dimension, system)} {more}"
    field = {
        "limiter": "brief.limiter", "overspeed": "brief.overspeed", "boost": "brief.boost",
        "lift": f"{head.side}.cam.lobe_lift", "target_low": f"{head.side}.stack.target_height",
        "target_high": f"{head.side}.stack.target_height", "seal": f"{head.side}.stack.seal_height",
    }.get(change.key, "")  # fmt: skip
    return change.title, words, names, answer.others, field


@blueprint.get("/part")
def part(build_id: int, side: str) -> str:
    """Why a part is not in the list."""
    asked = _asked()
    head = _head(build_id, side, asked)
    it, _ = _looked(head, asked, 0)
    chosen = next((p for p in head.parts if p.key == request.args.get("part", "")), None)
    if chosen is None or chosen.kind not in asked.ask.vary:
        abort(404)
    system = current_system()
    left = next((o for o in it.space.left_out if o.part.key == chosen.key), None)
    told, answer = (left.why if left else ""), None
    if left is None:
        try:
            answer = of_part(head.ctx, head.parts, it, chosen)
        except ArcStackError as error:
            told = str(error)
    return render_template(
        "specify/_part.html",
        build_id=build_id,
        side=side,
        asked=asked,
        part=chosen,
        told=told,
        rank=answer.rank if answer else None,
        would_do=len(answer.found.feasible) if answer else 0,
        best=_row(answer.found, answer.found.row(answer.found.best[0]), asked, system)
        if answer and answer.found.best
        else None,
        nearest=_nearest(answer.found, system) if answer and not answer.found.best else None,
        away=in_order_of_cost(answer.found)[:5] if answer else [],
    )


@blueprint.get("/cams")
def cams(build_id: int, side: str) -> str:
    """The same question with every kept cam."""
    asked = _asked()
    rows: list[tuple[Kept, int | None, str, str]] = []
    waits = False
    for kept in _cams():
        own = MultiDict(asked.values)
        own["cam"] = kept.key
        with_cam = Asked(asked.ask, asked.across, asked.up, kept.key, own)
        head = _head(build_id, side, with_cam)
        job = _job(head, with_cam)
        job.ended.wait(WAIT_S)
        waits |= not job.done
        best = ""
        if job.done and job.found is not None and job.found.best:
            first = job.found.row(job.found.best[0])
            best = str(show(first.values.get("control.separation", math.nan), SPEED, current_system()))
        count = len(job.found.feasible) if job.done and job.found is not None else None
        rows.append((kept, count, best, with_cam.query()))
    return render_template("specify/_cams.html", build_id=build_id, side=side, asked=asked, rows=rows, waits=waits)


@blueprint.post("/stop")
def stop(build_id: int, side: str) -> str:
    """End a search; what it has stays."""
    asked = _asked()
    head = _head(build_id, side, asked)
    searches().stop(head.key(asked))
    searches().stop(("why", head.key(asked)))
    return found(build_id, side)
