"""From a wish to parts: what of a shelf would do, what turns the rest away, and one taken."""

from collections.abc import Hashable

from flask import Blueprint, abort, redirect, render_template, request
from werkzeug.datastructures import MultiDict
from werkzeug.wrappers import Response

from arcstack.application import Job, Kept
from arcstack.assess import Assessment, assess, elastic
from arcstack.assess.context import known
from arcstack.checks import Level
from arcstack.document import Build
from arcstack.errors import ArcStackError, MissingInput, NothingThere, TooMany
from arcstack.settings import setting
from arcstack.shelf import KINDS, PartKind, ShelfPart
from arcstack.specify import VARIED, Found, Row, Want
from arcstack.specify.cams import WithCam, with_each
from arcstack.specify.space import space
from arcstack.specify.whynot import LOOKED_AT, Answer, NoAnswer, in_order_of_cost, of_part, why_not
from arcstack.store import Kind, Reason
from arcstack.units import MASS, SPEED, show
from arcstack.web.frame.around import around
from arcstack.web.frame.turned import turned
from arcstack.web.kit import links
from arcstack.web.kit.change import accept
from arcstack.web.kit.session import (
    assessed,
    current_system,
    searches,
    sweeps,
)
from arcstack.web.pages.specify_asked import AXES, Asked, Head, asked_for, head_of, job_of, kept_cams
from arcstack.web.pages.specify_shown import COLUMNS, answered, each, nearest, picture, row_of, standing
from arcstack.web.turns import set_aside

blueprint = Blueprint("specify", __name__, url_prefix="/builds/<int:build_id>/<side:side>/specify")

SHOWN = int(setting("specify.shown"))
WAIT_S = setting("specify.wait")
MOST_BESIDE, MOST_UNTOLD = 6, 4


@blueprint.get("")
def index(build_id: int, side: str) -> str:
    asked = asked_for()
    head = head_of(build_id, side, asked)
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
        cams=kept_cams(),
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
        found.append((kind, KINDS[kind].plural, head.offered(asked, kind)))
    return found


@blueprint.get("/found")
def found(build_id: int, side: str) -> str:
    """What came of it, or how far it is."""
    asked = asked_for()
    head = head_of(build_id, side, asked)
    job = _waited(job_of(head, asked, request.args.get("again") == "1"))
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
        over = space(head.build, head.side, head.parts, head.ask(asked))
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
    rows = [(it.row(number), others) for number, others in each(it)[:SHOWN]]
    away = [
        (check, title, alone, turned_away, turned_away / max(it.tried, 1))
        for check, title, alone, turned_away in in_order_of_cost(it)
    ]
    drawing, beaten = picture(head.current.id, it, asked, system) if len(it.feasible) else ("", 0)
    return render_template(
        "specify/_found.html",
        build_id=head.current.id,
        side=head.side,
        asked=asked,
        found=it,
        took=f"{job.took_s:.1f}",
        rows=[(row_of(it, row, asked, system), others) for row, others in rows],
        columns=[(name, dimension.unit(system)) for name, _, dimension in COLUMNS],
        away=away,
        failing=[a for a in it.whatever if a.level is Level.FAIL],
        open=[a for a in it.whatever if a.level is Level.OPEN],
        picture=drawing,
        frontier=beaten,
        axes=list(AXES.items()),
        cam=head.cam,
        parts=_choices(it, head),
        nearest=nearest(it, system) if not len(it.feasible) else None,
    )


def _choices(it: Found, head: Head) -> list[tuple[str, list[ShelfPart]]]:
    """Parts of the kinds that vary, to be asked about."""
    return [
        (KINDS[kind].plural, sorted((p for p in head.parts if p.kind is kind), key=lambda p: p.name.casefold()))
        for kind in it.ask.vary
        if kind is not PartKind.SHIM
    ]


def _waited(job: Job) -> Job:
    """A search that has ended, or the time is up; meanwhile other pages are worked."""
    with set_aside():
        job.ended.wait(WAIT_S)
    return job


class StillSearched(Exception):
    """What is looked at is of a search that has not ended; whoever asks is told, and asks again."""


@blueprint.errorhandler(StillSearched)
def _later(_error: StillSearched) -> str | tuple[str, int]:
    if request.method == "GET":
        return render_template("specify/_later.html", again=request.full_path)
    return render_template("parts/_told.html", words="The search is still being made: look again in a moment."), 409


# -- one that is looked at


def _looked(head: Head, asked: Asked, number: int) -> tuple[Found, Row]:
    """A combination of a search that is at hand, or made again; 404 for one that there is not.

    Raises ``StillSearched``.
    """
    job = _waited(job_of(head, asked))
    if not job.done:
        raise StillSearched
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
    asked = asked_for()
    head = head_of(build_id, side, asked)
    it, one = _looked(head, asked, _number())
    after = assess(it.space.put_in(one.number), sweeps().known, assessed(head.current))
    waits = _started(after, side)
    return render_template(
        "specify/_whole.html", build_id=build_id, side=side, asked=asked, number=one.number,
        **standing(it, after, side, current_system()), waits=waits,
    )  # fmt: skip


