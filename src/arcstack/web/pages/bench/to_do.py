"""What is still to be read, which reading would decide, what was let pass, and the gates that are signed."""

from dataclasses import dataclass, replace

from flask import Blueprint, abort, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.assess import checks
from arcstack.checks import Level
from arcstack.document import SIDES
from arcstack.errors import FieldError
from arcstack.evidence import passing
from arcstack.readings import Signed, Step, Waived
from arcstack.readings.assembling import State
from arcstack.record.owed import titled
from arcstack.trials.lashing import judged
from arcstack.trials.mocked import stands_against
from arcstack.trials.next_reading import design_next
from arcstack.web.kit import links
from arcstack.web.kit.session import bench, current_hand, current_system, current_who, workshop
from arcstack.web.pages.bench.as_built import reading_of
from arcstack.web.pages.bench.assembly import stood
from arcstack.web.pages.bench.shown import Head, around_bench, around_later, head

blueprint = Blueprint("left", __name__, url_prefix="/builds/<int:build_id>/<side:side>/bench/to-do")

GATES = {"paper": "The paper check", "bench": "The bench", "assembly": "Assembly"}


@dataclass(frozen=True)
class Gate:
    """A gate: what stands against it, each with a link, and who signed it."""

    key: str
    title: str
    against: tuple[tuple[str, str], ...]
    signed: Signed | None
    since: int


def gates(here: Head) -> list[Gate]:
    """The gates of this head."""
    side, build_id = here.side, here.current.id
    paper = [
        (f"{v.title}, {v.side}: {v.level.value}", links.stage(build_id, v.stage, v.side or side))
        for v in here.design.verdicts
        if v.judges and v.level in (Level.FAIL, Level.OPEN)
    ]
    built = [
        (f"{a.title} fails at {p.label}", f"{links.at('as_built.index', build_id, s)}?check={a.check}&place={p.label}")
        for s in ("intake", "exhaust")
        for a in here.built.sides[s]
        for p, v in a.at
        if v.judges and v.level is Level.FAIL
    ]
    built += [
        (f"Lash at {h.place.label}: {words}", links.at("lash.index", build_id, h.place.side))
        for h in (here.sheet.lash_of(p) for p in here.sheet.places)
        for level, words in (judged(here.design.sides[h.place.side], h),)
        if level is Level.FAIL
    ]
    built += [
        (f"Mock-up, {s}: {words}", links.at("mock_up.index", build_id, s))
        for s in ("intake", "exhaust")
        for words in stands_against(here.design, here.sheet, s)
    ]
    if here.rest:
        built.append((f"{len(here.rest)} readings still to take", links.at("left.index", build_id, side)))
    found = []
    for key, against in (("paper", paper), ("bench", built), ("assembly", _unassembled(here))):
        signed = here.sheet.signed(key)
        since = here.current.revision - signed.revision if signed is not None else 0
        found.append(Gate(key, GATES[key], tuple(against), signed, since))
    return found


def _unassembled(here: Head) -> list[tuple[str, str]]:
    """Steps of assembly that are not closed, and those that were let go by name."""
    at = links.at("assembly.index", here.current.id, here.side)
    return [
        (f"{s.step.title}: {s.state.value}{', ' + s.why if s.why else ''}", f"{at}?step={s.step.id}")
        for s in stood(here)
        if s.state is not State.DONE
    ]


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
        gates=() if later else gates(here),
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
    form = request.form
    check, place = form.get("check", ""), form.get("place", "")
    here = head(workshop().open(build_id), side)
    if check not in checks() or place not in {p.label for p in here.sheet.places}:
        abort(404)
    words = {n: " ".join(form.get(n, "").split())[:200] for n in ("reason", "until", "settles")}
    ended = form.get("ended") == "1"
    name = Waived(0, check, side, place, words["reason"], words["until"], words["settles"], current_hand(), ended)
    try:
        bench().waive_all(build_id, _meant(here, name))
    except FieldError as error:
        return index(build_id, side, wrong=error.message), 422
    return redirect(f"{links.at('as_built.index', build_id, side)}?check={check}&place={place}")


def _meant(here: Head, name: Waived) -> list[Waived]:
    """What a name says of a check at a place, as it stands there: what fails or is tight, with its figure.

    Raises ``FieldError`` for what no name lets pass, and where there is nothing to let pass.
    """
    if name.ended:
        own = [w for w in here.sheet.waivers if (w.check, w.place) == (name.check, name.place)]
        return [replace(w, by=name.by, ended=True) for w in own]
    across = here.built.across(name.check, here.side)
    v = next((s.verdict for s in across.stands if s.place.label == name.place), None)
    if v is None or v.figure is None or v.limit is None or v.level not in (Level.FAIL, Level.TIGHT):
        raise FieldError("check", "There is nothing to let pass: it does not fail there, nor is it tight.")
    if why := passing.never(v.id, v.figure):
        raise FieldError("check", f"{v.title}: {why}.")
    s = passing.stands(v.figure, v.limit)
    return [replace(name, state=v.level.value, figure=s.value, low=s.low, high=s.high)]


@blueprint.post("/sign")
def sign(build_id: int, side: str) -> Response | tuple[str, int]:
    """Sign a gate, with what stands against it said."""
    gate = request.form.get("gate", "")
    if gate not in GATES:
        abort(404)
    here = head(workshop().open(build_id), side)
    if current_who().name == "workshop":
        return index(build_id, side, wrong="Say whose hand signs: name it where the instrument is named."), 422
    found = next(g for g in gates(here) if g.key == gate)
    if found.against and request.form.get("sure") != "1":
        return index(
            build_id, side, wrong=f"{len(found.against)} things stand against it: tick that you sign all the same."
        ), 422
    against = tuple(words[:120] for words, _ in found.against[:50])
    bench().sign(build_id, Signed(0, gate, here.current.revision, against, current_hand()))
    return redirect(links.at("left.index", build_id, side))
