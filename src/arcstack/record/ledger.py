"""The ledger of a head: who did what, when, and how it is known; and whether what others touched was measured since."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from functools import singledispatch

from arcstack.errors import FieldError
from arcstack.readings import Cut, Put, Reading, Sheet, Step
from arcstack.readings.asked import ASKED
from arcstack.readings.brought import BY_FILE, Brought, BroughtAct
from arcstack.readings.event import Event, of_kind
from arcstack.readings.left import settled_at, spots
from arcstack.readings.recorded import Known, Released, Reopened, Worked, Worker
from arcstack.readings.returning import Received
from arcstack.readings.sent_on import SentOn
from arcstack.readings.sheet import after_work


@dataclass(frozen=True)
class Entry:
    """One line of the ledger. ``since`` is how many of the figures it touched were measured by us after it, and of how
    many; None where it touched none."""

    at: datetime | None
    day: str
    worker: Worker
    name: str
    what: str
    known: str
    work: Worked | None = None
    since: tuple[int, int] | None = None

    @property
    def claim(self) -> bool:
        """Whether it is another's word and no measurement of ours."""
        return self.worker is not Worker.OWN and self.known != Known.SEEN


def since(sheet: Sheet, work: Worked) -> tuple[int, int]:
    """Of the figures that a piece of work touched: how many were measured after it, and how many there are."""
    steps = [s for s in Step if s.value in work.touched]
    own = [s for step in steps for s in spots(sheet, step) if not work.places or s.place.label in work.places]
    done = 0
    for spot in own:
        settled = settled_at(sheet, spot)
        done += bool(settled and settled.measured and not settled.stale and after_work(settled.last, work))
    return done, len(own)


def ledger(sheet: Sheet) -> tuple[Entry, ...]:
    """Everything that was done to the head, the newest first; readings as one line for a hand, a day and a phase."""
    found = [*_read(sheet.readings), *_put(sheet.events)]
    for e in sheet.events:
        made = _entry(e, sheet)
        if made is not None:
            found.append(made)
    return tuple(sorted(found, key=lambda x: (x.day, x.at or _LONG_AGO), reverse=True))


_LONG_AGO = datetime(1900, 1, 1, tzinfo=UTC)


@singledispatch
def _entry(e: Event, sheet: Sheet) -> Entry | None:
    """How an event stands in the ledger, where it does."""
    return None


@_entry.register
def _worked(e: Worked, sheet: Sheet) -> Entry:
    where = f" ({', '.join(e.places)})" if e.places else ""
    what = f"{e.done}{f'; parts: {e.parts}' if e.parts else ''}{where}"
    touched = since(sheet, e) if e.touched and e.worker is not Worker.OWN else None
    return Entry(_at(e), e.day or _day(e), e.worker, e.name or e.worker.value, what, e.known.value, e, touched)


@_entry.register
def _cut(e: Cut, sheet: Sheet) -> Entry:
    parts = ((e.face_mm, "face"), (e.seat_mm, "seat"), (e.tip_mm, "tip"))
    took = ", ".join(f"{mm:.2f} mm off the {name}" for mm, name in parts if mm)
    return _own(e, f"{took} at {e.place}{f', {e.note}' if e.note else ''}")


@_entry.register
def _received(e: Received, sheet: Sheet) -> Entry:
    return _own(e, f"Received: “{e.complaint}”{f'; touched since by {e.touched}' if e.touched else ''}")


@_entry.register
def _sent_on(e: SentOn, sheet: Sheet) -> Entry:
    return _own(e, f"Sent on into revision {e.revision}: {e.reason}")


@_entry.register
def _released(e: Released, sheet: Sheet) -> Entry:
    return _own(e, f"Revision {e.revision} signed; {e.answers} answers for clearance")


@_entry.register
def _reopened(e: Reopened, sheet: Sheet) -> Entry:
    return _own(e, f"Opened again: {e.reason}")


@_entry.register
def _brought(e: Brought, sheet: Sheet) -> Entry:
    acts = f", {e.acts} of which decide nothing here" if e.acts else ""
    return _own(e, f"Brought by the file “{e.file}”: {e.readings} readings, {e.events} events{acts}")


@_entry.register
def _told(e: BroughtAct, sheet: Sheet) -> Entry:
    return Entry(_at(e), _day(e), Worker.OTHER, e.by.hand, f"The file says: {e.words}", Known.PAPER.value)


def _own(e: Event, what: str) -> Entry:
    return Entry(_at(e), _day(e), Worker.OWN, e.by.hand, what, _known(e.by.hand))


def _known(hand: str) -> str:
    """What a file tells of a hand was not seen here."""
    return (Known.PAPER if hand.endswith(BY_FILE) else Known.SEEN).value


def _at(e: Event | Reading) -> datetime | None:
    at = e.by.at
    return None if at is None else at if at.tzinfo else at.replace(tzinfo=UTC)


def _day(e: Event | Reading) -> str:
    at = _at(e)
    return at.date().isoformat() if at is not None else ""


def _read(readings: Sequence[Reading]) -> list[Entry]:
    rows: dict[tuple[str, str, str], list[Reading]] = defaultdict(list)
    for r in readings:
        rows[_day(r), r.by.hand, r.phase_words].append(r)
    found = []
    for (day, hand, phase), own in rows.items():
        steps = list(dict.fromkeys(ASKED[r.key].step.value.lower() for r in own))
        tools = list(dict.fromkeys(r.by.instrument for r in own if r.by.instrument))
        what = f"{len(own)} readings, {phase}: {', '.join(steps[:4])}{' and more' if len(steps) > 4 else ''}"
        what += f"; with {', '.join(tools[:3])}" if tools else "; without an instrument"
        found.append(Entry(_at(own[-1]), day, Worker.OWN, hand, what, _known(hand)))
    return found


def _put(events: Sequence[Event]) -> list[Entry]:
    rows: dict[tuple[str, str, str], list[Put]] = defaultdict(list)
    for e in of_kind(events, Put):
        rows[_day(e), e.by.hand, e.sort].append(e)
    found = []
    for (day, hand, sort), own in rows.items():
        put, out = sum(bool(e.place) for e in own), sum(not e.place for e in own)
        said = [
            f"{n} {sort}{'s' if n > 1 else ''} {how}" for n, how in ((put, "put in place"), (out, "taken out")) if n
        ]
        words = ", ".join(said)
        found.append(Entry(_at(own[-1]), day, Worker.OWN, hand, words, _known(hand)))
    return found


def told(made: Worked, today: date) -> Worked:
    """A piece of work that can be written down. Raises ``FieldError``."""
    if not made.done:
        raise FieldError("done", "What was done?")
    if made.day and made.day > today.isoformat():
        raise FieldError("day", "That day is still to come: the ledger tells of what was done.")
    if made.worker is Worker.OTHER and not made.name:
        raise FieldError("name", "Which shop? “Not known” is an answer too.")
    unknown = [s for s in made.touched if s not in {x.value for x in Step}]
    if unknown:
        raise FieldError("touched", f"The bench has no step called {unknown[0]}.")
    return made
