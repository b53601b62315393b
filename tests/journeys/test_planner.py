"""The planner as people use it: the windfall, importing records, fitting things in, a southern garden."""

from __future__ import annotations

import re
from datetime import date
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from elder.engine.climate.normals import Normals
from elder.engine.climate.records import monthly_means
from elder.web.batches.models import Batch
from elder.web.garden.models import Garden, Place, Records
from elder.web.season.models import Want
from tests.journeys.test_pages import faults
from tests.readings import southern, text_of

pytestmark = pytest.mark.journey


def best(page: Page) -> Any:
    return page.locator(".way-best")


def move_months(page: Page, times: int) -> None:
    for _ in range(times):
        page.get_by_role("button", name="a month", exact=True).click()
        page.wait_for_load_state()


def test_a_snapped_stem_from_hand_to_batch(phone: Page, harrow: str) -> None:
    page = phone
    page.get_by_role("link", name="I have this in my hand").tap()
    expect(best(page)).to_contain_text("Worth it this year")
    expect(page.locator(".hand-words")).to_be_in_viewport()  # the answer stays in sight above the sheet
    page.get_by_label("in flower or bud").check()
    expect(best(page)).to_contain_text("it is in flower, which roots worse")
    page.get_by_label("sound").check()
    page.locator("#id_length").fill("60")
    expect(best(page)).to_contain_text("Strike 6 this way")
    expect(best(page)).to_contain_text("Recut above the break")
    button = best(page).get_by_role("button", name="this way")
    size = button.bounding_box()
    assert size
    assert size["height"] >= 44
    button.tap()
    page.wait_for_url(re.compile(r"/batch/\d+/$"))
    expect(page.get_by_role("status")).to_contain_text("Taken: 6")
    batch = Batch.objects.latest("pk")
    assert (batch.plant, batch.entries.get().count) == ("tomato", 6)
    page.goto(f"{harrow}/season/")
    expect(page.locator("[data-row]").last).to_contain_text("Tomato")


def test_the_answer_turns_with_the_year(laptop: Page, harrow: str) -> None:
    page = laptop
    page.goto(f"{harrow}/hand/")
    expect(best(page)).to_contain_text("Worth it this year")
    page.goto(f"{harrow}/season/")
    move_months(page, 5)  # into September
    page.goto(f"{harrow}/hand/")
    expect(best(page)).to_contain_text("Only as a plant kept indoors")
    page.locator("#id_plant").select_option(label="Lettuce")
    expect(page.locator("#hand-answer")).to_contain_text("Sow instead.")
    page.locator("#id_plant").select_option(label="Pineapple")
    page.get_by_label("What it is").select_option(label="a top")
    expect(page.locator("#id_length")).to_be_hidden()
    expect(best(page)).to_contain_text("peel the lowest leaves")


def test_importing_a_record(laptop: Page, harrow: str) -> None:
    page = laptop
    garden = Garden.objects.get(name="Harrow Stair")
    page.goto(f"{harrow}/almanac/")
    page.get_by_role("link", name="Daily records").click()
    page.get_by_label("A file of daily lowest").set_input_files(
        {"name": "notes.txt", "mimeType": "text/plain", "buffer": b"a letter to a friend"}
    )
    page.get_by_role("button", name="Look at it").click()
    expect(page.get_by_text("No date with a lowest and a highest temperature")).to_be_visible()

    lines = text_of("brussels.txt.gz").splitlines()
    lines[900] = "\t".join([*lines[900].split("\t")[:3], "-57.8", "33.3"])
    lines[901] = "\t".join([*lines[901].split("\t")[:3], "30", "3"])
    page.get_by_label("A file of daily lowest").set_input_files(
        {"name": "brussels.txt", "mimeType": "text/plain", "buffer": "\n".join(lines).encode()}
    )
    page.get_by_role("button", name="Look at it").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("What was understood")
    expect(page.get_by_text("the minimum lies above the maximum")).to_be_visible()
    assert faults(page) == []
    expect(page.get_by_text("lowest −57.8 °C")).to_be_visible()
    before = garden.records_digest
    assert Records.objects.get(garden=garden).source != "brussels.txt"  # nothing is kept yet
    page.get_by_role("button", name="Keep these records").click()
    expect(page.get_by_role("status")).to_contain_text("Kept.")
    expect(page.get_by_role("heading", level=1)).to_have_text("Frost at 0 °C")
    expect(page.locator(".freeze").first).to_contain_text("Counted in 30 years")
    garden.refresh_from_db()
    assert garden.records_digest not in ("", before)
    page.get_by_label("Counted at or below").fill("3")
    page.get_by_role("button", name="Count", exact=True).click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Frost at 3 °C")


