"""A head that does not exist: hidden truth by a seed, faults planted in it, and what of them was found."""

import random
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType

from arcstack.document import Build, Entry, Sitting, get
from arcstack.document.places import Place, places
from arcstack.readings.asked import ASKED
from arcstack.readings.instruments.simulated import pressed_n
from arcstack.readings.reading import Phase, Put, Reading
from arcstack.readings.sheet import Sheet
from arcstack.settings import setting
from arcstack.units.display import plain

HEIGHT_MM, LOAD, SOLID_MM = setting("learning.height"), setting("learning.load"), setting("learning.solid")
FITTING_MM = setting("learning.fitting")
MASS_KG, EARLY_MM = setting("learning.mass"), setting("learning.early")


class Kind(StrEnum):
    """What can be wrong with a head."""

    BENT = "a bent valve"
    LEAK = "a seat that leaks"
    EARLY = "a spring that goes solid early"
    WEAK = "a weak spring"
    SERIES = "a retainer series with an offset of its own"
    DEEP = "a lock that sits deep"


SHOWN_BY: Mapping[Kind, tuple[str, ...]] = MappingProxyType(
    {
        Kind.BENT: ("runout",),
        Kind.LEAK: ("vacuum", "vacuum_later"),
        Kind.EARLY: ("outer.solid",),
        Kind.WEAK: ("outer.load_1",),
        Kind.SERIES: ("open_height",),
        Kind.DEEP: ("open_height",),
    }
)
"""Readings that show each; one of them is enough."""

SPOILS: Mapping[Kind, tuple[str, ...]] = MappingProxyType(
    {
        Kind.BENT: ("valve.runout", "seat.vacuum"),
        Kind.LEAK: ("seat.vacuum", "seat.vacuum_decay"),
        Kind.EARLY: ("spring.reserve.outer", "spring.solid_sorted"),
        Kind.WEAK: ("spring.seat_load", "control.separation"),
        Kind.SERIES: ("stack.installed_height", "spring.seat_load"),
        Kind.DEEP: ("stack.installed_height", "spring.seat_load"),
    }
)
"""Checks that each makes worse."""

CONSEQUENCE: Mapping[Kind, str] = MappingProxyType(
    {
        Kind.BENT: "it seals on one side, burns there, and works its guide oval",
        Kind.LEAK: "compression is lost in that cylinder, and the seat burns",
        Kind.EARLY: "the spring is solid before full lift; in an engine this breaks it",
        Kind.WEAK: "this valve parts first and sets the speed of all",
        Kind.SERIES: "every spring of the side stands tall and carries less than it was bought for",
        Kind.DEEP: "the retainer climbs, the spring stands tall there, and that valve floats first",
    }
)


@dataclass(frozen=True)
class Lesson:
    """A scenario: what to look for in a few lines, an example, and which faults are planted."""

    key: str
    title: str
    lines: tuple[str, ...]
    example: str
    faults: tuple[Kind, ...]


LESSONS: Mapping[str, Lesson] = MappingProxyType(
    {
        lesson.key: lesson
        for lesson in (
            Lesson(
                "zero",
                "Instruments and zero",
                (
                    "Try each instrument on its standard before it reads anything.",
                    "Off by more than twice its resolution it reads nothing until it is set or corrected by name.",
                    "Read a thing twice: what lies far from its neighbours is most often a slip.",
                    "A reading has an instrument and a hand, or it counts as assumed.",
                ),
                "A micrometer of 0.01 reads 35.03 on its 35.00: off by 0.03, more than 0.02; heights would be tall.",
                (Kind.BENT,),
            ),
            Lesson(
                "heights",
                "Heights and shims",
                (
                    "Locator and the very locks of that place, retainer pulled up hard.",
                    "Twice each, to 0.03; a third decides.",
                    "One height far from the rest: look at its locks before its shims.",
                    "All of a side tall by as much: look at what they have in common.",
                    "Shims solved last, for what each place then has.",
                ),
                "Heights 36.80 36.82 36.79 37.35 36.81: the fourth is a lock that sits deep, not a seat cut deep.",
                (Kind.DEEP,),
            ),
            Lesson(
                "springs",
                "Springs, solid and matching",
                (
                    "A serial on each, and its own solid height: the lot's printed one is a guess.",
                    "Tallest solid allowed = H − gross lift − reserve wanted.",
                    "A load far below its fellows is a spring to retire, not to shim.",
                    "Match what passes; the spread is what the set will run with.",
                ),
                "38.20 − 10.40 − 2.00 = 25.80: a spring solid at 25.7 passes, one at 26.2 does not.",
                (Kind.EARLY, Kind.WEAK),
            ),
            Lesson(
                "compatibility",
                "Compatibility",
                (
                    "Parts that fit by hand may still stand elsewhere than they say.",
                    "Compare a whole side with its printed height before blaming a seat.",
                    "An offset that is common to all is the series; one that is alone is the place.",
                ),
                "Every open height of the intake 0.35 above the design: the retainers have an offset of their own.",
                (Kind.SERIES, Kind.DEEP),
            ),
            Lesson(
                "whole",
                "The whole head",
                (
                    "In the order of the bench: guides, seats, masses, vacuum, tips, heights, springs.",
                    "No spring in when a vacuum is read.",
                    "Stop and find the cause of what fails before anything is shimmed round it.",
                    "Sign when nothing stands against it, or say what does.",
                ),
                "Sixteen valves, four faults: a reading that was never taken finds none of them.",
                (Kind.BENT, Kind.LEAK, Kind.EARLY, Kind.DEEP),
            ),
        )
    }
)
"""Lessons in their order."""


