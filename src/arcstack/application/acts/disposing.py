"""What becomes of the parts of a head that came back."""

from collections.abc import Mapping, Sequence

from arcstack.application.acts.acting import act
from arcstack.application.head import Opened
from arcstack.document import Sitting
from arcstack.errors import FieldError
from arcstack.readings.returning import Disposed, Remedy, What, cause_at, named
from arcstack.readings.taking import place_called
from arcstack.units import System
from arcstack.wear import dispositions


def dispose(
    head: Opened, by: Sitting, *, kind: str, what: What | None, places: Sequence[str], answers: Mapping[str, str],
    system: System,
) -> None:  # fmt: skip
    """Say what becomes of a part at one place or several: all of them or none."""

    def decided(now: Opened) -> list[Disposed]:
        if what is None:
            raise FieldError("what", "Say what becomes of it.")
        if not places:
            raise FieldError("places", "At which place? Choose one or several.")
        found = []
        for label in places:
            place = place_called(now.sheet, label)
            cause = cause_at(now.sheet.events, place)
            typed = {**answers, "cause": cause.cause if cause else ""}
            ctx = now.built.contexts[place.label]
            found.append(dispositions.dispose(now.sheet, ctx, place, kind, what, typed, by, system))
        return found

    act(head, decided)


def take_remedy(head: Opened, by: Sitting, *, remedy: str, reason: str) -> None:
    """Take a tempting remedy: its cause was found, or a name and a reason."""

    def decided(now: Opened) -> list[Remedy]:
        return [dispositions.take_remedy(remedy, named(now.sheet.events), reason, by)]

    act(head, decided)
