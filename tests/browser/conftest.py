import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from threading import Thread

import pytest
from flask import Flask
from playwright.sync_api import Browser, BrowserContext, Page, expect, sync_playwright

from arcstack.application import Sweeps, Workshop
from arcstack.application.bench import Bench
from arcstack.demo import demo_builds
from arcstack.demo.recorded import returned_record
from arcstack.demo.returned import returned_head, served_head
from arcstack.web import create_app
from arcstack.web.server import server
from tests.web.conftest import WHO, coarse, worked

__all__ = ["coarse", "worked"]

PATIENCE_MS = 30_000
"""How long a page may take on a busy machine; a page that answers at once costs nothing more."""

expect.set_options(timeout=PATIENCE_MS)

SWITCHES = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync", "--disable-lcd-text",
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
            bench.laid_in(session, number, readings, events)
        return number

    def stage(self, build: int, stage: str, side: str = "intake") -> str:
        return f"{self.address}/builds/{build}/{side}/{stage}"


@contextmanager
def answering(app: Flask) -> Iterator[str]:
    """The application served as it is in a shop, at the address that this gives."""
    door = server(app, "127.0.0.1", 0)
    thread = Thread(target=door.run, daemon=True)
    thread.start()
    yield f"http://127.0.0.1:{door.port}"
    door.stop()
    thread.join(20)


@pytest.fixture(scope="session")
def site(tmp_path_factory: pytest.TempPathFactory, worked: Sweeps) -> Iterator[Site]:
    app = create_app(tmp_path_factory.mktemp("workshop"), sweeps=worked)
    with answering(app) as address:
        yield Site(address, app.extensions["shop"].workshop)


@pytest.fixture(scope="session")
def chromium() -> Iterator[Browser]:
    path = shutil.which("chromium-headless-shell")
    assert path, "Chromium's headless shell is missing: scripts/test installs it"
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
