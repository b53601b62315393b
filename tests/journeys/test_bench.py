"""The bench: a stem laid out by tapping, sheets from start to finish, a line traced, labels read back."""

from __future__ import annotations

import io
import re
from typing import Any

import pypdfium2
import pytest
import zxingcpp
from PIL import Image
from playwright.sync_api import Page, expect

from elder.web.batches.models import Batch
from elder.web.garden.models import Garden, Place
from elder.web.season.models import Want
from elder.web.stock.models import StockPlant

pytestmark = pytest.mark.journey


def want_of(plant: str, **more: Any) -> Want:
    return Want.objects.get(garden__name="Harrow Stair", plant=plant, closed_on=None, **more)


def said(page: Page, words: str) -> None:
    expect(page.locator(".said").first).to_contain_text(words)


def tap_at(page: Page, cm: float, *, stem: int = 0) -> None:
    """Tap the drawn stem so many cm from its base."""
    # Asked in one breath: a drawing that is just being swapped for the next has no width.
    spot = page.wait_for_function(
        """([stem, cm]) => {
          const drawing = document.querySelector(`[data-stem-tap="${stem}"]`);
          drawing.scrollIntoView({ block: "center", behavior: "instant" });
          const box = drawing.getBoundingClientRect();
          const x = box.left + box.width * (0.03 + 0.94 * cm / Number(drawing.dataset.scale));
          return box.width > 0 && [x, box.top + 70];
        }""",
        arg=[stem, cm],
    ).json_value()
    page.mouse.click(*spot)


@pytest.mark.parametrize("device", ["laptop", "phone"])
def test_a_stem_is_laid_out_by_tapping(device: str, request: pytest.FixtureRequest, harrow: str) -> None:
    page: Page = request.getfixturevalue(device)
    page.goto(f"{harrow}/cut/layout/?plant=rosemary&method=gritty&length=40&nodes=1&bad=")
    answer, nodes = page.locator("#layout-answer"), page.get_by_label("Nodes", exact=True)
    expect(answer).to_contain_text("0 tips from this stem.")
    for i, cm in enumerate((3, 7, 11), start=2):
        tap_at(page, cm)
        expect(page.locator("#layout-answer .node")).to_have_count(i)
    expect(answer).to_contain_text("1 tip from this stem.")
    expect(nodes).to_have_value(re.compile(r"^3 7 11 20$"))
    tap_at(page, 20)  # the first one again: it goes
    expect(nodes).to_have_value("3 7 11")
    expect(page.locator("#layout-answer .node")).to_have_count(3)
    for i, cm in enumerate((15, 19, 23), start=4):
        tap_at(page, cm)
        expect(page.locator("#layout-answer .node")).to_have_count(i)
    expect(answer).to_contain_text("2 tips from this stem.")

    # Two taps mark what cannot be used; one of the two is lost by it.
    page.locator(".chip", has_text="marks what cannot be used").click()
    tap_at(page, 14)
    tap_at(page, 17)
    expect(page.get_by_label("Not to be used, from–to and why")).to_have_value("14-17")
    expect(answer).to_contain_text("1 tip from this stem.")
    expect(page.locator("#layout-answer .unusable")).to_have_count(1)

    # The same by the keyboard: what is typed is what is drawn.
    page.get_by_label("Not to be used, from–to and why").fill("")
    expect(answer).to_contain_text("2 tips from this stem.")
    nodes.fill("3 7 11 15 19 23 27 31 35")
    expect(answer).to_contain_text("3 tips from this stem.")
    nodes.fill("3 7 99")
    expect(answer).to_contain_text("99 cm lies beyond the end of the stem.")
    expect(nodes).to_have_value("3 7 99")

    # A rule is changed, and another stem comes to it.
    nodes.fill("3 7 11 15 19 23 27 31 35")
    page.locator("summary", has_text="The rules").click()
    page.get_by_label("Nodes, at least").fill("4")
    expect(answer).to_contain_text("2 tips from this stem.")
    page.get_by_role("button", name="Another stem").click()
    expect(page.locator("#layout-answer")).to_contain_text("4 tips from these 2 stems.")


