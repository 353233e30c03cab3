"""Everything that a mock-up comes to, for its own page and for the gate that it stands before."""

from dataclasses import dataclass

from arcstack.assess import Assessment
from arcstack.checks import Verdict
from arcstack.document import SIDES
from arcstack.errors import NotKnown
from arcstack.readings import Sheet
from arcstack.readings.mock_up import MockUp
from arcstack.trials.clearances import Gaps, Gate, Met, against, cams_in_head, gaps, met
from arcstack.trials.timed import Timed, timed


@dataclass(frozen=True)
class Mocked:
    """A side's mock-up worked: timing, each valve's gaps, valve to valve, cams in the head.

    ``why`` says what the design lacks where nothing can be held to it.
    """

    mock: MockUp
    timed: Timed | None
    gaps: tuple[Gaps, ...]
    between: tuple[Met, ...]
    in_head: tuple[Verdict, ...]
    why: str

    @property
    def at_valves(self) -> tuple[tuple[str, Verdict], ...]:
        """Every verdict, with the valve that it is of, or an empty text where it is of the side."""
        found = [("", v) for v in (*self.in_head, *(self.timed.verdicts if self.timed else ()))]
        found += [(g.place, v) for g in self.gaps for v in g.verdicts]
        return (*found, *((m.read.place, m.verdict) for m in self.between))

    @property
    def verdicts(self) -> tuple[Verdict, ...]:
        return tuple(v for _, v in self.at_valves)

    @property
    def gates(self) -> tuple[Gate, ...]:
        return against(self.mock, self.at_valves)

    @property
    def against(self) -> tuple[str, ...]:
        """What stands against it, in words."""
        return tuple(g.words for g in self.gates)


def mocked(design: Assessment, sheet: Sheet, side: str) -> Mocked:
    """The mock-up of a side of a head."""
    mock, ctx = sheet.mock_up(side), design.sides[side]
    own = [p for p in sheet.places if p.side == side]
    in_head, why = cams_in_head(ctx, mock, len(own)), ""
    found: Timed | None = None
    measured: tuple[Gaps, ...] = ()
    between: tuple[Met, ...] = ()
    try:
        found = timed(ctx, mock)
        measured = tuple(g for p in own if (g := gaps(ctx, mock, p.label, found.known)) is not None)
        between = met(design.sides[SIDES[0]], mock)
    except NotKnown as error:
        why = ", ".join(m.label.lower() for m in error.missing) or error.why
    return Mocked(mock, found, measured, between, in_head, why)


def stands_against(design: Assessment, sheet: Sheet, side: str) -> tuple[str, ...]:
    """What stands against a side's mock-up; nothing while it was not begun."""
    return mocked(design, sheet, side).against if sheet.mock_up(side).begun else ()
