"""The whole document."""

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from arcstack.document.entry import Entry, Printable, Sitting
from arcstack.document.parts import (
    Bench,
    Brief,
    Cam,
    Candidate,
    Clearance,
    Engine,
    Follower,
    Head,
    Job,
    Listed,
    Part,
    Port,
    Stack,
    Turbo,
)
from arcstack.practice import OwnPractice

FORMAT = "arc-stack-build"
VERSION = 4
SIDES = ("intake", "exhaust")
SLOTS = (1, 2, 3, 4, 5)
"""Places for packs that could be fitted instead."""

LONGEST_NOTE = 2000
ShortText = Annotated[str, StringConstraints(max_length=80)]
FieldPath = Annotated[str, StringConstraints(max_length=120)]
NoteText = Annotated[str, StringConstraints(max_length=500)]


class FromShelf(Part):
    """A part that was fitted from the shelf: which, in which version, and what it was called."""

    key: Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{32}$")]
    version: Annotated[int, Field(ge=1)]
    name: ShortText


class Side(Part):
    """Everything on one side of the head. ``from_shelf`` says by place which parts came from the shelf."""

    cam: Cam = Cam()
    stack: Stack = Stack()
    follower: Follower = Follower()
    clearance: Clearance = Clearance()
    port: Port = Port()
    bench: Bench = Bench()
    candidates: Annotated[tuple[Candidate, ...], Listed(len(SLOTS), Candidate())] = ()
    from_shelf: dict[ShortText, FromShelf] = Field(default_factory=dict, max_length=30)

    def candidate(self, slot: int) -> Candidate:
        """The pack in a slot, 1 to 5; an empty one where nothing was entered. Raises ``ValueError`` for another."""
        if slot not in SLOTS:
            raise ValueError(f"there is no slot {slot}")
        return self.candidates[slot - 1] if slot <= len(self.candidates) else Candidate()


class Override(Part):
    """One limit changed for this build, in the limit's own dimension, with the builder's reason, hand and date."""

    low: Entry | None = None
    high: Entry | None = None
    reason: Annotated[str, StringConstraints(min_length=3, max_length=200), Printable]
    by: Sitting | None = None


class Decision(Part):
    """One side taken on a matter that builders disagree about, by whose hand, and why."""

    choice: ShortText
    reason: Annotated[str, StringConstraints(max_length=200), Printable] = ""
    by: Sitting | None = None


class Build(Part):
    """One head: an immutable document; every change makes a new one."""

    format: Literal["arc-stack-build"] = "arc-stack-build"
    version: Literal[4] = 4
    name: Annotated[str, StringConstraints(min_length=1, max_length=80, strip_whitespace=True), Printable]
    note: Annotated[str, StringConstraints(max_length=LONGEST_NOTE)] = ""
    notes: dict[FieldPath, NoteText] = Field(
        default_factory=dict, max_length=200, description="notes on single fields, by the field's path"
    )
    practice: ShortText = "balanced"
    practice_version: Annotated[int, Field(ge=1)] = 1
    own_practice: OwnPractice | None = None
    identity: Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{0,32}$")] = ""
    """Which build this is, wherever it is copied to; in an exported document only."""
    decisions: dict[ShortText, Decision] = Field(default_factory=dict, max_length=60)
    overrides: dict[ShortText, Override] = Field(default_factory=dict, max_length=100)
    head: Head = Head()
    job: Job = Job()
    brief: Brief = Brief()
    engine: Engine = Engine()
    turbo: Turbo = Turbo()
    intake: Side = Side()
    exhaust: Side = Side()

    def side(self, name: str) -> Side:
        """The side called ``intake`` or ``exhaust``."""
        if name not in SIDES:
            raise ValueError(f"there is no side called {name}")
        return self.intake if name == "intake" else self.exhaust
