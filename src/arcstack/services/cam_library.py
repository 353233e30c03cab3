"""Cams kept by own names, used in several builds, changed only after asking."""

from dataclasses import dataclass
from uuid import uuid4

from arcstack.build import Build, set_cam
from arcstack.build.parts import Cam
from arcstack.errors import FieldError
from arcstack.services.workshop import Who, Workshop
from arcstack.store import CamRow, Cams, Database


@dataclass(frozen=True)
class Kept:
    """A kept cam."""

    key: str
    name: str
    origin: str
    cam: Cam


@dataclass(frozen=True)
class Use:
    """A build that carries a kept cam on one side."""

    build_id: int
    name: str
    side: str


class CamLibrary:
    """The workshop's kept cams."""

    def __init__(self, database: Database, workshop: Workshop) -> None:
        self.database = database
        self.workshop = workshop

    def all(self) -> list[Kept]:
        with self.database.session() as session:
            return [_kept(r) for r in Cams(session).all()]

    def get(self, key: str) -> Kept:
        """Raises ``NotFound``."""
        with self.database.session() as session:
            return _kept(Cams(session).get(key))

    def uses(self, key: str) -> list[Use]:
        """Builds whose newest revision carries the cam."""
        with self.database.session() as session:
            return [Use(*row) for row in Cams(session).users(key)]

    def named(self, name: str) -> Kept | None:
        with self.database.session() as session:
            found = Cams(session).named(name)
            return _kept(found) if found else None

    def keep(self, name: str, cam: Cam, who: Who, also: list[Use] | None = None) -> Kept:
        """Keep a cam under a name, or change the one of that name; ``also`` are builds that take the change too.

        Raises ``FieldError`` for a name that is none.
        """
        name = " ".join(name.split())
        if not name or len(name) > 80 or not name.isprintable():
            raise FieldError("cam.name", "Give the cam a name of at most 80 characters.")
        held = self.named(name)
        key = held.key if held else uuid4().hex
        cam = cam.model_copy(update={"kept": key})
        kind = f"measured, {len(cam.curve.cam_rad)} readings" if cam.curve else "card"
        row = CamRow(key, name, f"{kind}, kept by {who.name}", who.now(), cam.model_dump_json())
        with self.database.session() as session:
            Cams(session).put(row)
        for use in also or []:
            current = self.workshop.open(use.build_id)
            changed = set_cam(current.build, use.side, cam)
            self.workshop.save(use.build_id, current.revision, changed, who, f"Kept cam {name} changed, {use.side}")
        return _kept(row)

    def use(self, key: str, build: Build, side: str) -> Build:
        """The build with a kept cam on one side. Raises ``NotFound``."""
        return set_cam(build, side, self.get(key).cam)

    def forget(self, key: str) -> None:
        """Take a cam out of the library; builds that carry it keep their copy."""
        with self.database.session() as session:
            Cams(session).remove(key)


def _kept(row: CamRow) -> Kept:
    return Kept(row.key, row.name, row.origin, Cam.model_validate_json(row.document))
