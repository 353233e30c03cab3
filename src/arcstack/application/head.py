"""One head opened: its design, everything read of it, and the two together."""

from dataclasses import dataclass, replace

from arcstack.application.shop import Shop
from arcstack.application.workshop import Current
from arcstack.assess import Assessment
from arcstack.assess.built import Built
from arcstack.cached import cached_property
from arcstack.errors import NotFound
from arcstack.readings import Sheet, Step
from arcstack.readings.left import Left, left
from arcstack.store import BuildRow, Builds, Database


@dataclass(frozen=True)
class Opened:
    """A head of a workshop, looked at from one side of it. What is worked is worked when it is asked for."""

    shop: Shop
    current: Current
    side: str
    sheet: Sheet

    @cached_property
    def design(self) -> Assessment:
        return self.shop.assessments.of(self.current.id, self.current.build)

    @cached_property
    def built(self) -> Built:
        return self.shop.bench.built(self.current.id, self.design, self.sheet)

    def anew(self) -> "Opened":
        """The same head as it stands now: its newest revision, and everything read of it. Raises ``NotFound``."""
        current = self.shop.workshop.open(self.current.id)
        return replace(self, current=current, sheet=self.shop.bench.sheet(current.id, current.build))

    @property
    def rest(self) -> tuple[Left, ...]:
        """What is unread or no longer holds."""
        return left(self.sheet)

    def rest_of(self, step: Step) -> list[Left]:
        """That of one step at the places themselves."""
        return [x for x in self.rest if x.spot.asked.step is step and not x.spot.asked.item]


def opened(shop: Shop, build_id: int, side: str, revision: int | None = None) -> Opened:
    """A head as it stands, or at a revision. Raises ``NotFound``."""
    current = shop.workshop.open(build_id, revision)
    return Opened(shop, current, side, shop.bench.sheet(build_id, current.build))


def find(database: Database, name: str) -> BuildRow:
    """The head that has a name, or a number. Raises ``NotFound`` where none has, or more than one."""
    with database.session() as session:
        rows = Builds(session).page(limit=1_000_000)
    found = [r for r in rows if r.name.casefold() == name.strip().casefold() or str(r.id) == name.strip()]
    if len(found) != 1:
        have = ", ".join(f"{r.id} {r.name}" for r in rows[:12])
        why = "more than one head of that name" if found else "no such head"
        raise NotFound(f"There is {why} in it. It has: {have}{' and more' if len(rows) > 12 else ''}.")
    return found[0]
