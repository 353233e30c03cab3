"""A cut proposed before it is made, and booked once it was: metal that is gone is never given back."""

from arcstack.application.head import Opened
from arcstack.document import Sitting
from arcstack.document.places import Place
from arcstack.errors import FieldError
from arcstack.readings import Cut
from arcstack.trials.cutting import Proposed, proposed

AMOUNTS = {"face": "Off the face", "seat": "Off the seat", "tip": "Off the tip"}
"""What a cut takes metal off, and how a form calls it."""


def cut_of(by: Sitting, place: Place, *, amounts: dict[str, float], note: str) -> Cut | None:
    """A cut at a place by its amounts, mm; None where nothing is taken off. Raises ``FieldError``."""
    for name, mm in amounts.items():
        if mm < 0.0:
            raise FieldError(name, f"{AMOUNTS[name]}: metal that is gone is not given back.")
    if not any(amounts.values()):
        return None
    return Cut(0, place.label, amounts["face"], amounts["seat"], amounts["tip"], by, note)


def outcome_of(head: Opened, place: Place, cut: Cut) -> Proposed:
    """What a cut would do at its place."""
    taken = sum(c.tip_mm for c in head.sheet.cut_at(place.label))
    return proposed(head.built.contexts[place.label], cut, taken)


def book(head: Opened, cut: Cut | None) -> None:
    """Book a cut that was made."""
    if cut is None:
        raise FieldError("cut", "Say at which place, and what was taken off.")
    head.shop.bench.cut(head.current.id, head.current.build, cut)
