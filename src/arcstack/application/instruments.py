"""The workshop's instruments: named, linked, listened to."""

import json
from threading import Lock, Thread

from pydantic import ValidationError

from arcstack.application.workshop import Who
from arcstack.errors import FieldError, LinkLost, NotFound
from arcstack.readings.instruments import Heard, Instrument, Link
from arcstack.readings.instruments.instrument import an_address
from arcstack.readings.instruments.simulated import Faults, StandIn, StandInServer, Truth, zero_of
from arcstack.store import Database, LinkAddresses, Readings


class Instruments:
    """Every instrument of a workshop, and the links that are open."""

    def __init__(self, database: Database) -> None:
        self.database = database
        self._lock = Lock()
        self._links: dict[str, Link] = {}
        self._stand_ins: dict[tuple[int, str], Instrument] = {}

    def all(self) -> list[Instrument]:
        """By name."""
        with self.database.session() as session:
            return [_stored(text) for text in Readings(session).instruments()]

    def addresses(self) -> list[str]:
        """Where an instrument may be linked to, and nowhere else."""
        with self.database.session() as session:
            return LinkAddresses(session).all()

    def allow(self, address: str, who: Who) -> None:
        """Put an address on the list. Raises ``FieldError`` for what is none."""
        try:
            made = an_address(address.strip())
        except ValueError as error:
            raise FieldError("address", f"An address is {error}.") from error
        with self.database.session(writes=True) as session:
            LinkAddresses(session).allow([made], who.name, who.now())

    def refuse(self, address: str) -> None:
        """Take one off the list; what is linked there is let go."""
        with self.database.session(writes=True) as session:
            LinkAddresses(session).refuse(address)
        for name in [i.name for i in self.all() if i.address == address]:
            self.close(name)

    def stand_in(self, build_id: int, kind: str, seed: int, truth: Truth) -> Instrument:
        """The instrument of a kind that a lesson is read with: served on the loopback, linked as a real one is."""
        with self._lock:
            found = self._stand_ins.get((build_id, kind))
            if found is None:
                faults = Faults(zero=zero_of(kind, seed))
                server = StandInServer(StandIn(kind, seed, truth, faults))
                Thread(target=server.serve_forever, name=f"stand-in {kind}", daemon=True).start()
                made = server.stand_in.instrument(server.port)
                found = made.model_copy(update={"name": f"Lesson {build_id}: {kind}"})
                self._stand_ins[build_id, kind] = found
        return found

    def get(self, name: str) -> Instrument:
        """Raises ``NotFound``."""
        lent = self._lent(name)
        if lent is not None:
            return lent
        found = next((i for i in self.all() if i.name == name), None)
        if found is None:
            raise NotFound("That instrument is not in the workshop any more.")
        return found

    def _lent(self, name: str) -> Instrument | None:
        """The stand-in of a lesson, which this program serves itself."""
        with self._lock:
            return next((i for i in self._stand_ins.values() if i.name == name), None)

    def put(self, values: dict[str, object]) -> Instrument:
        """Add an instrument, or change the one of its name. Raises ``FieldError`` at the part that is wrong."""
        try:
            made = Instrument.model_validate(values)
        except ValidationError as error:
            first = error.errors(include_url=False)[0]
            where = str(first["loc"][0]) if first["loc"] else "name"
            raise FieldError(where, f"{where.capitalize()}: {first['msg'].removeprefix('Value error, ')}.") from error
        with self.database.session(writes=True) as session:
            Readings(session).put_instrument(made.name, made.model_dump_json())
        self.close(made.name)
        return made

    def remove(self, name: str) -> None:
        with self.database.session(writes=True) as session:
            Readings(session).remove_instrument(name)
        self.close(name)

    # -- links

    def link(self, name: str) -> Link:
        """The open link of an instrument, opened where it is not. Raises ``LinkLost``, ``NotFound``."""
        instrument = self.get(name)
        if not instrument.address:
            raise LinkLost(f"{name} has no link: its readings are typed.")
        if not self._lent(name) and instrument.address not in self.addresses():
            raise LinkLost(f"{name} is at {instrument.address}, which is not on the owner's list of addresses.")
        with self._lock:
            found = self._links.get(name)
            if found is None or found.instrument != instrument:
                found = self._links[name] = Link(instrument)
        return found

    def ask(self, name: str, place: str, figure: str) -> int:
        """Ask an instrument for a reading; gives the number of the last line before it. Raises ``LinkLost``."""
        link = self.link(name)
        number = link.last
        try:
            link.ask(place, figure)
        except LinkLost:
            self.close(name)
            raise
        return number

    def after(self, name: str, number: int) -> Heard | None:
        """The first line after a number. Raises ``LinkLost``; the next time the link is opened anew."""
        try:
            return self.link(name).after(number)
        except LinkLost:
            self.close(name)
            raise

    def close(self, name: str) -> None:
        """Close a link where one is open."""
        with self._lock:
            found = self._links.pop(name, None)
        if found is not None:
            found.close()


def _stored(text: str) -> Instrument:
    """An instrument as it was kept. One whose pattern, address or question is none by now keeps the rest: it is typed
    until it is told of again."""
    try:
        return Instrument.model_validate_json(text)
    except ValidationError:
        return Instrument.model_validate({k: v for k, v in json.loads(text).items() if k not in _LINKED})


_LINKED = ("address", "pattern", "asks", "speed")
