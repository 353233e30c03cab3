"""Places, items and readings of a head, and the design as it was built."""

# each of these adds its events to what there is
from arcstack.readings import (
    assembling as assembling,
)
from arcstack.readings import (
    brought as brought,
)
from arcstack.readings import (
    lash_history as lash_history,
)
from arcstack.readings import (
    mock_up as mock_up,
)
from arcstack.readings import (
    pictured as pictured,
)
from arcstack.readings import (
    recorded as recorded,
)
from arcstack.readings import (
    returning as returning,
)
from arcstack.readings import (
    sent_on as sent_on,
)
from arcstack.readings.asked import ASKED, Asked, Per, Step, of_step, stands_per
from arcstack.readings.built import as_built, thicknesses
from arcstack.readings.event import KINDS, Event, last_of, of_kind
from arcstack.readings.reading import Cut, FaultNamed, Phase, Put, Reading, Signed, Stated, Taught, Waived, Zero
from arcstack.readings.sheet import Settled, Sheet, rests_on

__all__ = [
    "ASKED",
    "KINDS",
    "Asked",
    "Cut",
    "Event",
    "FaultNamed",
    "Per",
    "Phase",
    "Put",
    "Reading",
    "Settled",
    "Sheet",
    "Signed",
    "Stated",
    "Step",
    "Taught",
    "Waived",
    "Zero",
    "as_built",
    "last_of",
    "of_kind",
    "of_step",
    "rests_on",
    "stands_per",
    "thicknesses",
]
