"""The learning bench: lessons, heads that do not exist, and at the end their truth beside what was found."""

from dataclasses import dataclass, replace

from flask import Blueprint, abort, redirect, render_template, request, url_for
from werkzeug.wrappers import Response

from arcstack.application.starts import template
from arcstack.assess import assess
from arcstack.assess.built import built
from arcstack.checks import Level
from arcstack.document import SIDES, Build, Sitting
from arcstack.readings import ASKED, FaultNamed, Phase, Taught
from arcstack.readings.learning import Fault, Truth, head_for, served_before, true_sheet, truth
from arcstack.readings.lessons import CONSEQUENCE, LESSONS, SPOILS
from arcstack.readings.lessons import Kind as FaultKind
from arcstack.readings.outcomes import BEFORE_YOU, Outcome, false_alarms, named, outcome, until_the_end
from arcstack.readings.taking import How
from arcstack.store import Kind, Reason
from arcstack.units import show
from arcstack.web.kit import links
from arcstack.web.kit.session import bench, current_hand, current_system, current_who, workshop
from arcstack.web.pages.bench.shown import Head, around_bench, head

blueprint = Blueprint("lesson", __name__)

TEACHES_ON = "bucket"
"""The starting head that lessons are drawn from."""


@dataclass(frozen=True)
class Told:
    """A planted fault, what became of it, and what it would have come to by the program's own checks."""

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
    lesson, seed = request.form.get("lesson", ""), request.form.get("seed", "1").strip()
    if lesson not in LESSONS:
        abort(404)
    if not seed.isdigit() or len(seed) > 6:
        wrong = "A seed is a whole number of up to six digits."
        return render_template("bench/lessons.html", lessons=LESSONS, title="Learning bench", wrong=wrong), 422
    build = head_for(lesson, template(TEACHES_ON)).model_copy(
        update={"name": f"Lesson: {LESSONS[lesson].title.lower()}, seed {int(seed)}"}
    )
    build_id = workshop().create(build, current_who(), Reason(Kind.TEMPLATE, after=LESSONS[lesson].title))
    bench().teach(build_id, Taught(0, lesson, int(seed), current_hand()))
    _before_you(build_id, build, lesson, int(seed))
    return redirect(url_for("lesson.show", build_id=build_id, side="intake"))


def _before_you(build_id: int, build: Build, lesson: str, seed: int) -> None:
    """Put what the shop before read and set at the services of a head, where its lesson has any."""
    rows = []
    for key, place, text, service in served_before(build, truth(build, lesson, seed)):
        by = Sitting(hand=BEFORE_YOU, instrument="feeler", at=current_who().now())
        phase = Phase.SERVICE if service else Phase.FINAL
        rows.append((key, place, "", text, How(by, phase=phase, service=service, sure=True)))
    if rows:
        bench().take_all(build_id, build, rows)


def _taught(here: Head) -> tuple[Taught, Truth]:
    taught = here.sheet.taught
    if taught is None:
        abort(404)
    return taught, truth(here.sheet.build, taught.lesson, taught.seed)


def told(here: Head, hidden: Truth) -> list[Told]:
    """Every planted fault with what became of it."""
    true = true_sheet(here.sheet.build, hidden, current_hand())
    really = built(assess(true.build), true)
    found, system, sheet = [], current_system(), until_the_end(here.sheet)
    for fault in hidden.faults:
        side = "exhaust" if fault.place == "exhaust" or "E-" in fault.place else "intake"
        rows = []
        for across in really.sides[side]:
            if across.check not in SPOILS[fault.kind]:
                continue
            v = next((v for p, v in across.at if fault.place in (p.label, p.side)), None)
            if v is not None and v.figure is not None and v.level is not Level.CLEAR:
                rows.append(f"{v.title} {show(v.figure.value, v.figure.dimension, system)}: {v.level.value}")
        found.append(Told(fault, outcome(fault, sheet, hidden), CONSEQUENCE[fault.kind], tuple(rows)))
    return found


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
    here, form = head(workshop().open(build_id), side), request.form
    taught, hidden = _taught(here)
    fault, where = form.get("fault", ""), form.get("where", "").strip()
    known = {w.casefold(): w for w in (*SIDES, *(p.label for p in here.sheet.places), *hidden.springs)}
    if taught.ended:
        return page(build_id, side, "The lesson has ended: what is named now counts for nothing."), 422
    if fault not in [k.value for k in FaultKind]:
        return page(build_id, side, "Say what it is: one of the list."), 422
    if where.casefold() not in known:
        return page(build_id, side, "Say where: a valve such as 3E-a, a side, or a spring by its serial."), 422
    off = form.get("off") == "1"
    bench().happened(build_id, FaultNamed(0, fault, known[where.casefold()], current_hand(), off))
    return redirect(links.at("lesson.show", build_id, side))


@blueprint.post("/builds/<int:build_id>/<side:side>/bench/lesson")
def end(build_id: int, side: str) -> Response:
    """End a lesson: from now on its truth is shown."""
    here = head(workshop().open(build_id), side)
    taught, _ = _taught(here)
    if not taught.ended:
        bench().teach(build_id, replace(taught, ended=True, by=current_hand()))
    return redirect(links.at("lesson.show", build_id, side))
