"""Whether a head is signed off, as a unit of work sees it."""

from arcstack.errors import Frozen
from arcstack.readings.event import Event
from arcstack.readings.recorded import Released
from arcstack.store import Builds, Readings, Session


def not_signed_off(session: Session, build_id: int, opened_by: tuple[type[Event], ...]) -> None:
    """Raise ``Frozen`` while the last signature of a head was followed by none of what opens it."""
    kinds: tuple[type[Event], ...] = (Released, *opened_by)
    last = Readings(session).last_of(build_id, [k.kind for k in kinds])
    if last is not None and last.kind == Released.kind:
        row = Builds(session).row(build_id)
        raise Frozen(row.name, row.newest)
