"""Presses over a hostile line: each ends in exactly one of written, waiting, or refused and shown."""

from __future__ import annotations

import random
import re
from collections.abc import Iterator
from contextlib import suppress
from typing import Any
from uuid import UUID, uuid5

import pytest
from playwright.sync_api import Browser, Error, Page, expect

from elder.web.batches.models import Entry
from elder.web.garden.models import Person
from tests.journeys.conftest import PHONE, Complaints, enter, opened
from tests.journeys.line import Line, Mood, mend
from tests.journeys.test_round import batch_of, job, kept_for_later, open_round
from tests.journeys.test_round import lines as written_of

pytestmark = pytest.mark.journey

# One press of those there are, chosen and made before the page can change under it.
PRESS = """at => {
  const words = /As it should be/; // a deed that two wrote down the same day is one
  const free = Array.from(document.querySelectorAll('.job:not(.job-kept) button'))
    .filter(one => one.offsetParent && words.test(one.textContent));
  if (free.length) free[at % free.length].click();
}"""
# Every key that the page ever tries to send, kept through its reloads.
NOTING = """(() => {
  const fetched = window.fetch;
  window.fetch = (url, more) => {
    const key = more && more.body instanceof FormData && more.body.get('key');
    if (key) localStorage.setItem('noted', `${localStorage.getItem('noted') || ''} ${key}`);
    return fetched(url, more);
  };
})()"""
MOODS: list[Any] = ["sound", "greets", "413", "429", "500", "502", "deaf", "cut"]
BATCHES = range(1, 80)
WAITING = re.compile(r"(One thing is|\d things are) kept on this phone")


@pytest.fixture
def bench(browser: Browser, demo: str, harrow: str, complaints: Complaints) -> Iterator[Page]:
    """A phone at the round; what Chromium says of a bad line is no fault of the page."""
    page = opened(browser, complaints, viewport=PHONE, has_touch=True, is_mobile=True)
    enter(page, demo)
    open_round(page, harrow)
    kept_for_later(page)
    yield page
    complaints[:] = [one for one in complaints if "ERR_" not in one and "Failed to load resource" not in one]
    page.context.close()


AGAIN = """() => {
  const again = Array.from(document.querySelectorAll('#reach button')).find(one => one.textContent === 'Send it again');
  if (again) again.click();
  return Boolean(again);
}"""


def gone_to(page: Page, url: str) -> None:
    """Go there, though the page may be on its way elsewhere."""
    with suppress(Error):
        page.goto(url)
        return
    page.wait_for_load_state()
    page.goto(url)


def water(page: Page) -> None:
    page.get_by_role("button", name="Water changed").first.click()


@pytest.mark.parametrize("mood", ["greets", "429", "502", "500", "deaf"])
def test_a_press_on_a_bad_line_waits_and_is_written_once(
    bench: Page,
    harrow: str,
    line: Line,
    mood: Mood,
) -> None:
    page, before, reach = bench, Entry.objects.count(), bench.locator("#reach")
    line.spoil(mood)
    water(page)
    expect(reach).to_contain_text(WAITING, timeout=15_000)
    expect(job(page, "Change the water in both jars")).to_have_class(re.compile("job-kept"))
    assert Entry.objects.count() == before + (mood == "deaf")  # carried, and its answer lost
    mend(line, page)
    expect(reach).to_be_hidden(timeout=15_000)
    assert Entry.objects.count() == before + 1
    assert written_of(batch_of("Ninepin"))[-1] == ("water", 0, "")


def test_a_line_that_hangs_holds_nobody_up(bench: Page, harrow: str, line: Line) -> None:
    page, before = bench, Entry.objects.count()
    line.spoil("hangs")
    water(page)
    expect(page.locator("#reach")).to_contain_text(WAITING, timeout=15_000)
    assert Entry.objects.count() == before
    mend(line, page)
    expect(page.locator("#reach")).to_be_hidden(timeout=20_000)
    assert Entry.objects.count() == before + 1


def test_what_is_not_taken_is_shown_and_holds_up_no_other(bench: Page, harrow: str, line: Line) -> None:
    page, before, reach = bench, Entry.objects.count(), bench.locator("#reach")
    line.spoil("413")
    water(page)
    expect(reach).to_contain_text("One could not be written down:Change the water in both jars. It is too large")
    line.mend()
    page.get_by_role("button", name="As it should be: Chilli pepper ‘Tarbrand’").click()
    expect(page.locator(".said")).to_contain_text("Chilli")
    assert Entry.objects.count() == before + 1
    expect(reach).to_contain_text("One could not be written down")
    reach.get_by_role("button", name="Send it again").click()
    expect(reach).to_be_hidden(timeout=15_000)
    assert Entry.objects.count() == before + 2


