"""Places: a window described by tapping its skyline on a phone; a tray moved for light; the walk by keys; a hot day."""

from __future__ import annotations

import re
from datetime import timedelta

import pytest
from playwright.sync_api import Page, expect

from elder.engine.place.weather import DayAhead
from elder.web.batches.models import Batch
from elder.web.garden.models import Garden, Place
from elder.web.read import services

pytestmark = pytest.mark.journey


def harrow_stair() -> Garden:
    return Garden.objects.get(name="Harrow Stair")


def settled(page: Page) -> dict[str, float]:
    """Where the drawn sky stands once nothing is being reckoned any more: each answer may be a line longer or shorter
    than the one before, and moves it."""
    where = """() => { const sky = document.querySelector('[data-sky]'); if (!sky) return null;
        if (document.querySelector('[aria-busy="true"]')) return null;
        const { x, y, width, height } = sky.getBoundingClientRect(); return { x, y, width, height }; }"""
    last: dict[str, float] | None = None
    for _ in range(100):
        page.wait_for_timeout(300)
        found = page.evaluate(where)
        if found and found == last:
            return found  # type: ignore[no-any-return]
        last = found
    raise AssertionError("the sky never came to rest")


def test_a_window_described_by_tapping_its_skyline(phone: Page, harrow: str) -> None:
    page, place = phone, Place.objects.get(name="Landing shelf")
    page.goto(f"{harrow}/places/")
    page.get_by_role("link", name="its sky at Landing shelf").click()
    answer = page.locator("#sky-answer")
    expect(answer).to_contain_text("Landing shelf today: bright shade")
    # The landing turned out to face south-east, and its hill to be a neighbour's roof.
    page.locator(".rose-7 input").check()
    expect(answer).to_contain_text("of sun")
    page.get_by_text("The skyline as a table, in degrees").click()
    for azimuth in range(0, 360, 15):
        page.locator(f"#id_s{azimuth}").fill("0")
    # pvlib 0.16.1 for 6 April: the sun is up and between 60 and 210° from 6:46 to 14:49 by the clock.
    expect(answer).to_contain_text("6:45 to 14:50")
    settled(page)
    sky = page.locator("[data-sky]")
    sky.scroll_into_view_if_needed()
    frame = {name: float(sky.get_attribute(f"data-{name}") or 0) for name in ("left", "span", "top")}
    for azimuth in (90, 105, 120, 135):
        box = settled(page)
        x = box["x"] + box["width"] * ((azimuth - frame["left"]) % 360) / frame["span"]
        y = box["y"] + box["height"] * 0.9 * (1 - 30 / frame["top"])
        page.touchscreen.tap(x, y)
        expect(page.locator(f"#id_s{azimuth}")).to_have_value(re.compile("^(29|30|31)$"))
        page.wait_for_load_state("networkidle")
    # Behind a roof of 30° from east to south-east that falls off to nothing at 75 and 150°, the same library has it at
    # 10:11; at 29° at 10:03, at 31° at 10:19.
    expect(answer).to_contain_text(re.compile(r"10:(05|10|15|20) to 14:50"))
    page.get_by_role("button", name="Keep this light").click()
    expect(page.locator(".said").first).to_contain_text("Kept. Places are ranked by this light")
    place.refresh_from_db()
    assert place.light["facing"] == 135.0
    assert dict(place.light["skyline"])[105] in (29.0, 30.0, 31.0)


def test_a_tray_is_moved_for_its_light(laptop: Page, harrow: str) -> None:
    page = laptop
    batch = Batch.objects.get(garden=harrow_stair(), variety="Low Tide", over_on=None)
    Place.objects.filter(name="Heat mat in the glasshouse").update(light={"said": "full sun"})
    page.goto(f"{harrow}/round/")
    stop = page.get_by_role("region", name="Heat mat in the glasshouse")
    job = stop.locator(".job", has_text="out of the sun").filter(has_text="Low Tide")
    expect(job).to_contain_text("Heat mat in the glasshouse has")
    expect(job).to_contain_text("Kitchen sill suits")
    job.get_by_role("button", name="Moved to Kitchen sill").click()
    expect(page.locator("#job-" + f"relight-batch-{batch.pk}")).to_have_count(0)
    page.goto(f"{harrow}/batch/{batch.pk}/")
    expect(page.get_by_text("moved to Kitchen sill").first).to_be_visible()
    page.goto(f"{harrow}/places/")
    expect(page.get_by_role("article", name="Kitchen sill")).to_contain_text("Low Tide")


def test_the_walk_is_set_by_keys_and_by_dragging(laptop: Page, harrow: str) -> None:
    page = laptop
    page.goto(f"{harrow}/places/")
    names = page.locator(".shelf h3 a")
    assert names.all_inner_texts()[:3] == ["Kitchen sill", "Landing shelf", "Lean-to glasshouse"]
    page.get_by_role("button", name="Lean-to glasshouse: drag it").focus()
    page.keyboard.press("ArrowUp")
    expect(page.locator("#walk-said")).to_have_text("The round walks in this order now.")
    page.reload()
    expect(names.nth(1)).to_have_text("Lean-to glasshouse")
    handle = page.get_by_role("button", name="Kitchen sill: drag it").bounding_box()
    target = page.get_by_role("article", name="Landing shelf").bounding_box()
    assert handle
    assert target
    page.mouse.move(handle["x"] + 20, handle["y"] + 20)
    page.mouse.down()
    page.mouse.move(target["x"] + 40, target["y"] + 60, steps=8)
    page.mouse.up()
    expect(page.locator("#walk-said")).to_have_text("The round walks in this order now.")
    order = list(harrow_stair().places.values_list("name", flat=True))[:3]
    assert order == ["Lean-to glasshouse", "Landing shelf", "Kitchen sill"]


class Heatwave:
    """Ten days of 34 °C, the third with rain and the fourth with a gale."""

    def __init__(self, garden: Garden) -> None:
        self.garden = garden

    def ahead(self, climate: object, *, today: object, days: int = 10) -> tuple[DayAhead, ...]:
        return tuple(
            DayAhead(today + timedelta(days=i), 34.0, 15.0, 11.0 if i == 2 else 0.0, 75.0 if i == 3 else 20.0)  # type: ignore[operator]
            for i in range(days)
        )


def test_the_round_on_a_hot_day(phone: Page, harrow: str, settings: object) -> None:
    settings.WEATHER_SERVICE = "tests.journeys.test_places.Heatwave"  # type: ignore[attr-defined]
    services.forget_weather()
    page = phone
    Place.objects.filter(name="Cold frame").update(sheltered=False, lift_day_c=0)
    page.goto(f"{harrow}/round/")
    glass = page.get_by_role("region", name="Lean-to glasshouse")
    expect(glass).to_contain_text("Too hot there today: full shade, and mist.")
    mat = page.get_by_role("region", name="Heat mat in the glasshouse")
    # It stands in bright shade under the staging: no more shade is asked for, but mist is.
    expect(mat).to_contain_text("Mist")
    expect(mat).not_to_contain_text("full shade")
    lines = page.locator(".weather-lines")
    expect(lines).to_contain_text("Gusts of 75 km/h on Fri: stake or lay flat what stands at Cold frame.")
    services.forget_weather()
