"""The record of a head: signed off, opened again, a substitute taken; each as one unit of work."""

from collections.abc import Sequence
from datetime import UTC, datetime

from arcstack.application.bench import Bench, happened_within
from arcstack.application.part_shelf import PartShelf
from arcstack.application.seals import seal
from arcstack.application.workshop import Current, Who, Workshop
from arcstack.document import Build, Sitting
from arcstack.document.model import LONGEST_NOTE
from arcstack.errors import FieldError, StaleRevision
from arcstack.formats import write_build
from arcstack.readings.recorded import Released, Reopened, Substituted, release
from arcstack.record.orders import Opens, line
from arcstack.record.owed import Owed
from arcstack.record.release import sign
from arcstack.store import Builds, Kind, Readings, Reason


def sign_off(
    workshop: Workshop, bench: Bench, current: Current, found: Sequence[Owed], marks: tuple[int, int], answers: str,
    next_look: str, by: Sitting,
) -> Released:  # fmt: skip
    """Sign a head at its newest revision, with what stands against it as it was shown.

    Raises ``StaleRevision`` where another hand changed the document or the bench in between, ``FieldError``.
    """
    with workshop.database.session(writes=True) as session:
        newest = Builds(session).row(current.id).newest
        if newest != current.revision:
            raise StaleRevision(current.revision, newest)
        if Readings(session).mark(current.id) != marks:
            raise FieldError("against", "Something was read or done meanwhile: look at what stands against it again.")
        if release(bench.within(session, current.id, current.build).events) is not None:
            raise FieldError("against", f"Revision {newest} is signed off already.")
        text = write_build(current.build, compact=True)
        made = sign(found, newest, text, marks, answers, next_look, by)
        number = happened_within(session, current.id, made)
        session.flush()
        seal(session, current.id, newest, number, made.by.at or datetime.now(UTC))
    return made


def open_again(
    workshop: Workshop, bench: Bench, build_id: int, base: int, reason: str, who: Who, by: Sitting
) -> Current:
    """Open a released head for its next revision, whose reason is what was found. Raises ``FieldError``."""
    with workshop.database.session(writes=True) as session:
        build = workshop.read(session, build_id, base).build
        held = release(bench.within(session, build_id, build).events)
        if held is None:
            raise FieldError("reason", "It is not signed off: there is nothing to open.")
        if by.hand == "workshop":
            raise FieldError("hand", "Whose hand opens it? It has a name.")
        if len(reason) < 3:
            raise FieldError("reason", "Why is it opened? What was found is the reason of the next revision.")
        note = f"Opened again: {reason}.\n{build.note}".strip()[:LONGEST_NOTE]
        changed = build.model_copy(update={"note": note})
        current = workshop.append(session, build_id, base, changed, who, Reason(Kind.REOPENED, after=reason[:200]))
        bench.add_within(session, build_id, [Reopened(0, held.number, reason[:400], by)])
    workshop.saved(current.revision)
    return current


def substitute(
    workshop: Workshop, bench: Bench, shelf: PartShelf, current: Current, number: int, side: str, place: str, key: str,
    opened: Opens, who: Who, by: Sitting,
) -> Current:  # fmt: skip
    """Take another part for a line: it goes into its place, and the line keeps what that opened.

    Raises ``FieldError``, ``NotFound``, ``StaleRevision``.
    """
    with workshop.database.session(writes=True) as session:
        found = line(bench.within(session, current.id, current.build).events, number)
        changed, part = shelf.fit(current.build, side, key, place)
        why = Reason(Kind.PART_FITTED, f"{side}.{place}", after=part.name)
        after = workshop.append(session, current.id, current.revision, changed, who, why)
        words = tuple(w[:120] for w in opened.words[:60])
        bench.add_within(session, current.id, [Substituted(0, found.order.number, part.name, side, place, words, by)])
    if after.revision != current.revision:
        workshop.saved(after.revision)
    return after


def signed_build(workshop: Workshop, build_id: int, made: Released) -> Build:
    """The document that a signature stands under. Raises ``NotFound``."""
    return workshop.open(build_id, made.revision).build
