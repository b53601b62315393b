"""Every page with axe, light and dark, laptop and phone; and typing that outlives what goes wrong."""

from __future__ import annotations

import json
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, expect

from elder.web.batches.models import Batch
from elder.web.garden.models import Place
from elder.web.moving.models import HouseMove
from elder.web.passing.models import Promise
from elder.web.record.models import Trial
from elder.web.season.models import Want
from elder.web.stock.models import StockPlant
from elder.web.year.models import Multiplying
from tests.factories import PersonFactory
from tests.journeys.conftest import AXE, LAPTOP, PHONE, Complaints, enter, opened

pytestmark = pytest.mark.journey

AXE_TEXT = AXE.read_text(encoding="utf-8")
RULES = {
    "runOnly": ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"],
    "rules": {"target-size": {"enabled": True}, "landmark-unique": {"enabled": True}},
    # What passes need not be described, and no style comes from elsewhere.
    "resultTypes": ["violations"],
    "preload": False,
}

OUTSIDE = [  # pages that stand in no garden
    "habits", "calendar", "garden/new", "password", "archive", "keeping", "sessions", "account/delete",
]  # fmt: skip
WHOLE = 6_000  # px: what lies under the bar at the foot of a phone is scrolled out from under it by whoever wants it
PARTS = 4  # so that the workers share them

# Of these, what a theme can change.
COLOURS: dict[str, Any] = {"runOnly": {"type": "rule", "values": ["color-contrast", "link-in-text-block"]}, "rules": {}}

# And what another width can.
LAYOUT: dict[str, Any] = {
    "runOnly": {"type": "rule", "values": ["target-size", "scrollable-region-focusable", "color-contrast"]},
    "rules": {},
}


def violations(page: Page, rules: dict[str, Any]) -> list[str]:
    """What axe finds by some of its rules."""
    found: Any = page.evaluate(f"axe.run(document, {json.dumps(rules)})")
    return [
        f"{page.url} {rule['id']}: {rule['help']} {[node['html'][:90] for node in rule['nodes'][:3]]}"
        for rule in found["violations"]
    ]


def faults(page: Page) -> list[str]:
    """What axe finds, by WCAG 2.2 A and AA, in light; and in dark what colours have to do with."""
    page.evaluate(AXE_TEXT)
    found = violations(page, RULES)
    page.emulate_media(color_scheme="dark")
    found += violations(page, RULES | COLOURS)
    page.emulate_media(color_scheme="light")
    return found


