"""SQLite behind repositories."""

from arcstack.store.builds import BuildRow, Builds, RevisionRow
from arcstack.store.cams import CamRow, Cams
from arcstack.store.database import Database

__all__ = ["BuildRow", "Builds", "CamRow", "Cams", "Database", "RevisionRow"]
