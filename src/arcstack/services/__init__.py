"""Carrier cases: they take who, when and a database as arguments, and know no page."""

from arcstack.services.assessments import Assessments
from arcstack.services.cam_library import CamLibrary, Carrier, Kept
from arcstack.services.difference import Change, differences
from arcstack.services.part_shelf import Newer, PartShelf
from arcstack.services.practice_library import PracticeLibrary
from arcstack.services.searches import Job, Searches
from arcstack.services.shop import Shop
from arcstack.services.summary import Standing, standing
from arcstack.services.sweeps import Progress, State, Sweeps
from arcstack.services.workshop import Current, Page, Steps, Who, Workshop

__all__ = [
    "Assessments",
    "CamLibrary",
    "Carrier",
    "Change",
    "Current",
    "Job",
    "Kept",
    "Newer",
    "Page",
    "PartShelf",
    "PracticeLibrary",
    "Progress",
    "Searches",
    "Shop",
    "Standing",
    "State",
    "Steps",
    "Sweeps",
    "Who",
    "Workshop",
    "differences",
    "standing",
]
