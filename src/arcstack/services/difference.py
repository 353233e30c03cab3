"""What differs between two revisions of a build."""

from dataclasses import dataclass

from arcstack.build import FIELDS, SIDES, Build, Entry, get
from arcstack.build.model import Override
from arcstack.build.parts import MeasuredCurve


@dataclass(frozen=True)
class Change:
    """One field that differs; texts as typed, an empty text where nothing stands."""

    path: str
    label: str
    before: str
    after: str


def _text(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, Entry):
        return f"{value.typed} · {value.evidence}"
    return str(value)


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
        Change(name, name.capitalize(), str(getattr(before, name)), str(getattr(after, name)))
        for name in ("name", "note", "practice")
        if getattr(before, name) != getattr(after, name)
    ]
    for path, field in FIELDS.items():
        old, new = get(before, path), get(after, path)
        if old != new:
            rows.append(Change(path, field.label, _text(old), _text(new)))
    for side in SIDES:
        old_curve, new_curve = before.side(side).cam.curve, after.side(side).cam.curve
        if old_curve != new_curve:
            rows.append(Change(f"{side}.cam.curve", "Measured curve", _curve(old_curve), _curve(new_curve)))
    for key in dict.fromkeys((*before.overrides, *after.overrides)):
        old_limit, new_limit = before.overrides.get(key), after.overrides.get(key)
        if old_limit != new_limit:
            rows.append(Change(f"overrides.{key}", f"Limit {key}", _override(old_limit), _override(new_limit)))
    return rows
