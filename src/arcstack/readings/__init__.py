"""Places, items and readings of a head, and the design as it was built."""

from arcstack.readings.asked import ASKED, Asked, Per, Step, of_step, stands_per
from arcstack.readings.built import as_built, thicknesses
from arcstack.readings.event import Event
from arcstack.readings.reading import Cut, FaultNamed, Phase, Put, Reading, Signed, Stated, Taught, Waived, Zero
from arcstack.readings.sheet import Settled, Sheet, rests_on

__all__ = [
    "ASKED", "Asked", "Cut", "Event", "FaultNamed", "Per", "Phase", "Put", "Reading", "Settled", "Sheet", "Signed",
    "Stated", "Step", "Taught", "Waived", "Zero", "as_built", "of_step", "rests_on", "stands_per", "thicknesses",
]  # fmt: skip
