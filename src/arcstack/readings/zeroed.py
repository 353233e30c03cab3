"""Which instrument a figure may be read with: of the kind that reads it, and on its zero not long ago."""

from collections.abc import Iterable
from datetime import datetime, timedelta

from arcstack.readings.asked import ASKED
from arcstack.readings.instruments import Instrument
from arcstack.readings.reading import Zero
from arcstack.readings.sheet import Sheet


def zero_now(sheet: Sheet, instrument: str, now: datetime, lasts: timedelta) -> Zero | None:
    """The last zero check of an instrument, while it lies no further than ``lasts`` from now. It belongs to the
    instrument, whichever head it was tried at."""
    found = sheet.zero_of(instrument)
    if found is None or found.by.at is None:
        return None
    # a clock that was set back makes no zero good
    return found if abs(now - found.by.at.replace(tzinfo=None)) < lasts else None


def good_for(
    key: str, named: str, sheet: Sheet, instruments: Iterable[Instrument], now: datetime, lasts: timedelta
) -> Instrument | None:
    """The instrument called ``named`` where it may read a figure: a reading with anything else counts as assumed."""
    kind, name = ASKED[key].instrument, " ".join(named.split()).casefold()
    found = next((i for i in instruments if i.name.casefold() == name and i.kind == kind), None)
    zero = zero_now(sheet, found.name, now, lasts) if found is not None else None
    return found if zero is not None and zero.good else None
