"""The learning bench: lessons, heads that do not exist, and at the end their truth beside what was found."""

from dataclasses import dataclass

from flask import Blueprint, abort, redirect, render_template, request, url_for
from werkzeug.wrappers import Response

from arcstack.application.acts import lesson as acts
from arcstack.checks import Verdict
from arcstack.document import SIDES
from arcstack.errors import FieldError
from arcstack.readings import ASKED, Taught
from arcstack.readings.learning import Fault, Truth
from arcstack.readings.lessons import LESSONS
from arcstack.readings.lessons import Kind as FaultKind
from arcstack.readings.outcomes import BEFORE_YOU, Outcome, false_alarms, named, until_the_end
from arcstack.units import show
from arcstack.web.kit import links
from arcstack.web.kit.form import sent
from arcstack.web.kit.session import current_hand, current_system, current_who, shop, workshop
from arcstack.web.pages.bench.shown import Head, around_bench, head

blueprint = Blueprint("lesson", __name__)


@dataclass(frozen=True)
class Told:
    """A planted fault, what became of it, and the checks that it would have come to, in words."""

    fault: Fault
    outcome: Outcome
    means: str
    checks: tuple[str, ...]


@blueprint.get("/learning")
def index() -> str:
    """Every lesson, with a seed to start it by."""
    return render_template("bench/lessons.html", lessons=LESSONS, title="Learning bench", wrong="")


@blueprint.post("/learning")
def start() -> Response | tuple[str, int]:
    """Make the head of a lesson."""
    lesson, form = request.form.get("lesson", ""), sent()
    if lesson not in LESSONS:
        abort(404)
    try:
        seed = form.count("seed", "A seed", acts.LARGEST_SEED, "A seed is a whole number of up to six digits.")
        build_id = acts.start(shop(), current_who(), current_hand(), lesson=lesson, seed=1 if seed is None else seed)
    except FieldError as error:
        wrong = error.message
        return render_template("bench/lessons.html", lessons=LESSONS, title="Learning bench", wrong=wrong), 422
    return redirect(url_for("lesson.show", build_id=build_id, side="intake"))


def _taught(here: Head) -> tuple[Taught, Truth]:
    return acts.taught_at(here) or abort(404)


def told(here: Head, hidden: Truth) -> list[Told]:
    """Every planted fault with what became of it."""

    def words(v: Verdict) -> str:
        assert v.figure is not None
        return f"{v.title} {show(v.figure.value, v.figure.dimension, current_system())}: {v.level.value}"

    return [
        Told(p.fault, p.outcome, p.means, tuple(words(v) for v in p.verdicts))
        for p in acts.planted(here, current_hand(), hidden)
    ]


@blueprint.get("/builds/<int:build_id>/<side:side>/bench/lesson", endpoint="show")
def show_lesson(build_id: int, side: str) -> str:
    return page(build_id, side)


def page(build_id: int, side: str, wrong: str = "") -> str:
    """The lesson of a head; once it has ended, its truth."""
    here = head(workshop().open(build_id), side)
    taught, hidden = _taught(here)
    rows = told(here, hidden) if taught.ended else []
    sheet = until_the_end(here.sheet)
    own = [r for r in sheet.standing if r.by.hand != BEFORE_YOU]
    seconds = sum(_seconds(r.key) for r in sheet.readings if not r.void and r.by.hand != BEFORE_YOU)
    placed = {i for i in hidden.springs if sheet.place_of(i) is not None}
    weak = {f.item for f in hidden.faults if f.item}
    rejected = [i for i in sheet.springs if i in hidden.springs and i not in placed and i not in weak]
    return render_template(
        "bench/lesson.html",
        **around_bench(here, "lesson", "Lesson"),
        lesson=LESSONS[taught.lesson],
        taught=taught,
        rows=rows,
        found=sum(t.outcome is Outcome.FOUND for t in rows),
        planted=len(rows),
        readings=len(own),
        named=named(sheet),
        alarms=false_alarms(sheet, hidden) if taught.ended else (),
        kinds=list(FaultKind),
        wheres=[*SIDES, *(p.label for p in sheet.places), *sorted(hidden.springs)],
        wrong=wrong,
        minutes=-(-seconds // 60),
        outcomes=Outcome,
        untouched=rejected if placed else [],
        tags=sorted(hidden.springs),
    )


def _seconds(key: str) -> int:
    return ASKED[key].seconds


@blueprint.post("/builds/<int:build_id>/<side:side>/bench/lesson/name")
def name(build_id: int, side: str) -> Response | tuple[str, int]:
    """Name a fault, or take a name back, while the lesson runs."""
    here, form = head(workshop().open(build_id), side), sent()
    _taught(here)
    try:
        acts.name_fault(
            here, current_hand(), fault=form.text("fault"), where=form.text("where"), off=form.ticked("off")
        )
    except FieldError as error:
        return page(build_id, side, error.message), 422
    return redirect(links.at("lesson.show", build_id, side))


@blueprint.post("/builds/<int:build_id>/<side:side>/bench/lesson")
def end(build_id: int, side: str) -> Response:
    """End a lesson: from now on its truth is shown."""
    here = head(workshop().open(build_id), side)
    _taught(here)
    acts.end(here, current_hand())
    return redirect(links.at("lesson.show", build_id, side))
