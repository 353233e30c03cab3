"""Springs laid out over valves and shims under them, by a school: before and after, and the tray to print."""

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.assess.context import known
from arcstack.document.parts import Pack
from arcstack.errors import FieldError, MissingInput
from arcstack.readings.taking import How
from arcstack.trials.matching import Laid, Match, Prefer, School, Shelf, laid_out, matched, seats, springs_read
from arcstack.units import FORCE, LENGTH, System, show
from arcstack.web.kit import links
from arcstack.web.kit.session import bench, current_hand, current_system, workshop
from arcstack.web.pages.bench.readings import shims_on_hand
from arcstack.web.pages.bench.shown import Head, around_bench, head
from arcstack.web.pages.bench.sitting import hand_with, stage_now
from arcstack.web.pages.bench.tester import rejected

blueprint = Blueprint("matching", __name__, url_prefix="/builds/<int:build_id>/<side:side>/bench/matching")


def _asked() -> tuple[str, School, Prefer]:
    values = request.values
    sort = "inner" if values.get("sort") == "inner" else "outer"
    school = next((s for s in School if s.name.lower() == values.get("school")), School.LEAST)
    return sort, school, Prefer.FEWEST if values.get("prefer") == "fewest" else Prefer.NEAREST


def _shelf(here: Head, side: str) -> Shelf | None:
    ctx = here.design.sides[side]
    sizes, target = shims_on_hand(here, side), known(lambda: ctx.entry("stack.target_height", "t"))
    if not sizes or target is None:
        return None
    window, total = ctx.limit("stack.installed_height"), ctx.limit("fit.shims.total").high
    return Shelf(sizes, target.value, window.high or 0.0, total_mm=total if total is not None else 2.0)


def _match(here: Head, sort: str, school: School, prefer: Prefer) -> Match:
    """Raises ``MissingInput``."""
    of = seats(here.built, here.side, sort)
    springs = springs_read(here.sheet, sort, rejected(here, sort))
    own = {i for i in here.sheet.springs if (p := here.sheet.place_of(i)) is None or p.side == here.side}
    springs = tuple(s for s in springs if s.item in own)
    before = laid_out(here.sheet, of, springs, sort)
    return Match(before, matched(of, springs, before, school, _shelf(here, here.side), prefer))


def _row(before: Laid, after: Laid, system: System) -> dict[str, object]:
    return {
        "place": after.seat.place.label,
        "was": before.spring.item,
        "spring": after.spring.item,
        "moved": before.spring.item != after.spring.item,
        "shims": " + ".join(f"{s:.2f}" for s in after.shims.shims_mm) or "none",
        "shimmed": abs(before.shims.total_mm - after.shims.total_mm) > 1e-9,
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
        match = _match(here, sort, school, prefer)
    except MissingInput as told:
        why = told.why or ", ".join(m.label for m in told.missing)
    every = []
    if match is not None:
        for other in School:
            try:
                every.append((other, f"{_match(here, sort, other, prefer).spreads_N[1]:.1f} N"))
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
    current = workshop().open(build_id)
    here = head(current, side)
    sort, school, prefer = _asked()
    try:
        match = _match(here, sort, school, prefer)
        layout = ",".join(f"{a.seat.place.label}={a.spring.item}" for a in match.after)
        if request.form.get("layout") != layout:
            raise FieldError("layout", "Something was read meanwhile and the layout is another now: look again.")
        laid = [
            (a.seat.place.label, " + ".join(f"{s:.2f}" for s in a.shims.shims_mm) or "none")
            for b, a in zip(match.before, match.after, strict=True)
            if sort == "outer" and abs(b.shims.total_mm - a.shims.total_mm) > 1e-9
        ]
        # solved, not measured: it counts as assumed
        now = stage_now(here.sheet)
        how = How(hand_with(None), now.phase, now.service, sure=True, note="as solved", system=System.MM)
        shims = [("shims", place, "", text, how) for place, text in laid]
        springs = [(a.spring.item, sort, a.seat.place.label) for a in match.after]
        bench().lay(build_id, current.build, springs, shims, current_hand())
    except MissingInput as told:
        return index(build_id, side, wrong=told.why), 409
    except FieldError as error:
        return index(build_id, side, wrong=error.message), 409
    return redirect(f"{links.at('matching.index', build_id, side)}?sort={sort}")
