"""Hours and money booked against a head, and one way with a part weighed against another."""

from collections.abc import Mapping

from arcstack.application.acts.acting import act, by_name
from arcstack.application.head import Opened
from arcstack.document import Sitting
from arcstack.errors import FieldError
from arcstack.readings.recorded import Booked, Sort, Weighed, booked
from arcstack.record import costs


def book(
    head: Opened, by: Sitting, *, sort: Sort | None, day: str, what: str, hours: float, rate: float, money: float
) -> None:
    """Book hours at a rate, or money for parts or outside work."""
    by_name(by, "Whose hand books it?")
    if sort is None:
        raise FieldError("sort", "Hours, parts or outside work?")
    worked = sort is Sort.HOURS
    made = Booked(0, sort, day, what, hours if worked else 0.0, rate if worked else 0.0, 0.0 if worked else money, by)
    act(head, lambda _: [costs.held(made)])


def take_back(head: Opened, by: Sitting, *, booking: int) -> None:
    """Take a booking back; it stays in the record."""

    def decided(now: Opened) -> list[Booked]:
        by_name(by, "Whose hand books it?")
        found = next((b for b in booked(now.sheet.events) if b.number == booking), None)
        if found is None:
            raise FieldError("off", "That was taken back already.")
        return [Booked(0, found.sort, found.day, found.what, 0.0, 0.0, 0.0, by, booking, True)]

    act(head, decided)


def weigh(
    head: Opened, by: Sitting, *, part: str, ways: Mapping[str, tuple[float, float]], rate: float, chosen: str,
    reason: str,
) -> None:  # fmt: skip
    """Weigh one way with a part against another, each by its money and its hours, and keep which was taken."""
    by_name(by, "Whose hand weighs it?")
    act(head, lambda _: [costs.weigh(Weighed(0, part, dict(ways), rate, chosen, reason, by))])
