from datetime import UTC, datetime
from pathlib import Path

from arcstack.build import SIDES
from arcstack.demo.loader import demo_builds
from arcstack.services import CamLibrary, Who, Workshop
from arcstack.store import Builds, Database


def make_demo(folder: Path) -> None:
    """Put the demo builds into the workshop in ``folder``, unless it holds builds already."""
    database = Database.open(folder / "workshop.sqlite")
    workshop, who = Workshop(database), Who("demo", lambda: datetime.now(UTC).replace(tzinfo=None))
    library, builds = CamLibrary(database, workshop), demo_builds()
    # one piece of work: a start that is cut off leaves no half of a demo
    with database.session(writes=True) as session:
        if Builds(session).all(limit=1):
            return
        for build in reversed(builds):
            workshop.add(session, build, who, "demo build")
            for side in SIDES:
                cam = build.side(side).cam
                library.put(session, cam.code, cam, who)
