"""Springs laid out over valves and shims under them, by a school: before and after, and the tray to print."""

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.application.acts import matching
from arcstack.application.acts.testing import rejected
from arcstack.document.parts import Pack
from arcstack.errors import FieldError, MissingInput
from arcstack.readings.taking import How
from arcstack.trials.matching import Laid, Prefer, School
from arcstack.units import FORCE, LENGTH, System, show
from arcstack.web.kit import links
from arcstack.web.kit.session import current_hand, current_system, workshop
from arcstack.web.pages.bench.shown import around_bench, head
from arcstack.web.pages.bench.sitting import hand_with, stage_now

blueprint = Blueprint("matching", __name__, url_prefix="/builds/<int:build_id>/<side:side>/bench/matching")


def _asked() -> tuple[str, School, Prefer]:
    values = request.values
    sort = "inner" if values.get("sort") == "inner" else "outer"
    school = next((s for s in School if s.name.lower() == values.get("school")), School.LEAST)
    return sort, school, Prefer.FEWEST if values.get("prefer") == "fewest" else Prefer.NEAREST


def _row(before: Laid, after: Laid, system: System) -> dict[str, object]:
    return {
        "place": after.seat.place.label,
        "was": before.spring.item,
        "spring": after.spring.item,
        "moved": before.spring.item != after.spring.item,
        "shims": matching.shims_in_words(after.shims.shims_mm),
        "shimmed": matching.is_shimmed(before.shims.total_mm, after.shims.total_mm),
        "height": show(after.height_mm, LENGTH, system, 1).number,
        "load": show(after.load_N, FORCE, system, 1).number,
        "load_was": show(before.load_N, FORCE, system, 1).number,
    }


@blueprint.get("")
def index(build_id: int, side: str, wrong: str = "") -> str:
    """A layout by the school that is asked for."""
    here, system = head(workshop().open(build_id), side), current_system()
    sort, school, prefer = _asked()
    match, why = None, ""
    try:
        match = matching.match(here, sort, school, prefer)
    except MissingInput as told:
        why = told.why or ", ".join(m.label for m in told.missing)
    every = []
    if match is not None:
        for other in School:
            try:
                every.append((other, f"{matching.match(here, sort, other, prefer).spreads_N[1]:.1f} N"))
            except MissingInput as told:
                every.append((other, f"needs {told.why}"))
    return render_template(
        "bench/matching.html",
        **around_bench(here, "matching", "Matching"),
        sort=sort,
        school=school,
        prefer=prefer,
        schools=list(School),
        every=every,
        prefers=list(Prefer),
        match=match,
        why=why,
        wrong=wrong,
        dual=here.current.build.side(side).stack.pack is not Pack.SINGLE,
        rows=[_row(b, a, system) for b, a in zip(match.before, match.after, strict=True)] if match else [],
        spreads=[f"{s:.1f}" for s in match.spreads_N] if match else [],
        units=(LENGTH.unit(system), FORCE.unit(system)),
        rejected=sorted(rejected(here, sort)),
    )


@blueprint.post("")
def take(build_id: int, side: str) -> Response | tuple[str, int]:
    """Put the springs as they were shown, and lay the shims that were solved."""
    here = head(workshop().open(build_id), side)
    sort, school, prefer = _asked()
    now = stage_now(here.sheet)
    # solved, not measured: it counts as assumed
    how = How(hand_with(None), now.phase, now.service, sure=True, note="as solved", system=System.MM)
    shown = request.form.get("layout", "")
    try:
        matching.lay(here, current_hand(), how, sort=sort, school=school, prefer=prefer, shown=shown)
    except MissingInput as told:
        return index(build_id, side, wrong=told.why), 409
    except FieldError as error:
        return index(build_id, side, wrong=error.message), 409
    return redirect(f"{links.at('matching.index', build_id, side)}?sort={sort}")
