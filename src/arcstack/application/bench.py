"""The bench of a build: readings taken, taken back and corrected, springs put, metal cut, gates signed."""

import json
from collections.abc import Sequence
from dataclasses import replace
from datetime import UTC, datetime
from threading import Lock

from arcstack.application.frozen import not_signed_off
from arcstack.application.kept import Kept
from arcstack.assess import Assessment
from arcstack.assess.built import Built, built
from arcstack.document import Build, Sitting
from arcstack.errors import FieldError
from arcstack.formats.readings_json import event_json, read_event, read_reading, reading_json
from arcstack.readings import Cut, Event, Phase, Put, Reading, Sheet, Zero
from arcstack.readings.asked import ITEMS, SPRINGS
from arcstack.readings.brought import Brought, BroughtAct, event_by_file, reading_by_file
from arcstack.readings.recorded import OF_ORDERS, OPENS_BENCH, Released, Reopened, release
from arcstack.readings.taking import How, place_called, read_at, read_of, serial_of, taken_back
from arcstack.record.orders import Line, lines
from arcstack.record.release import digest
from arcstack.settings import setting
from arcstack.store import Builds, Database, EventRow, ReadingRow, Readings, Session

KEPT, MOST_CUT_MM = int(setting("bench.kept")), setting("bench.most_cut")

_COLUMNS = ("number", "key", "place", "item", "value", "typed", "by", "phase", "service", "replaces", "void")


Taken = tuple[str, str, str, str, How]
"""A reading to take: its key, its place or its item, the text, and how."""


