from datetime import UTC, datetime
from pathlib import Path

from arcstack.build import SIDES
from arcstack.demo.loader import demo_builds
from arcstack.services import CamLibrary, Who, Workshop
from arcstack.store import Database


def make_demo(folder: Path) -> None:
    """Put the demo builds into the workshop in ``folder``, unless it holds builds already."""
    workshop = Workshop(Database.open(folder / "workshop.sqlite"))
    if workshop.builds():
        return
    who = Who("demo", lambda: datetime.now(UTC).replace(tzinfo=None))
    for build in reversed(demo_builds()):
        workshop.create(build, who, "demo build")
        for side in SIDES:
            cam = build.side(side).cam
            CamLibrary(workshop.database, workshop).keep(cam.code, cam, who)
