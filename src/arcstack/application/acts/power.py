"""Runs on a dynamometer, taken in and taken back."""

from collections.abc import Mapping, Sequence

from arcstack.application.acts.acting import act, by_name, reasoned
from arcstack.application.head import Opened
from arcstack.document import Sitting
from arcstack.document.words import one_line
from arcstack.errors import DocumentError, FieldError
from arcstack.formats.power_csv import Columns, read_power
from arcstack.readings.recorded import Ran, RunOff, runs


def take_runs(
    head: Opened, by: Sitting, *, group: str, day: str, revision: int | None, conditions: Mapping[str, str],
    tables: Sequence[tuple[str, bytes]], columns: Columns,
) -> None:  # fmt: skip
    """Take runs, each a table by its name: all of them or none. ``revision`` is the one that ran, or the newest."""
    by_name(by, "Whose hand ran it?")
    if not group:
        raise FieldError("group", "Which state is this? Repeats of one state share a name, as “before”.")
    if not tables:
        raise FieldError("table", "Drop the runs as tables, or paste one.")
    if revision is not None and not 1 <= revision <= head.current.revision:
        raise FieldError("revision", f"The revision lies between 1 and {head.current.revision}.")
    told = {k: v for k, v in conditions.items() if v}
    ran = []
    for name, data in tables:
        origin = one_line(name.rsplit("/", 1)[-1].rsplit("\\", 1)[-1], 80)
        try:
            curve = read_power(data, columns)
        except DocumentError as error:
            raise FieldError("table", f"{origin}: {error.message}. Nothing was taken.") from error
        source = f"{origin} ({'; '.join(curve.understood)})"[:300]
        of = revision or head.current.revision
        ran.append(Ran(0, group, day, of, curve.power, curve.boost, told, by, source))
    act(head, lambda _: ran)


def take_back(head: Opened, by: Sitting, *, run: int | None, reason: str) -> None:
    """Take a run back, for a reason; it stays in the record."""

    def decided(now: Opened) -> list[RunOff]:
        by_name(by, "Whose hand takes it back?")
        if run is None or run not in {r.number for r in runs(now.sheet.events)}:
            raise FieldError("run", "That run was taken back already.")
        why = reasoned(reason, "Why is the run taken back? A run that is only low stays.")
        return [RunOff(0, run, why, by)]

    act(head, decided)