class Bench:
    """The bench of every build of a workshop."""

    def __init__(self, database: Database) -> None:
        self.database = database
        self._lock = Lock()
        self._sheets: Kept[int, tuple[tuple[int, int], Sheet]] = Kept(KEPT)
        self._built: Kept[int, Built] = Kept(KEPT)
        self._zeros: tuple[Zero, ...] = ()
        self._zeros_upto = 0

    # -- what there is

    def sheet(self, build_id: int, build: Build) -> Sheet:
        """Everything read of a head, laid against the design as it stands."""
        with self.database.session() as session:
            return self._kept(session, build_id, build)

    def _kept(self, session: Session, build_id: int, build: Build) -> Sheet:
        """Rows are only ever added: what was read before is kept, and what came since is read on to it.

        A sheet itself is kept, with what it was found to come to, for as long as neither it nor its design changes.
        """
        mark = Readings(session).mark(build_id)
        kept = self._sheets.get(build_id)
        zeros = self._zero_checks(session)
        if kept is not None and kept[0] == mark and kept[1].build is build and kept[1].zeros is zeros:
            sheet = kept[1]
        else:
            sheet = self._sheet(session, build_id, build)
        self._sheets.put(build_id, (mark, sheet))
        return sheet

    def _sheet(self, session: Session, build_id: int, build: Build) -> Sheet:
        """As the unit of work sees it: what it has added may yet be undone, so nothing of it is kept."""
        rows = Readings(session)
        held = self._sheets.get(build_id)
        mark = rows.mark(build_id)
        last, event = (0, 0)
        readings: tuple[Reading, ...] = ()
        events: tuple[Event, ...] = ()
        if held is not None and mark[0] >= held[0][0] and mark[1] >= held[0][1]:
            (last, event), readings, events = held[0], held[1].readings, held[1].events
        if mark[0] > last:
            readings = (*readings, *(_reading(r) for r in rows.all(build_id, last)))
        if mark[1] > event:
            events = (*events, *(_event(e) for e in rows.events(build_id, event)))
        return Sheet(build, readings, events, self._zero_checks(session))

    def _zero_checks(self, session: Session) -> tuple[Zero, ...]:
        """Every zero check of the workshop's instruments: what came since it was last asked is read on to it."""
        with self._lock:
            held, upto = self._zeros, self._zeros_upto
        rows = Readings(session).of_kind_after(Zero.kind, upto)
        if not rows:
            return held
        made = (*held, *(e for e in map(_event, rows) if isinstance(e, Zero)))
        with self._lock:
            self._zeros, self._zeros_upto = made, rows[-1].number
        return made

    def orders(self) -> dict[int, tuple[Line, ...]]:
        """Lines on order of every head that has any."""
        with self.database.session() as session:
            rows = Readings(session).of_kinds([k.kind for k in OF_ORDERS])
        events: dict[int, list[Event]] = {}
        for build_id, row in rows:
            events.setdefault(build_id, []).append(_event(row))
        return {build_id: lines(own) for build_id, own in events.items()}

    def marks(self, build_id: int) -> tuple[int, int]:
        """The last reading and the last event of a head."""
        with self.database.session() as session:
            return Readings(session).mark(build_id)

    def sheet_at(self, build_id: int, build: Build, marks: tuple[int, int]) -> Sheet:
        """The sheet as it stood at a reading and an event: what a signature was put under."""
        whole = self.sheet(build_id, build)
        return Sheet(
            build,
            [r for r in whole.readings if r.number <= marks[0]],
            [e for e in whole.events if e.number <= marks[1]],
            [e for e in whole.zeros if e.number <= max(marks)],
        )

    def built(self, build_id: int, design: Assessment, sheet: Sheet) -> Built:
        """The head as built, with what has not changed since it was last asked for kept."""
        return self._built.put(build_id, built(design, sheet, self._built.get(build_id)))

    # -- what is added

    def read(self, build_id: int, build: Build, key: str, place: str, text: str, how: How) -> Reading:
        """Take a reading at a place. Raises ``FieldError``, ``Doubtful``."""
        with self.database.session(writes=True) as session:
            sheet = self._sheet(session, build_id, build)
            return _taken(session, build_id, read_at(sheet, key, place, text, how))

    def read_spring(self, build_id: int, build: Build, key: str, item: str, text: str, how: How) -> Reading:
        """Take a reading of a spring. Raises ``FieldError``, ``Doubtful``."""
        with self.database.session(writes=True) as session:
            sheet = self._sheet(session, build_id, build)
            return _taken(session, build_id, read_of(sheet, key, item, text, how))

    def take_all(self, build_id: int, build: Build, rows: Sequence[Taken]) -> int:
        """Take many readings, all of them or none; each is held to those before it. Raises as ``read`` does."""
        with self.database.session(writes=True) as session:
            self._take_all(session, build_id, build, rows)
        return len(rows)

    def take_within(self, session: Session, build_id: int, build: Build, rows: Sequence[Taken]) -> None:
        """``take_all`` within a unit of work that does more. Raises as it does."""
        self._take_all(session, build_id, build, rows)

    def _take_all(self, session: Session, build_id: int, build: Build, rows: Sequence[Taken]) -> None:
        for key, place, item, text, how in rows:
            sheet = self._sheet(session, build_id, build)
            made = read_of(sheet, key, item, text, how) if item else read_at(sheet, key, place, text, how)
            _taken(session, build_id, made)

    def take_back(self, build_id: int, build: Build, number: int, by: Sitting) -> Reading:
        """Take one back; it stays to be seen. Raises ``FieldError`` for one that does not stand."""
        with self.database.session(writes=True) as session:
            sheet = self._sheet(session, build_id, build)
            found = next((r for r in sheet.standing if r.number == number), None)
            if found is None:
                raise FieldError("reading", "That reading was replaced or taken back already.")
            return _taken(session, build_id, taken_back(found, by))

    def put(self, build_id: int, build: Build, item: str, sort: str, place: str, by: Sitting) -> None:
        """Put an item into a place, whatever stood there taken out; into none where ``place`` is empty."""
        self.put_all(build_id, build, [(item, sort, place)], by)

    def put_all(self, build_id: int, build: Build, rows: Sequence[tuple[str, str, str]], by: Sitting) -> None:
        """Put items into places, each a serial, its sort and a place: all of them or none. Raises ``FieldError``."""
        with self.database.session(writes=True) as session:
            self._put_all(session, build_id, build, rows, by)

    def lay(
        self, build_id: int, build: Build, rows: Sequence[tuple[str, str, str]], shims: Sequence[Taken], by: Sitting
    ) -> None:
        """Put items and lay the shims that were solved with them: both, or neither. Raises ``FieldError``."""
        with self.database.session(writes=True) as session:
            self._put_all(session, build_id, build, rows, by)
            self._take_all(session, build_id, build, shims)

    def _put_all(
        self, session: Session, build_id: int, build: Build, rows: Sequence[tuple[str, str, str]], by: Sitting
    ) -> None:
        items, held = [i for i, _, _ in rows], [f"The {s} of {p}" for _, s, p in rows if p]
        for given in (items, held):
            twice = next((g for g in given if given.count(g) > 1), "")
            if twice:
                raise FieldError("item", f"{twice} is given twice: one item stands in one place.")
        _not_signed(session, build_id, Put)
        sheet = self._sheet(session, build_id, build)
        placed = [(serial_of(i), sort, place_called(sheet, p).label if p else "") for i, sort, p in rows]
        for item, sort, place in placed:
            known = sheet.items.get(item, sort)
            if sort not in ITEMS or known != sort:
                raise FieldError(
                    "item", f"{item} is an {known} spring." if known in SPRINGS else f"{item} is a {known}."
                )
            side, to = sheet.side_of(item), next((p.side for p in sheet.places if p.label == place), "")
            if sort not in SPRINGS and side and to and side != to:
                raise FieldError("item", f"{item} is a {sort} of the {side} side.")
        moved = {item for item, _, _ in placed}
        for _item, sort, place in placed:
            there = sheet.item_at(place, sort) if place else ""
            if there and there not in moved:
                happened_within(session, build_id, Put(0, there, sort, "", by))
        for item, sort, place in placed:
            happened_within(session, build_id, Put(0, item, sort, place, by))

    def cut(self, build_id: int, build: Build, cut: Cut) -> None:
        """Book metal taken off. Raises ``FieldError`` where nothing, or less than nothing, was."""
        amounts = (cut.face_mm, cut.seat_mm, cut.tip_mm)
        if any(a < 0.0 for a in amounts):
            raise FieldError("cut", "Metal that is gone is not given back: a cut is never below nought.")
        if not any(amounts) or any(a > MOST_CUT_MM for a in amounts):
            raise FieldError("cut", f"A cut takes something off, and no more than {MOST_CUT_MM:g} mm of anything.")
        with self.database.session(writes=True) as session:
            _not_signed(session, build_id, Cut)
            sheet = self._sheet(session, build_id, build)
            place = place_called(sheet, cut.place).label
            _metal_left(sheet, replace(cut, place=place))
            happened_within(session, build_id, replace(cut, place=place, valve=sheet.item_at(place, "valve")))

    def happened_at(self, build_id: int, revision: int, sheet: Sheet, events: Sequence[Event]) -> bool:
        """Add what happened to a head that still stands as it was looked at, all of it or none; False where it does
        not, and nothing is added. Raises ``Frozen``."""
        with self.database.session(writes=True) as session:
            newest = Builds(session).row(build_id).newest
            if (newest, Readings(session).mark(build_id)) != (revision, sheet.mark):
                return False
            for event in events:
                _not_signed(session, build_id, type(event))
                happened_within(session, build_id, event)
        return True

    def happened(self, build_id: int, event: Event) -> None:
        """Add what happened to a head, which whoever says it has held to what can be."""
        self._add(build_id, event)

    def brought(
        self, session: Session, build_id: int, readings: Sequence[Reading], events: Sequence[Event], file: str,
        by: Sitting,
    ) -> None:  # fmt: skip
        """Take in what a build's file carried and is not here yet, within a unit of work.

        It is kept under names that say that it came by a file, and what of it signs, lets pass or decides is told and
        binds nobody here.
        """
        rows = Readings(session)
        here = {_told(r) for r in map(_reading, rows.all(build_id))}
        happened = {_said(e) for e in map(_event, rows.events(build_id))}
        # what this shop said itself, and comes back, is its own
        kept = [r if _told(r) in here else reading_by_file(r) for r in readings]
        said = [e if _said(e) in happened else event_by_file(e) for e in events]
        before = rows.mark(build_id)
        self.laid_in(session, build_id, kept, said)
        new = len(rows.all(build_id, before[0]))
        acts = [_event(r) for r in rows.events(build_id, before[1])]
        if new or acts:
            decided = sum(isinstance(e, BroughtAct) for e in acts)
            happened_within(session, build_id, Brought(0, file[:120], new, len(acts), decided, by))

    def laid_in(self, session: Session, build_id: int, readings: Sequence[Reading], events: Sequence[Event]) -> None:
        """Lay in readings and events that are not here yet as they were said, numbered anew, within a unit of work.

        For what this program made itself: what comes by a file is ``brought``.
        """
        rows = Readings(session)
        said = _in_order(readings, events)
        here = {_told(r): r.number for r in map(_reading, rows.all(build_id))}
        happened = {_said(e): e.number for e in map(_event, rows.events(build_id))}
        numbers: dict[int, int] = {}
        calls: dict[int, int] = {}
        newest = Builds(session).row(build_id).newest
        signed = digest(Builds(session).document(build_id, newest))
        for e in said:
            if isinstance(e, Reading):
                if (was := here.get(_told(e))) is not None:
                    numbers[e.number] = was
                    continue
                kept = replace(e, replaces=numbers.get(e.replaces) if e.replaces is not None else None)
                numbers[e.number] = _stored(session, build_id, kept).number
                continue
            called = e.renumbered(calls, numbers)
            if isinstance(called, Released) and called.digest == signed:
                called = replace(called, revision=newest)
            known = happened.get(_said(called))
            calls[e.number] = happened_within(session, build_id, called) if known is None else known
        held = release([_event(r) for r in rows.events(build_id)])
        if held is not None and held.digest != signed:
            # the document that was signed is not the one that came: the signature is history here
            by = Sitting(hand="workshop", at=datetime.now(UTC))
            happened_within(
                session, build_id, Reopened(0, held.number, "came in by a file, without what was signed", by)
            )

    def within(self, session: Session, build_id: int, build: Build) -> Sheet:
        """The sheet as a unit of work sees it."""
        return self._sheet(session, build_id, build)

    def add_within(self, session: Session, build_id: int, events: Sequence[Event]) -> None:
        """Add what happened, within a unit of work that does more."""
        for event in events:
            happened_within(session, build_id, event)

    def put_within(
        self, session: Session, build_id: int, build: Build, rows: Sequence[tuple[str, str, str]], by: Sitting
    ) -> None:
        """``put_all`` within a unit of work that does more. Raises ``FieldError``."""
        self._put_all(session, build_id, build, rows, by)

    def _add(self, build_id: int, event: Event) -> None:
        with self.database.session(writes=True) as session:
            _not_signed(session, build_id, type(event))
            happened_within(session, build_id, event)


