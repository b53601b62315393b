"""How people really do it, from the hand to the ground, by other routes than the pot. All invented."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from elder.web.batches.models import Batch
from elder.web.garden.models import Garden
from elder.web.season.models import Want
from tests.journeys.test_path import move_demo

pytestmark = pytest.mark.journey


def looked(page: Page, rooted: int) -> None:
    """Look at the batch whose page is open, and write down so many rooted."""
    page.get_by_role("link", name="Look, and say what you see").click()
    page.get_by_label("Newly rooted").fill(str(rooted))
    page.get_by_role("button", name=f"Write down: {rooted} rooted").click()
    page.wait_for_url("**/look/*/*/")


def moved(page: Page, name: str, button: str) -> None:
    """Press a move that stands open, or that has to be opened first."""
    part = page.locator("details.deed", has=page.locator("summary", has_text=name)).first
    if part.get_attribute("open") is None:
        part.locator("summary").click()
    part.get_by_role("button", name=button).click()
    expect(page.locator(".said").first).to_contain_text("Written down")


def test_a_storm_broken_tomato_is_kept_whole_and_put_straight_out(phone: Page, harrow: str) -> None:
    page = phone
    page.goto(f"{harrow}/hand/?plant=tomato&piece=broken+stem&pieces=1&length=45&state=sound")
    answer = page.locator(".hand-words")
    expect(answer).to_be_visible()
    way = page.get_by_role("article", name="jar of water, straight out", exact=True)
    way.locator("summary").click()
    expect(way).to_contain_text("Rescue the snapped stem")
    page.evaluate("window.scrollTo(0, document.body.scrollHeight / 2)")
    expect(answer).to_be_in_viewport()
    way.get_by_role("button", name="Keep it whole").click()
    page.wait_for_url("**/batch/*/")
    url, batch = page.url, Batch.objects.latest("pk")
    assert (batch.method, batch.entries.get().count) == ("jar-straight-out", 1)
    assert batch.treatment == {"stem": "snapped", "size": "kept whole"}
    page.get_by_role("link", name="its cut sheet").click()
    expect(page.locator("#sheet-steps")).to_contain_text("Leave it as long as it is")
    expect(page.locator("#sheet-steps")).to_contain_text("Then straight into the ground")

    move_demo(page, "week", 3)
    page.goto(url)
    looked(page, 1)
    page.goto(url)
    expect(page.locator(".answer-line").first).to_contain_text("Start hardening")
    move_demo(page, "week", 3)
    page.goto(url)
    moved(page, "Start hardening", "Done: start hardening")
    move_demo(page, "week", 1)
    page.goto(url)
    moved(page, "Plant out", "Done: plant out")
    expect(page.locator(".stages")).to_contain_text("1planted out")
    assert [entry.kind for entry in batch.entries.order_by("pk")] == ["taken", "rooted", "hardening", "planted"]


def test_bitter_leaf_in_water_to_its_bags(laptop: Page, harrow: str) -> None:
    page, garden = laptop, Garden.objects.get(name="Harrow Stair")
    mat = garden.places.get(name="Heat mat in the glasshouse")
    want = Want.objects.create(
        garden=garden, plant="bitter-leaf", method="jar", wanted=5, purpose="pot", rooting_place=mat, growing_place=mat
    )
    page.goto(f"{harrow}/cut/want/{want.pk}/")
    expect(page.locator("#sheet-steps")).to_contain_text("Choose the shoot, low and older")
    page.get_by_label("From which plant").fill("The old bush")
    page.get_by_role("button", name="They are cut: write it down").click()
    page.wait_for_url("**/cut/batch/*/")
    url = f"{harrow}/batch/{Batch.objects.latest('pk').pk}/"
    move_demo(page, "month", 1)
    page.goto(url)
    looked(page, 5)
    # Potted at roots of 2.5 to 5 cm, by its own sign.
    expect(page.get_by_role("region", name="Potting on")).to_contain_text("roots of 2.5 cm or more")
    page.goto(url)
    moved(page, "Pot on", "Done: pot on")
    expect(page.locator(".stages")).to_contain_text("5potted on")


def test_a_coleus_made_from_a_relative_and_rooted(laptop: Page, harrow: str) -> None:
    page = laptop
    page.get_by_role("link", name="Plants", exact=True).first.click()
    page.get_by_role("link", name="Begin a plant of your own").click()
    page.get_by_label("Its nearest relative").select_option(label="Coleus")
    page.get_by_role("button", name="Begin from it").click()
    page.get_by_label("What it is called").fill("Quenby coleus")
    page.get_by_label("Its botanical name").fill("Coleus quenbyi")
    page.get_by_label("Roots fastest at, °C").fill("9")
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_text("The best warmth lies above the least.")).to_be_visible()
    expect(page.get_by_label("What it is called")).to_have_value("Quenby coleus")
    page.get_by_label("Roots fastest at, °C").fill("25")
    page.get_by_label("Why, for Roots fastest at").fill("quickest on the mat")
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Quenby coleus (yours)")
    expect(page.locator(".own-beside")).to_contain_text("the handbook 24: quickest on the mat")
    page.get_by_role("link", name="Want 8 of it").click()
    expect(page.locator("#answer-words")).to_contain_text("tips")
    page.get_by_role("button", name="Keep this want").click()
    page.get_by_role("link", name="They are cut").click()
    page.get_by_label("From which plant").fill("Mine")
    page.get_by_role("button", name="They are cut").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Quenby coleus (yours)")
    url = page.url
    move_demo(page, "week", 2)
    page.goto(url)
    looked(page, 6)
    expect(page.get_by_role("region", name="Potting on")).to_be_visible()


def test_a_pineapple_top_cut_four_days_ago(phone: Page, harrow: str) -> None:
    page = phone
    page.goto(f"{harrow}/hand/?plant=pineapple&piece=top&pieces=1&state=sound")
    page.locator("summary", has_text="Cut earlier").click()
    page.get_by_label("Cut how many days ago").fill("4")
    page.get_by_label("dry", exact=True).check()
    page.get_by_label("From which plant").fill("A fruit from the market")
    way = page.get_by_role("article", name="top, peeled and potted dry-ish")
    # Grown on where six hours of sun fall, not on the mat, which is warmer and has none.
    expect(way).to_contain_text("Heat mat in the glasshouse, then Kitchen sill")
    expect(way).to_contain_text("18 Sep")
    way.get_by_role("button", name="Strike 1 this way").click()
    page.wait_for_url("**/batch/*/")
    batch = Batch.objects.latest("pk")
    assert (batch.entries.get().on.isoformat(), batch.stock_plant) == ("2027-04-02", "A fruit from the market")
    page.get_by_role("link", name="its cut sheet").click()
    expect(page.get_by_text("Stick them today.")).to_be_visible()
    page.get_by_role("button", name="They are stuck").click()
    expect(page.locator(".said").first).to_contain_text("stuck")


def test_a_name_typed_a_moment_ago_is_what_is_struck(phone: Page, harrow: str) -> None:
    """The answer that the button stands in was asked before the names were typed, and the next one is still on its
    way."""
    page, held = phone, []
    page.goto(f"{harrow}/hand/?plant=pineapple&piece=top&pieces=1&state=sound")
    page.route(
        "**/hand/**",
        lambda route: held.append(route) if route.request.headers.get("x-alpine-request") else route.continue_(),
    )
    page.locator("summary", has_text="Cut earlier").click()
    page.get_by_label("From which plant").fill("A fruit from the market")
    page.get_by_label("Variety").fill("Quay Gold")
    way = page.get_by_role("article", name="top, peeled and potted dry-ish")
    way.get_by_role("button", name="Strike 1 this way").click()
    page.wait_for_url("**/batch/*/")
    batch = Batch.objects.latest("pk")
    assert (batch.stock_plant, batch.variety) == ("A fruit from the market", "Quay Gold")
    assert held, "the answer was asked for, and had not come"


def test_a_vine_from_pruning_to_lined_out_row_to_pot(laptop: Page, harrow: str) -> None:
    page = laptop
    page.goto(f"{harrow}/hand/?plant=grapevine&piece=pruning&pieces=4&length=100&state=sound")
    way = page.get_by_role("article", name="sticks lined out in open ground")
    if not way.get_by_text("Into the row, one node at the surface").is_visible():
        way.locator("summary").click()
    expect(way).to_contain_text("lowest node buried, the second at the surface")
    expect(way).to_contain_text("lifted when it next rests")
    way.get_by_role("button", name="Strike 12 this way").click()
    page.wait_for_url("**/batch/*/")
    url, batch = page.url, Batch.objects.latest("pk")
    move_demo(page, "month", 4)
    page.goto(url)
    looked(page, 7)
    page.goto(url)
    expect(page.locator(".stages")).to_contain_text("7rooted in the row")
    expect(page.get_by_text("Pot on", exact=True)).to_have_count(0)
    move_demo(page, "month", 4)
    page.goto(f"{harrow}/round/")
    expect(page.get_by_text("After the rain that is told")).to_have_count(1)  # so it can wait, and may be done now
    page.locator(".round-waits > summary").click()
    expect(page.get_by_text("Lift and pot 7")).to_be_visible()
    page.goto(url)
    expect(page.get_by_role("region", name="Potting on")).to_contain_text("Lift with a fork")
    moved(page, "Lift and pot", "Done: lift and pot")
    expect(page.locator(".stages")).to_contain_text("7lifted and potted")
    assert [entry.kind for entry in batch.entries.order_by("pk")] == ["taken", "rooted", "lifted"]


def test_mint_from_grow_bed_to_garden(phone: Page, harrow: str) -> None:
    page, garden = phone, Garden.objects.get(name="Harrow Stair")
    mat = garden.places.get(name="Kitchen sill")
    want = Want.objects.create(
        garden=garden, plant="mint", method="growbed-straight-out", wanted=4, rooting_place=mat, growing_place=mat
    )
    page.goto(f"{harrow}/want/{want.pk}/")
    expect(page.locator(".reasons").first).to_contain_text("Then straight into the ground")
    expect(page.locator(".reasons").first).to_contain_text("runs underground; keep it in a pot or a sunk bucket")
    page.get_by_role("link", name="They are cut").click()
    page.get_by_label("From which plant").fill("Mint by the tap")
    page.get_by_role("button", name="They are cut").click()
    page.wait_for_url("**/batch/*/")
    url = page.url
    move_demo(page, "week", 3)
    page.goto(url)
    looked(page, 4)
    page.goto(url)
    expect(page.locator(".stages")).to_contain_text("4rooted")
    moved(page, "Start hardening", "Done: start hardening")
    move_demo(page, "week", 2)
    page.goto(url)
    moved(page, "Plant out", "Done: plant out")
    expect(page.locator(".stages")).to_contain_text("4planted out")
    assert "potted" not in {entry.kind for entry in Batch.objects.latest("pk").entries.all()}
