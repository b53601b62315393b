"""What a phone fetches the first time it opens a page, and that nothing jumps meanwhile. (How soon: bench/phone.)"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.journeys.conftest import PHONE, Complaints, enter, opened

pytestmark = pytest.mark.journey

WATCH = """
window.shifted = 0;
new PerformanceObserver((list) => { for (const one of list.getEntries()) {
  if (!one.hadRecentInput) window.shifted += one.value; } }).observe({type: "layout-shift", buffered: true});
"""


class Fetched:
    """The addresses that came over the line, and not out of what the browser has."""

    def __init__(self, page: Page) -> None:
        self._by_id: dict[str, str] = {}
        self._paid: list[str] = []
        session = page.context.new_cdp_session(page)
        session.on("Network.requestWillBeSent", self._asked)
        session.on("Network.loadingFinished", self._came)
        session.send("Network.enable")

    def _asked(self, event: Any) -> None:
        self._by_id[event["requestId"]] = event["request"]["url"].split("?")[0]

    def _came(self, event: Any) -> None:
        if event["encodedDataLength"]:
            self._paid.append(event["requestId"])

    def paths(self, address: str) -> list[str]:
        """What came, as paths."""
        return [self._by_id[one].removeprefix(address) for one in self._paid]


@pytest.fixture
def fresh(browser: Browser, demo: str, complaints: Complaints) -> Iterator[Page]:
    """A phone that is signed in and has nothing in store."""
    door = enter(opened(browser, complaints, viewport=PHONE), demo)
    cookies: Any = door.context.cookies()
    door.context.close()
    page = opened(browser, complaints, viewport=PHONE, has_touch=True, is_mobile=True)
    page.context.add_cookies(cookies)
    page.add_init_script(WATCH)
    yield page
    page.context.close()


def test_the_round_itself_is_fetched_once_to_be_kept(fresh: Page, demo: str, harrow: str) -> None:
    fetched = Fetched(fresh)
    fresh.goto(f"{harrow}/round/")
    expect(fresh.locator("body[data-kept]")).to_have_count(1)
    garden = harrow.removeprefix(demo)
    came = fetched.paths(demo)
    assert came.count(f"{garden}/round/") == 1
    assert fresh.locator("a[data-keep]").count() == 9
    assert [path.split("?")[0] for path in came if "/round/look" in path] == 2 * [f"{garden}/round/looks/"], "by six"


def test_a_round_that_says_what_was_done_is_fetched_without_saying_it(fresh: Page, demo: str, harrow: str) -> None:
    fresh.goto(f"{harrow}/round/")
    expect(fresh.locator("body[data-kept]")).to_have_count(1)
    fetched = Fetched(fresh)
    fresh.get_by_role("region", name="Carry in").get_by_role("button", name="All in or covered").click()
    expect(fresh.locator("main > .said")).to_contain_text("Written down")
    expect(fresh.locator("body[data-kept]")).to_have_count(1)
    kept = fresh.evaluate(
        "caches.keys().then(names => caches.open(names.find(one => one.startsWith('elder-pages-'))))"
        ".then(cache => cache.match(location.href, {ignoreVary: true})).then(answer => answer.text())"
    )
    assert "Written down: carried in" not in kept, "said once, to be read once"
    assert fetched.paths(demo).count(f"{harrow.removeprefix(demo)}/round/") >= 1


@pytest.mark.parametrize("name", ["season", "round", "cut"])
def test_few_things_are_fetched_and_nothing_jumps(fresh: Page, demo: str, harrow: str, name: str) -> None:
    fetched = Fetched(fresh)
    fresh.goto(f"{harrow}/{name}/")
    fresh.wait_for_load_state("networkidle")
    looks = [path for path in fetched.paths(demo) if "/look/" in path]
    assert len(fetched.paths(demo)) - len(looks) <= 12
    assert fresh.evaluate("window.shifted") <= 0.02
