"""Headless Chromium over the demo garden, with every console message listened to."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest
from django.db import connection
from playwright.sync_api import Browser, BrowserContext, Page, expect

from demo.loader import load
from elder.web.garden.models import Garden
from tests.journeys.line import Line

AXE = Path(__file__).parents[1] / "vendor" / "axe.min.js"
# Chromium without a window where it is installed, else the whole of it: what `make browser` sees to.
HEADLESS = Path("/usr/bin/chromium-headless-shell")
CHROMIUM = HEADLESS if HEADLESS.exists() else Path("/usr/bin/chromium")
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--disable-software-rasterizer",  # nothing here is drawn in three dimensions; an eighth of the time
    "--disable-extensions",
]
expect.set_options(timeout=45_000)  # machines are shared, and what is waited for is the word, not the speed
LAPTOP = {"width": 1280, "height": 800}
PHONE = {"width": 390, "height": 844}


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    return {"executable_path": str(CHROMIUM), "args": FLAGS}


@pytest.fixture(scope="session")
def demo_as_laid_out() -> Iterator[sqlite3.Connection]:
    """The demo's database as it was first laid out, in memory; empty until then."""
    with closing(sqlite3.connect(":memory:")) as kept:
        yield kept


@pytest.fixture
def line(live_server: Any) -> Iterator[Line]:
    """The line to the server, to be cut, mended and spoilt."""
    line = Line(live_server.thread.host, live_server.thread.port)
    yield line
    line.cut()


@pytest.fixture
def demo(line: Line, settings: Any, demo_as_laid_out: sqlite3.Connection) -> Any:
    """The demo garden served, its address as text: laid out once, and put back as it was before each journey."""
    settings.DEMO = True
    connection.ensure_connection()
    if demo_as_laid_out.execute("select count(*) from sqlite_master").fetchone()[0]:
        demo_as_laid_out.backup(connection.connection)
    else:
        load(afresh=True)
        connection.connection.backup(demo_as_laid_out)
    return f"http://localhost:{line.port}"


@pytest.fixture
def harrow(demo: str) -> str:
    """The address of Harrow Stair."""
    return f"{demo}/g/{Garden.objects.get(name='Harrow Stair').pk}"


class Complaints(list[str]):
    """What the console said; a journey ends with none."""

    def listen(self, page: Page) -> None:
        page.on("console", lambda m: self.append(m.text) if m.type in ("error", "warning") else None)
        page.on("pageerror", lambda error: self.append(str(error)))


@pytest.fixture
def complaints() -> Iterator[Complaints]:
    heard = Complaints()
    yield heard
    assert heard == []


def opened(browser: Browser, heard: Complaints, **options: Any) -> Page:
    """A page of a fresh context that is listened to."""
    context: BrowserContext = browser.new_context(locale="en-GB", **options)
    context.set_default_timeout(40_000)
    page = context.new_page()
    heard.listen(page)
    return page


def enter(page: Page, demo: str) -> Page:
    """Walk into the demo."""
    page.goto(f"{demo}/sign-in/")
    page.get_by_role("button", name="Walk into the demo garden").click()
    page.wait_for_url("**/season/")
    return page


@pytest.fixture
def laptop(browser: Browser, demo: str, complaints: Complaints) -> Iterator[Page]:
    page = enter(opened(browser, complaints, viewport=LAPTOP), demo)
    yield page
    page.context.close()


@pytest.fixture
def phone(browser: Browser, demo: str, complaints: Complaints) -> Iterator[Page]:
    page = enter(opened(browser, complaints, viewport=PHONE, has_touch=True, is_mobile=True), demo)
    yield page
    page.context.close()


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Lines run are counted without the journeys, which would take twice as long under the count; what they alone run
    is little, and a line that only a browser reaches is not held by being run."""
    here = Path(__file__).parent
    for item in items:
        if here in item.path.parents:
            item.add_marker(pytest.mark.no_cover)
