"""A workshop's folder, opened: every service over it, for pages, for commands and for tests alike."""

from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

from arcstack.services.assessments import Assessments
from arcstack.services.backups import FILE, PICTURES, Backups
from arcstack.services.bench import Bench
from arcstack.services.instruments import Instruments
from arcstack.services.part_shelf import PartShelf
from arcstack.services.people import People
from arcstack.services.pictures import Pictures
from arcstack.services.searches import Searches
from arcstack.services.sessions import Sessions
from arcstack.services.sweeps import Sweeps
from arcstack.services.trail import Trail
from arcstack.services.workshop import Workshop
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