def tick(page: Page, title: str) -> None:
    page.locator(".step", has=page.get_by_role("heading", name=re.compile(title))).locator(".step-tick").click()


def choose(page: Page, key: str, school: str) -> None:
    """Open a step's reasons and choose another school."""
    step = page.locator(f"#step-{key}")
    step.locator("summary").click()
    step.locator(".school", has_text=school).click()


def test_a_herb_from_the_sheet_to_its_label(phone: Page, harrow: str) -> None:
    page, want = phone, want_of("basil")
    page.goto(f"{harrow}/want/{want.pk}/")
    page.get_by_role("link", name="Cut sheet").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Cut 28 Basil")
    expect(page.locator("#step-containers")).to_contain_text("6 jars")
    page.get_by_role("button", name="one more").first.click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Cut 28 Basil")

    # A snapped stem is rescued first; cut for this, it need not be.
    page.locator(".chip", has_text="snapped").click()
    expect(page.locator("#step-rescue")).to_contain_text("Recut above the break")
    page.locator(".chip", has_text="cut for this").click()
    expect(page.locator("#step-rescue")).to_have_count(0)

    # Another school changes the step, and the half-hour runs on through a reload.
    choose(page, "callus", "half an hour")
    expect(page.locator("#step-callus")).to_contain_text("30 minutes")
    page.get_by_role("button", name="Start the half-hour").click()
    expect(page.locator("[data-timer-said]")).to_have_text("30 minutes to go: stick them then.")

    # Steps are ticked off, and stay so when the page is asked for anew.
    tick(page, "Choose the shoot")
    tick(page, "Fill the jars")
    expect(page.locator(".step-done")).to_have_count(2)
    choose(page, "hygiene", "just sharp")
    expect(page.locator("#step-hygiene")).to_contain_text("A sharp, clean blade.")
    # What was chosen keeps the focus, so that the keyboard goes on from there.
    assert page.evaluate("document.activeElement.value") == "just sharp"
    expect(page.locator(".step-done")).to_have_count(2)
    page.get_by_label("From which plant").fill("Basil on the sill")
    page.get_by_role("button", name="They are cut: write it down").click()

    page.wait_for_url("**/cut/batch/*/")
    batch = Batch.objects.latest("pk")
    said(page, "Taken: 29.")
    assert (batch.stock_plant, batch.entries.get().count) == ("Basil on the sill", 29)
    assert batch.treatment["callus"] == "half an hour"
    assert batch.treatment["blade"] == "just sharp"

    # Trimmings in one press, taken back and pressed again.
    page.get_by_role("button", name="To the kitchen").click()
    said(page, "trimmings to the kitchen")
    page.locator(".said").get_by_role("button", name="Undo").click()
    expect(page.get_by_text("Trimmings to the kitchen.")).to_have_count(0)
    page.get_by_role("button", name="Compost").click()
    said(page, "trimmings composted")

    # Its labels go to the printer, one to a jar.
    page.get_by_role("link", name="Make the labels").click()
    page.get_by_role("button", name="To the label printer").click()
    said(page, "6 printed")
    expect(page.locator(".tray img")).to_have_count(6)


