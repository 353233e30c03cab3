"""SQLite behind repositories."""

from sqlalchemy.orm import Session

from arcstack.store.builds import BuildRow, Builds, RevisionRow
from arcstack.store.cams import CamRow, Cams
from arcstack.store.database import Database, own_folder

__all__ = ["BuildRow", "Builds", "CamRow", "Cams", "Database", "RevisionRow", "Session", "own_folder"]