def pages(harrow: str) -> list[str]:
    batch = Batch.objects.get(variety="Tarbrand", plan__target__startswith="2027")
    want = Want.objects.get(variety="Low Tide", closed_on=None)
    basil = Want.objects.get(plant="basil", closed_on=None, garden__name="Harrow Stair")
    mother = StockPlant.objects.get(name="Ferry Lamp 2")
    rosemary = Promise.objects.get(want__plant="rosemary")
    names = [
        "round/",
        f"round/look/{batch.pk}/",
        f"round/look/{batch.pk}/{batch.entries.filter(kind='lost').first().pk}/",  # type: ignore[union-attr]
        "season/",
        "want/new/",
        "season/?zoom=three&group=place",
        "season/?risk=4&sure=1",
        "season/fit/",
        "hand/",
        "hand/?plant=lettuce&piece=shoot&pieces=1&length=20&state=sound",
        "find/?q=sucker",
        "find/?q=aubergine",
        "want/first/?said=8+mint+by+June,+4+eggplants",
        "plants/",
        "plant/tomato/",
        "plant/apple/",
        "almanac/",
        "frost/",
        "records/",
        "stock/",
        "stock/families/",
        f"stock/{mother.pk}/",
        "record/",
        "record/way/tomato/jar/",
        "record/right/",
        "record/became/",
        "record/losses/",
        "record/year/",
        "record/trials/",
        "record/trials/new/",
        f"record/trial/{Trial.objects.get(plant='tomato').pk}/",
        f"record/trial/{Trial.objects.get(plant='rosemary').pk}/sheet/",
        "year/",
        f"year/line/{Multiplying.objects.get().pk}/",
        f"year/multiply/{mother.pk}/",
        "year/winter/?plant=chard&stands=pot",
        "year/long/",
        "passing/",
        "passing/new/",
        f"passing/{rosemary.pk}/",
        f"passing/{rosemary.pk}/slip/",
        "passing/bring/",
        f"year/long/s{StockPlant.objects.get(name='Pineapple in the tub').pk}/",
        "cut/",
        f"cut/want/{basil.pk}/",
        f"cut/batch/{batch.pk}/",
        "cut/layout/?plant=rosemary&length=60&nodes=20&bad=40-47+in+flower&length=30&nodes=frog&bad=",
        "cut/layout/?plant=rosemary&length=60&nodes=20&bad=40-47+in+flower",
        "cut/can/?plant=basil&flower=open",
        "cut/hormone/",
        f"labels/?batch={batch.pk}",
        "places/",
        "season/?rows=small",
        "batches/",
        "garden/",
        "garden/edit/",
        "place/new/",
        "stock/new/",
        f"stock/{mother.pk}/edit/",
        f"batch/{batch.pk}/keep/",
        "labels/tray/",
        f"stock/{StockPlant.objects.get(name='Pineapple in the tub').pk}/",
        "round/sheet/",
        f"place/{batch.rooting_place_id}/readings/",
        f"place/{Place.objects.get(name='Kitchen sill').pk}/readings/",
        f"place/{Place.objects.get(name='Landing shelf').pk}/floor/?vessel=tray&many=2",
        f"place/{Place.objects.get(name='Kitchen sill').pk}/sky/",
        "places/wall/",
        "shed/",
        "shed/mix/",
        "shed/count/",
        "shed/thing/powder/",
        "shed/containers/",
        "shed/container/own-1/",
    ]
    names += ["person/new/", "wants/away/", f"want/{want.pk}/", f"want/{want.pk}/take/", f"batch/{batch.pk}/"]
    names += [
        f"want/{Want.objects.filter(variety='Ferry Lamp', closed_on=None).first().pk}/",
        f"batch/{batch.pk}/entry/{batch.entries.first().pk}/",
        "want/new/?plant=tomato&wanted=0&when=by",
    ]  # type: ignore[union-attr]
    return [*(f"{harrow}/{name}" for name in names), *moves(harrow)]


def moves(harrow: str) -> list[str]:
    """The neighbour's move, its load, one plant of it, and the new place."""
    move = HouseMove.objects.get()
    there = harrow.rsplit("/", 1)[0]
    here, plant = f"{there}/{move.garden_id}/moving/{move.pk}", move.plants.get(hedge_m__isnull=False)
    names = ("", "load/", "go/", f"plant/{plant.what}/")
    return [*(f"{here}/{name}" for name in names), f"{there}/{move.to_id}/moving/here/"]


# What stands past the edge of the screen, where nothing scrolls it into sight.
CLIPPED = """() => {
  const scrolls = one => ['auto', 'scroll'].includes(getComputedStyle(one).overflowX);
  return Array.from(document.querySelectorAll('main *')).filter(one => {
    const box = one.getBoundingClientRect();
    if (!box.width || !box.height || !one.checkVisibility()) return false; // in a fold that is shut
    if (one.closest('svg, dialog, [popover], .visually-hidden, .skip')) return false;
    if (box.right <= innerWidth + 1 && box.left >= -1) return false;
    for (let above = one.parentElement; above; above = above.parentElement) if (scrolls(above)) return false;
    return true;
  }).map(one => `${one.tagName} ${one.className} ${one.textContent.trim().slice(0, 40)}`);
}"""


# What ends in dots where a figure may stand; a name is known by its first letters.
SHORTENED = """() => Array.from(document.querySelectorAll('main *'))
  .filter(one => getComputedStyle(one).textOverflow === 'ellipsis' && one.scrollWidth > one.clientWidth + 1)
  .filter(one => one.checkVisibility() && !one.matches('.row-name, select, input'))
  .map(one => `${one.className}: ${one.textContent.trim().slice(0, 60)}`)"""


