"""Parts on order: a line ordered, in, measured, taken back, or another part taken for it."""

from collections.abc import Sequence

from arcstack.application.acts.acting import act, by_name, reasoned
from arcstack.application.head import Opened
from arcstack.application.record import substitute
from arcstack.application.workshop import Who
from arcstack.assess import assess
from arcstack.document import Sitting
from arcstack.errors import FieldError
from arcstack.readings.recorded import Arrived, Inspected, Ordered, OrderOff
from arcstack.readings.taking import place_called
from arcstack.record import orders
from arcstack.record.orders import Opens
from arcstack.shelf import ShelfPart
from arcstack.shelf.fitting import fitted, places_of

WHOSE = "Whose hand is it? It has a name: give it where the instrument is named."


def order(
    head: Opened, by: Sitting, *, part: str, places: Sequence[str], count: int, why: str, supplier: str, day: str,
    due: str, figure: str, price: float | None,
) -> None:  # fmt: skip
    """Order a line of parts."""

    def decided(now: Opened) -> list[Ordered]:
        by_name(by, WHOSE)
        at = tuple(place_called(now.sheet, label).label for label in places)
        return [orders.ordered(Ordered(0, part, at, count, why, supplier, day, due, by, figure, price))]

    act(head, decided)


def receive(head: Opened, by: Sitting, *, line: int, count: int, note: str) -> None:
    """Say how many of a line came in."""

    def decided(now: Opened) -> list[Arrived]:
        by_name(by, WHOSE)
        return [orders.arrived(orders.line(now.sheet.events, line), Arrived(0, line, count, by, note))]

    act(head, decided)


def inspect(head: Opened, by: Sitting, *, line: int, found: str, passes: bool | None) -> None:
    """Say what was measured of a line, and whether it passes."""

    def decided(now: Opened) -> list[Inspected]:
        by_name(by, WHOSE)
        of = orders.line(now.sheet.events, line)
        if passes is None:
            raise FieldError("passes", "Does it pass, or not?")
        return [orders.inspected(of, Inspected(0, line, found, passes, by))]

    act(head, decided)


def take_back(head: Opened, by: Sitting, *, line: int, reason: str) -> None:
    """Take a line back, for a reason; it stays in the record."""

    def decided(now: Opened) -> list[OrderOff]:
        by_name(by, WHOSE)
        orders.line(now.sheet.events, line)
        return [OrderOff(0, line, reasoned(reason, "Why is the line taken back?"), by)]

    act(head, decided)


def opened_by(head: Opened, part: ShelfPart, place: str) -> Opens:
    """What another part in a place would open. Raises ``FieldError`` where it does not go there."""
    then = fitted(head.current.build, head.side, part, place)
    return orders.opens(head.design, assess(then, head.shop.sweeps.known, head.design), head.side, place)


def take_other(head: Opened, who: Who, by: Sitting, *, line: int, place: str, key: str) -> None:
    """Take another part in place of what was ordered. Raises ``NotFound``, ``StaleRevision``."""
    by_name(by, WHOSE)
    if place not in places_of(head.current.build, head.side):
        raise FieldError("place", "There is no such place.")
    shop = head.shop
    opens = opened_by(head, shop.shelf.get(key), place)
    substitute(shop.workshop, shop.bench, shop.shelf, head.current, line, head.side, place, key, opens, who, by)
