"""The build's own record as a witness: what its design, its readings and its services say of each cause."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType

from arcstack.assess import Assessment, checks
from arcstack.assess.built import Built
from arcstack.checks import Level, Verdict
from arcstack.document import SIDES
from arcstack.readings import Sheet
from arcstack.readings.assembling import State, Stepped
from arcstack.readings.event import of_kind
from arcstack.readings.lash_history import services_of
from arcstack.settings import setting
from arcstack.trials.lashing import judged
from arcstack.units import LENGTH, System, show
from arcstack.wear.order import PREFIX

LOST = setting("wear.springs_lost")

_CHECKS: Mapping[str, tuple[str, ...]] = MappingProxyType(
    {
        "float": (
            "control.separation", "control.elastic_separation", "control.overspeed", "control.bounce", "life.limiter",
        ),
        "load_lost": ("spring.loss", "spring.seat_load", "stack.installed_height"),
        "goes_solid": ("spring.reserve.outer", "spring.reserve.inner"),
        "lash_tight": ("lash.band",),
        "starvation": ("oil.return", "oil.spray"),
        "heat": ("valve.runout",),
        "contact": ("piston.clearance", "piston.clearance_swept", "piston.clearance_running", "valve.to_valve"),
        "on_seal": ("stack.retainer_seal",),
        "stopped": ("follower.edge_margin",),
        "wrong_assembly": ("fit.lock_depth", "fit.locator", "fit.taper"),
    }
)  # fmt: skip
"""Checks that testify for a cause where they fail, and against it where they are proven clear."""


@dataclass(frozen=True)
class Witness:
    """What the record says of one cause: ``speaks`` is 1 for it, −1 against it, 0 where it only knows. ``check`` and
    ``side``, or ``place``, say where it stands."""

    cause: str
    speaks: int
    words: str
    check: str = ""
    side: str = ""
    place: str = ""


def witnesses(design: Assessment, built: Built, sheet: Sheet, system: System = System.MM) -> tuple[Witness, ...]:
    """Everything that the build's own record says of any cause, in the words of a system."""
    found: list[Witness] = []
    for cause, own in _CHECKS.items():
        for side in SIDES:
            for check in own:
                told = _of_check(design, built, (cause, check, side), system)
                if told is not None:
                    found.append(told)
    return (*found, *_lash(design, sheet), *_limiter(sheet), *_assembly(sheet))


def _of_check(design: Assessment, built: Built, asked: tuple[str, str, str], system: System) -> Witness | None:
    """The worst valve of a side as built, else the design."""
    cause, check, side = asked
    across = next((a for a in built.sides[side] if a.check == check), None)
    place, verdict = "", next((v for v in design.of_side(side) if v.id == check), None)
    if across is not None:
        at, verdict = across.worst
        place = at.label
    if verdict is None or verdict.figure is None or verdict.limit is None or (_of_engine(check) and side != SIDES[0]):
        return None
    speaks = {Level.FAIL: 1, Level.WAIVED: 1, Level.TIGHT: 0, Level.CLEAR: -1}.get(verdict.level)
    if speaks is None:
        return None
    if speaks < 0 and not verdict.proven:
        speaks = 0  # what is clear on paper alone is no witness against anything
    read = across is not None and across.begun > 0
    where = "" if _of_engine(check) else f" at {place}" if read else f", {side}"
    return Witness(cause, speaks, f"{verdict.title}{where}: {_worded(verdict, system)}", check, side, place)


def _of_engine(check: str) -> bool:
    """Whether a check is of the whole engine, alike for every valve."""
    return checks()[check].stage == "turbo"


def _worded(verdict: Verdict, system: System) -> str:
    assert verdict.figure is not None
    assert verdict.limit is not None
    limit, dimension, more = verdict.limit, verdict.figure.dimension, 0
    rows = [(word, end) for word, end in (("at least", limit.low), ("at most", limit.high)) if end is not None]
    if any(str(show(end, dimension, system)) == str(show(verdict.figure.value, dimension, system)) for _, end in rows):
        more = 1  # told apart from its limit
    value = show(verdict.figure.value, dimension, system, more)
    ends = [f"{word} {show(end, dimension, system, more)}" for word, end in rows]
    proof = "" if verdict.proven else ", on paper"
    return f"{value}, {' and '.join(ends)}, {verdict.level.value}{proof}"


def _lash(design: Assessment, sheet: Sheet) -> list[Witness]:
    """Lash that closed over services, valve by valve: the one that closed most."""
    rows = [(sheet.lash_of(p), p) for p in sheet.places]
    closed = [(h.trend.total_mm, h, p) for h, p in rows if not h.beds and len(h.stages) > 1 and h.trend.total_mm > 0.0]
    if not closed:
        told = [h for h, _ in rows if not h.beds and len(h.stages) > 1]
        words = f"Lash held its place at {len(told)} valves over services"
        return [Witness("load_lost", -1, words)] if told else []
    total, history, place = max(closed, key=lambda row: row[0])
    level, words = judged(design.sides[place.side], history)
    steps = ", ".join(str(show(s, LENGTH)) for s in history.trend.steps_mm)
    said = f"Lash at {place.label} closed by {steps}, {show(total, LENGTH)} in all{': ' + words if words else ''}"
    speaks = 1 if level in (Level.FAIL, Level.TIGHT) else 0
    return [Witness("load_lost", speaks, said, "lash.trend", place.side, place.label)]


def _limiter(sheet: Sheet) -> list[Witness]:
    events = sum(s.limiter_events or 0 for s in services_of(sheet.events).values())
    return [Witness("float", 0, f"{events} limiter events since it was built", "life.limiter")] if events else []


def _assembly(sheet: Sheet) -> list[Witness]:
    """Whether every step of its assembly was closed."""
    last = {e.step: e for e in of_kind(sheet.events, Stepped) if not e.step.startswith(PREFIX)}
    if not last:
        return []
    skipped = [e.step for e in last.values() if e.state is State.SKIPPED]
    open_ = [e.step for e in last.values() if e.state not in (State.DONE, State.SKIPPED)]
    if skipped or open_:
        words = f"Of its assembly {len(skipped)} steps were skipped and {len(open_)} were left open"
        return [Witness("wrong_assembly", 1, words)]
    return [Witness("wrong_assembly", -1, "Every step of its assembly was closed and counted")]


def signs_by_record(built: Built, sheet: Sheet, design: Assessment) -> tuple[str, ...]:
    """Signs that readings show by themselves: lash that closes, springs that lost their load or kept it."""
    found = []
    for told in _lash(design, sheet):
        if told.speaks > 0:
            found.append("lash_closing")
    lost = _losses(built)
    if lost and max(lost) > LOST:
        found.append("springs_lost")
    elif lost and len(lost) == len(sheet.places):
        found.append("springs_kept")
    return tuple(found)


def _losses(built: Built) -> list[float]:
    """Share of load lost at every place where a spring was read before and after service."""
    rows = [a for side in SIDES for a in built.sides[side] if a.check == "spring.loss"]
    return [v.figure.value for a in rows for _, v in a.at if v.figure is not None]


def of_cause(found: Sequence[Witness], cause: str) -> tuple[Witness, ...]:
    """What speaks of one cause, what is for it first."""
    return tuple(sorted((t for t in found if t.cause == cause), key=lambda t: -t.speaks))
