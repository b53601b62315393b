"""The first hour and every hand: from nothing to an answer by thumb, a season by keys alone, forced colours, great
zoom, a letter read back, and what makes Elder installable."""

from __future__ import annotations

import re
from typing import Any

import pytest
from django.core import mail
from django.core.management import call_command
from playwright.sync_api import Browser, Locator, Page, expect

from elder.web.batches.models import Batch, Entry
from elder.web.garden.door import first_code
from elder.web.garden.models import Garden
from elder.web.season.models import Want
from tests.journeys.conftest import LAPTOP, PHONE, Complaints, enter, opened

pytestmark = pytest.mark.journey

MOST_TOUCHES = 25
WORD = "a long enough word"
ZOOMED = {"width": 320, "height": 256}  # 1280×1024 at 400% (WCAG 1.4.10)


class Thumb:
    """Touches a page, and counts: each tap, and each field gone into to type."""

    def __init__(self, page: Page) -> None:
        self.page, self.touches = page, 0

    def tap(self, what: Locator) -> None:
        self.touches += 1
        what.tap()

    def write(self, where: str, text: str) -> None:
        self.tap(self.page.locator(f"[name={where}]"))
        self.page.keyboard.type(text)


@pytest.fixture
def nothing(live_server: Any) -> str:
    """Elder as it stands on the first day: nobody, nothing."""
    call_command("flush", interactive=False, verbosity=0)
    return str(live_server.url)


def test_from_nothing_to_a_first_answer_by_thumb(browser: Browser, nothing: str, complaints: Complaints) -> None:
    page = opened(browser, complaints, viewport=PHONE, has_touch=True, is_mobile=True)
    page.goto(nothing)
    thumb = Thumb(page)
    for where, text in (("username", "marrow"), ("password1", WORD), ("password2", WORD), ("code", first_code())):
        thumb.write(where, text)
    thumb.tap(page.get_by_role("button", name="Begin"))
    page.wait_for_url("**/garden/new/")
    thumb.write("name", "By the quay")
    thumb.write("where", "porthmadog")
    answer = page.locator("#garden-answer")
    expect(answer).to_contain_text("Porthmadog, United Kingdom")
    for where, text in (("cold_night", "1"), ("cold_day", "7"), ("warm_night", "13"), ("warm_day", "22")):
        thumb.write(where, text)
    expect(answer).to_contain_text("Last frost of spring")
    expect(answer.locator("svg.scene")).to_have_count(4)
    thumb.tap(page.get_by_role("button", name="Keep the garden"))
    page.wait_for_url("**/season/")
    thumb.write("said", "8 mint by the first week of september")
    said = page.locator("#first-answers")
    expect(said).to_contain_text("8 Mint")
    expect(said).to_contain_text(re.compile("Cut [0-9]+ tips"))
    assert thumb.touches < MOST_TOUCHES, thumb.touches
    thumb.tap(page.get_by_role("button", name="Keep this want"))
    page.wait_for_url("**/season/")
    expect(page.locator(".board-row .row-name", has_text="Mint")).to_be_visible()
    want = Want.objects.get()
    assert (want.plant, want.wanted, want.by.month, want.by.day) == ("mint", 8, 9, 4)  # type: ignore[union-attr]
    garden = Garden.objects.get()
    assert (garden.timezone, garden.months_guessed) == ("Europe/London", True)
    page.context.close()


def press_until(page: Page, key: str, wanted: str, most: int = 80) -> None:
    """Press a key until the focus stands on what is wanted."""
    for _ in range(most):
        if page.evaluate("wanted => !!document.activeElement && document.activeElement.matches(wanted)", wanted):
            return
        page.keyboard.press(key)
    raise AssertionError(f"{wanted} was not reached by {key}")


