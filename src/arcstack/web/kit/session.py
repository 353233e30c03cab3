"""What a browser remembers: unit system and the hand at work."""

from datetime import UTC, datetime, timedelta
from typing import cast

from flask import current_app, session

from arcstack.application import Assessments, Current, PartShelf, Searches, Shop, Sweeps, Who, Workshop
from arcstack.application.backups import Backups
from arcstack.application.bench import Bench
from arcstack.application.instruments import Instruments
from arcstack.application.pictures import Pictures
from arcstack.assess import Assessment
from arcstack.document import Sitting
from arcstack.units import System
from arcstack.web.network import may_own, signed_in


def current_system() -> System:
    return System.INCH if session.get("system") == System.INCH else System.MM


def current_who() -> Who:
    """The hand at work: who is signed in, or, on a machine of one's own, whom this browser named."""
    person = signed_in()
    name = person.name if person is not None else str(session.get("who") or "workshop")
    return Who(name, lambda: datetime.now(UTC).replace(tzinfo=None))


SITTING_LASTS = timedelta(hours=12)
"""How long an instrument and a hand are remembered after they were last named."""


def current_sitting(measure: str = "") -> Sitting | None:
    """Instrument and hand of this sitting for a sort of figure: its dimension, ``table``, ``lift table``, or empty for
    the wheel and dial of a mock-up. None before one was named for it, or once the sitting is over."""
    found = _named().get(measure)
    if found is None:
        return None
    now = current_who().now()
    try:
        since = datetime.fromisoformat(found[1])
    except ValueError:
        return None
    if not timedelta(0) <= now - since < SITTING_LASTS:
        return None
    return Sitting(hand=current_who().name, instrument=found[0], at=now.replace(microsecond=0))


def _named() -> dict[str, tuple[str, str]]:
    """Instruments named in this sitting by the sort of figure each is for, and when."""
    held = session.get("instruments")
    rows = held.items() if isinstance(held, dict) else ()
    return {str(m): (str(v[0]), str(v[1])) for m, v in rows if isinstance(v, list | tuple) and len(v) == 2 and v[0]}


def measures_now() -> list[str]:
    """Sorts of figures that an instrument is named for in this sitting."""
    return sorted(m for m in _named() if m and current_sitting(m) is not None)


def current_hand(measure: str = "") -> Sitting:
    """Who says something now: with the instrument of the sitting where one is named for such a figure."""
    who = current_who()
    return current_sitting(measure) or Sitting(hand=who.name, at=who.now().replace(microsecond=0))


def start_sitting(hand: str, instrument: str, measure: str = "") -> None:
    """Remember the hand, and the instrument that a sort of figures is measured with from now on; it serves no other."""
    remember("who", hand)
    named = {m: list(v) for m, v in _named().items()} | {measure: [instrument, current_who().now().isoformat()]}
    session["instruments"] = dict(list(named.items())[-MOST_NAMED:])
    session.permanent = True


MOST_NAMED = 12
"""Sorts of figures that a sitting names instruments for at most."""


def shop() -> Shop:
    """The workshop that is served."""
    return cast(Shop, current_app.extensions["shop"])


def sweeps() -> Sweeps:
    return shop().sweeps


def assessed(current: Current) -> Assessment:
    """Every verdict, the elastic train's where its sweep is known; what an edit did not touch is not worked again."""
    return assessments().of(current.id, current.build)


def assessments() -> Assessments:
    return shop().assessments


def part_shelf() -> PartShelf:
    return shop().shelf


def searches() -> Searches:
    return shop().searches


def picture_store() -> Pictures:
    return shop().pictures


def kept_backups() -> Backups | None:
    """What keeps this workshop, for whoever may see to it; None for anybody else."""
    return shop().backups if may_own() else None


def bench() -> Bench:
    return shop().bench


def instruments() -> Instruments:
    return shop().instruments


def workshop() -> Workshop:
    return shop().workshop


def remember(key: str, value: str) -> None:
    session[key] = value
    session.permanent = True