def test_a_server_that_fails_again_and_again_is_said(bench: Page, harrow: str, line: Line) -> None:
    page, before, reach = bench, Entry.objects.count(), bench.locator("#reach")
    line.spoil("500")
    water(page)
    expect(reach).to_contain_text(WAITING, timeout=15_000)
    for _ in range(4):
        page.evaluate("window.elderQueue.drain()")
    expect(reach).to_contain_text("Something went wrong in Elder", timeout=15_000)
    line.mend()
    reach.get_by_role("button", name="Let it go").click()
    expect(reach).to_be_hidden()
    assert Entry.objects.count() == before


def test_taken_back_on_its_way_it_is_not_written_or_says_it_came_too_late(
    bench: Page,
    harrow: str,
    line: Line,
) -> None:
    page, before, reach = bench, Entry.objects.count(), bench.locator("#reach")
    line.spoil("hangs")
    water(page)
    expect(reach).to_contain_text(WAITING, timeout=15_000)
    reach.get_by_role("button", name="Take it back").click()
    expect(reach).to_contain_text("being taken back")
    mend(line, page)
    expect(reach).to_be_hidden(timeout=20_000)
    assert Entry.objects.count() == before

    open_round(page, harrow)
    line.spoil("deaf")  # it is written, and the phone never hears
    water(page)
    expect(reach).to_contain_text(WAITING, timeout=15_000)
    reach.get_by_role("button", name="Take it back").click()
    line.mend()
    page.evaluate("window.elderQueue.drain()")
    expect(reach).to_contain_text("was written down before it could be taken back", timeout=20_000)
    assert Entry.objects.count() == before + 1


def test_what_was_taken_back_is_not_written_though_it_still_comes(bench: Page, harrow: str) -> None:
    page, before = bench, Entry.objects.count()
    said = page.evaluate(
        """async () => {
          const form = Array.from(document.querySelectorAll('form[data-queue]'))
            .find(one => one.action.endsWith('/round/done/'));
          const data = new FormData(form);
          const send = (url) => fetch(url, { method: 'POST', body: data, headers: { Accept: 'application/json' } })
            .then(answer => answer.json());
          const back = await send(form.action.replace('/done/', '/withdraw/'));
          const late = await send(form.action);
          return [back.written, late.ok, late.said];
        }"""
    )
    assert said == [False, False, "It was taken back before it came."]
    assert Entry.objects.count() == before


def test_an_answer_that_does_not_come_is_said_and_comes_when_the_line_is_there(
    bench: Page, harrow: str, line: Line
) -> None:
    page = bench
    page.goto(f"{harrow}/hand/?plant=tomato")
    shown, away = page.locator("#hand-answer"), page.locator(".answer-away")
    expect(shown).to_contain_text("Worth it this year")
    line.cut()
    page.locator("#id_plant").select_option("lettuce")
    expect(away).to_have_text("Elder cannot be reached. What stands here answers an earlier question.")
    line.mend()
    expect(shown).to_contain_text("Sow instead.")  # without another press
    expect(away).to_have_count(0)
    page.context.clear_cookies(name="sessionid")
    page.locator("#id_plant").select_option("mint")
    expect(away).to_have_text("No answer came. What stands here answers an earlier question.")
    expect(shown).to_contain_text("Sow instead.")


def test_two_tabs_send_a_press_once(bench: Page, harrow: str, line: Line) -> None:
    page, before = bench, Entry.objects.count()
    other = page.context.new_page()
    open_round(other, harrow)
    line.cut()
    water(page)
    expect(page.locator("#reach")).to_contain_text(WAITING)
    line.mend()
    for one in (page, other):
        one.evaluate("window.dispatchEvent(new Event('online'))")
    expect(page.locator("#reach")).to_be_hidden(timeout=15_000)
    assert Entry.objects.count() == before + 1


