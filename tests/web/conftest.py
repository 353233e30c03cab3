import re
import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime
from pathlib import Path

import pytest
from flask import Flask
from flask.testing import FlaskClient

from arcstack.application import Shop, Sweeps, Who, Workshop
from arcstack.application.backups import FILE
from arcstack.assess import assess, elastic
from arcstack.demo import demo_builds
from arcstack.document import Build
from arcstack.store import Database
from arcstack.web import create_app
from arcstack.web.app import lay_in, saved
from tests.builds import SWEEPS

WHO = Who("ann", lambda: datetime(2026, 3, 1, 8, 30))


class Browser:
    """A client that carries the page's CSRF token, as a browser does."""

    def __init__(self, client: FlaskClient, workshop: Workshop) -> None:
        self.client = client
        self.workshop = workshop
        self.sound, self.failing = (row.id for row in sorted(workshop.builds().rows, key=lambda r: r.id))
        self.token = re.search(r'name="csrf-token" content="([^"]+)"', self.get("/"))[1]  # type: ignore[index]

    def get(self, path: str, code: int = 200) -> str:
        response = self.client.get(path)
        assert response.status_code == code, path
        return response.get_data(as_text=True)

    def post(self, url: str, /, code: int = 200, **form: object) -> str:
        response = self.client.post(url, data=form, headers={"X-CSRFToken": self.token, "Referer": "http://localhost/"})
        assert response.status_code == code, response.get_data(as_text=True)[:500]
        self.headers = response.headers
        return response.get_data(as_text=True)

    def type(self, path: str, text: str, code: int = 200, mode: str = "edit", /, **more: object) -> str:
        """Type into a field of the failing build's Stack stage."""
        build = self.workshop.open(self.failing)
        form = {"path": path, "text": text, "base": build.revision, "stage": "stack", "side": "intake"} | more
        return self.post(f"/builds/{self.failing}/{mode}", code, **form)

    def sit(self, instrument: str = "micrometer 2", hand: str = "Wen") -> None:
        """Name the instrument and the hand of this sitting."""
        for measure in ("", "length", "mass", "force", "angle", "rate", "pressure", "ratio", "table", "lift table"):
            self.post("/sitting", 204, instrument=instrument, hand=hand, measure=measure)

    def build(self) -> Build:
        return self.workshop.open(self.failing).build


COARSE_RPM, COARSE_BAND_RPM = 100.0, 400.0
"""Grids of the elastic train that will do for a page: how it is shown is tried here, not how fine it is."""


@pytest.fixture(scope="session")
def coarse() -> Iterator[None]:
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(elastic, "STEP_RPM", COARSE_RPM)
        patch.setattr(elastic, "BAND_STEP_RPM", COARSE_BAND_RPM)
        yield


@pytest.fixture(scope="session")
def worked(coarse: None) -> Sweeps:
    """Sweeps that know both demo builds."""
    for build in demo_builds():
        for ctx in assess(build).sides.values():
            SWEEPS.answer(elastic.question(ctx))
    return SWEEPS


@pytest.fixture(scope="session")
def both_demo_builds(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A workshop's file with both demo builds, to be copied: it was brought up to date once."""
    database = Database.open(tmp_path_factory.mktemp("template") / FILE)
    for build in demo_builds():
        Workshop(database).create(build, WHO)
    database.engine.dispose()
    return database.path


@pytest.fixture(scope="session")
def application(tmp_path_factory: pytest.TempPathFactory) -> Flask:
    """The application, made once: each test lays in a workshop of its own, and nothing that is kept of one outlives it."""
    return create_app(tmp_path_factory.mktemp("application"))


@contextmanager
def browsing(application: Flask, workshop_file: Path, folder: Path, sweeps: Sweeps) -> Iterator[Browser]:
    """A browser of a workshop of its own, a copy of one that was made before."""
    shutil.copyfile(workshop_file, folder / FILE)
    shop = Shop(folder, sweeps, saved)
    lay_in(application, shop)
    with application.test_client() as client:
        yield Browser(client, shop.workshop)
    shop.database.engine.dispose()


@pytest.fixture
def browser(tmp_path: Path, worked: Sweeps, application: Flask, both_demo_builds: Path) -> Iterator[Browser]:
    with browsing(application, both_demo_builds, tmp_path, worked) as found:
        yield found
