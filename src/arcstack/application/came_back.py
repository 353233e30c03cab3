"""A head that came back, sent on into its next revision: one unit of work."""

from dataclasses import replace

from arcstack.application.bench import Bench
from arcstack.application.workshop import Current, Who, Workshop
from arcstack.document import Build, Sitting
from arcstack.document.model import LONGEST_NOTE
from arcstack.errors import FieldError
from arcstack.readings import Cut, Sheet
from arcstack.readings.returning import Disposed, What, disposed, findings, named
from arcstack.readings.sent_on import SentOn
from arcstack.store import Kind, Reason
from arcstack.units import LENGTH, parse
from arcstack.wear.dispositions import TAKEN_OUT
from arcstack.wear.report import summary

_SORTS = {"springs": ("outer", "inner"), "valve": ("valve",), "bucket": ("follower",)}


def send_on(workshop: Workshop, bench: Bench, build_id: int, base: int, who: Who, by: Sitting) -> Current:
    """Make what was found the reason of the next revision. Parts that go leave their places, cuts are booked, and what
    rests on either is read again. Raises ``FieldError`` while nothing was decided or no cause is named,
    ``StaleRevision``.
    """
    with workshop.database.session(writes=True) as session:
        build = workshop.read(session, build_id, base).build
        sheet = bench.within(session, build_id, build)
        found, causes = disposed(sheet.events), named(sheet.events)
        if by.hand == "workshop":
            raise FieldError("hand", "Whose hand sends it on? It has a name.")
        if not found:
            raise FieldError("next", "Nothing was decided yet: say what becomes of the parts.")
        if not causes and findings(sheet.events):
            raise FieldError("next", "No cause is named: the next revision would be made for nothing.")
        told = summary(found, causes)
        current = workshop.append(
            session, build_id, base, _noted(build, told), who, Reason(Kind.CAME_BACK, after=told[:200])
        )
        for d in found:
            bench.add_within(session, build_id, _cuts(sheet, d))
        bench.put_within(session, build_id, build, _out(sheet, found), by)
        bench.add_within(session, build_id, [SentOn(0, current.revision, told[:400], by)])
    workshop.saved(current.revision)
    return current


def _noted(build: Build, told: str) -> Build:
    """The build with why it was torn down at the head of its note: the document changes, if only by that."""
    note = f"Came back: {told}.\n{build.note}".strip()[:LONGEST_NOTE]
    return build.model_copy(update={"note": note})


def _out(sheet: Sheet, found: tuple[Disposed, ...]) -> list[tuple[str, str, str]]:
    """Items that leave their places, each once."""
    rows = {}
    for d in found:
        if d.what not in TAKEN_OUT:
            continue
        for sort in _SORTS.get(d.part, ()):
            item = sheet.item_at(d.place, sort)
            if item:
                rows[item] = (item, sort, "")
    return list(rows.values())


def _cuts(sheet: Sheet, d: Disposed) -> list[Cut]:
    """Metal that a decision took: a seat recut, a face refaced."""
    name = {("seat", What.RECUT): "depth", ("valve", What.REFACE): "cut"}.get((d.part, d.what))
    if name is None or name not in d.fields:
        return []
    taken = parse(d.fields[name], LENGTH, "mm").value
    made = Cut(0, d.place, 0.0, 0.0, 0.0, d.by, "by teardown", sheet.item_at(d.place, "valve"))
    return [replace(made, seat_mm=taken) if d.part == "seat" else replace(made, face_mm=taken)] if taken > 0.0 else []
