"""Release of a head: the signature, and what was let pass under it."""

import hashlib
from collections.abc import Sequence

from arcstack.document import Sitting
from arcstack.errors import FieldError
from arcstack.readings import Waived
from arcstack.readings.recorded import Released
from arcstack.record.owed import Owed, grouped


def digest(document: str) -> str:
    """By what a signed document is known: SHA-256 of its text as it is stored, in hexadecimal."""
    return hashlib.sha256(document.encode()).hexdigest()


def sign(
    found: Sequence[Owed], revision: int, document: str, marks: tuple[int, int], answers: str, next_look: str,
    by: Sitting,
) -> Released:  # fmt: skip
    """The signature. Raises ``FieldError`` while anything stands that no name let pass, without a hand, or where nobody
    answers for clearance."""
    if by.hand.strip().casefold() in ("", "workshop"):
        raise FieldError("hand", "Whose hand signs? It has a name.")
    standing = [o for o in found if o.standing]
    if standing:
        raise FieldError(
            "against", f"{len(standing)} things stand against it: mend them, or let each pass by name and reason."
        )
    if not answers:
        raise FieldError("answers", "Who answers for clearance? A name.")
    if not next_look:
        raise FieldError("next_look", "When is it looked at next? A distance, hours or a date.")
    waived = tuple(w[:400] for w in let_pass_words(found))
    return Released(0, revision, *marks, digest(document), answers, waived, next_look, by)


def let_pass_words(found: Sequence[Owed]) -> tuple[str, ...]:
    """What was let pass, in plain words with its name: where metal could meet, and nobody measured it, first."""
    own = sorted((o for o in found if o.passed is not None), key=lambda o: not o.contact)
    return tuple(
        f"{g.title}{f', {g.side}' if g.side else ''}: {g.words} – {by_whom(g.passed)}"
        for g in grouped(own, {})
        if g.passed is not None
    )


def by_whom(w: Waived) -> str:
    """By whom, until when and why a thing was let pass."""
    settles = f"; settled by {w.settles}" if w.settles else ""
    return f"{w.by.hand}, until {w.until}: {w.reason}{settles}"
