"""What this sitting at the bench reads with: phase, instruments, hand, and the zero each was tried on."""

from dataclasses import dataclass

from flask import request, session

from arcstack.document import Sitting
from arcstack.readings import Phase, Sheet, Zero, zeroed
from arcstack.readings.instruments import Instrument
from arcstack.readings.learning import seen, truth
from arcstack.web.kit.session import SITTING_LASTS, bench, current_hand, current_who, instruments, workshop
from arcstack.web.pages.bench.shown import Head


@dataclass(frozen=True)
class Stage:
    """A phase of the work, of service the how manieth."""

    phase: Phase
    service: int = 0

    @property
    def words(self) -> str:
        """
        >>> Stage(Phase.SERVICE, 2).words, Stage(Phase.MOCK_UP).words
        ('service 2', 'mock-up')
        """
        return f"{self.phase.value} {self.service}" if self.service else self.phase.value


def stages_of(sheet: Sheet) -> list[Stage]:
    """The stages that a head can be read in: every service that it had, and the next."""
    served = max((r.service for r in sheet.readings if r.phase is Phase.SERVICE), default=0)
    return [
        *(Stage(p) for p in Phase if p is not Phase.SERVICE),
        *(Stage(Phase.SERVICE, n) for n in range(1, served + 2)),
    ]


def phase_key() -> str:
    """Under which name the stage of the head that is asked for is remembered."""
    return f"phase {(request.view_args or {}).get('build_id', '')}"


def stage_now(sheet: Sheet) -> Stage:
    """The stage at which this browser reads this head: another head starts at its own."""
    name = str(session.get(phase_key()) or "")
    return next((s for s in stages_of(sheet) if s.words == name), Stage(Phase.FINAL))


def instrument_for(kind: str, here: Head | None = None) -> Instrument | None:
    """The instrument of a kind that this sitting reads with; of a lesson the one that is lent with it."""
    taught = here.sheet.taught if here is not None else None
    if here is not None and taught is not None:
        hidden, build_id = truth(here.sheet.build, taught.lesson, taught.seed), here.current.id
        rows, builds = bench(), workshop()

        def meets(where: str, figure: str) -> float | None:
            return seen(hidden, rows.sheet(build_id, builds.open(build_id).build), where, figure)

        return instruments().stand_in(build_id, kind, taught.seed, meets)
    name = str(session.get(f"instrument {kind}") or "")
    return next((i for i in instruments().all() if i.name == name and i.kind == kind), None)


def hand_with(instrument: Instrument | None) -> Sitting:
    """The hand at work, with an instrument."""
    by = current_hand()
    return by.model_copy(update={"instrument": instrument.name if instrument else ""})


def zero_now(here: Head, instrument: Instrument) -> Zero | None:
    """The last zero check of an instrument, while it is of this day's work."""
    return zeroed.zero_now(here.sheet, instrument.name, current_who().now(), SITTING_LASTS)


def good_for(here: Head, key: str, named: str) -> Instrument | None:
    """The workshop's instrument of a name where it may read a figure now; None where what it says counts as assumed."""
    return zeroed.good_for(key, named, here.sheet, instruments().all(), current_who().now(), SITTING_LASTS)