def test_a_cactus_dries_and_comes_up_to_be_stuck(laptop: Page, harrow: str) -> None:
    page, want = laptop, want_of("dragon-fruit")
    page.goto(f"{harrow}/cut/want/{want.pk}/")
    for words in ("Choose the joint", "woody core", "Dry till it has scabbed", "6.5 cm deep", "Spines: thick gloves"):
        expect(page.locator("#sheet-steps")).to_contain_text(words)
    expect(page.locator("#step-callus")).to_contain_text(
        "Stick on Mon 24 May, if cut on Fri 21 May: it comes up in Rounds"
    )
    page.get_by_role("button", name="They are cut: write it down").click()
    page.wait_for_url("**/cut/batch/*/")
    expect(page.get_by_text("Let them dry until Fri 9 Apr.")).to_be_visible()
    after = page.url
    page.goto(f"{harrow}/round/")
    expect(page.get_by_role("button", name="Stuck", exact=True)).to_have_count(0)

    for _ in range(3):
        page.get_by_role("button", name="a day").click()
        page.wait_for_load_state()
    page.goto(f"{harrow}/cut/")
    expect(page.get_by_role("region", name="Lying to dry")).to_contain_text("Stick 4 Dragon fruit now")
    page.goto(f"{harrow}/round/")
    page.get_by_role("button", name="Stuck", exact=True).click()
    said(page, "stuck")
    page.goto(after)
    expect(page.get_by_text("Stick them today.")).to_have_count(0)
    batch = Batch.objects.latest("pk")
    assert batch.mother == StockPlant.objects.get(name="Cactus on the glasshouse post"), "the best mother is offered"
    assert [entry.deed or entry.kind for entry in batch.entries.all()] == ["taken", "stick"]


def test_a_vine_is_laid_out_short_and_cut(laptop: Page, harrow: str) -> None:
    garden = Garden.objects.get(name="Harrow Stair")
    mat = Place.objects.get(garden=garden, name="Heat mat in the glasshouse")
    want = Want.objects.create(
        garden=garden, plant="vanilla", method="bark", wanted=1, purpose="spare", rooting_place=mat, growing_place=mat
    )
    page = laptop
    page.goto(f"{harrow}/cut/want/{want.pk}/")
    for words in ("Half bark", "tied to the support", "three times a day in heat", "Sap itches"):
        expect(page.locator("#sheet-steps")).to_contain_text(words)
    page.get_by_role("link", name="Lay out your own stem").click()
    page.get_by_label("Length, cm").fill("100")
    page.get_by_label("Nodes", exact=True).fill("10")
    answer = page.locator("#layout-answer")
    expect(answer).to_contain_text("2 vine sections from this stem.")
    page.locator("summary", has_text="The rules").click()
    page.get_by_label("Material is short").check()
    expect(answer).to_contain_text("3 vine sections from this stem.")
    page.get_by_role("link", name="Cut 3").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Cut 3 Vanilla")
    page.get_by_label("From which plant").fill("The vine from a friend")
    page.get_by_role("button", name="They are cut: write it down").click()
    page.wait_for_url("**/cut/batch/*/")
    assert Batch.objects.latest("pk").entries.get().count == 3
    expect(page.locator(".steps").first).to_be_visible()


def test_a_line_is_traced_from_a_diseased_mother(laptop: Page, harrow: str) -> None:
    page = laptop
    page.get_by_role("link", name="Stock").click()
    page.get_by_role("link", name="Ferry Lamp 2").click()
    expect(page.locator(".mother-answer")).to_contain_text("12 side shoots today.")
    page.locator(".chip", has_text="diseased").click()
    page.get_by_role("button", name="Write it down").click()
    said(page, "growing, diseased")
    expect(page.locator(".mother-answer")).to_contain_text("No side shoots today. It proved diseased")
    traced = page.get_by_role("region", name="From Ferry Lamp 2")
    expect(traced).to_contain_text("It proved diseased: look at each of these.")
    expect(traced).to_contain_text("Landing shelf")
    expect(traced.get_by_role("link", name="Ferry Lamp 4")).to_be_visible()

    page.get_by_role("link", name="Stock", exact=True).first.click()
    expect(page.get_by_text(re.compile(r"Ferry Lamp 2 proved diseased: 1[34] are asked of it"))).to_be_visible()
    page.get_by_role("link", name="families").click()
    expect(page.locator(".sick-word")).to_have_count(2)
    page.get_by_role("link", name="Show the line of Ferry Lamp 4").click()
    expect(page.locator(".life.strong")).to_have_count(3)

    # The same by the keyboard, in the nested list.
    page.get_by_text("The same as a list").focus()
    page.keyboard.press("Enter")
    nested = page.locator(".family-list li li li", has_text="Ferry Lamp 4")
    expect(nested.first).to_contain_text("generation 3")
    nested.first.get_by_role("link").first.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_have_text("Ferry Lamp 4")

    # Folded and found again.
    page.goto(f"{harrow}/stock/families/")
    page.get_by_role("link", name="Fold what comes from Ferry Lamp 1").click()
    expect(page.locator(".family-names")).not_to_contain_text("Ferry Lamp 4")
    page.get_by_label("Name or place").fill("lamp 4")
    page.get_by_role("button", name="Show").click()
    expect(page.locator(".family-names li")).to_have_count(3)


