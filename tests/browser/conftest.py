import shutil
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from threading import Thread

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect, sync_playwright
from waitress.server import create_server

from arcstack.demo import demo_builds
from arcstack.demo.recorded import returned_record
from arcstack.demo.returned import returned_head, served_head
from arcstack.services import Sweeps, Workshop
from arcstack.services.bench import Bench
from arcstack.web import create_app
from tests.web.conftest import WHO, coarse, worked

__all__ = ["coarse", "worked"]

PATIENCE_MS = 30_000
"""How long a page may take on a busy machine; a page that answers at once costs nothing more."""

expect.set_options(timeout=PATIENCE_MS)

SWITCHES = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync",
]  # fmt: skip


@dataclass(frozen=True)
class Site:
    """The application, served for real, and the workshop behind it."""

    address: str
    workshop: Workshop

    def sound(self) -> int:
        return self.workshop.create(demo_builds()[0], WHO)

    def failing(self) -> int:
        return self.workshop.create(demo_builds()[1], WHO)

    def returned(self, *, torn_down: bool = True) -> int:
        """The demo's head that came back: as it was torn down, or as it was before."""
        build, readings, events = returned_head() if torn_down else served_head()
        if torn_down:
            events = [*events, *returned_record(max(e.number for e in events) + 1)]
        number = self.workshop.create(build, WHO)
        bench = Bench(self.workshop.database)
        with self.workshop.database.session(writes=True) as session:
            bench.brought(session, number, readings, events)
        return number

    def stage(self, build: int, stage: str, side: str = "intake") -> str:
        return f"{self.address}/builds/{build}/{side}/{stage}"


@pytest.fixture(scope="session")
def site(tmp_path_factory: pytest.TempPathFactory, worked: Sweeps) -> Iterator[Site]:
    app = create_app(tmp_path_factory.mktemp("workshop"), sweeps=worked)
    server = create_server(app, host="127.0.0.1", port=0, threads=4)
    thread = Thread(target=server.run, daemon=True)
    thread.start()
    yield Site(f"http://127.0.0.1:{server.effective_port}", app.extensions["workshop"])
    server.close()


@pytest.fixture(scope="session")
def chromium() -> Iterator[Browser]:
    path = shutil.which("chromium") or shutil.which("chromium-browser")
    assert path, "Chromium is missing: scripts/test installs it"
    with sync_playwright() as driver:
        browser = driver.chromium.launch(executable_path=path, args=SWITCHES)
        yield browser
        browser.close()


@pytest.fixture
def window(chromium: Browser, site: Site) -> Iterator[BrowserContext]:
    """A fresh browser session; a page error, a refused source or a request off this machine fails the test."""
    context = chromium.new_context(viewport={"width": 1280, "height": 800}, accept_downloads=True)
    context.set_default_timeout(PATIENCE_MS)
    troubles: list[str] = []
    context.on("weberror", lambda error: troubles.append(str(error.error)))
    context.on("console", lambda m: troubles.append(m.text) if "Content Security Policy" in m.text else None)
    context.on("request", lambda r: None if r.url.startswith((site.address, "data:")) else troubles.append(r.url))
    yield context
    context.close()
    assert troubles == []


@pytest.fixture
def page(window: BrowserContext) -> Page:
    return window.new_page()


@pytest.fixture(scope="session")
def axe() -> str:
    return (Path(__file__).parents[2] / "node_modules/axe-core/axe.min.js").read_text("utf-8")
