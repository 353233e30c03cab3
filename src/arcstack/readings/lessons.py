"""Lessons on a head that does not exist: what to look for, what is planted, how it shows and what it comes to."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType


class Kind(StrEnum):
    """What can be wrong with a head."""

    BENT = "a bent valve"
    LEAK = "a seat that leaks"
    EARLY = "a spring that goes solid early"
    WEAK = "a weak spring"
    SERIES = "a retainer series with an offset of its own"
    DEEP = "a lock that sits deep"
    TIMED = "a cam that does not stand where its card says"
    SINKS = "a valve that sinks into its seat"
    TIGHT = "a chamber tighter than its paper"


SHOWN_BY: Mapping[Kind, tuple[str, ...]] = MappingProxyType(
    {
        Kind.BENT: ("runout",),
        Kind.LEAK: ("vacuum", "vacuum_later"),
        Kind.EARLY: ("outer.solid",),
        Kind.WEAK: ("outer.load_1",),
        Kind.SERIES: ("open_height",),
        Kind.DEEP: ("open_height",),
        Kind.TIMED: (),
        Kind.SINKS: ("vacuum", "vacuum_later", "tip_height", "open_height", "seat_width"),
        Kind.TIGHT: (),
    }
)
"""Readings that show each; one of them is enough."""

SPOILS: Mapping[Kind, tuple[str, ...]] = MappingProxyType(
    {
        Kind.BENT: ("valve.runout", "seat.vacuum"),
        Kind.LEAK: ("seat.vacuum", "seat.vacuum_decay"),
        Kind.EARLY: ("spring.reserve.outer", "spring.solid_sorted"),
        Kind.WEAK: ("spring.seat_load", "control.separation"),
        Kind.SERIES: ("stack.installed_height", "spring.seat_load"),
        Kind.DEEP: ("stack.installed_height", "spring.seat_load"),
        Kind.TIMED: ("piston.clearance_swept", "valve.to_valve", "timing.overlap"),
        Kind.SINKS: ("lash.band", "seat.vacuum", "stack.installed_height", "control.separation"),
        Kind.TIGHT: ("piston.clearance", "piston.clearance_swept", "phaser.range"),
    }
)
"""Checks that each makes worse."""

CONSEQUENCE: Mapping[Kind, str] = MappingProxyType(
    {
        Kind.BENT: "it seals on one side, burns there, and works its guide oval",
        Kind.LEAK: "compression is lost in that cylinder, and the seat burns",
        Kind.EARLY: "the spring is solid before full lift; in an engine this breaks it",
        Kind.WEAK: "this valve parts first and sets the speed of all",
        Kind.SERIES: "every spring of the side stands tall and carries less than it was bought for",
        Kind.DEEP: "the retainer climbs, the spring stands tall there, and that valve floats first",
        Kind.TIMED: "the engine runs on another card than was bought; a tooth out bends valves in its first turn",
        Kind.SINKS: "a thinner shim hides it until the seat is gone: the valve hangs open hot, and burns",
        Kind.TIGHT: "with the phaser at its most the valves meet the piston",
    }
)


@dataclass(frozen=True)
class Lesson:
    """A scenario: what to look for in a few lines, an example, and which faults are planted."""

    key: str
    title: str
    lines: tuple[str, ...]
    example: str
    faults: tuple[Kind, ...]


LESSONS: Mapping[str, Lesson] = MappingProxyType(
    {
        lesson.key: lesson
        for lesson in (
            Lesson(
                "zero",
                "Instruments and zero",
                (
                    "Try each instrument on its standard before it reads anything.",
                    "Off by more than twice its resolution it reads nothing until it is set or corrected by name.",
                    "Read a thing twice: what lies far from its neighbours is most often a slip.",
                    "A reading has an instrument and a hand, or it counts as assumed.",
                ),
                "A micrometer of 0.01 reads 35.03 on its 35.00: off by 0.03, more than 0.02; heights would be tall.",
                (Kind.BENT,),
            ),
            Lesson(
                "heights",
                "Heights and shims",
                (
                    "Locator and the very locks of that place, retainer pulled up hard.",
                    "Twice each, to 0.03; a third decides.",
                    "One height far from the rest: look at its locks before its shims.",
                    "All of a side tall by as much: look at what they have in common.",
                    "Shims solved last, for what each place then has.",
                ),
                "Heights 36.80 36.82 36.79 37.35 36.81: the fourth is a lock that sits deep, not a seat cut deep.",
                (Kind.DEEP,),
            ),
            Lesson(
                "springs",
                "Springs, solid and matching",
                (
                    "A serial on each, and its own solid height: the lot's printed one is a guess.",
                    "Tallest solid allowed = H − gross lift − reserve wanted.",
                    "A load far below its fellows is a spring to retire, not to shim.",
                    "Match what passes; the spread is what the set will run with.",
                ),
                "38.20 − 10.40 − 2.00 = 25.80: a spring solid at 25.7 passes, one at 26.2 does not.",
                (Kind.EARLY, Kind.WEAK),
            ),
            Lesson(
                "compatibility",
                "Compatibility",
                (
                    "Parts that fit by hand may still stand elsewhere than they say.",
                    "Compare a whole side with its printed height before blaming a seat.",
                    "An offset that is common to all is the series; one that is alone is the place.",
                ),
                "Every open height of the intake 0.35 above the design: the retainers have an offset of their own.",
                (Kind.SERIES, Kind.DEEP),
            ),
            Lesson(
                "timing",
                "Timing without turning back",
                (
                    "The positive stop first, met both ways: half of their difference is the pointer’s error.",
                    "Forward only: what is turned back has the chain’s slack in it. Passed it? Go round.",
                    "Both flanks, and the dial back at nought; then again: the difference is repeatability.",
                    "Eye square to the pointer: from the side every angle is another.",
                    "Move the camshaft half of the crank degrees, the other way; then read again.",
                ),
                "Stop at 31.5 and 34.5, then 10.5 and 37.5 for a card of 8 and 40: 2.5° early, 1.25° of cam to move.",
                (Kind.TIMED,),
            ),
            Lesson(
                "lash",
                "Lash and its history",
                (
                    "Three services are on the page, found and set each time.",
                    "The first beds the seats; what goes on closing after it has a cause.",
                    "Read vacuum, tip, height and seat there before any shim.",
                    "Then name the cause; a thinner shim alone would hide it.",
                ),
                "0.14, 0.15, 0.12, set to 0.20 each time: the stem has risen 0.19 mm, and the spring lost 8 N by it.",
                (Kind.SINKS,),
            ),
            Lesson(
                "phaser",
                "Clearance with a phaser",
                (
                    "Push the valve to the piston near TDC and read its lift there too.",
                    "Lift tells the cam; lift and travel together tell the chamber.",
                    "What is clear parked may touch with the phaser at its most.",
                    "Limit the phaser to what clears, say what keeps it, or cut the pocket.",
                ),
                "Lift and travel 0.6 below the model at every angle: the chamber is tight, not the cam early.",
                (Kind.TIGHT,),
            ),
            Lesson(
                "whole",
                "The whole head",
                (
                    "In the order of the bench: guides, seats, masses, vacuum, tips, heights, springs.",
                    "No spring in when a vacuum is read.",
                    "Stop and find the cause of what fails before anything is shimmed round it.",
                    "Sign when nothing stands against it, or say what does.",
                ),
                "Sixteen valves, four faults: a reading that was never taken finds none of them.",
                (Kind.BENT, Kind.LEAK, Kind.EARLY, Kind.DEEP),
            ),
        )
    }
)
"""Lessons in their order."""
