"""What differs between two revisions of a build."""

from collections.abc import Sequence
from dataclasses import dataclass

from arcstack.application.reasons import about
from arcstack.document import FIELDS, NONE, SIDES, Absent, Build, Entry, get, unsaid
from arcstack.document.model import Override
from arcstack.document.parts import MeasuredCurve


@dataclass(frozen=True)
class Change:
    """One field that differs, said with its side and part; texts as typed, an empty text where nothing stands."""

    path: str
    label: str
    before: str
    after: str


def _text(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, Entry):
        return f"{value.typed} · {value.evidence}"
    if isinstance(value, Absent):
        return NONE
    return str(value)


def _said(build: Build, path: str) -> object:
    """What a hand said of a field; None where something only stands for it."""
    return None if unsaid(build, path) else get(build, path)


def _curve(value: MeasuredCurve | None) -> str:
    return f"{value.origin or 'a table'}, {len(value.cam_rad)} points" if value else ""


def _override(value: Override | None) -> str:
    if value is None:
        return ""
    ends = [f"{word} {e.typed}" for word, e in (("low", value.low), ("high", value.high)) if e]
    return f"{', '.join(ends)} · {value.reason}"


def differences(before: Build, after: Build) -> list[Change]:
    """Every field, limit and name that differs, in the document's order."""
    rows = [
        Change(name, about(name), str(getattr(before, name)), str(getattr(after, name)))
        for name in ("name", "note", "practice")
        if getattr(before, name) != getattr(after, name)
    ]
    for field in FIELDS.of(before, after):
        old, new = _said(before, field.path), _said(after, field.path)
        if old != new:
            rows.append(Change(field.path, about(field.path), _text(old), _text(new)))
    for path in dict.fromkeys((*before.notes, *after.notes)):
        old_note, new_note = before.notes.get(path, ""), after.notes.get(path, "")
        if old_note != new_note:
            rows.append(Change(path, f"Note on {about(path)}", old_note, new_note))
    for side in SIDES:
        old_curve, new_curve = before.side(side).cam.curve, after.side(side).cam.curve
        if old_curve != new_curve:
            rows.append(Change(f"{side}.cam.curve", about(f"{side}.cam.curve"), _curve(old_curve), _curve(new_curve)))
    for key in dict.fromkeys((*before.overrides, *after.overrides)):
        old_limit, new_limit = before.overrides.get(key), after.overrides.get(key)
        if old_limit != new_limit:
            rows.append(
                Change(f"overrides.{key}", about(f"overrides.{key}"), _override(old_limit), _override(new_limit))
            )
    return rows


def sentences(changes: Sequence[Change]) -> list[str]:
    """What differs, told as a hand would tell it, each change in a sentence.

    >>> sentences([Change("brief.limiter", "Limiter", "8000 rpm · printed", "8300 rpm · printed")])
    ['Limiter went from 8000 rpm to 8300 rpm.']
    >>> sentences([Change("engine.bore", "Bore", "86 mm · printed", "86 mm · measured")])
    ['Bore stays 86 mm, which was printed and is measured.']
    >>> sentences([Change("engine.bore", "Bore", "", "86 mm · measured"), Change("engine.bore", "Bore", "x", "")])
    ['Bore was not said and is 86 mm, measured.', 'Bore was x and is left open.']
    """
    return [_sentence(c) for c in changes]


def _sentence(c: Change) -> str:
    (old, old_worth), (new, new_worth) = _parted(c.before), _parted(c.after)
    if not old:
        return f"{c.label} was not said and is {new}{f', {new_worth}' if new_worth else ''}."
    if not new:
        return f"{c.label} was {old} and is left open."
    if old == new and old_worth != new_worth:
        return f"{c.label} stays {new}, which was {old_worth} and is {new_worth}."
    worth = f", {new_worth} where it was {old_worth}" if old_worth != new_worth and new_worth and old_worth else ""
    return f"{c.label} went from {old} to {new}{worth}."


def _parted(text: str) -> tuple[str, str]:
    """A text as typed, and what it is worth."""
    typed, mark, worth = text.rpartition(" · ")
    return (typed, worth) if mark else (text, "")
