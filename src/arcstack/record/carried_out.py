"""Whether what was decided of a part was done: a decision is no act."""

from arcstack.readings import Cut, Put, Sheet
from arcstack.readings.recorded import Worked
from arcstack.readings.returning import Disposed, What
from arcstack.record.orders import State, lines

_SORTS = {"springs": ("outer", "inner"), "valve": ("valve",), "bucket": ("follower",)}
"""Items that stand in a place by a serial, by the kind of part that they are."""

_STAYS = (What.REUSE, What.QUARANTINE, What.SPARE, What.SCRAP, What.POLISH)
"""What is true once it is decided, or was measured as it was decided."""


def carried_out(sheet: Sheet, d: Disposed) -> bool:
    """Whether the record knows of the act: a cut there, a new item put there, an order measured, work told of."""
    since = [e for e in sheet.events if e.number > d.number]
    match d.what:
        case What.REFACE:
            return any(isinstance(e, Cut) and e.place == d.place and e.face_mm > 0.0 for e in since)
        case What.RECUT:
            return any(isinstance(e, Cut) and e.place == d.place and e.seat_mm > 0.0 for e in since)
        case What.SEND:
            return any(isinstance(e, Worked) and (not e.places or d.place in e.places) for e in since)
        case What.REPLACE | What.REPLACE_SET:
            sorts = _SORTS.get(d.part, ())
            put = any(isinstance(e, Put) and e.place == d.place and e.sort in sorts for e in since)
            came = any(x.order.number > d.number and x.state is State.PASSED for x in lines(sheet.events))
            return put or came
    return d.what in _STAYS