def _in_order(readings: Sequence[Reading], events: Sequence[Event]) -> list[Reading | Event]:
    """Readings and events of a file in the order they were said: by their common number, or where an earlier program
    counted each by itself, by their clock, neither put before another of its own kind."""
    if not {r.number for r in readings} & {e.number for e in events}:
        return sorted([*readings, *events], key=lambda x: x.number)
    found: list[Reading | Event] = []
    rest = list(events)
    for r in readings:
        while rest and _clock(rest[0]) < _clock(r):
            found.append(rest.pop(0))
        found.append(r)
    return [*found, *rest]


def _clock(said: Reading | Event) -> datetime:
    at = said.by.at or datetime.min.replace(tzinfo=UTC)
    return at if at.tzinfo else at.replace(tzinfo=UTC)


def _told(r: Reading) -> tuple[object, ...]:
    """What tells one reading from another wherever it is stored: two hands at one moment read two things."""
    return r.key, r.place, r.item, r.by.at, r.by.hand, r.value, r.void


def _said(e: Event) -> str:
    """What tells one event from another wherever it is stored."""
    return repr(e.changed(number=0))


HARD_TIP_MM, LEAST_REASON = setting("bench.hard_tip"), 3


def _metal_left(sheet: Sheet, cut: Cut) -> None:
    """Raise ``FieldError`` for a cut below what is there to take: past the tip's hard skin unless a note says why, and
    past the valve's margin for nobody."""
    place = place_called(sheet, cut.place)
    before = sheet.cut_at(place.label, "tip_height")
    ground = sum(c.tip_mm for c in before) + cut.tip_mm
    if cut.tip_mm and ground > HARD_TIP_MM + 1e-9 and len(cut.note.strip()) < LEAST_REASON:
        raise FieldError(
            "tip", f"{ground:.2f} mm off the tip in all: its hard skin is about {HARD_TIP_MM:g} mm. Note why, if so."
        )
    settled = sheet.settled(place, "margin")
    design = sheet.build.side(place.side).stack.valve.margin
    margin = settled.value if settled is not None else design.value if design is not None else None
    since = sheet.cut_at(place.label, "margin")[settled.last.cuts if settled is not None else 0 :]
    if margin is not None and cut.face_mm and margin - sum(c.face_mm for c in since) - cut.face_mm < 0.0:
        raise FieldError("face", f"Only {margin:.2f} mm of margin was there: so much cannot have come off its face.")


