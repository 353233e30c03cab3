"""A reading: one figure at one place or of one item, as it was taken. Readings are only ever added."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import ClassVar

from pydantic import ConfigDict

from arcstack.document import Sitting
from arcstack.readings.event import STRICT, Event


class Phase(StrEnum):
    """When in the work of a head a reading was taken, in order."""

    INCOMING = "incoming"
    MACHINED = "after machining"
    MOCK_UP = "mock-up"
    FINAL = "final"
    SERVICE = "service"

    @property
    def order(self) -> int:
        return list(Phase).index(self)


@dataclass(frozen=True)
class Reading:
    """``number`` counts readings and events together as they were said. ``value`` is canonical, ``typed`` the
    text with its unit.

    ``place`` is a label such as ``3I-b``, ``item`` a serial; either may be empty. ``resolution`` is the instrument's,
    canonical. ``condition`` holds what else stood: ``with_spring``, ``height_mm`` of a load, ``cold_C``. ``rests`` are
    the document's fields it was taken with, as they then stood, ``cuts`` how many cuts the place had had. ``replaces``
    is the number of the one that it corrects; a ``void`` one takes that back and says nothing else.
    """

    __pydantic_config__: ClassVar[ConfigDict] = STRICT

    number: int
    key: str
    place: str
    item: str
    value: float
    typed: str
    by: Sitting
    phase: Phase
    service: int = 0
    resolution: float | None = None
    condition: Mapping[str, float] = field(default_factory=dict)
    note: str = ""
    replaces: int | None = None
    void: bool = False
    rests: Mapping[str, str] = field(default_factory=dict)
    cuts: int = 0

    @property
    def stage(self) -> tuple[int, int]:
        """Phases in their order, a later service after an earlier."""
        return self.phase.order, self.service

    @property
    def phase_words(self) -> str:
        return (
            f"{self.phase.value} {self.service}" if self.phase is Phase.SERVICE and self.service else self.phase.value
        )


@dataclass(frozen=True)
class Put(Event, kind="put"):
    """An item put into a place, or taken out of any where the place is empty. ``sort`` is one of ``ITEMS``."""

    number: int
    item: str
    sort: str
    place: str
    by: Sitting


@dataclass(frozen=True)
class Cut(Event, kind="cut"):
    """Metal taken off at a place, mm along the valve's axis, never given back; ``valve`` is whose face it was."""

    number: int
    place: str
    face_mm: float
    seat_mm: float
    tip_mm: float
    by: Sitting
    note: str = ""
    valve: str = ""

    @property
    def raises_mm(self) -> float:
        """How far it lets the valve rise."""
        return self.face_mm + self.seat_mm


@dataclass(frozen=True)
class Waived(Event, kind="waived", decides=True):
    """A check or another thing that is owed, let pass at one place, or on a side or the head where the place is empty,
    by a hand, for a reason, until an end.

    ``state`` is how it stood (fail, open, unread …), ``figure`` its value then, canonical, ``low`` and ``high`` the
    shop's limit; ``stood`` says it in words. It holds for that figure and no worse one.
    """

    number: int
    check: str
    side: str
    place: str
    reason: str
    until: str
    settles: str
    by: Sitting
    ended: bool = False
    stood: str = ""
    state: str = ""
    figure: float | None = None
    low: float | None = None
    high: float | None = None

    @property
    def as_told(self) -> str:
        where = self.place or self.side or "the head"
        return f"{self.check} let pass at {where}, until {self.until}: {self.reason}"


@dataclass(frozen=True)
class Zero(Event, kind="zero", decides=True, after_release=True):
    """An instrument tried on its standard: what it read there, and what it should have, canonical."""

    number: int
    instrument: str
    read: float
    standard: float
    resolution: float
    by: Sitting
    correction: float = 0.0

    @property
    def off(self) -> float:
        return self.read - self.standard - self.correction

    @property
    def good(self) -> bool:
        """Within twice the resolution, a named correction counted.

        >>> from arcstack.document import Sitting
        >>> zero = Zero(1, "H-2", 25.03, 25.0, 0.01, Sitting(hand="ada"))
        >>> zero.good, Zero(1, "H-2", 25.03, 25.0, 0.01, Sitting(hand="ada"), 0.03).good
        (False, True)
        """
        return abs(self.off) <= 2.0 * self.resolution + 1e-12

    @property
    def as_told(self) -> str:
        return f"{self.instrument} tried on its standard"


@dataclass(frozen=True)
class Signed(Event, kind="signed", decides=True):
    """A gate passed by a hand: ``paper`` or ``bench``, at a revision, with what still stood against it."""

    number: int
    gate: str
    revision: int
    against: tuple[str, ...]
    by: Sitting

    @property
    def as_told(self) -> str:
        """
        >>> Signed(0, "stack", 3, (), Sitting(hand="Ilse")).as_told
        'The gate “stack” signed at its revision 3'
        """
        return f"The gate “{self.gate}” signed at its revision {self.revision}"


@dataclass(frozen=True)
class Taught(Event, kind="taught"):
    """This head does not exist: it is a lesson, made by a seed; ``ended`` once its truth was shown."""

    number: int
    lesson: str
    seed: int
    by: Sitting
    ended: bool = False


@dataclass(frozen=True)
class FaultNamed(Event, kind="fault_named"):
    """A fault of a lesson's head as its learner names it: what it is, and where, a place, a side or a spring's serial;
    ``off`` takes it back."""

    number: int
    fault: str
    where: str
    by: Sitting
    off: bool = False


@dataclass(frozen=True)
class Stated(Event, kind="stated", after_release=True):
    """What a field of the design came to say after it had said nothing: of the very part that was there already."""

    number: int
    path: str
    value: str
    by: Sitting
