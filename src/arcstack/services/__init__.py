"""Use cases: they take who, when and a database as arguments, and know no page."""

from arcstack.services.cam_library import CamLibrary, Kept, Use
from arcstack.services.difference import Change, differences
from arcstack.services.sweeps import Progress, State, Sweeps
from arcstack.services.workshop import Current, Who, Workshop

__all__ = [
    "CamLibrary",
    "Change",
    "Current",
    "Kept",
    "Progress",
    "State",
    "Sweeps",
    "Use",
    "Who",
    "Workshop",
    "differences",
]
