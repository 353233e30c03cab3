"""Power before and after: runs in as tables, repeats laid over each other, and what of a difference counts."""

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.application.acts import power
from arcstack.application.difference import sentences
from arcstack.assess.built import today
from arcstack.drawings.power_curves import power_curves
from arcstack.errors import FieldError
from arcstack.formats.power_csv import LARGEST, Columns, Unit
from arcstack.readings.recorded import runs
from arcstack.record.power import CONDITIONS, REPEATS, Compared, Group, Sense, compare, groups, mean_gain
from arcstack.units import System
from arcstack.web.kit import asked, links
from arcstack.web.kit.form import Form, sent
from arcstack.web.kit.session import current_hand, current_system, current_who, workshop
from arcstack.web.pages.bench.shown import around_work, head

blueprint = Blueprint("power", __name__, url_prefix="/builds/<int:build_id>/<side:side>/power")

MOST_COLUMNS = 99.0

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


def _columns(form: Form) -> Columns:
    def column(name: str, label: str) -> int | None:
        return form.count(name, label, MOST_COLUMNS, least=1.0)

    return Columns(
        column("rpm_column", "The column of speed"), column("power_column", "The column of power"),
        form.choice("power_unit", Unit), column("boost_column", "The column of boost"), form.choice("boost_unit", Unit),
    )  # fmt: skip


@blueprint.post("")
def take(build_id: int, side: str) -> Response | tuple[str, int]:
    """Take runs from files or a pasted table: each file is one run, all of them or none."""
    here, form = head(workshop().open(build_id), side), sent()
    tables = [(f.filename or "table", f.stream.read(LARGEST + 1)) for f in request.files.getlist("table") if f.filename]
    if pasted := form.text("pasted"):
        tables.append(("pasted", pasted.encode()))
    try:
        power.take_runs(
            here, current_hand(),
            group=form.line("group", 60),
            day=form.day("day", "Day") or today().isoformat(),
            revision=form.count("revision", "The revision", here.current.revision, least=1.0),
            conditions={key: form.line(f"on-{key}", 60) for key in CONDITIONS},
            tables=tables,
            columns=_columns(form),
        )  # fmt: skip
    except FieldError as error:
        return index(build_id, side, error.message), 422
    return redirect(links.at("power.index", build_id, side))


@blueprint.post("/off")
def off(build_id: int, side: str) -> Response | tuple[str, int]:
    """Take a run back, for a reason; it stays in the record."""
    here, number = head(workshop().open(build_id), side), asked.whole(request.form, "run")
    try:
        power.take_back(here, current_hand(), run=number, reason=sent().line("reason"))
    except FieldError as error:
        return index(build_id, side, error.message), 422
    return redirect(links.at("power.index", build_id, side))
