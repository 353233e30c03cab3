"""A head that does not exist: hidden truth by a seed, faults planted in it, and what of them was found."""

import math
import random
from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

from arcstack.document import SIDES, Build, Entry, Sitting, change, get, put
from arcstack.document.places import Place, places
from arcstack.readings.asked import ASKED
from arcstack.readings.event import of_kind
from arcstack.readings.instruments.simulated import pressed_n
from arcstack.readings.lessons import LESSONS, Kind
from arcstack.readings.mock_up import Kept
from arcstack.readings.reading import Phase, Put, Reading
from arcstack.readings.sheet import Sheet
from arcstack.settings import setting
from arcstack.units import LENGTH
from arcstack.units.display import plain

HEIGHT_MM, LOAD, SOLID_MM = setting("learning.height"), setting("learning.load"), setting("learning.solid")
FITTING_MM = setting("learning.fitting")
MASS_KG, EARLY_MM = setting("learning.mass"), setting("learning.early")
SERVICES_MM = (0.06, 0.05, 0.08)
"""What a sinking valve closes by, service by service."""

SUNK_MM = round(math.fsum(SERVICES_MM), 6)


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
class Mocked:
    """An engine as it is turned by hand: how late its pointer reads, how much earlier each cam stands than its card,
    the slack of its chain and where its stop meets the piston, crank rad; how much tighter its chamber is, mm."""

    pointer_rad: float
    early_rad: Mapping[str, float]
    slack_rad: float
    stop_rad: float
    tight_mm: Mapping[str, float]


@dataclass(frozen=True)
class Truth:
    """What every figure really is, canonical: by place or serial, and by figure."""

    values: Mapping[tuple[str, str], float]
    faults: tuple[Fault, ...]
    springs: Mapping[str, tuple[str, str]]
    """By serial: its sort, and the place in whose tray it lies."""
    mocked: Mocked

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
    first = next((e.place for e in of_kind(sheet.events, Put) if e.item == valve and e.place), where)
    return first if valve else where


def serial(place: Place, sort: str) -> str:
    """The tag of the spring that lies in a place's tray.

    >>> serial(Place(3, "intake", 2), "outer")
    'O-3I-B'
    """
    return f"{sort[0]}-{place.label}".upper()


def head_for(lesson: str, build: Build) -> Build:
    """The head that a lesson is taught on: for a phaser one that has it, clear on paper at its most."""
    if lesson == "phaser":
        build = change(build, "intake.cam.phaser_advance", "30 deg")
        build = change(build, "intake.clearance.drop_at_tdc", "7.2 mm")
    return build


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
        of_side = kind in (Kind.SERIES, Kind.TIMED, Kind.TIGHT)
        # only the intake of that head has a phaser
        of_which = SIDES[0] if kind is Kind.TIGHT else at.side if of_side else at.label
        fault = Fault(kind, of_which, tag)
        _plant(values, fault, at, every)
        faults.append(fault)
    # a die of its own, so that what is read of a head stays as it was before an engine was turned
    mocked = _mocked(faults, random.Random(f"turned {dice.random()}"))
    return Truth(MappingProxyType(values), tuple(faults), MappingProxyType(springs), mocked)


def _mocked(faults: list[Fault], dice: random.Random) -> Mocked:
    early = {side: math.radians(dice.uniform(-0.3, 0.3)) for side in SIDES}
    tight = dict.fromkeys(SIDES, 0.0)
    for fault in faults:
        if fault.kind is Kind.TIMED:
            early[fault.place] = math.radians(dice.choice((-1.0, 1.0)) * dice.uniform(2.0, 6.0))
        if fault.kind is Kind.TIGHT:
            tight[fault.place] = dice.uniform(1.2, 1.6)
    pointer = math.radians(dice.choice((-1.0, 1.0)) * dice.uniform(0.8, 2.5))
    slack, stop = math.radians(dice.uniform(1.5, 3.0)), math.radians(dice.uniform(28.0, 36.0))
    return Mocked(pointer, MappingProxyType(early), slack, stop, MappingProxyType(tight))


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
    elif fault.kind is Kind.SINKS:
        values[label, "vacuum"], values[label, "vacuum_later"] = 0.70, 0.55
        values[label, "seat_width"] += 0.7
        for figure in ("open_height", "installed_height", "tip_height"):
            values[label, figure] += SUNK_MM
    elif fault.kind in (Kind.TIMED, Kind.TIGHT):
        # nothing that is read at one valve's place
        return
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
    kept = [
        Kept(len(events) + n, side, advance, "as it really stands", by)
        for n, (side, advance) in enumerate(hidden.mocked.early_rad.items(), 1)
    ]
    return Sheet(_true_build(build, hidden), readings, [*events, *kept])


def _true_build(build: Build, hidden: Truth) -> Build:
    """The design with its chambers as they really are."""
    for side, tight in hidden.mocked.tight_mm.items():
        path = f"{side}.clearance.drop_at_tdc"
        drop = get(build, path)
        if tight and isinstance(drop, Entry):
            value = drop.value - tight
            build = put(build, path, drop.model_copy(update={"value": value, "typed": plain(value, LENGTH)}))
    return build


def served_before(build: Build, hidden: Truth) -> list[tuple[str, str, str, int]]:
    """What the shop before you read and set, where a valve sinks: key, place, text and service of each reading.

    Every other valve beds by a hundredth or two and stays; the sinking one closes by what it has sunk.
    """
    sinks = {f.place for f in hidden.faults if f.kind is Kind.SINKS}
    if not sinks:
        return []
    rows: list[tuple[str, str, str, int]] = []
    for place in places(build):
        target = _drawn(build, f"{place.side}.cam.lash", 0.20)
        dice = random.Random(f"services {place.label} {sorted(sinks)}")
        rows += [("lash_shim", place.label, f"{dice.choice((2.60, 2.65, 2.70, 2.75, 2.80)):.2f} mm", 0)]
        rows += [("lash", place.label, f"{target:.2f} mm", 0)]
        closes = (0.02, *SERVICES_MM) if place.label in sinks else (dice.choice((0.01, 0.02)), 0.0, 0.0, 0.0)
        for service, closed in enumerate(closes, 1):
            found = target - closed + (0.0 if place.label in sinks else dice.choice((-0.01, 0.0, 0.01)))
            rows.append(("lash", place.label, f"{max(found, 0.0):.2f} mm", service))
            if service < len(closes):
                rows.append(("lash", place.label, f"{target:.2f} mm", service))
    return rows