def test_fitting_everything_in(laptop: Page, harrow: str) -> None:
    page = laptop
    lacking = page.get_by_role("region", name="Too little room")
    expect(lacking).to_contain_text("Kitchen sill, pots")
    page.get_by_role("link", name="Fit them in").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Fit them in")
    expect(page.get_by_text("Room everywhere.")).to_be_visible()
    changes = page.locator(".fit-list li")
    count = changes.count()
    assert count >= 2
    before = {row.pk: (row.cut_on, row.growing_place_id, row.rooting_place_id) for row in Want.objects.all()}
    page.locator(".fit-list input").first.uncheck()
    page.get_by_role("button", name="Change the ticked ones").click()
    expect(page.locator(".said")).to_contain_text("new days and places")
    after = {row.pk: (row.cut_on, row.growing_place_id, row.rooting_place_id) for row in Want.objects.all()}
    assert sum(before[pk] != after[pk] for pk in before) == count - 1  # and only those that were ticked
    if lacking.count():  # what was not ticked may lack room still
        page.get_by_role("link", name="Fit them in").click()
        page.get_by_role("button", name="Change the ticked ones").click()
        page.wait_for_url("**/season/")
    expect(lacking).to_have_count(0)


def test_what_if_by_the_dials(laptop: Page, harrow: str) -> None:
    page = laptop
    row = page.locator("[data-row]", has_text="Ferry Lamp")
    expect(row).to_contain_text("Cut 13")
    dial = page.get_by_label("How sure")
    dial.focus()
    dial.press("ArrowLeft")
    dial.press("ArrowLeft")
    expect(page.locator("#sure-words")).to_have_text("3 in 4")
    expect(page.locator(".what-if")).to_contain_text("Nothing is changed.")
    expect(row).to_contain_text(re.compile(r"Cut 1[01]\b"))
    risk = page.get_by_label("Frost I accept")
    risk.focus()
    risk.press("ArrowRight")
    expect(page.locator("#risk-words")).to_have_text("2 in 10")
    page.get_by_role("button", name="Keep this risk").click()
    expect(page.locator(".said")).to_contain_text("From now on you accept a frost risk of 2 in 10.")
    assert Garden.objects.get(name="Harrow Stair").accepted_risk == 0.2
    page.get_by_role("button", name="Undo").click()
    page.wait_for_url("**/season/")
    assert Garden.objects.get(name="Harrow Stair").accepted_risk == 0.1


def test_twenty_rows_on_a_laptop(laptop: Page, harrow: str) -> None:
    page = laptop
    page.goto(f"{harrow}/season/")
    rows = page.locator(".board-rows .board-row")
    assert rows.count() == 20
    last = rows.last.bounding_box()
    assert last
    # Below the demo's own bar, which no other garden has.
    bar = page.locator(".demo-clock").bounding_box()
    assert bar
    assert last["y"] + last["height"] - bar["height"] <= 800
    assert page.evaluate("document.documentElement.scrollWidth") == 1280


def test_zooms_and_groups_by_keyboard(laptop: Page, harrow: str) -> None:
    page = laptop
    look = page.locator(".look-at summary")
    look.focus()
    page.keyboard.press("Enter")
    page.get_by_role("link", name="three years").focus()
    page.keyboard.press("Enter")
    expect(page.locator(".board-ruler")).to_contain_text("Jan ’30")
    page.locator(".look-at summary").click()
    page.get_by_role("link", name="by place").click()
    expect(page.get_by_role("heading", name="Kitchen sill")).to_be_visible()
    assert "zoom=three" in page.url  # one does not undo the other
    page.keyboard.press("a")
    page.wait_for_url("**/almanac/")
    page.keyboard.press("l")
    page.wait_for_url("**/plants/")
    page.keyboard.press("c")
    page.wait_for_url("**/cut/")


