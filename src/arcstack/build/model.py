"""The whole document."""

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from arcstack.build.entry import Entry, Printable, Sitting
from arcstack.build.parts import Brief, Cam, Candidate, Clearance, Engine, Part, Stack

FORMAT = "arc-stack-build"
VERSION = 2
SIDES = ("intake", "exhaust")
SLOTS = (1, 2, 3, 4, 5)
"""Places for packs that could be fitted instead."""

ShortText = Annotated[str, StringConstraints(max_length=80)]


class Side(Part):
    """Everything on one side of the head."""

    cam: Cam = Cam()
    stack: Stack = Stack()
    clearance: Clearance = Clearance()
    candidate_1: Candidate = Candidate()
    candidate_2: Candidate = Candidate()
    candidate_3: Candidate = Candidate()
    candidate_4: Candidate = Candidate()
    candidate_5: Candidate = Candidate()

    def candidate(self, slot: int) -> Candidate:
        """The pack in a slot, 1 to 5. Raises ``ValueError`` for another."""
        if slot not in SLOTS:
            raise ValueError(f"there is no slot {slot}")
        found: Candidate = getattr(self, f"candidate_{slot}")
        return found


class Override(Part):
    """One limit changed for this build, in the limit's own dimension, with the builder's reason, hand and date."""

    low: Entry | None = None
    high: Entry | None = None
    reason: Annotated[str, StringConstraints(min_length=3, max_length=200), Printable]
    by: Sitting | None = None


class Build(Part):
    """One head: an immutable document; every change makes a new one."""

    format: Literal["arc-stack-build"] = "arc-stack-build"
    version: Literal[2] = 2
    name: Annotated[str, StringConstraints(min_length=1, max_length=80, strip_whitespace=True), Printable]
    note: Annotated[str, StringConstraints(max_length=2000)] = ""
    practice: ShortText = "balanced"
    overrides: dict[ShortText, Override] = Field(default_factory=dict, max_length=100)
    brief: Brief = Brief()
    engine: Engine = Engine()
    intake: Side = Side()
    exhaust: Side = Side()

    def side(self, name: str) -> Side:
        """The side called ``intake`` or ``exhaust``."""
        if name not in SIDES:
            raise ValueError(f"there is no side called {name}")
        return self.intake if name == "intake" else self.exhaust
