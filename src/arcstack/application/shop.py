"""A workshop's folder, opened: every service over it, for pages, for commands and for tests alike."""

from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

from arcstack.application.assessments import Assessments
from arcstack.application.backups import FILE, PICTURES, Backups
from arcstack.application.bench import Bench
from arcstack.application.instruments import Instruments
from arcstack.application.part_shelf import PartShelf
from arcstack.application.people import People
from arcstack.application.pictures import Pictures
from arcstack.application.searches import Searches
from arcstack.application.sessions import Sessions
from arcstack.application.sweeps import Sweeps
from arcstack.application.trail import Trail
from arcstack.application.workshop import Workshop
from arcstack.store import Database


class Shop:
    """The services of one workshop. What one of them keeps in memory is of this workshop alone.

    ``saved`` is called with a revision's number once it is on the disk. Raises ``StoreError`` where the folder cannot
    be opened.
    """

    def __init__(
        self, data: Path, sweeps: Sweeps | None = None, saved: Callable[[int], None] = lambda _number: None
    ) -> None:
        self.data = data
        self.database = Database.open(data / FILE)
        self.workshop = Workshop(self.database, saved)
        self.bench = Bench(self.database)
        self.shelf = PartShelf(self.database)
        self.instruments = Instruments(self.database)
        self.people, self.sessions = People(self.database), Sessions(self.database)
        self.trail = Trail(self.database)
        self.pictures = Pictures(data / PICTURES)
        self.backups = Backups(data, lambda: datetime.now(UTC))
        self.sweeps = sweeps or Sweeps()
        self.assessments = Assessments(self.sweeps)
        self.searches = Searches()
