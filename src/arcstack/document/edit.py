"""Changes to the document: each gives a new one, or says at which field it cannot."""

import re
from collections.abc import Callable, Sequence
from functools import cache
from typing import Any, TypeVar

from pydantic import BaseModel

from arcstack.checks import Evidence
from arcstack.document import belongs
from arcstack.document.contradictions import problems
from arcstack.document.entry import NONE, Absent, Entry, Sitting, enter, standing
from arcstack.document.fields import FIELDS, Field, Kind
from arcstack.document.model import Build
from arcstack.document.parts import Cam, MeasuredCurve, trimmed
from arcstack.document.words import Choice, noted
from arcstack.errors import FieldError, QuantityError
from arcstack.units import System

M = TypeVar("M")
P = TypeVar("P", bound=BaseModel)


def field(path: str) -> Field:
    """The field at ``path``. Raises ``FieldError`` for a path that is no field."""
    try:
        return FIELDS[path]
    except KeyError:
        raise FieldError(path, "There is no such field.") from None


def get(build: Build, path: str) -> Any:
    """What the document holds at ``path``: an ``Entry``, a text, or None."""
    return _getter(path)(build)


@cache
def _getter(path: str) -> Callable[[Any], Any]:
    steps = _steps(path)
    return lambda build: _at(build, steps)


def _at(found: Any, steps: Sequence[str | tuple[int, Any]]) -> Any:
    """What stands where the steps lead; in a list, past its end, what a blank holds there."""
    for step in steps:
        if isinstance(step, str):
            found = getattr(found, step)
        else:
            place, blank = step
            found = found[place] if place < len(found) else blank
    return found


def _steps(path: str) -> list[str | tuple[int, Any]]:
    """Names to follow, and of each list the place (from 0) with what is blank there."""
    lists = iter(field(path).lists)
    return [(int(name) - 1, next(lists).blank) if name.isdigit() else name for name in path.split(".")]


def change(
    build: Build,
    path: str,
    text: str,
    evidence: Evidence | None = None,
    system: System = System.MM,
    by: Sitting | None = None,
) -> Build:
    """The document with the field at ``path`` set from typed text; an empty text clears a figure.

    A bare number means the unit shown in ``system``; ``by`` took what is measured and says what is *none*. An empty
    text leaves a choice about a part unsaid. Raises ``FieldError`` where the text is no such figure, or where it makes
    a part that cannot be.
    """
    spec = field(path)
    if spec.kind is Kind.QUANTITY and not text.strip():
        return clear(build, path)
    value = entered(spec, text or spec.assumed, type(get(build, path)), evidence, system, by)
    changed = _signed(_put(build, _steps(path), value), path, by)
    if spec.assumed:
        holder = _steps(path)[:-1]
        changed = _put(changed, holder, stating(_at(build, holder), _at(changed, holder), path, bool(text)))
    # what stood before may be mended field by field
    known = set(problems(build))
    for problem in problems(changed):
        if problem not in known:
            raise FieldError(path, problem[1])
    return outdated(build, changed)


def entered(spec: Field, text: str, choice: type, evidence: Evidence | None, system: System, by: Sitting | None) -> Any:
    """What typed text says in a field; ``choice`` makes a choice's value. Raises ``FieldError`` at its path."""
    if spec.kind is Kind.QUANTITY:
        assert spec.quantity is not None
        try:
            return enter(text, spec.quantity, evidence, spec.quantity.dimension.unit(system), by)
        except QuantityError as error:
            raise FieldError(spec.path, str(error), getattr(error, "readings", ())) from error
    if spec.kind is Kind.CHOICE:
        if text not in spec.options:
            raise FieldError(spec.path, f"Choose one of {', '.join(spec.options)}.")
        return choice(text)
    assert spec.words is not None
    words = " ".join(re.sub(r"[\r\n]+", "; ", text.strip()).split())
    try:
        spec.words.check_text(words)
    except ValueError as error:
        raise FieldError(spec.path, f"{str(error)[0].upper()}{str(error)[1:]}.") from error
    return words


def unsaid(build: Build, path: str) -> str:
    """What stands for a choice about a part that nobody stated; empty where a hand did, and of any other field.

    >>> build = Build(name="x")
    >>> unsaid(build, "engine.follower"), unsaid(change(build, "engine.follower", "bucket"), "engine.follower")
    ('bucket', '')
    """
    if not field(path).assumed:
        return ""
    *holder, name = _steps(path)
    part = _at(build, holder)
    return "" if name in stated(part) else str(getattr(part, str(name)))


def silence(build: Build, path: str) -> str:
    """The same in words, also of a choice that says by itself that nobody stated it.

    >>> build = Build(name="x")
    >>> silence(build, "engine.follower"), silence(build, "intake.stack.seal.held"), silence(build, "brief.use")
    ('not said: taken as bucket', 'not stated', '')
    """
    if (silent := field(path).silent) and get(build, path) == silent:
        return silent
    return f"not said: taken as {stands}" if (stands := unsaid(build, path)) else ""


