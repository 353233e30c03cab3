"""Hours and money booked against a head, and the sum beside each way with a part."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from arcstack.errors import FieldError
from arcstack.readings.event import Event
from arcstack.readings.recorded import Booked, Sort, Weighed, booked
from arcstack.readings.returning import disposed
from arcstack.settings import setting

MOST_HOURS, MOST_MONEY = setting("costs.most_hours"), setting("costs.most_money")

WAYS = {"spare": "A spare from the shelf", "salvage": "Salvage", "replace": "Replace"}


@dataclass(frozen=True)
class Sums:
    """What a head has cost: hours, their money, parts, outside work; ``decided`` is what dispositions add to it."""

    hours: float
    labour: float
    parts: float
    outside: float
    decided: float

    @property
    def total(self) -> float:
        """What is booked. What was only decided is not yet spent, and is not in it."""
        return self.labour + self.parts + self.outside


def sums(events: Sequence[Event]) -> Sums:
    """What stands booked, in the shop's money."""
    rows = booked(events)
    of = {sort: sum(b.sum for b in rows if b.sort is sort) for sort in Sort}
    hours = sum(b.hours for b in rows)
    decided = sum(d.cost for d in disposed(events) if d.cost is not None)
    return Sums(hours, of[Sort.HOURS], of[Sort.PARTS], of[Sort.OUTSIDE], decided)


def held(entry: Booked) -> Booked:
    """A booking that can be taken. Raises ``FieldError``."""
    if not entry.what:
        raise FieldError("what", "What was it for?")
    if entry.sort is Sort.HOURS:
        if not 0.0 < entry.hours <= MOST_HOURS:
            raise FieldError("hours", f"Hours are more than none, and at most {MOST_HOURS:,.0f}.")
        if entry.rate < 0.0:
            raise FieldError("rate", "A rate is not below nought.")
    elif entry.hours or entry.rate:
        raise FieldError("hours", "Parts and outside work are booked as money.")
    elif not 0.0 < abs(entry.money) <= MOST_MONEY:
        raise FieldError("money", "How much? A sum; what was given back has a minus.")
    if abs(entry.sum) > MOST_MONEY:
        raise FieldError("money", f"That comes to {entry.sum:,.2f}: more than {MOST_MONEY:,.0f} no head costs.")
    return entry


def way_sums(weighed: Weighed) -> Mapping[str, float]:
    """What each way comes to: its parts and its hours at the rate.

    >>> from arcstack.document import Sitting
    >>> ways, by = {"salvage": (12.0, 0.5), "replace": (64.0, 0.2)}, Sitting(hand="ada")
    >>> w = Weighed(1, "valve", ways, 80.0, "salvage", "", by)
    >>> dict(way_sums(w))
    {'salvage': 52.0, 'replace': 80.0}
    """
    return {way: money + hours * weighed.rate for way, (money, hours) in weighed.ways.items()}


def weigh(weighed: Weighed) -> Weighed:
    """A weighing that can be kept. Raises ``FieldError``."""
    if not weighed.part:
        raise FieldError("part", "Of which part?")
    if len(weighed.ways) < 2:
        raise FieldError("ways", "Weigh one way against another: give what two of them cost at least.")
    if any(money < 0.0 or hours < 0.0 for money, hours in weighed.ways.values()) or weighed.rate < 0.0:
        raise FieldError("ways", "Neither money nor hours are below nought.")
    if any(hours for _, hours in weighed.ways.values()) and not weighed.rate:
        raise FieldError("rate", "Hours cost something: at which rate?")
    if weighed.chosen not in weighed.ways:
        raise FieldError("chosen", "Which way is taken? One of those that have a sum.")
    if max(way_sums(weighed).values()) > MOST_MONEY:
        raise FieldError("ways", f"More than {MOST_MONEY:,.0f} no part costs.")
    cheapest = min(way_sums(weighed).values())
    if way_sums(weighed)[weighed.chosen] > cheapest and not weighed.reason:
        raise FieldError("reason", "Another way costs less: say why this one.")
    return weighed