def test_a_season_by_keys_alone(browser: Browser, demo: str, harrow: str, complaints: Complaints) -> None:
    page = opened(browser, complaints, viewport=LAPTOP)
    page.goto(f"{demo}/sign-in/")
    press_until(page, "Tab", ".demo-enter button")
    page.keyboard.press("Enter")
    page.wait_for_url("**/season/")
    page.keyboard.press("n")  # a want
    page.wait_for_url("**/want/new/")
    press_until(page, "Tab", "#id_plant")
    page.keyboard.type("Lemon balm")
    press_until(page, "Tab", "#id_wanted")
    page.keyboard.press("Control+A")
    page.keyboard.type("3")
    expect(page.locator("#answer-words")).to_contain_text("Cut ")
    page.keyboard.press("Enter")
    page.wait_for_url(re.compile(r"/want/\d+/$"))
    want = Want.objects.get(plant="lemon-balm")
    assert want.wanted == 3
    page.keyboard.press("k")  # they are cut
    page.wait_for_url("**/take/")
    press_until(page, "Tab", "#id_stock_plant")
    page.keyboard.type("the one by the tap")
    press_until(page, "Tab", "main .button-strong")
    page.keyboard.press("Enter")
    page.wait_for_url("**/batch/*/")
    batch = Batch.objects.get(want=want)
    page.keyboard.press("r")  # the round
    page.wait_for_url("**/round/")
    press_until(page, "Tab", ".job button", most=60)
    written = Entry.objects.count()
    page.keyboard.press("Enter")
    expect(page.locator(".said")).to_be_visible()
    assert Entry.objects.count() > written
    page.wait_for_load_state("load")  # what is said stands there before the scripts do
    page.keyboard.press("/")
    expect(page.locator("#find-q")).to_be_focused()
    page.keyboard.type(batch.code.lower())
    expect(page.locator("#find-answer a")).to_have_count(1)  # the whole code, not its first letters
    expect(page.locator("#find-answer")).to_contain_text("Lemon balm")
    page.keyboard.press("ArrowDown")
    assert page.evaluate("document.activeElement.matches('#find-answer a')"), "arrows walk what was found"
    page.keyboard.press("Enter")
    page.wait_for_url(f"**/batch/{batch.pk}/")
    page.keyboard.press("Escape")
    page.wait_for_url(f"**/want/{want.pk}/")
    page.context.close()


def test_letters_act_neither_while_typing_nor_once_switched_off(laptop: Page, demo: str, harrow: str) -> None:
    page = laptop
    page.goto(f"{harrow}/want/new/")
    page.locator("#id_variety").focus()
    page.keyboard.type("sprat")
    assert page.url.endswith("/want/new/")
    page.goto(f"{demo}/habits/")
    page.get_by_label("Single letters go to rooms").uncheck()
    page.get_by_role("button", name="Keep").click()
    page.goto(f"{harrow}/season/")
    for key in ("r", "?", "/", "n"):
        page.keyboard.press(key)
    assert page.url == f"{harrow}/season/"
    expect(page.locator("dialog[open]")).to_have_count(0)
    page.keyboard.press("ArrowDown")
    assert page.evaluate("document.activeElement.matches('[data-row]')"), "arrows stay"


def test_forced_colours_tell_things_apart(browser: Browser, demo: str, harrow: str, complaints: Complaints) -> None:
    page = enter(opened(browser, complaints, viewport=LAPTOP, forced_colors="active"), demo)
    look = "one => { const s = getComputedStyle(one); return [s.backgroundColor, s.borderTopWidth, s.outlineStyle]; }"
    strong = page.locator(".button-strong").first.evaluate(look)
    plain = page.locator(".head-deeds .button:not(.button-strong)").first.evaluate(look)
    assert strong[0] != plain[0]
    assert plain[1] == "2px"
    rooms = page.locator(".rail-groups a")
    outlined = [one.inner_text() for one in rooms.all() if one.evaluate(look)[2] != "none"]
    assert outlined == ["Season"]
    keys = page.locator(".legend svg").evaluate_all(
        "all => all.map(one => [...one.children].map(part => { const s = getComputedStyle(part);"
        " return `${part.tagName} ${s.fill} ${s.stroke} ${s.strokeDasharray} ${part.getAttribute('d')}`; }).join())"
    )
    assert len(set(keys)) == len(keys), "no two signs of the legend look alike"
    page.goto(f"{harrow}/round/")
    late = page.locator(".job-late").first.evaluate("one => getComputedStyle(one, '::before').clipPath")
    due = page.locator(".job:not(.job-late)").first.evaluate("one => getComputedStyle(one, '::before').clipPath")
    assert late != due, "what is late is told by its shape too"
    page.context.close()


