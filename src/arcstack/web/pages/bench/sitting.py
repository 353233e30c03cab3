"""What this sitting at the bench reads with: phase, instruments, hand, and the zero each was tried on."""

from flask import session

from arcstack.document import Sitting
from arcstack.readings import Phase, Zero
from arcstack.readings.instruments import Instrument
from arcstack.readings.learning import truth
from arcstack.web.kit.session import SITTING_LASTS, current_hand, current_who, instruments
from arcstack.web.pages.bench.shown import Head


def phase_now() -> Phase:
    """The phase at which this browser reads."""
    name = str(session.get("phase") or "")
    return next((p for p in Phase if p.value == name), Phase.FINAL)


def instrument_for(kind: str, here: Head | None = None) -> Instrument | None:
    """The instrument of a kind that this sitting reads with; of a lesson the one that is lent with it."""
    taught = here.sheet.taught if here is not None else None
    if here is not None and taught is not None:
        hidden = truth(here.sheet.build, taught.lesson, taught.seed)
        return instruments().stand_in(here.current.id, kind, taught.seed, hidden)
    name = str(session.get(f"instrument {kind}") or "")
    return next((i for i in instruments().all() if i.name == name and i.kind == kind), None)


def hand_with(instrument: Instrument | None) -> Sitting:
    """The hand at work, with an instrument."""
    by = current_hand()
    return by.model_copy(update={"instrument": instrument.name if instrument else ""})


def zero_now(here: Head, instrument: Instrument) -> Zero | None:
    """The zero check of an instrument in this sitting: the last of this hand's, of this day's work."""
    found = here.sheet.zero_of(instrument.name, current_who().name)
    if found is None or found.by.at is None:
        return None
    age = current_who().now() - found.by.at.replace(tzinfo=None)
    return found if age < SITTING_LASTS else None
