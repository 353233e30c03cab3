"""What a browser remembers: unit system and the hand at work."""

from datetime import UTC, datetime, timedelta
from typing import cast

from flask import current_app, session

from arcstack.assess import Assessment
from arcstack.document import Sitting
from arcstack.services import Assessments, Current, PartShelf, Searches, Sweeps, Who, Workshop
from arcstack.services.bench import Bench
from arcstack.services.instruments import Instruments
from arcstack.services.pictures import Pictures
from arcstack.units import System
from arcstack.web.network import signed_in


def current_system() -> System:
    return System.INCH if session.get("system") == System.INCH else System.MM


def current_who() -> Who:
    """The hand at work: who is signed in, or, on a machine of one's own, whom this browser named."""
    person = signed_in()
    name = person.name if person is not None else str(session.get("who") or "workshop")
    return Who(name, lambda: datetime.now(UTC).replace(tzinfo=None))


SITTING_LASTS = timedelta(hours=12)
"""How long an instrument and a hand are remembered after they were last named."""


def current_sitting() -> Sitting | None:
    """Instrument and hand of this sitting; None before they were named, or once the sitting is over."""
    named = session.get("instrument"), session.get("sitting_at")
    if not all(isinstance(x, str) and x for x in named):
        return None
    now = current_who().now()
    try:
        since = datetime.fromisoformat(str(named[1]))
    except ValueError:
        return None
    if not timedelta(0) <= now - since < SITTING_LASTS:
        return None
    return Sitting(hand=current_who().name, instrument=str(named[0]), at=now.replace(microsecond=0))


def current_hand() -> Sitting:
    """Who says something now: with the instrument of the sitting where there is one."""
    who = current_who()
    return current_sitting() or Sitting(hand=who.name, at=who.now().replace(microsecond=0))


def start_sitting(hand: str, instrument: str) -> None:
    """Remember the hand and the instrument that measured figures are taken with from now on."""
    remember("who", hand)
    remember("instrument", instrument)
    remember("sitting_at", current_who().now().isoformat())


def sweeps() -> Sweeps:
    return cast(Sweeps, current_app.extensions["sweeps"])


def assessed(current: Current) -> Assessment:
    """Every verdict, the elastic train's where its sweep is known; what an edit did not touch is not worked again."""
    return assessments().of(current.id, current.build)


def assessments() -> Assessments:
    return cast(Assessments, current_app.extensions["assessments"])


def part_shelf() -> PartShelf:
    return cast(PartShelf, current_app.extensions["shelf"])


def searches() -> Searches:
    return cast(Searches, current_app.extensions["searches"])


def picture_store() -> Pictures:
    return cast(Pictures, current_app.extensions["pictures"])


def bench() -> Bench:
    return cast(Bench, current_app.extensions["bench"])


def instruments() -> Instruments:
    return cast(Instruments, current_app.extensions["instruments"])


def workshop() -> Workshop:
    return cast(Workshop, current_app.extensions["workshop"])


def remember(key: str, value: str) -> None:
    session[key] = value
    session.permanent = True
