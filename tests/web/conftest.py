import re
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from arcstack.assess import assess, elastic
from arcstack.demo import demo_builds
from arcstack.document import Build
from arcstack.services import Sweeps, Who, Workshop
from arcstack.web import create_app
from tests.builds import SWEEPS

WHO = Who("ann", lambda: datetime(2026, 3, 1, 8, 30))


class Browser:
    """A client that carries the page's CSRF token, as a browser does."""

    def __init__(self, client: FlaskClient, workshop: Workshop) -> None:
        self.client = client
        self.workshop = workshop
        self.sound, self.failing = (workshop.create(b, WHO) for b in demo_builds())
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


@pytest.fixture
def browser(tmp_path: Path, worked: Sweeps) -> Iterator[Browser]:
    app = create_app(tmp_path, sweeps=worked)
    with app.test_client() as client:
        yield Browser(client, app.extensions["workshop"])