def test_ways_follow_the_plant(laptop: Page, harrow: str) -> None:
    page = laptop
    page.goto(f"{harrow}/want/new/")
    way = page.locator("#id_method")
    expect(way).to_have_value("jar")
    way.select_option("plug")
    expect(page.locator(".way-chosen")).to_contain_text("plug under a dome")
    page.locator("#id_plant").select_option(label="Rosemary")
    expect(page.locator("#id_method option").first).to_contain_text("gritty mix, with a heel")
    expect(page.locator("#answer-words")).to_contain_text("tips")
    page.get_by_label("as many as I can").check()
    page.locator("#id_cuttings").fill("10")
    expect(page.locator("#answer-words")).to_contain_text("Cut 10 tips")
    expect(page.locator("#id_wanted")).to_be_hidden()


def test_lots_are_answered_and_kept(laptop: Page, harrow: str) -> None:
    page = laptop
    page.goto(f"{harrow}/want/new/?start=basil&wanted=12")
    page.locator("summary", has_text="Spares, lots").click()
    page.get_by_label("In how many lots").fill("3")
    expect(page.locator(".answer-lines li")).to_have_count(3)
    expect(page.locator(".answer-lines")).to_contain_text("Lot 3: 4")
    page.get_by_role("button", name="Keep this want").click()
    expect(page.get_by_role("status")).to_contain_text("Kept, as 3 wants that belong together.")
    expect(page.get_by_role("heading", name="The other lots")).to_be_visible()


def test_a_southern_garden(laptop: Page, demo: str) -> None:
    page = laptop
    records = southern(range(1995, 2021), (9, 12), (5, 20))
    means = monthly_means(records)
    assert means is not None
    household = Garden.objects.get(name="Harrow Stair").household
    garden = Garden.objects.create(
        household=household, name="Southern Stair", latitude=-41.3, longitude=174.8, timezone="Pacific/Auckland",
        t_min=list(Normals(*means).t_min), t_max=list(Normals(*means).t_max),
    )  # fmt: skip
    Place.objects.create(garden=garden, name="Sill", day_c=20, night_c=17)
    south = f"{demo}/g/{garden.pk}"
    csv = "date,tmin,tmax\n" + "\n".join(
        f"{date.fromordinal(int(day))},{low:.1f},{high:.1f}"
        for day, low, high in zip(records.ordinals, records.low, records.high, strict=True)
    )
    page.goto(f"{south}/records/")
    page.get_by_label("A file of daily lowest").set_input_files(
        {"name": "south.csv", "mimeType": "text/csv", "buffer": csv.encode()}
    )
    page.get_by_role("button", name="Look at it").click()
    page.get_by_role("button", name="Keep these records").click()
    expect(page.locator(".freeze").first).to_contain_text(re.compile(r"last of spring averages 1[123] Sep"))
    expect(page.locator(".freeze").last).to_contain_text(re.compile(r"first of autumn averages (19|20|21) May"))

    page.goto(f"{south}/season/")
    expect(page.get_by_role("heading", name="What would you like more of?")).to_be_visible()
    expect(page.locator(".starters li")).to_have_count(3)
    page.goto(f"{south}/want/new/")  # in the southern autumn: the next gate is in spring
    expect(page.locator("#answer-words")).to_contain_text(re.compile(r"The gate opens \d+ (Sep|Oct|Nov)"))
    page.goto(f"{south}/almanac/")
    expect(page.locator(".almanac").first).to_contain_text("Dormant wood")
    page.goto(f"{south}/hand/")
    expect(best(page)).not_to_contain_text("Worth it this year")


def test_the_season_prints_on_one_page(laptop: Page, harrow: str) -> None:
    page = laptop
    pdf = page.pdf(prefer_css_page_size=True)
    assert len(re.findall(rb"/Type\s*/Page[^s]", pdf)) == 1
