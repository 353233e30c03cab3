"""Work that was done to a head, here or elsewhere."""

from collections.abc import Sequence
from datetime import date

from arcstack.application.acts.acting import act, by_name
from arcstack.application.head import Opened
from arcstack.document import Sitting
from arcstack.errors import FieldError
from arcstack.readings.recorded import Known, Worked, Worker
from arcstack.readings.taking import place_called
from arcstack.record.ledger import told


def write_down(
    head: Opened, by: Sitting, today: date, *, day: str, worker: Worker | None, name: str, done: str,
    known: Known | None, touched: Sequence[str], places: Sequence[str], parts: str,
) -> None:  # fmt: skip
    """Write down what was done, by whom, how that is known, and which steps of the bench it touched."""

    def decided(now: Opened) -> list[Worked]:
        by_name(by, "Whose hand writes it down?")
        if worker is None or known is None:
            raise FieldError("worker", "Who did it, and how is that known?")
        at = tuple(place_called(now.sheet, label).label for label in places)
        return [told(Worked(0, day, worker, name, done, known, tuple(touched), at, by, parts), today)]

    act(head, decided)
