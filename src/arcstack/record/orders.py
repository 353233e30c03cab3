"""Parts on order: lines, what came in of them, what was measured, and what a substitute opens."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from arcstack.assess import Assessment
from arcstack.assess.fit import outcome
from arcstack.checks import Verdict
from arcstack.document import Build
from arcstack.errors import FieldError
from arcstack.readings.event import Event, of_kind
from arcstack.readings.recorded import Arrived, Inspected, Ordered, OrderOff, Substituted
from arcstack.settings import setting

MOST_PIECES = int(setting("orders.most_pieces"))


class State(StrEnum):
    """How a line stands, in the order it goes."""

    ORDERED = "on order"
    PART_CAME = "partly in"
    CAME = "in, not inspected"
    TURNED_AWAY = "does not pass"
    PASSED = "inspected"
    OFF = "taken back"


@dataclass(frozen=True)
class Line:
    """One line with everything that happened to it."""

    order: Ordered
    arrived: tuple[Arrived, ...]
    inspected: Inspected | None
    substitute: Substituted | None
    off: OrderOff | None

    @property
    def here(self) -> int:
        return sum(a.count for a in self.arrived)

    @property
    def state(self) -> State:
        if self.off is not None:
            return State.OFF
        if self.here < self.order.count:
            return State.PART_CAME if self.here else State.ORDERED
        if self.inspected is None:
            return State.CAME
        return State.PASSED if self.inspected.passes else State.TURNED_AWAY

    @property
    def open(self) -> bool:
        """Whether it stands against a release."""
        return self.state not in (State.PASSED, State.OFF)

    def late(self, today: date) -> int:
        """Days past the day it was due; 0 where it is in, or has no day.

        >>> from arcstack.document import Sitting
        >>> made = Ordered(1, "seal", (), 8, "worn", "", "2026-03-01", "2026-03-10", Sitting(hand="ada"))
        >>> Line(made, (), None, None, None).late(date(2026, 3, 14))
        4
        """
        if not self.order.due or self.state not in (State.ORDERED, State.PART_CAME):
            return 0
        return max((today - date.fromisoformat(self.order.due)).days, 0)


def lines(events: Sequence[Event]) -> tuple[Line, ...]:
    """Every line in the order it was made."""
    found = []
    for o in of_kind(events, Ordered):
        own = [e for e in events if getattr(e, "order", None) == o.number]
        tries = [e for e in of_kind(own, Inspected)]
        subs = [e for e in of_kind(own, Substituted)]
        # what was measured before another part was taken is no evidence of that part
        sub = subs[-1] if subs else None
        valid = [t for t in tries if sub is None or t.number > sub.number]
        came = tuple(e for e in of_kind(own, Arrived) if (sub is None or e.number > sub.number))
        off = [e for e in of_kind(own, OrderOff)]
        found.append(Line(o, came, valid[-1] if valid else None, sub, off[-1] if off else None))
    return tuple(found)


def line(events: Sequence[Event], number: int | None) -> Line:
    """A line that still stands. Raises ``FieldError``."""
    found = next((x for x in lines(events) if x.order.number == number), None)
    if found is None or found.off is not None:
        raise FieldError("order", "There is no such line, or it was taken back.")
    return found


def ordered(made: Ordered) -> Ordered:
    """A line that can be taken. Raises ``FieldError``."""
    if not made.part or not made.why:
        raise FieldError("part", "Which part, and why is it wanted?")
    if not 0 < made.count <= MOST_PIECES:
        raise FieldError("count", f"How many? From 1 to {MOST_PIECES}.")
    if made.due and made.day and made.due < made.day:
        raise FieldError("due", "It cannot be due before it is ordered.")
    if made.price is not None and (made.price < 0.0 or not math.isfinite(made.price)):
        raise FieldError("price", "A price is not below nought.")
    return made


def arrived(found: Line, made: Arrived) -> Arrived:
    """Pieces that can have come in. Raises ``FieldError``."""
    rest = found.order.count - found.here
    if not 0 < made.count <= rest:
        raise FieldError(
            "count", f"{rest} of {found.order.count} are still to come." if rest else "All of them are in."
        )
    return made


def inspected(found: Line, made: Inspected) -> Inspected:
    """A measurement that can stand for the line. Raises ``FieldError``."""
    if found.here < found.order.count:
        raise FieldError("found", f"{found.here} of {found.order.count} are in: measure them when all are.")
    if not made.found:
        raise FieldError("found", "What was measured? A part that was only looked at is not inspected.")
    if made.passes and not any(c.isdigit() for c in made.found):
        raise FieldError(
            "found", "What did it measure? “Looks right” is no figure: a delivery passes by what was read."
        )
    return made


@dataclass(frozen=True)
class Moved:
    """A check that a substitute moves: how it stood and how it would."""

    before: Verdict
    after: Verdict

    @property
    def turns(self) -> bool:
        return self.before.level is not self.after.level


@dataclass(frozen=True)
class Opens:
    """What taking another part opens: how it fits, and every check that it moves."""

    fits: str
    gaps: tuple[str, ...]
    moved: tuple[Moved, ...]

    @property
    def words(self) -> tuple[str, ...]:
        """As they are kept with the line."""
        return (*self.gaps, *(f"{m.after.title}{f', {m.after.side}' if m.after.side else ''}" for m in self.moved))


def opens(now: Assessment, then: Assessment, side: str, place: str) -> Opens:
    """Every fit and check that a part in a place of a side moves, the ones that turn first."""
    stands, gaps = outcome(then.sides[side], place)
    old = {v.key: v for v in now.verdicts}
    moved = [Moved(old[v.key], v) for v in then.verdicts if v.key in old and _differs(old[v.key], v)]
    order = sorted(moved, key=lambda m: (not m.turns, -m.after.level.severity))
    return Opens(stands.value, tuple(dict.fromkeys(g.gap.words for g in gaps)), tuple(order))


def _differs(one: Verdict, other: Verdict) -> bool:
    if one.level is not other.level:
        return True
    values = [v.figure.value if v.figure is not None else None for v in (one, other)]
    return values[0] != values[1]


def wanted(build: Build) -> tuple[tuple[str, str], ...]:
    """Parts that the build has from the shelf, by side and place: what an order list starts from."""
    return tuple((side, place) for side in ("intake", "exhaust") for place in build.side(side).from_shelf)
