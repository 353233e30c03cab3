from datetime import UTC, datetime
from pathlib import Path

from arcstack.application import CamLibrary, PartShelf, Who, Workshop
from arcstack.application.bench import Bench
from arcstack.demo.loader import demo_builds, demo_shelf
from arcstack.demo.recorded import returned_record
from arcstack.demo.returned import returned_head
from arcstack.document import SIDES
from arcstack.store import Builds, Database, Kind, Reason


def make_demo(folder: Path) -> None:
    """Put the demo builds, and a head that came back with all that was read of it, into the workshop in
    ``folder``, unless it holds builds already."""
    database = Database.open(folder / "workshop.sqlite")
    workshop, who = Workshop(database), Who("demo", lambda: datetime.now(UTC).replace(tzinfo=None))
    library, builds = CamLibrary(database, workshop), demo_builds()
    if not PartShelf(database).all():
        PartShelf(database).take(demo_shelf(), who)
    # one piece of work: a start that is cut off leaves no half of a demo
    with database.session(writes=True) as session:
        if Builds(session).count():
            return
        for build in reversed(builds):
            workshop.add(session, build, who, Reason(Kind.DEMO))
            for side in SIDES:
                cam = build.side(side).cam
                library.put(session, cam.code, cam, who)
        build, readings, events = returned_head()
        back = workshop.add(session, build, who, Reason(Kind.DEMO))
        record = returned_record(max(e.number for e in events) + 1)
        Bench(database).laid_in(session, back, readings, [*events, *record])
