"""Power before and after: runs in as tables, repeats laid over each other, and what of a difference counts."""

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.application.difference import sentences
from arcstack.document.words import one_line
from arcstack.drawings.power_curves import power_curves
from arcstack.errors import DocumentError, FieldError
from arcstack.formats.power_csv import LARGEST, Columns, Unit, read_power
from arcstack.readings.recorded import Ran, RunOff, runs
from arcstack.record.power import CONDITIONS, REPEATS, Compared, Group, Sense, compare, groups, mean_gain
from arcstack.units import System
from arcstack.web.kit import asked, links
from arcstack.web.kit.session import bench, current_hand, current_system, current_who, workshop
from arcstack.web.pages.bench.shown import around_work, head
from arcstack.web.pages.record.asking import day, today, words

blueprint = Blueprint("power", __name__, url_prefix="/builds/<int:build_id>/<side:side>/power")

HP = 1.0 / 0.745699872
UNITS = {System.MM: ("kW", 1.0), System.INCH: ("hp", HP)}


def _changes(build_id: int, before: Group, after: Group) -> list[str]:
    """What was changed between the revisions of two groups, from the record."""
    first, second = before.revisions[-1], after.revisions[-1]
    if first == second:
        return []
    low, high = min(first, second), max(first, second)
    found = workshop().compare(build_id, low, high)
    return sentences([c for c in found if c.path not in ("note", "name")])


def _spans(found: Compared, sense: Sense) -> str:
    return ", ".join(f"{a:,.0f}" if a == b else f"{a:,.0f} to {b:,.0f}" for a, b in found.spans(sense))


@blueprint.get("")
def index(build_id: int, side: str, wrong: str = "") -> str:
    """Groups of runs, two of them held against each other."""
    here = head(workshop().open(build_id), side)
    unit, factor = UNITS[current_system()]
    found = groups(runs(here.sheet.events))
    names = {g.name: g for g in found}
    before = names.get(request.args.get("before", "")) or (found[0] if found else None)
    after = names.get(request.args.get("after", "")) or (found[-1] if len(found) > 1 else None)
    compared = None
    if before is not None and after is not None and before.name != after.name:
        compared = compare(before, after, _changes(build_id, before, after))
    alone = [r for r in runs(here.sheet.events) if r.group not in names]
    gain = mean_gain(compared) if compared is not None else None
    return render_template(
        "record/power.html",
        **around_work(here, "power", "Power"),
        groups=found,
        before=before,
        after=after if compared is not None else None,
        compared=compared,
        spans={s: _spans(compared, s) for s in Sense} if compared is not None else {},
        senses=Sense,
        best=_best(compared, factor, unit) if compared is not None else "",
        gain=f"{gain * factor:+.1f} {unit}".replace("-", "−") if gain is not None else "",
        drawing=power_curves(before, after if compared else None, compared, unit, factor) if before else None,
        peaks={g.name: f"{g.peak[0] * factor:.0f} {unit} at {g.peak[1]:,.0f} rpm" for g in found},
        scatters={g.name: _widest(g, factor, unit) for g in found},
        alone=alone,
        all_runs=runs(here.sheet.events)[::-1],
        conditions=CONDITIONS,
        units=[u.value for u in Unit],
        repeats=REPEATS,
        last=runs(here.sheet.events)[-1] if runs(here.sheet.events) else None,
        wrong=wrong,
        typed=request.form if wrong else {},
        hand=current_who().name,
    )


def _widest(g: Group, factor: float, unit: str) -> str:
    return f"{max(g.scatter) * factor:.1f} {unit}" if len(g.runs) > 1 else "one run, none"


def _best(found: Compared, factor: float, unit: str) -> str:
    """The largest gain and the largest loss that count, in words."""
    said = []
    for sense, name, pick in ((Sense.GAIN, "Largest gain", max), (Sense.LOSS, "Largest loss", min)):
        own = [p for p in found.points if p.sense is sense]
        if own:
            p = pick(own, key=lambda q: q.gain)
            text = f"{p.gain * factor:+.1f} {unit} at {p.rpm:,.0f} rpm".replace("-", "−")
            said.append(f"{name} {text}")
    return ". ".join(said)


def _columns() -> Columns:
    form = request.form
    unit = next((u for u in Unit if u.value == form.get("power_unit")), None)
    boost = next((u for u in Unit if u.value == form.get("boost_unit")), None)

    def column(name: str, label: str) -> int | None:
        found = asked.bare_number(form, name, label, 99.0, 1.0)
        return int(found) if found is not None else None

    return Columns(
        column("rpm_column", "The column of speed"), column("power_column", "The column of power"), unit,
        column("boost_column", "The column of boost"), boost,
    )  # fmt: skip


@blueprint.post("")
def take(build_id: int, side: str) -> Response | tuple[str, int]:
    """Take runs from files or a pasted table: each file is one run, all of them or none."""
    here, form, by = head(workshop().open(build_id), side), request.form, current_hand()
    try:
        if by.hand == "workshop":
            raise FieldError("hand", "Whose hand ran it? It has a name.")
        group = words("group", 60)
        if not group:
            raise FieldError("group", "Which state is this? Repeats of one state share a name, as “before”.")
        files = [
            (f.filename or "table", f.stream.read(LARGEST + 1)) for f in request.files.getlist("table") if f.filename
        ]
        pasted = form.get("pasted", "").strip()
        if pasted:
            files.append(("pasted", pasted.encode()))
        if not files:
            raise FieldError("table", "Drop the runs as tables, or paste one.")
        revision = asked.bare_number(form, "revision", "The revision", here.current.revision, 1.0)
        told = {key: words(f"on-{key}", 60) for key in CONDITIONS}
        columns, when = _columns(), day("day", "Day") or today().isoformat()
        made = []
        for name, data in files:
            origin = one_line(name.rsplit("/", 1)[-1].rsplit("\\", 1)[-1], 80)
            try:
                curve = read_power(data, columns)
            except DocumentError as error:
                raise FieldError("table", f"{origin}: {error.message}. Nothing was taken.") from error
            made.append(
                Ran(
                    0, group, when, int(revision or here.current.revision), curve.power, curve.boost,
                    {k: v for k, v in told.items() if v}, by, f"{origin} ({'; '.join(curve.understood)})"[:300],
                )
            )  # fmt: skip
    except FieldError as error:
        return index(build_id, side, error.message), 422
    for event in made:
        bench().happened(build_id, event)
    return redirect(links.at("power.index", build_id, side))


@blueprint.post("/off")
def off(build_id: int, side: str) -> Response | tuple[str, int]:
    """Take a run back, for a reason; it stays in the record."""
    here, by = head(workshop().open(build_id), side), current_hand()
    number, reason = asked.whole(request.form, "run"), words("reason")
    try:
        if by.hand == "workshop":
            raise FieldError("hand", "Whose hand takes it back? It has a name.")
        if number not in {r.number for r in runs(here.sheet.events)}:
            raise FieldError("run", "That run was taken back already.")
        if len(reason) < 3:
            raise FieldError("reason", "Why is the run taken back? A run that is only low stays.")
    except FieldError as error:
        return index(build_id, side, error.message), 422
    bench().happened(build_id, RunOff(0, number or 0, reason, by))
    return redirect(links.at("power.index", build_id, side))
