"""Cams kept by own names, used in several builds, changed only after asking."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from uuid import uuid4

from arcstack.application.workshop import Who, Workshop
from arcstack.document import VERSION, Build, named, set_cam
from arcstack.document.parts import Cam
from arcstack.document.upgrade import upgraded_cam
from arcstack.store import CamRow, Cams, Database, Kind, Reason, Session


@dataclass(frozen=True)
class Kept:
    """A kept cam."""

    key: str
    name: str
    origin: str
    cam: Cam


@dataclass(frozen=True)
class Carrier:
    """A build that carries a kept cam on one side."""

    build_id: int
    name: str
    side: str


@dataclass(frozen=True)
class Carried:
    """How many sides carry a kept cam, and the first of them."""

    of: int
    first: tuple[Carrier, ...]

    @property
    def more(self) -> int:
        return self.of - len(self.first)


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

    def uses(self, key: str) -> list[Carrier]:
        """Builds whose newest revision carries the cam."""
        with self.database.session() as session:
            return [Carrier(*row) for row in Cams(session).users(key)]

    def carried(self, most: int) -> dict[str, Carried]:
        """By the key of each cam that is carried: by how many sides, and the first so many of them by name."""
        with self.database.session() as session:
            found = Cams(session).first_users(most)
        return {key: Carried(of, tuple(Carrier(*row) for row in first)) for key, (of, first) in found.items()}

    def named(self, name: str) -> Kept | None:
        with self.database.session() as session:
            found = Cams(session).named(name)
            return _kept(found) if found else None

    def keep(
        self,
        name: str,
        cam: Cam,
        who: Who,
        also: Sequence[Carrier] = (),
        carried_by: tuple[int, int, str] | None = None,
    ) -> Kept:
        """Keep a cam under a name, or change the one of that name, in one piece of work: all of it, or nothing.

        ``also`` are builds that take the change too, ``carried_by`` is the build, revision and side that it was kept
        from. Raises ``FieldError`` for a name that is none, ``NameTaken`` where another hand gave it in the same
        moment, ``StaleRevision`` where one of the builds was changed meanwhile.
        """
        name = named(name, "cam.name", "A cam")
        with self.database.session(writes=True) as session:
            row = self.put(session, name, cam, who)
            cam = _kept(row).cam
            if carried_by is not None:
                build_id, base, side = carried_by
                self._carry(session, build_id, base, side, cam, who, Reason(Kind.CAM_KEPT, f"{side}.cam", after=name))
            for use in also:
                why = Reason(Kind.CAM_CHANGED, f"{use.side}.cam", after=name)
                self._carry(session, use.build_id, None, use.side, cam, who, why)
        return _kept(row)

    def put(self, session: Session, name: str, cam: Cam, who: Who) -> CamRow:
        """Keep a cam within a unit of work that does more."""
        held = Cams(session).named(name)
        key = held.key if held else uuid4().hex
        cam = cam.model_copy(update={"kept": key})
        kind = f"{len(cam.curve.cam_rad)} readings" if cam.curve else "card"
        row = CamRow(key, name, f"{kind}, kept by {who.name}", who.now(), _written(cam))
        Cams(session).put(row)
        return row

    def _carry(
        self, session: Session, build_id: int, base: int | None, side: str, cam: Cam, who: Who, why: Reason
    ) -> None:
        """Put a cam on a side of a build, on top of ``base``, or of its newest revision."""
        standing = self.workshop.read(session, build_id, base)
        changed = set_cam(standing.build, side, cam)
        self.workshop.append(session, build_id, standing.revision, changed, who, why)

    def use(self, key: str, build: Build, side: str) -> Build:
        """The build with a kept cam on one side. Raises ``NotFound``."""
        return set_cam(build, side, self.get(key).cam)

    def forget(self, key: str) -> None:
        """Take a cam out of the library; builds that carry it keep their copy."""
        with self.database.session() as session:
            Cams(session).remove(key)


def _kept(row: CamRow) -> Kept:
    return Kept(row.key, row.name, row.origin, Cam.model_validate(upgraded_cam(json.loads(row.document))))


def _written(cam: Cam) -> str:
    held = {"version": VERSION, "cam": cam.model_dump(mode="json", exclude_defaults=True)}
    return json.dumps(held, ensure_ascii=False, separators=(",", ":"))