def test_at_great_zoom_nothing_sticks(browser: Browser, demo: str, harrow: str, complaints: Complaints) -> None:
    page = enter(opened(browser, complaints, viewport=ZOOMED), demo)
    for name in ("want/new/", "round/", "season/"):
        page.goto(f"{harrow}/{name}")
        stuck = page.evaluate(
            "[...document.querySelectorAll('body *')].filter(one => one.checkVisibility()"
            " && ['fixed', 'sticky'].includes(getComputedStyle(one).position)).map(one => one.className)"
        )
        assert stuck == [], name
    page.context.close()


def test_more_holds_every_room_for_a_thumb(phone: Page, harrow: str) -> None:
    page = phone
    page.goto(f"{harrow}/round/")
    bar = page.locator(".rail-groups a:visible")
    assert bar.all_inner_texts() == ["Rounds", "Cut", "Season", "Batches"]
    page.locator(".rail-more summary").tap()
    rooms = page.locator(".rail-every li li a:visible")
    assert rooms.count() == 12
    short = [
        one.inner_text()
        for one in page.locator(".rail-sheet a:visible, .rail-sheet button:visible").all()
        if (one.bounding_box() or {"height": 0})["height"] < 44
    ]
    assert short == []
    rooms.filter(has_text="Almanac").tap()
    page.wait_for_url("**/almanac/")


def test_what_ends_a_long_sheet_stays_in_reach(phone: Page, harrow: str) -> None:
    page = phone
    want = Want.objects.get(variety="Ferry Lamp", closed_on=None)
    page.goto(f"{harrow}/cut/want/{want.pk}/")
    press = page.get_by_role("button", name="They are cut: write it down")
    for _ in range(3):
        box = press.bounding_box()
        assert box
        assert box["y"] + box["height"] <= PHONE["height"] - 56, "above the bar"
        page.mouse.wheel(0, 900)
    press.tap()
    page.wait_for_url("**/cut/batch/*/")


def test_a_letter_is_sent_and_stopped(laptop: Page, demo: str) -> None:
    page = laptop
    page.goto(f"{demo}/calendar/")
    page.get_by_label("To this address").fill("gardener@example.org")
    page.get_by_label("A letter each morning").check()
    page.get_by_role("button", name="Keep, and send me today’s now").click()
    expect(page.get_by_role("status")).to_contain_text("on its way to gardener@example.org")
    (letter,) = mail.outbox
    assert letter.subject.startswith("Tue 6 Apr: ")
    assert letter.subject.endswith("carry in tonight")
    for said in ("Harrow Stair, Tue 6 Apr", "Carry in tonight:", "Marram Yard, Tue 6 Apr", "Kitchen sill:"):
        assert said in letter.body
    page.goto(letter.body.rsplit(": ", 1)[1].strip())
    page.get_by_role("button", name="No more letters to gardener@example.org").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("No more letters")
    page.goto(f"{demo}/calendar/")
    expect(page.get_by_label("A letter each morning")).not_to_be_checked()


def test_it_can_be_put_on_a_phones_screen(phone: Page, demo: str, harrow: str) -> None:
    page = phone
    address = page.locator("link[rel=manifest]").get_attribute("href")
    assert address
    told = page.evaluate("async address => (await fetch(address)).json()", address)
    sizes = page.evaluate(
        "icons => Promise.all(icons.map(async one => { const sign = new Image(); sign.src = one.src;"
        " await sign.decode(); return `${sign.naturalWidth}x${sign.naturalHeight}`; }))",
        told["icons"],
    )
    assert sizes == [one["sizes"] for one in told["icons"]]
    page.goto(f"{demo}{told['start_url']}")
    expect(page).to_have_url(f"{harrow}/round/")
    page.goto(f"{demo}{told['shortcuts'][1]['url']}")
    expect(page).to_have_url(f"{harrow}/hand/")
