"""SQLite behind repositories."""

from sqlalchemy.orm import Session

from arcstack.store.builds import BuildRow, Builds, Document, Order, RevisionRow, Shelf
from arcstack.store.cams import CamRow, Cams
from arcstack.store.database import Database, own_folder
from arcstack.store.parts import PartRow, Parts
from arcstack.store.people import People, PersonRow
from arcstack.store.practices import PracticeRow, Practices
from arcstack.store.readings import EventRow, ReadingRow, Readings
from arcstack.store.reason import Kind, Reason
from arcstack.store.shop import Guesses, LinkAddresses, SealRow, Seals, SignedIn, SignedInRow, Trail, TrailRow

__all__ = [
    "BuildRow",
    "Builds",
    "CamRow",
    "Cams",
    "Database",
    "Document",
    "EventRow",
    "Guesses",
    "Kind",
    "LinkAddresses",
    "Order",
    "PartRow",
    "Parts",
    "People",
    "PersonRow",
    "PracticeRow",
    "Practices",
    "ReadingRow",
    "Readings",
    "Reason",
    "RevisionRow",
    "SealRow",
    "Seals",
    "Session",
    "Shelf",
    "SignedIn",
    "SignedInRow",
    "Trail",
    "TrailRow",
    "own_folder",
]
