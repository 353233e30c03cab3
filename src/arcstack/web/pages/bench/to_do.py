"""What is still to be read, which reading would decide, what was let pass, and the gates that are signed."""

from flask import Blueprint, abort, redirect, render_template
from werkzeug.wrappers import Response

from arcstack.application.acts import signing
from arcstack.application.acts.signing import GATES, Against, At
from arcstack.assess import checks
from arcstack.document import SIDES
from arcstack.errors import FieldError
from arcstack.readings import Step
from arcstack.record.owed import titled
from arcstack.trials.next_reading import design_next
from arcstack.web.kit import links
from arcstack.web.kit.form import sent
from arcstack.web.kit.session import current_hand, current_system, current_who, workshop
from arcstack.web.pages.bench.as_built import reading_of
from arcstack.web.pages.bench.shown import Head, around_bench, around_later, head

blueprint = Blueprint("left", __name__, url_prefix="/builds/<int:build_id>/<side:side>/bench/to-do")


def _mended(here: Head, a: Against) -> str:
    """Where a thing that stands against a gate is mended."""
    build_id = here.current.id
    match a.at:
        case At.DESIGN:
            return links.stage(build_id, a.key, a.side)
        case At.BUILT:
            return f"{links.at('as_built.index', build_id, a.side)}?check={a.key}&place={a.place}"
        case At.STEP:
            return f"{links.at('assembly.index', build_id, a.side)}?step={a.key}"
    return links.at(_PAGES[a.at], build_id, a.side)


_PAGES = {At.LASH: "lash.index", At.MOCK_UP: "mock_up.index", At.READINGS: "left.index"}


@blueprint.get("")
def index(build_id: int, side: str, wrong: str = "") -> str:
    """What is left, in the order of the bench, and what to measure next."""
    here, system = head(workshop().open(build_id), side), current_system()
    rest, later = here.rest, here.later(*SIDES)
    steps = []
    count = {side: sum(p.side == side for p in here.sheet.places) for side in ("intake", "exhaust")}
    for step in Step:
        own = [x for x in rest if x.spot.asked.step is step]
        total = sum(x.seconds for x in own)
        figures: dict[str, list[str]] = {}
        for x in own:
            label = x.spot.asked.quantity(here.current.build, x.spot.place.side).label
            why = "" if x.why == "not read" else f" ({x.why})"
            figures.setdefault(f"{label}{why}", []).append(x.spot.place.label)
        steps.append((step, own, -(-total // 60), {k: _in_short(v, count) for k, v in figures.items()}))
    design = here.design.sides[side]
    nearest = design_next(design)[:5]
    return render_template(
        "bench/to_do.html",
        **(around_later(here, "left", "To do", "gates") if later else around_bench(here, "left", "To do")),
        bench_steps=steps,
        total=len(rest),
        wrong=wrong,
        minutes=-(-sum(x.seconds for x in rest) // 60),
        gates=() if later else signing.gates(here),
        mended=lambda a: _mended(here, a),
        hand=current_who().name,
        nearest=[(n.words(system), n.doubt.verdict.title, _where(n.share.path, here)) for n in nearest],
        waivers=[(w, titled(w.check)) for w in here.sheet.waivers],
    )


def _in_short(labels: list[str], count: dict[str, int]) -> str:
    """Places by name; a whole side, or all of them, by that."""
    sides = {"intake": [x for x in labels if "I-" in x], "exhaust": [x for x in labels if "E-" in x]}
    if len(labels) == sum(count.values()):
        return f"all {len(labels)}"
    found = [
        f"{side}, all {len(own)}" if len(own) == count[side] else ", ".join(own) for side, own in sides.items() if own
    ]
    return "; ".join(found)


def _where(path: str, here: Head) -> str:
    place = next((p for p in here.sheet.places if p.side == here.side), None)
    read = reading_of(path, place) if place is not None else ""
    if read:
        return links.at("bench.index", here.current.id, here.side) + read
    if ".outer." in path or ".inner." in path:
        sort = "inner" if ".inner." in path else "outer"
        return f"{links.at('springs_bench.index', here.current.id, here.side)}?sort={sort}"
    return links.field(here.current.id, path, here.side)


@blueprint.post("/waive")
def waive(build_id: int, side: str) -> Response | tuple[str, int]:
    """Let a check pass at a place by a hand, or end that."""
    here, form = head(workshop().open(build_id), side), sent()
    check, place = form.text("check"), form.text("place")
    if check not in checks() or place not in {p.label for p in here.sheet.places}:
        abort(404)
    try:
        signing.let_check_pass(
            here, current_hand(), check=check, place=place, reason=form.line("reason"), until=form.line("until"),
            settles=form.line("settles"), ended=form.ticked("ended"),
        )  # fmt: skip
    except FieldError as error:
        return index(build_id, side, wrong=error.message), 422
    return redirect(f"{links.at('as_built.index', build_id, side)}?check={check}&place={place}")


@blueprint.post("/sign")
def sign(build_id: int, side: str) -> Response | tuple[str, int]:
    """Sign a gate, with what stands against it said."""
    form = sent()
    if form.text("gate") not in GATES:
        abort(404)
    here = head(workshop().open(build_id), side)
    try:
        signing.sign_gate(here, current_hand(), gate=form.text("gate"), sure=form.ticked("sure"))
    except FieldError as error:
        return index(build_id, side, wrong=error.message), 422
    return redirect(links.at("left.index", build_id, side))