def test_nobody_reads_or_sends_what_another_pressed(
    bench: Page,
    demo: str,
    harrow: str,
    line: Line,
    complaints: Complaints,
) -> None:
    page, before = bench, Entry.objects.count()
    helper = Person.objects.get(username="helper")
    helper.set_password("harrow stair 8")
    helper.save()
    other = page.context.new_page()
    other.goto(f"{harrow}/season/")
    # The session ends without anybody pressing Sign out; then the helper signs in, in another tab.
    page.context.clear_cookies()
    other.goto(f"{demo}/sign-in/")
    other.wait_for_function("caches.keys().then(names => !names.some(name => name.startsWith('elder-pages-')))")
    other.get_by_label("Name").fill("helper")
    other.get_by_label("Password").fill("harrow stair 8")
    other.get_by_role("button", name="Sign in", exact=True).click()
    other.wait_for_url("**/g/**")
    # The first one's page still stands in its tab.
    water(page)
    expect(page.locator("#reach")).to_contain_text("somebody else is signed in on this phone now", timeout=15_000)
    assert Entry.objects.count() == before
    open_round(other, harrow)
    expect(other.locator("#reach")).to_be_hidden()
    names = other.evaluate("indexedDB.databases().then(all => all.map(one => one.name))")
    assert [name for name in names if name.startswith("elder-presses-")] in ([], [f"elder-presses-{helper.pk}"])


def test_an_ended_session_keeps_the_press_and_comes_back_to_the_round(
    bench: Page,
    demo: str,
    harrow: str,
) -> None:
    page, before = bench, Entry.objects.count()
    page.context.clear_cookies()
    water(page)
    reach = page.locator("#reach")
    expect(reach).to_contain_text("kept on this phone; sign in and they are sent.", timeout=15_000)
    reach.get_by_role("link", name="Sign in").click()
    page.get_by_role("button", name="Walk into the demo garden").click()
    page.wait_for_url("**/g/**")
    open_round(page, harrow)
    expect(page.locator("#reach")).to_be_hidden(timeout=15_000)
    assert Entry.objects.count() == before + 1


def test_signing_out_says_what_would_be_lost(bench: Page, harrow: str, line: Line) -> None:
    page = bench
    line.spoil("502")
    water(page)
    expect(page.locator("#reach")).to_contain_text(WAITING, timeout=15_000)
    page.locator(".rail-more summary").click()
    page.get_by_role("button", name="Sign out").click()
    expect(page.locator("#reach")).to_contain_text("One thing is not written down yet and would be lost.")
    line.mend()
    page.get_by_role("button", name="Sign out").click()
    page.wait_for_url("**/sign-in/**")
    names = page.evaluate("indexedDB.databases().then(all => all.map(one => one.name))")
    assert [name for name in names if name.startswith("elder-presses-")] == []


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_whatever_the_line_does_each_press_is_written_once(bench: Page, harrow: str, line: Line, seed: int) -> None:
    """Eight presses, each on a line in some mood; then the line is sound. Every key that was ever sent is written, each
    once (a key can be written no more often), and nothing else is."""
    chance, page = random.Random(seed), bench  # noqa: S311 - moods, not secrets
    known = set(Entry.objects.values_list("key", flat=True))
    page.add_init_script(NOTING)
    gone_to(page, f"{harrow}/round/")
    for _ in range(8):
        mood = chance.choice(MOODS)
        line.cut() if mood == "cut" else line.spoil(mood)
        with suppress(Error):  # the page may go on to its next under the press: then it was pressed, or was not
            page.wait_for_load_state()
            page.wait_for_timeout(150)
            page.evaluate(PRESS, chance.randrange(99))
        page.wait_for_timeout(chance.choice([50, 400, 1500]))
        if chance.random() < 0.3:
            gone_to(page, f"{harrow}/round/")
    line.mend()
    gone_to(page, f"{harrow}/round/")
    reach = page.locator("#reach")
    for _ in range(80):  # whatever was refused is sent again, until nothing is left
        page.wait_for_timeout(250)
        with suppress(Error):  # the page is drawn anew once all is sent
            page.evaluate("window.elderQueue.drain()")  # and what is left is drawn when it is through
            # Pressed where it stands: drawn anew under a finger, "Let it go" may lie where "Send it again" lay.
            if not page.evaluate(AGAIN) and not reach.is_visible():
                break
    expect(reach).to_be_hidden(timeout=30_000)
    page.goto("about:blank")  # nothing of its own is under way any more
    gone_to(page, f"{harrow}/season/")
    page.wait_for_load_state()
    sent = {UUID(key) for key in str(page.evaluate("localStorage.getItem('noted')")).split()}
    written = {entry.key: entry for entry in Entry.objects.all() if entry.key not in known}
    of_presses = {derived: key for key in sent for derived in [key, *(uuid5(key, str(pk)) for pk in BATCHES)]}
    assert len(sent) >= 4
    assert set(written) <= set(of_presses), "nothing that was not pressed"
    assert {of_presses[key] for key in written} == sent, "and each that was"