def stated(part: BaseModel) -> tuple[str, ...]:
    """A part's own choices that a hand stated."""
    kept: tuple[str, ...] | None = getattr(part, "stated", None)
    return _chosen_otherwise(part) if kept is None else kept


def _chosen_otherwise(part: BaseModel) -> tuple[str, ...]:
    own = type(part).model_fields
    return tuple(sorted(name for name in _assumed(type(part)) if getattr(part, name) != own[name].default))


@cache
def _assumed(model: type[BaseModel]) -> tuple[str, ...]:
    """A part's choices that something stands for while nobody says them."""
    fields = model.model_fields.items()
    return tuple(name for name, info in fields if any(isinstance(m, Choice) and m.assumed for m in info.metadata))


def stating(before: BaseModel, after: P, path: str, by_hand: bool) -> P:
    """A part whose choice at ``path`` a hand stated, or left unsaid, since ``before``.

    What its choices tell by themselves is not kept beside them: a part that says nothing is an empty one.
    """
    held, name = {*stated(before)}, path.rpartition(".")[2]
    kept = tuple(sorted(held | {name} if by_hand else held - {name}))
    return after.model_copy(update={"stated": None if kept == _chosen_otherwise(after) else kept})


def _signed(build: Build, path: str, by: Sitting | None) -> Build:
    """The document with a table's own hand and instrument, where the field is a table or says where one comes from.

    A table called measured has both; without them it counts as assumed.
    """
    name = path.rpartition(".")[2]
    for table, words in _TABLES.items():
        if name in (table, words):
            signed = _put(build, [*_steps(path)[:-1], f"{table}_by"], by if by and by.measures else None)
            return _put(signed, [*_steps(path)[:-1], f"{table}_with"], ())
    return build


_TABLES = {
    path.rpartition(".")[2]: spec.words.origin
    for path, spec in FIELDS.items()
    if spec.words is not None and spec.words.origin
}
"""Fields that hold a table, and the field beside each that says where it comes from."""


def outdated(before: Build, after: Build, anew: tuple[str, ...] = ()) -> Build:
    """``after``, in which a figure whose parts were exchanged since ``before`` says which change did it.

    A figure that was taken anew in the same change stands, and one under the paths ``anew`` within a side.
    """
    return belongs.outdated(before, after, get, put, anew)


def said(value: Entry | Absent | str | None) -> str:
    """What stands in a field, as typed."""
    if isinstance(value, Entry):
        return value.typed
    return NONE if isinstance(value, Absent) else value or ""


def set_evidence(build: Build, path: str, evidence: Evidence, by: Sitting | None = None) -> Build:
    """The document with another origin for the figure at ``path``; nothing changes where there is no figure.

    Saying it anew is taking it anew: an outdated figure stands again. *None* stays what it is.
    """
    entry = get(build, path)
    if not isinstance(entry, Entry):
        return build
    kept = by if evidence is Evidence.MEASURED else None
    taken = {"evidence": standing(evidence, kept), "by": kept, "outdated": "", "taken_with": ()}
    return _put(build, _steps(path), entry.model_copy(update=taken))


LONGEST_FIELD_NOTE, MOST_NOTES = 500, 200


def with_note(build: Build, path: str, text: str) -> Build:
    """The document with a note on a field; an empty text takes it away. Raises ``FieldError``."""
    field(path)
    notes = {p: n for p, n in build.notes.items() if p != path}
    if said_note := noted(text, path, LONGEST_FIELD_NOTE):
        notes[path] = said_note
    if len(notes) > MOST_NOTES:
        raise FieldError(path, f"A build holds notes on {MOST_NOTES} fields at most.")
    return build.model_copy(update={"notes": notes})


def set_curve(build: Build, side: str, curve: MeasuredCurve | None) -> Build:
    """The document with a measured curve on one side, or without one."""
    build.side(side)
    return outdated(build, _put(build, [side, "cam", "curve"], curve))


def set_cam(build: Build, side: str, cam: Cam) -> Build:
    """The document with a whole cam, card and curve, on one side."""
    build.side(side)
    return outdated(build, _put(build, [side, "cam"], cam), ("cam",))


def clear(build: Build, path: str) -> Build:
    """The document with the figure at ``path`` taken out: what was taken with it is outdated until it is put back."""
    return outdated(build, _put(build, _steps(path), None))


def put(build: Build, path: str, value: Any) -> Build:
    """The document with a value at the path of a field or of a whole part: nothing is checked or outdated by it."""
    return _put(build, _steps(path) if path in FIELDS else path.split("."), value)


def _put(held: M, steps: Sequence[str | tuple[int, Any]], value: Any) -> M:
    """A copy with ``value`` at the end of the steps; a list is filled with blanks up to its place."""
    step, rest = steps[0], steps[1:]
    if isinstance(step, str):
        assert isinstance(held, BaseModel)
        inner = _put(getattr(held, step), rest, value) if rest else value
        return held.model_copy(update={step: inner})
    place, blank = step
    items = [*held, *[blank] * (place + 1 - len(held))]  # type: ignore[misc, arg-type]
    items[place] = _put(items[place], rest, value) if rest else value
    return trimmed(tuple(items), blank)  # type: ignore[return-value]