def test_a_label_on_the_screen_opens_its_batch(laptop: Page, harrow: str) -> None:
    page, batch = laptop, Batch.objects.get(variety="Ninepin", method="jar", over_on=None)
    page.goto(f"{harrow}/batch/{batch.pk}/")
    page.get_by_role("link", name="labels").click()
    picture = page.get_by_alt_text("The label as a tag")
    picture.evaluate("image => image.decode()")
    with Image.open(io.BytesIO(picture.screenshot())) as seen:
        grey = seen.convert("L")
    # As a phone does: nearer and further off until it reads. A code of a higher number is finer.
    nearer = (grey.resize((grey.width * by, grey.height * by)) for by in (3, 2, 4, 1, 6))
    code = next(codes[0] for near in nearer if (codes := zxingcpp.read_barcodes(near)))
    page.goto(code.text)
    expect(page.get_by_role("heading", level=1)).to_have_text("9 Tomato ‘Ninepin’")
    assert page.url == f"{harrow}/batch/{batch.pk}/"


@pytest.mark.parametrize("plant", ["rosemary", "dragon-fruit", "basil"])
def test_the_sheet_prints_on_one_page(laptop: Page, harrow: str, plant: str) -> None:
    laptop.goto(f"{harrow}/cut/want/{want_of(plant).pk}/")
    document = pypdfium2.PdfDocument(laptop.pdf(format="A4"))
    try:
        assert len(document) == 1
        words = document[0].get_textpage().get_text_bounded()
    finally:
        document.close()
    assert "an arrow up" in words
    assert "They are cut" not in words


def test_the_shopping_list_prints_on_one_page(laptop: Page, harrow: str) -> None:
    laptop.goto(f"{harrow}/shed/list/")
    document = pypdfium2.PdfDocument(laptop.pdf(format="A4"))
    try:
        assert len(document) == 1
        words = " ".join(document[0].get_textpage().get_text_bounded().split())
    finally:
        document.close()
    assert "6 bags of 40 litres of potting mix, 57.00 211 litres short to be sure" in words


def test_without_scripts_the_bench_works(browser: Any, demo: str, harrow: str) -> None:
    context = browser.new_context(java_script_enabled=False)
    page = context.new_page()
    page.goto(f"{demo}/sign-in/")
    page.get_by_role("button", name="Walk into the demo garden").click()
    page.goto(f"{harrow}/cut/layout/?plant=rosemary&method=gritty")
    page.get_by_label("Length, cm").fill("60")
    page.get_by_label("Nodes", exact=True).fill("20")
    page.get_by_role("button", name="Lay it out").click()
    expect(page.locator("#layout-answer")).to_contain_text("6 tips from this stem.")
    page.goto(f"{harrow}/cut/want/{want_of('basil').pk}/")
    page.locator("#sheet-many").fill("6")
    page.get_by_role("button", name="Show it so").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Cut 6 Basil")
    page.get_by_label("From which plant").fill("Basil on the sill")
    page.get_by_role("button", name="They are cut: write it down").click()
    expect(page.locator(".said")).to_contain_text("Taken: 6.")
    context.close()
