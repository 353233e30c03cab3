"""Instruments at the bench: named for a sitting, tried on their standard, and which of them may be read."""

from dataclasses import replace

from arcstack.application.acts.acting import WORKSHOP, act
from arcstack.application.head import Opened
from arcstack.application.instruments import Instruments
from arcstack.document import Sitting
from arcstack.document.words import LONGEST_TEXT
from arcstack.errors import FieldError
from arcstack.readings import Zero
from arcstack.readings.instruments import KINDS
from arcstack.readings.instruments.instrument import Instrument
from arcstack.settings import setting
from arcstack.units import System, show

MOST_CORRECTION = setting("bench.most_correction")


def sit_with(instruments: Instruments, hand: str, *, kind: str, name: str, resolution: float | None) -> None:
    """Read with an instrument: one of the workshop's, or a new one by its name and resolution."""
    if not hand or len(hand) > LONGEST_TEXT or not hand.isprintable() or hand == WORKSHOP:
        raise FieldError("hand", "Whose hand reads? A reading has an instrument and a name.")
    known = {i.name: i for i in instruments.all()}
    if name in known and known[name].kind != kind:
        raise FieldError("name", f"{name} is a {KINDS[known[name].kind].title.lower()}.")
    if name not in known:
        about = KINDS[kind]
        instruments.put(
            {
                "name": name, "kind": kind, "standard": about.standard, "unit": about.dimension.canonical_word,
                "resolution": about.resolution if resolution is None else resolution,
            }
        )  # fmt: skip


def try_zero(
    head: Opened, by: Sitting, instrument: Instrument, *, read: float, standard: float, correct: bool, system: System
) -> None:
    """Try an instrument on its standard. Off by more than twice its resolution it reads nothing until it is set, or
    ``correct`` lets what it shows too much be taken off by name.

    Raises ``FieldError`` also for one that is off; what it read is kept.
    """
    zero = Zero(0, instrument.name, read, standard, instrument.resolution, by)
    off = show(zero.off, instrument.about.dimension, system, 1)
    if correct and abs(zero.off) > MOST_CORRECTION * instrument.resolution:
        words = f"{instrument.name} is off by {off}: set it or have it mended. So much is never corrected."
        raise FieldError("standard", words)
    made = replace(zero, correction=read - standard) if correct else zero
    act(head, lambda _: [made])
    if not made.good:
        words = f"{instrument.name} is off by {off}: past twice its resolution. Set it, or have it corrected by name."
        raise FieldError("standard", words)