def _started(after: Assessment, side: str) -> bool:
    """Have the elastic train of a side turned; whether it still is."""
    ctx = after.sides[side]
    question = known(lambda: elastic.question(ctx))
    if question is None or sweeps().known(question) is not None:
        return False
    sweeps().start(question)
    return True


@blueprint.get("/look")
def look(build_id: int, side: str) -> str:
    """What taking one would turn."""
    asked = asked_for()
    head = head_of(build_id, side, asked)
    it, one = _looked(head, asked, _number())
    now = assessed(head.current)
    after = assess(it.space.put_in(one.number), sweeps().known, now)
    return render_template(
        "specify/_look.html",
        build_id=build_id,
        side=side,
        asked=asked,
        revision=head.current.revision,
        row=row_of(it, one, asked, current_system()),
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
    asked = asked_for()
    number, keys = _number(), request.form.get("take", "")

    def made(here: Build) -> tuple[Build, Reason]:
        head = head_of(build_id, side, asked)
        it, one = _looked(head, asked, number)
        if head.current.build is not here and head.current.build != here:
            raise MissingInput(why="The build has changed: look again.")
        if _keys(one) != keys:
            raise MissingInput(why="The shelf has changed: look again.")
        if not (it.feasible.numbers == number).any():
            raise MissingInput(why="That combination would not do.")
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
    asked = asked_for()
    head = head_of(build_id, side, asked)
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
        rows=[row_of(it, one, asked, system) for it, one in pairs],
        lines=sorted(lines, key=lambda line: not line[2]),
        masses=[str(show(one.mass_kg, MASS, system)) for _, one in pairs],
    )


# -- why not


@blueprint.get("/why")
def why(build_id: int, side: str) -> str:
    """The smallest single change that would let something through."""
    asked = asked_for()
    head = head_of(build_id, side, asked)
    it, _ = _looked(head, asked, 0)
    key = ("why", head.key(asked))
    job = searches().start(
        key,
        lambda count, stop: why_not(head.ctx, head.parts, it, count, stop),
        request.args.get("again") == "1",
        many=True,
    )
    _waited(job)
    told: list[Answer | NoAnswer] = job.found.answers if job.found else []
    system = current_system()
    return render_template(
        "specify/_why.html",
        build_id=build_id,
        side=side,
        asked=asked,
        job=job,
        answers=[answered(head, it, a, system) for a in told if isinstance(a, Answer)],
        untold=job.found.untold[:MOST_UNTOLD] if job.found else (),
        looked_at=min(LOOKED_AT, it.space.size),
        nothing=list(dict.fromkeys(a.change.title.lower() for a in told if isinstance(a, NoAnswer))),
    )


@blueprint.get("/part")
def part(build_id: int, side: str) -> str:
    """Why a part is not in the list."""
    asked = asked_for()
    head = head_of(build_id, side, asked)
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
        best=row_of(answer.found, answer.found.row(answer.found.best[0]), asked, system)
        if answer and answer.found.best
        else None,
        nearest=nearest(answer.found, system) if answer and not answer.found.best else None,
        away=in_order_of_cost(answer.found)[:5] if answer else [],
    )


@blueprint.get("/cams")
def cams(build_id: int, side: str) -> str:
    """The same question with every kept cam."""
    asked, kept = asked_for(), kept_cams()
    head = head_of(build_id, side, asked)
    cams = [k.cam for k in kept]
    job = searches().start(
        _cams_key(head, asked, kept),
        lambda count, stop: with_each(head.ctx, cams, head.parts, head.ask(asked), count, stop),
        request.args.get("again") == "1",
        many=True,
    )
    _waited(job)
    told: list[WithCam] = job.found or []
    system = current_system()
    rows = [
        (k, one.would_do, str(show(one.parts_at, SPEED, system)) if one.parts_at is not None else "–", _with(asked, k))
        for k, one in zip(kept, told, strict=False)
    ]
    why = _told(job.told, head, asked) if job.told is not None else {}
    return render_template("specify/_cams.html", build_id=build_id, side=side, asked=asked, rows=rows, job=job, **why)


def _cams_key(head: Head, asked: Asked, kept: list[Kept]) -> Hashable:
    return "cams", head.key(asked), tuple((k.key, k.cam.model_dump_json()) for k in kept)


def _with(asked: Asked, kept: Kept) -> str:
    """The same question with a kept cam, as an address."""
    own = MultiDict(asked.values)
    own["cam"] = kept.key
    return Asked(asked.ask, asked.across, asked.up, kept.key, own).query()


@blueprint.post("/stop")
def stop(build_id: int, side: str) -> str:
    """End a search; what it has stays."""
    asked = asked_for()
    head = head_of(build_id, side, asked)
    searches().stop(head.key(asked))
    searches().stop(("why", head.key(asked)))
    return found(build_id, side)


@blueprint.post("/cams/stop")
def stop_cams(build_id: int, side: str) -> str:
    """End the search with every kept cam."""
    asked = asked_for()
    searches().stop(_cams_key(head_of(build_id, side, asked), asked, kept_cams()))
    return cams(build_id, side)
