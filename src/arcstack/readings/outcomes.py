"""What became of the faults of a lesson: read, named for what they are, where they are, and named where none is."""

import math
from enum import StrEnum

from arcstack.readings.event import of_kind
from arcstack.readings.lash_history import Caused
from arcstack.readings.learning import Fault, Truth
from arcstack.readings.lessons import SHOWN_BY, Kind
from arcstack.readings.mock_up import Moved, Pass
from arcstack.readings.reading import FaultNamed, Taught
from arcstack.readings.sheet import Sheet

ABOUT_RIGHT_RAD = math.radians(1.0)
"""A cam moved to within this is where it belongs."""


class Outcome(StrEnum):
    """What became of a planted fault."""

    FOUND = "found"
    SUSPECTED = "measured, not named"
    MISSED = "never measured"


BEFORE_YOU = "the shop before you"
"""Whose hand read what a lesson begins with."""

SUNK_BY = ("seat recession", "step worn in the face", "stretched stem or head", "loose seat")
"""Causes that a valve which sinks may be told by; which of them it is only the seat itself says."""

_AT_THE_MOCK_UP = (Kind.TIMED, Kind.TIGHT)


def until_the_end(sheet: Sheet) -> Sheet:
    """The head as its lesson ended: what was read or said once the truth was shown counts for nothing."""
    end = next((e.number for e in of_kind(sheet.events, Taught) if e.ended), None)
    if end is None:
        return sheet
    before = [e for e in sheet.events if e.number <= end]
    return Sheet(sheet.build, [r for r in sheet.readings if r.number < end], before)


def named(sheet: Sheet) -> tuple[FaultNamed, ...]:
    """The faults that a learner named and did not take back, each once."""
    found: dict[tuple[str, str], FaultNamed] = {}
    for e in sheet.events:
        if isinstance(e, FaultNamed):
            found.pop((e.fault, e.where), None)
            if not e.off:
                found[e.fault, e.where] = e
    return tuple(found.values())


def is_named(fault: Fault, by: FaultNamed) -> bool:
    """Whether a name is this fault's: what it is, and where; a spring by its serial or by the place of its tray."""
    return by.fault == fault.kind.value and by.where in (fault.place, fault.item)


def false_alarms(sheet: Sheet, hidden: Truth) -> tuple[FaultNamed, ...]:
    """What was named and is not there."""
    return tuple(n for n in named(sheet) if not any(is_named(f, n) for f in hidden.faults))


def _mock_outcome(fault: Fault, sheet: Sheet, hidden: Truth, said: bool) -> Outcome:
    """A cam is found once read and moved to within a degree, or named; a chamber once pushed and named."""
    side = fault.place
    mock = sheet.mock_up(side)
    if fault.kind is Kind.TIMED:
        moved = math.fsum(e.cam_rad for e in of_kind(sheet.events, Moved) if e.side == side)
        read = any(isinstance(e, Pass) and e.side == side and e not in mock.withdrawn for e in sheet.events)
        left = hidden.mocked.early_rad[side] + 2.0 * moved
        found = read and (said or (moved != 0.0 and abs(left) <= ABOUT_RIGHT_RAD))
        return Outcome.FOUND if found else Outcome.SUSPECTED if read else Outcome.MISSED
    if not mock.pushes and not mock.clays:
        return Outcome.MISSED
    return Outcome.FOUND if said else Outcome.SUSPECTED


def outcome(fault: Fault, sheet: Sheet, hidden: Truth) -> Outcome:
    """Found where the learner took a reading that shows it and named it for what it is, where it is; nothing is found
    unread, or by what the shop before read.

    A spring is named by leaving it out too, a sinking valve by its cause in the history of its lash, a cam by moving it
    to where it belongs. ``sheet`` is as the lesson ended.
    """
    said = any(is_named(fault, n) for n in named(sheet))
    if fault.kind in _AT_THE_MOCK_UP:
        return _mock_outcome(fault, sheet, hidden, said)
    keys = SHOWN_BY[fault.kind]
    own = [r for r in sheet.standing if r.key in keys and r.by.hand != BEFORE_YOU]
    if fault.item:
        read = any(r.item == fault.item for r in own)
        # left out is what lies nowhere while its fellows are put
        said = said or (sheet.place_of(fault.item) is None and any(sheet.place_of(i) for i in sheet.springs))
    else:
        labels = {p.label for p in sheet.places if fault.place in (p.label, p.side)}
        read = any(r.place in labels for r in own)
    if fault.kind is Kind.SINKS:
        causes = [e for e in of_kind(sheet.events, Caused) if e.place == fault.place]
        said = said or (bool(causes) and causes[-1].cause in SUNK_BY)
    if not read:
        return Outcome.MISSED
    return Outcome.FOUND if said else Outcome.SUSPECTED