def _not_signed(session: Session, build_id: int, added: type[Event | Reading]) -> None:
    """Raise ``Frozen`` for what would stand untold beneath a signature: the head is opened, or received, first."""
    if issubclass(added, Event) and added.after_release:
        return
    not_signed_off(session, build_id, OPENS_BENCH)


def _taken(session: Session, build_id: int, r: Reading) -> Reading:
    """Store a reading that a hand takes now. Raises ``Frozen`` where the head is signed off, but at a service."""
    if r.phase is not Phase.SERVICE:
        _not_signed(session, build_id, Reading)
    return _stored(session, build_id, r)


def _stored(session: Session, build_id: int, r: Reading) -> Reading:
    more = {k: v for k, v in reading_json(r).items() if k not in _COLUMNS}
    at = r.by.at.astimezone(UTC).replace(tzinfo=None) if r.by.at is not None and r.by.at.tzinfo else r.by.at
    assert at is not None
    number = Readings(session).add(
        build_id,
        ReadingRow(
            r.key, r.place, r.item, r.value, r.typed, r.by.hand, r.by.instrument, at, r.phase.value, r.service,
            r.replaces, r.void, json.dumps(more, ensure_ascii=False, separators=(",", ":")),
        ),
    )  # fmt: skip
    return replace(r, number=number)