@dataclass(frozen=True)
class Fault:
    """A fault as it was planted: at a place, or on a side, or in a spring."""

    kind: Kind
    place: str
    item: str = ""

    @property
    def where(self) -> str:
        return f"{self.item}, {self.place}" if self.item else self.place


@dataclass(frozen=True)
class Truth:
    """What every figure really is, canonical: by place or serial, and by figure."""

    values: Mapping[tuple[str, str], float]
    faults: tuple[Fault, ...]
    springs: Mapping[str, tuple[str, str]]
    """By serial: its sort, and the place in whose tray it lies."""

    def of(self, where: str, figure: str) -> float | None:
        """A figure as it really is; of a spring pressed to a height, asked for as ``outer@36.70``, its load."""
        sort, _, height = figure.partition("@")
        if height:
            return self.pressed(where, sort, float(height))
        return self.values.get((where, figure))

    def pressed(self, item: str, sort: str, height_mm: float) -> float | None:
        """What a spring carries at a height: on its line, beyond solid coil on coil; None for one that is not here."""
        line = [self.values.get((item, f"{sort}.{f}")) for f in ("height_1", "load_1", "height_2", "load_2", "solid")]
        if any(v is None for v in line):
            return None
        h1, f1, h2, f2, solid = (v for v in line if v is not None)
        return pressed_n(height_mm, (h1, f1), (h2, f2), solid)


def seen(hidden: Truth, sheet: Sheet, where: str, figure: str) -> float | None:
    """A figure as an instrument meets it in the head as it now lies: with the shims that were laid, and valves where
    they were put. A bent valve takes its leak along; a seat keeps its own."""
    place = next((p for p in sheet.places if p.label == where), None)
    if place is None:
        return hidden.of(where, figure)
    if figure in ("shims", "installed_height"):
        laid = sheet.settled(place, "shims")
        shims = laid.value if laid is not None else hidden.of(where, "shims")
        height = hidden.of(where, "open_height")
        if figure == "shims" or shims is None or height is None:
            return shims
        return height - shims
    home = _home(sheet, where)
    if figure in ("vacuum", "vacuum_later"):
        leaks = {f.place for f in hidden.faults if f.kind is Kind.LEAK}
        bent = {f.place for f in hidden.faults if f.kind is Kind.BENT}
        of_valve = where not in leaks and (home in bent or where in bent)
        return hidden.of(home if of_valve else where, figure)
    asked = ASKED.get(figure)
    with_valve = figure == "runout" or (asked is not None and asked.goes_with == "valve")
    return hidden.of(home if with_valve else where, figure)


def _home(sheet: Sheet, where: str) -> str:
    """The place at which the valve that now stands somewhere came in."""
    valve = sheet.item_at(where, "valve")
    first = next((e.place for e in sheet.events if isinstance(e, Put) and e.item == valve and e.place), where)
    return first if valve else where