def misplaced(page: Page, width: int) -> list[str]:
    """What is too narrow, too wide or cut off at a width, with every fold open. What scrolls into sight is not."""
    page.set_viewport_size({"width": width, "height": 800})
    wide, whole, clipped = page.evaluate(
        f"[document.querySelector('main').getBoundingClientRect().width, document.documentElement.scrollWidth,"
        f" [...({CLIPPED})(), ...({SHORTENED})()]]"
    )
    found = [f"main is {wide} px wide"] if wide < min(width, 1024) * 0.9 else []
    found += [f"it is {whole} px wide"] if whole > width else []
    return [f"{page.url} at {width}: {one}" for one in [*found, *clipped[:4]]]


def shouting(page: Page) -> list[str]:
    """More than one strong button in sight on a page: then none of them is."""
    strong = [one.inner_text() for one in page.locator("main .button-strong:visible").all()]
    return [f"{page.url} has strong buttons {strong}"] if len(strong) > 1 else []


@pytest.mark.parametrize("part", range(PARTS))
def test_every_page_is_reachable_by_everyone(
    browser: Browser, demo: str, harrow: str, complaints: Complaints, part: int
) -> None:
    """Each page once: at a laptop's width, a phone's and a small phone's, light and dark."""
    page = opened(browser, complaints, viewport=LAPTOP, color_scheme="light")
    page.goto(f"{demo}/sign-in/")
    found = faults(page)
    enter(page, demo)
    for url in [*pages(harrow), *[f"{demo}/{name}/" for name in OUTSIDE]][part::PARTS]:
        page.goto(url)
        page.evaluate("document.querySelectorAll('main details:not(.due-more)').forEach(one => { one.open = true; })")
        found += faults(page)
        found += misplaced(page, LAPTOP["width"]) + misplaced(page, 320) + misplaced(page, PHONE["width"])
        page.set_viewport_size({"width": PHONE["width"], "height": WHOLE})
        found += violations(page, LAYOUT)
        found += shouting(page)
        page.set_viewport_size(LAPTOP)  # type: ignore[arg-type]
    page.context.close()
    assert not found, "\n".join(found)


def test_error_pages_are_reachable_too(laptop: Page, harrow: str, complaints: Complaints) -> None:
    laptop.goto(f"{harrow}/nowhere/")
    assert faults(laptop) == []
    assert [line for line in complaints if "404" not in line] == []
    complaints.clear()


def test_the_doors_other_pages_are_reachable(browser: Browser, live_server: Any, complaints: Complaints) -> None:
    page = opened(browser, complaints, viewport=PHONE)
    page.goto(live_server.url)
    expect(page.get_by_role("heading", level=1)).to_have_text("The first account")
    assert faults(page) == []
    person: Any = PersonFactory()
    for _ in range(6):
        page.goto(f"{live_server.url}/sign-in/")
        page.get_by_label("Username").fill(person.username)
        page.get_by_label("Password").fill("wrong")
        page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Shut for a quarter of an hour")
    assert faults(page) == []
    assert [line for line in complaints if "429" not in line] == []
    complaints.clear()
    page.context.close()


def test_who_only_looks_on_is_told_so(browser: Browser, demo: str, harrow: str, complaints: Complaints) -> None:
    page = opened(browser, complaints, viewport=LAPTOP)
    page.goto(f"{demo}/sign-in/")
    page.get_by_label("Username").fill("lodger")
    page.get_by_label("Password").fill("harrow-stair-demo")
    page.get_by_role("button", name="Sign in").click()
    page.wait_for_url("**/season/")
    expect(page.get_by_role("link", name="Want plants")).to_have_count(0)
    assert faults(page) == []
    page.goto(f"{harrow}/want/new/")
    expect(page.get_by_role("heading", level=1)).to_have_text("Not for you here")
    assert faults(page) == []
    assert [line for line in complaints if "403" not in line] == []
    complaints.clear()
    page.context.close()


