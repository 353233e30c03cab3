"""What a builder does and asks of a workshop: who, when and a database are arguments; no page is known."""

from arcstack.application.assessments import Assessments
from arcstack.application.cam_library import CamLibrary, Carrier, Kept
from arcstack.application.difference import Change, differences
from arcstack.application.part_shelf import Newer, PartShelf
from arcstack.application.practice_library import PracticeLibrary
from arcstack.application.searches import Job, Searches
from arcstack.application.shop import Shop
from arcstack.application.summary import Standing, standing
from arcstack.application.sweeps import Progress, State, Sweeps
from arcstack.application.workshop import Current, Page, Steps, Who, Workshop

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
