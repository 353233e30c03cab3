"""What has to be counted before a head goes on: how many of each there must be, and whether the count closes."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from types import MappingProxyType

from arcstack.assembly.steps import Step, has, inner_apart, own_seal
from arcstack.document import SIDES, Absent
from arcstack.document.parts import Shimming
from arcstack.document.parts.follower import Adjuster, Lever
from arcstack.readings import Sheet
from arcstack.readings.asked import hydraulic
from arcstack.readings.assembling import Held, tools_held
from arcstack.readings.built import thicknesses


@dataclass(frozen=True)
class Count:
    """``wanted`` is how many there must be; None while it cannot be told, and ``why`` says what is missing."""

    key: str
    title: str
    wanted: int | None
    why: str = ""

    def short(self, counted: int) -> str:
        """What is wrong with a count, in words; empty where it closes.

        >>> Count("locks", "Locks", 16).short(14), Count("locks", "Locks", 16).short(16)
        ('Locks: 14 of 16, 2 short', '')
        """
        if self.wanted is None or counted == self.wanted:
            return ""
        off = self.wanted - counted
        return f"{self.title}: {counted} of {self.wanted}, {abs(off)} {'short' if off > 0 else 'too many'}"


Told = tuple[int | None, str]


def _valves(sheet: Sheet, side: str, each: int = 1) -> Told:
    return each * sum(p.side == side for p in sheet.places), ""


def _locators(sheet: Sheet, side: str) -> Told:
    thickness = sheet.build.side(side).stack.locator.thickness
    if isinstance(thickness, Absent):
        return 0, ""
    if not has(sheet.build, side, "locator"):
        return None, "say at the stack whether there is a locator"
    return _valves(sheet, side)


def _shims(sheet: Sheet, side: str) -> Told:
    found = 0
    if all(isinstance(s, Absent) for s in sheet.build.side(side).stack.shims if s is not None) and any(
        sheet.build.side(side).stack.shims
    ):
        return 0, ""
    for place in (p for p in sheet.places if p.side == side):
        settled = sheet.settled(place, "shims")
        if settled is None:
            return None, f"no shims are laid down for {place.label}"
        found += len(thicknesses(settled.last.typed))
    return found, ""


def _lash_shims(sheet: Sheet, side: str) -> Told:
    graded = sheet.build.side(side).follower.bucket.shimming is Shimming.GRADED
    return (0, "") if graded else _valves(sheet, side)


def _lash_caps(sheet: Sheet, side: str) -> Told:
    follower = sheet.build.side(side).follower.of(sheet.build.engine.follower)
    by_cap = isinstance(follower, Lever) and follower.adjuster is Adjuster.SHIM
    return _valves(sheet, side) if by_cap or has(sheet.build, side, "cap") else (0, "")


def _checking(sheet: Sheet, side: str) -> Told:
    mock = sheet.mock_up(side)
    if not mock.begun:
        return 0, ""
    if mock.closed is None:
        return None, f"the mock-up of the {side} side is not taken down yet"
    return mock.closed.springs_in, ""


_BY_SIDE: Mapping[str, tuple[str, Callable[[Sheet, str], Told]]] = MappingProxyType(
    {
        "valves": ("Valves", _valves),
        "locators": ("Locators or hard seats", _locators),
        "shims": ("Shims under the springs", _shims),
        "seals": ("Seals", lambda sheet, side: _valves(sheet, side) if own_seal(sheet.build, side) else (0, "")),
        "outer": ("Outer springs", _valves),
        "inner": ("Inner springs", lambda sheet, side: _valves(sheet, side, int(inner_apart(sheet.build, side)))),
        "retainers": ("Retainers", _valves),
        "locks": ("Locks", lambda sheet, side: _valves(sheet, side, 2)),
        "buckets": ("Buckets", _valves),
        "lash_shims": ("Lash shims", _lash_shims),
        "followers": ("Followers", _valves),
        "lash_caps": ("Lash caps or shims", _lash_caps),
        "adjusters": (
            "Adjusters", lambda sheet, side: _valves(sheet, side) if hydraulic(sheet.build, side) else (0, "")
        ),
        "checking": ("Checking springs out", _checking),
    }
)  # fmt: skip
"""Counted side by side, since the sides' parts look alike."""


def _typed(field: str, what: str) -> Callable[[Sheet, Mapping[str, str]], Told]:
    def told(_sheet: Sheet, typed: Mapping[str, str]) -> Told:
        text = typed.get(field, "")
        return (int(text), "") if text.isdigit() else (None, f"say first how many {what} this head has")

    return told


def _tools(*held: Held) -> Callable[[Sheet, Mapping[str, str]], Told]:
    return lambda sheet, _typed: (sum(h in held for h in tools_held(sheet.events).values()), "")


_OF_HEAD: Mapping[str, tuple[str, Callable[[Sheet, Mapping[str, str]], Told]]] = MappingProxyType(
    {
        "plugs": ("Oilway plugs in", _typed("plugs_wanted", "oilway plugs")),
        "caps": ("Caps on", _typed("caps_wanted", "caps")),
        "head_nuts": ("Head studs torqued", _typed("nuts_wanted", "head studs")),
        "left": ("Parts of this head still in the trays", lambda _sheet, _typed: (0, "")),
        "small_tools": ("Tools back on the bench", _tools(Held.OWNED, Held.BORROWED, Held.MADE)),
        "borrowed": ("Borrowed tools given back", _tools(Held.BORROWED)),
    }
)


def counts_of(step: Step, sheet: Sheet, typed: Mapping[str, str] | None = None) -> tuple[Count, ...]:
    """What a step counts in this head, side by side where the sides' parts look alike; nothing of what it has none."""
    found = []
    for key in step.counts:
        if key in _OF_HEAD:
            title, tells = _OF_HEAD[key]
            wanted, why = tells(sheet, typed or {})
            found.append(Count(key, title, wanted, why))
            continue
        title, by_side = _BY_SIDE[key]
        for side in SIDES:
            wanted, why = by_side(sheet, side)
            if wanted != 0:
                found.append(Count(f"{key}.{side}", f"{title}, {side}", wanted, why))
    return tuple(found)
