"""What was done to the workshop itself: sign-ins, roles, exports, imports, removals, restores, signatures."""

import csv
import io
from dataclasses import dataclass
from datetime import datetime, timedelta

from arcstack.application.workshop import Page, Who
from arcstack.errors import FieldError
from arcstack.settings import setting
from arcstack.store import Database, TrailRow
from arcstack.store import Trail as Rows

LEAST_DAYS = int(setting("trail.least_days"))


@dataclass(frozen=True)
class Noted:
    """One line: when, who, what was done, about what, from where."""

    at: datetime
    who: str
    act: str
    about: str
    address: str


class Trail:
    """The trail of one workshop. Lines are added, and never changed."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def note(self, who: Who, act: str, about: str = "", address: str = "") -> None:
        """Add a line."""
        with self.database.session(writes=True) as session:
            Rows(session).add(who.now(), who.name, act, about, address)

    def page(self, number: int = 1) -> Page[Noted]:
        """A page of it, the newest first."""
        with self.database.session() as session:
            rows = Rows(session)

            def take(limit: int, offset: int) -> list[Noted]:
                return [_noted(r) for r in rows.page(limit, offset)]

            return Page.of_rows(number, rows.count(), take)

    def csv(self) -> str:
        """All of it as a table, the newest first."""
        out = io.StringIO()
        made = csv.writer(out)
        made.writerow(("at", "who", "act", "about", "address"))
        with self.database.session() as session:
            rows = Rows(session)
            for r in rows.page(rows.count()):
                made.writerow(
                    [f"{r.at.isoformat(timespec='seconds')}Z", *map(_plain, (r.who, r.act, r.about, r.address))]
                )
        return out.getvalue()

    def prune(self, days: int, who: Who) -> int:
        """Take away what is older than so many days, and note that it was; gives how many lines went.

        Raises ``FieldError`` for what is too young to go.
        """
        if days < LEAST_DAYS:
            raise FieldError("days", f"A line is kept for {LEAST_DAYS} days at least.")
        with self.database.session(writes=True) as session:
            rows = Rows(session)
            gone = rows.prune(who.now() - timedelta(days=days))
            rows.add(who.now(), who.name, "trail pruned", f"{gone} lines older than {days} days", "")
        return gone


def _plain(text: str) -> str:
    """No cell that a spreadsheet takes for a formula."""
    return f"'{text}" if text[:1] in "=+-@\t\r" and text else text


def _noted(r: TrailRow) -> Noted:
    return Noted(r.at, r.who, r.act, r.about, r.address)
