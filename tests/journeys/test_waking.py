"""What answers while one types comes when it is first touched, and what was typed before it came is answered."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, Route, expect

from tests.journeys.conftest import PHONE, Complaints, enter, opened

pytestmark = pytest.mark.journey

ALPINE = "**/elder/js/shared/alpine*.js"


class Held:
    """Alpine on its way: asked for so often, and let come when it is told to."""

    def __init__(self, page: Page) -> None:
        self.routes: list[Route] = []
        page.route(ALPINE, lambda route: self.routes.append(route))

    def asked(self, page: Page) -> int:
        """How often by now; what a browser says is heard while one waits."""
        for _ in range(40):
            page.wait_for_timeout(50)
            if self.routes:
                break
        page.wait_for_timeout(150)
        return len(self.routes)

    def let_come(self) -> None:
        self.routes[-1].continue_()


@pytest.fixture
def phone(browser: Browser, demo: str, complaints: Complaints) -> Iterator[Page]:
    page = enter(opened(browser, complaints, viewport=PHONE, service_workers="block"), demo)
    yield page
    page.context.close()
    complaints[:] = [said for said in complaints if "blocked by Playwright" not in said]


def test_a_page_that_only_shows_brings_none(phone: Page, harrow: str) -> None:
    held = Held(phone)
    phone.goto(f"{harrow}/round/", wait_until="networkidle")
    phone.get_by_role("heading", level=1).click()
    assert held.asked(phone) == 0
    assert phone.evaluate("typeof window.Alpine") == "undefined"


def test_what_was_typed_before_it_came_is_answered(phone: Page, harrow: str) -> None:
    held = Held(phone)
    phone.goto(f"{harrow}/find/", wait_until="load")
    box = phone.get_by_role("searchbox")
    box.press_sequentially("banan")
    assert held.asked(phone) == 1, "asked for once, at the first touch"
    expect(phone.locator("#find-answer")).not_to_contain_text("Banana")
    held.let_come()
    expect(phone.locator("#find-answer")).to_contain_text("Banana")
    box.press_sequentially("a")
    expect(phone.locator("#find-answer")).to_contain_text("Banana")


def test_a_dial_moved_before_it_came_moves_the_board(phone: Page, harrow: str) -> None:
    held = Held(phone)
    phone.goto(f"{harrow}/season/", wait_until="networkidle")
    dial: Any = phone.locator("input[name=risk]")
    before = phone.locator("#risk-words").inner_text()
    dial.focus()
    dial.press("ArrowRight")
    assert held.asked(phone) == 1
    held.let_come()
    expect(phone.locator("#risk-words")).not_to_have_text(before)


def test_where_the_line_was_away_the_next_touch_asks_again(phone: Page, harrow: str, complaints: Complaints) -> None:
    held = Held(phone)
    phone.goto(f"{harrow}/find/", wait_until="load")
    box = phone.get_by_role("searchbox")
    box.press_sequentially("m")
    assert held.asked(phone) == 1
    held.routes[0].abort()
    phone.wait_for_timeout(200)
    box.press_sequentially("int")
    assert held.asked(phone) == 2
    held.let_come()
    expect(phone.locator("#find-answer")).to_contain_text("Mint")
    complaints.clear()