def serial(place: Place, sort: str) -> str:
    """The tag of the spring that lies in a place's tray.

    >>> serial(Place(3, "intake", 2), "outer")
    'O-3I-B'
    """
    return f"{sort[0]}-{place.label}".upper()


def truth(build: Build, lesson: str, seed: int) -> Truth:
    """The hidden truth of a scenario: the design with spreads as a shop meets them, then the faults."""
    return _true_head(build, LESSONS[lesson].faults, random.Random(f"{lesson} {seed}"))


def sound_head(build: Build, seed: int) -> Truth:
    """A head with the spreads that a shop meets and no fault in it."""
    return _true_head(build, (), random.Random(seed))


def _true_head(build: Build, kinds: tuple[Kind, ...], dice: random.Random) -> Truth:
    values: dict[tuple[str, str], float] = {}
    springs: dict[str, tuple[str, str]] = {}
    every = places(build)
    for place in every:
        for figure, value in _place(build, place, dice).items():
            values[place.label, figure] = value
        for sort in ("outer", "inner"):
            item = serial(place, sort)
            springs[item] = sort, place.label
            for figure, value in _spring(build, place.side, sort, dice).items():
                values[item, f"{sort}.{figure}"] = value
    faults = []
    free = list(every)
    for kind in kinds:
        at = dice.choice(free)
        free.remove(at)
        tag = serial(at, "outer") if kind in (Kind.EARLY, Kind.WEAK) else ""
        fault = Fault(kind, at.side if kind is Kind.SERIES else at.label, tag)
        _plant(values, fault, at, every)
        faults.append(fault)
    return Truth(MappingProxyType(values), tuple(faults), MappingProxyType(springs))


def _drawn(build: Build, path: str, otherwise: float) -> float:
    entry = get(build, path)
    return entry.value if isinstance(entry, Entry) else otherwise


def _place(build: Build, place: Place, dice: random.Random) -> dict[str, float]:
    side = place.side
    stem = _drawn(build, f"{side}.stack.valve.stem", 5.97)
    middle = 0.027 if side == "intake" else 0.040
    width = 1.2 if side == "intake" else 1.6
    found = {f"stem_{h}": stem + dice.gauss(0.0, 0.001) for h in ("top", "middle", "bottom")}
    bores = [f"bore_{h}_{n}" for h in ("top", "middle", "bottom") for n in (1, 2)]
    found |= {bore: stem + middle + dice.gauss(0.0, 0.0015) for bore in bores}
    follower = f"{side}.follower.{build.engine.follower.value}.mass"
    found |= {
        "seat_width": width + dice.gauss(0.0, 0.04),
        "margin": (1.3 if side == "intake" else 1.6) + dice.gauss(0.0, 0.05),
        "runout": abs(dice.gauss(0.008, 0.004)),
        "vacuum": min(dice.gauss(0.82, 0.012), 0.88),
        "tip_height": 47.0 + dice.gauss(0.0, 0.03),
        "open_height": _drawn(build, f"{side}.stack.open_height", 37.0) + dice.gauss(0.0, HEIGHT_MM / 3.0),
        "valve_mass": _drawn(build, f"{side}.stack.valve.mass", 0.05) + dice.gauss(0.0, MASS_KG / 2.0),
        "retainer_mass": _drawn(build, f"{side}.stack.retainer.mass", 0.009) + dice.gauss(0.0, MASS_KG / 8.0),
        "locks_mass": _drawn(build, f"{side}.stack.locks.mass", 0.0024) + dice.gauss(0.0, MASS_KG / 40.0),
        "follower_mass": _drawn(build, follower, 0.04) + dice.gauss(0.0, MASS_KG / 4.0),
    }
    for key in (
        "retainer_step",
        "retainer_depth",
        "locator_thickness",
        "locator_step",
        "seal_height",
        "lobe_lift",
        "lash",
    ):
        entry = get(build, f"{side}.cam.lash" if key == "lash" else ASKED[key].of(build, side))
        if isinstance(entry, Entry):
            found[key] = entry.value + dice.gauss(0.0, FITTING_MM)
    shim_mass = get(build, f"{side}.follower.shim_mass")
    found |= {"shim_mass": shim_mass.value} if isinstance(shim_mass, Entry) else {}
    found["vacuum_later"] = found["vacuum"] - abs(dice.gauss(0.012, 0.006))
    shims = build.side(side).stack.shims
    found["shims"] = sum(s.value for s in shims if isinstance(s, Entry))
    found["installed_height"] = found["open_height"] - found["shims"]
    return found


