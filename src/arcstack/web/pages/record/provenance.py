"""Which head this is, by what it is known again, and who did what to it."""

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.application.acts.work_done import write_down
from arcstack.application.difference import sentences
from arcstack.assess.built import today
from arcstack.errors import FieldError
from arcstack.readings import Step
from arcstack.readings.recorded import Known, Worker, release
from arcstack.record.identity import fingerprint, likeness
from arcstack.record.ledger import ledger
from arcstack.store import Shelf
from arcstack.units import LENGTH, show
from arcstack.web.kit import asked, links
from arcstack.web.kit.form import sent
from arcstack.web.kit.session import current_hand, current_system, current_who, workshop
from arcstack.web.pages.bench.shown import Head, around_work, head

blueprint = Blueprint("provenance", __name__, url_prefix="/builds/<int:build_id>/<side:side>/record")

MARKS = ("number", "stamped", "marks", "casting", "date_code", "bank", "owner")
MOST_OTHERS = 8


def _others(here: Head) -> list[tuple[int, str, str]]:
    """Other heads of the workshop with a mark or a name of this one: candidates to hold it against."""
    own = here.current.build.head
    found: dict[int, tuple[int, str, str]] = {}
    for text in (own.casting, own.marks, own.number, here.current.build.engine.code, here.current.build.name):
        for row in workshop().builds(search=text, shelf=Shelf.OPEN).rows if text.strip() else ():
            if row.id != here.current.id:
                found.setdefault(row.id, (row.id, row.name, row.customer))
    return list(found.values())[:MOST_OTHERS]


@blueprint.get("")
def index(build_id: int, side: str, wrong: str = "") -> str:
    """Marks, fingerprint, ledger, and what differs from the revision that was last released."""
    here, system = head(workshop().open(build_id), side), current_system()
    sizes = fingerprint(here.sheet)
    other_id = asked.whole(request.args, "other")
    other = head(workshop().open(other_id), side) if other_id else None
    their = fingerprint(other.sheet) if other is not None else ()
    made = release(here.sheet.events)
    since = made.revision if made is not None else max(here.current.revision - 1, 1)
    first = min(asked.whole(request.args, "first") or since, here.current.revision)
    return render_template(
        "record/provenance.html",
        **around_work(here, "provenance", "Provenance"),
        head_marks=[(name, getattr(here.current.build.head, name)) for name in MARKS],
        sizes=[
            (s, str(show(s.value, LENGTH, system)) if s.value is not None else "–",
             str(show(t.value, LENGTH, system)) if t is not None and t.value is not None else "–")
            for s, t in zip(sizes, their or [None] * len(sizes), strict=True)
        ],
        other=other.current if other is not None else None,
        others=_others(here),
        likeness=likeness(sizes, their) if their else None,
        ledger=ledger(here.sheet),
        sentences=sentences(workshop().compare(build_id, first, here.current.revision)),
        first=first,
        bench_steps=[s.value for s in Step],
        workers=Worker,
        how_known=Known,
        cylinders=sorted({p.cylinder for p in here.sheet.places}),
        wrong=wrong,
        typed=request.form if wrong else {},
        chosen=set(request.form.getlist("places")) if wrong else set(),
        touched=set(request.form.getlist("touched")) if wrong else set(),
        hand=current_who().name,
    )  # fmt: skip


@blueprint.post("/worked")
def worked(build_id: int, side: str) -> Response | tuple[str, int]:
    """Write down work that was done to the head."""
    here, form = head(workshop().open(build_id), side), sent()
    try:
        write_down(
            here, current_hand(), today(),
            day=form.day("day", "Day"),
            worker=form.choice("worker", Worker),
            name=form.line("name", 80),
            done=form.line("done"),
            known=form.choice("known", Known),
            touched=request.form.getlist("touched"),
            places=request.form.getlist("places"),
            parts=form.line("parts"),
        )  # fmt: skip
    except FieldError as error:
        return index(build_id, side, error.message), 422
    return redirect(links.at("provenance.index", build_id, side) + "#ledger")