def test_typing_outlives_a_signed_out_session(laptop: Page, harrow: str) -> None:
    page = laptop
    page.goto(f"{harrow}/want/new/")
    page.get_by_label("Variety").fill("Ninepin")
    page.get_by_label("How many good plants").fill("5")
    page.context.clear_cookies(name="sessionid")
    page.get_by_role("button", name="Keep this want").click()
    page.wait_for_url("**/sign-in/**")
    page.get_by_label("Username").fill("gardener")
    page.get_by_label("Password").fill("harrow-stair-demo")
    page.get_by_role("button", name="Sign in").click()
    page.wait_for_url("**/want/new/")
    expect(page.get_by_label("Variety")).to_have_value("Ninepin")
    expect(page.get_by_label("How many good plants")).to_have_value("5")
    page.get_by_role("button", name="Keep this want").click()
    expect(page.get_by_role("status")).to_contain_text("Kept.")
    page.goto(f"{harrow}/want/new/")
    expect(page.get_by_label("Variety")).to_have_value("")  # kept, so forgotten here


def test_what_an_address_asks_for_wins_over_what_was_typed_before(laptop: Page, harrow: str) -> None:
    page = laptop
    page.goto(f"{harrow}/want/new/?plant=tomato")
    page.get_by_label("How many good plants").fill("33")
    page.get_by_label("Variety").fill("Ninepin")
    page.get_by_role("link", name="Back without keeping").click()
    page.wait_for_url("**/season/")
    page.goto(f"{harrow}/want/new/?plant=mint&wanted=8")
    expect(page.locator("#id_plant")).to_have_value("mint")
    expect(page.get_by_label("How many good plants")).to_have_value("8")
    expect(page.get_by_label("Variety")).to_have_value("")
    # Nor does it come back where it was typed: going back was leaving it.
    page.goto(f"{harrow}/want/new/?plant=tomato")
    expect(page.get_by_label("Variety")).to_have_value("")


def test_typing_outlives_a_server_error(
    laptop: Page, harrow: str, complaints: Complaints, monkeypatch: pytest.MonkeyPatch
) -> None:
    page = laptop
    batch = Batch.objects.get(variety="Ninepin", method="jar", over_on=None)
    page.goto(f"{harrow}/batch/{batch.pk}/")
    page.get_by_text("A note", exact=True).click()
    note = page.locator("form[data-draft^=note] textarea")
    note.fill("Two of them lean to the light.")
    with monkeypatch.context() as broken:
        broken.setattr("elder.web.batches.actions.add_entries", lambda *_, **__: 1 / 0)
        page.locator("form[data-draft^='note'] button", has_text="Write it down").click()
        expect(page.get_by_role("heading", level=1)).to_have_text("Something broke")
        assert faults(page) == []
    page.get_by_role("link", name="Back to the form").click()
    expect(page.locator("form[data-draft^=note] textarea")).to_have_value("Two of them lean to the light.")
    assert [line for line in complaints if "500" not in line] == []
    complaints.clear()


def test_signing_out_forgets_what_was_typed(laptop: Page, harrow: str) -> None:
    page = laptop
    page.goto(f"{harrow}/want/new/")
    page.get_by_label("Variety").fill("Ninepin")
    page.locator(".rail-more summary").click()
    page.get_by_role("button", name="Sign out").click()
    page.wait_for_url("**/sign-in/")
    assert page.evaluate("Object.keys(sessionStorage).length") == 0


def test_the_theme_follows_the_device_and_the_person(laptop: Page, demo: str) -> None:
    page = laptop
    page.emulate_media(color_scheme="dark")
    expect(page.locator("html")).to_have_attribute("data-bs-theme", "dark")
    page.goto(f"{demo}/habits/")
    page.get_by_label("Light or dark").select_option("light")
    page.get_by_role("button", name="Keep").click()
    expect(page.locator("html")).to_have_attribute("data-bs-theme", "light")