def _spring(build: Build, side: str, sort: str, dice: random.Random) -> dict[str, float]:
    held = getattr(build.side(side).stack, sort)
    share = 1.0 + dice.gauss(0.0, LOAD / 2.0)
    loads = {n: entry.value * share for n in ("load_1", "load_2") if isinstance(entry := getattr(held, n), Entry)}
    loads |= {n: entry.value for n in ("height_1", "height_2") if isinstance(entry := getattr(held, n), Entry)}
    rest = {n: entry.value for n in ("solid", "free_length", "mass") if isinstance(entry := getattr(held, n), Entry)}
    if "solid" in rest:
        rest["solid"] += dice.gauss(0.0, SOLID_MM / 3.0)
    return loads | rest


def _plant(values: dict[tuple[str, str], float], fault: Fault, at: Place, every: tuple[Place, ...]) -> None:
    label = at.label
    if fault.kind is Kind.BENT:
        values[label, "runout"] = 0.11
        values[label, "vacuum"], values[label, "vacuum_later"] = 0.70, 0.60
    elif fault.kind is Kind.LEAK:
        values[label, "vacuum"], values[label, "vacuum_later"] = 0.64, 0.41
    elif fault.kind is Kind.EARLY:
        values[fault.item, "outer.solid"] = values.get((fault.item, "outer.solid"), 21.0) + EARLY_MM
    elif fault.kind is Kind.WEAK:
        for figure in ("outer.load_1", "outer.load_2"):
            values[fault.item, figure] = values.get((fault.item, figure), 250.0) * 0.88
    else:
        raised = 0.35 if fault.kind is Kind.SERIES else 0.55
        for place in every if fault.kind is Kind.SERIES else (at,):
            if place.side == at.side:
                for figure in ("open_height", "installed_height"):
                    values[place.label, figure] += raised


class Outcome(StrEnum):
    """What became of a planted fault."""

    FOUND = "found"
    SUSPECTED = "measured, not acted on"
    MISSED = "never measured"


def outcome(fault: Fault, sheet: Sheet) -> Outcome:
    """Found where a reading that shows it was taken and something was done about it; nothing is found unread.

    Acted on is a spring left out, a place whose parts were cut, changed or whose check was let pass by name.
    """
    keys = SHOWN_BY[fault.kind]
    if fault.item:
        read = any(sheet.of_item(fault.item, key) is not None for key in keys)
        # left out is what lies nowhere while its fellows are put
        acted = sheet.place_of(fault.item) is None and any(sheet.place_of(i) for i in sheet.springs)
    else:
        at = [p for p in sheet.places if fault.place in (p.label, p.side)]
        read = any(sheet.settled(p, key) is not None for p in at for key in keys)
        labels = {p.label for p in at}
        acted = any(sheet.cut_at(label) for label in labels) or any(w.place in labels for w in sheet.waivers)
        acted = acted or any(r.place in labels and r.key in keys and r.note for r in sheet.standing)
    if not read:
        return Outcome.MISSED
    return Outcome.FOUND if acted else Outcome.SUSPECTED


def true_sheet(build: Build, hidden: Truth, by: Sitting) -> Sheet:
    """The head as it really is, as if everything had been read without error."""
    readings: list[Reading] = []
    events = [Put(n, item, sort, place, by) for n, (item, (sort, place)) in enumerate(hidden.springs.items(), 1)]
    for (where, key), value in hidden.values.items():
        asked = ASKED.get(key)
        if asked is None or key == "installed_height":
            continue
        side = "exhaust" if "E-" in where else "intake"
        condition = {}
        if asked.item and key.endswith(("load_1", "load_2")):
            height = get(build, f"{side}.stack.{asked.item}.height_{key[-1]}")
            if not isinstance(height, Entry):
                continue
            condition = {"height_mm": height.value}
        typed = "none" if key == "shims" and not value else plain(value, asked.quantity(build, side).dimension)
        place, item = ("", where) if asked.item else (where, "")
        readings += [
            Reading(0, key, place, item, value, typed, by, Phase.FINAL, condition=condition) for _ in range(asked.times)
        ]
    return Sheet(build, readings, events)
