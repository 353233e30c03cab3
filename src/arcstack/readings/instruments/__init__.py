"""Instruments of the bench: one protocol, whether a hand types, a gauge types, or a line comes over a link."""

from arcstack.readings.instruments.instrument import KINDS, Instrument, InstrumentKind, read_line
from arcstack.readings.instruments.link import Heard, Link

__all__ = ["KINDS", "Heard", "Instrument", "InstrumentKind", "Link", "read_line"]