def _reading(row: ReadingRow) -> Reading:
    by = {"hand": row.hand, "instrument": row.instrument, "at": row.at.replace(tzinfo=UTC).isoformat()}
    return read_reading(
        {
            "number": row.number, "key": row.key, "place": row.place, "item": row.item, "value": row.value,
            "typed": row.typed, "by": by, "phase": row.phase, "service": row.service, "replaces": row.replaces,
            "void": row.void, **json.loads(row.more),
        }
    )  # fmt: skip


def happened_within(session: Session, build_id: int, event: Event) -> int:
    """Store an event within a unit of work; gives its number."""
    body = {k: v for k, v in event_json(event).items() if k not in ("kind", "by", "number")}
    at = event.by.at
    assert at is not None
    at = at.astimezone(UTC).replace(tzinfo=None) if at.tzinfo else at
    text = json.dumps(body, ensure_ascii=False, separators=(",", ":"))
    row = EventRow(event.kind, event.by.hand, event.by.instrument, at, text)
    return Readings(session).add_event(build_id, row)


def _event(row: EventRow) -> Event:
    by = {"hand": row.hand, "instrument": row.instrument, "at": row.at.replace(tzinfo=UTC).isoformat()}
    return read_event({"kind": row.kind, "number": row.number, "by": by, **json.loads(row.body)})
