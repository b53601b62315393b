"""The shed: nine bags from recipe to shopping list to potting; a shelf measured and filled on a phone; US units."""

from __future__ import annotations

import math
import re

import pytest
from playwright.sync_api import Page, expect

from elder.web.batches.models import Batch
from elder.web.garden.models import Person, Place

pytestmark = pytest.mark.journey


def said(page: Page, words: str) -> None:
    expect(page.locator(".said").first).to_contain_text(words)


def test_nine_bags_from_recipe_to_list_to_potting(laptop: Page, harrow: str) -> None:
    page = laptop
    page.goto(f"{harrow}/shed/")
    page.get_by_role("link", name="Work out a mix").click()
    answer = page.locator("#mix-answer")
    expect(answer).to_contain_text("For 9 nursery bags of 15 cm: 29 litres as it stands, 34 litres poured.")
    page.locator("#id_recipe").select_option(label="plain potting mix")
    expect(answer).to_contain_text("34 litres potting mix 1 part")
    expect(answer).to_contain_text("22 litres there; buy 1 bag of 40 litres, 28.5 litres over")
    expect(answer).to_contain_text("Bagged compost can carry legionella")
    page.get_by_label("To be mixed by").fill("2027-04-10")
    page.get_by_role("button", name="Put it on the list").click()
    said(page, "On the list")
    order = page.locator(".to-mix", has_text="plain potting mix")
    expect(order).to_contain_text("29 litres of plain potting mix, for 9 nursery bags of 15 cm by Sat 10 Apr")
    # It is asked of the shed from now on: 34 litres more potting mix than before.
    expect(page.locator(".to-buy", has_text="potting mix").first).to_contain_text("7 bags of 40 litres of potting mix")
    page.locator(".to-buy", has_text="potting mix").first.get_by_role("button", name="Bought").click()
    said(page, "Bought: 280 litres of potting mix.")
    page.locator(".to-mix", has_text="plain potting mix").get_by_role("button", name="Mixed").click()
    said(page, "it stands made up")
    made = page.locator(".level", has_text="Plain potting mix, made up")
    expect(made).to_contain_text("29 litres")
    # Nine side shoots that have rooted go into nine bags, out of what is made up.
    batch = Batch.objects.get(
        garden__name="Harrow Stair", plant="tomato", variety="Ninepin", method="jar", over_on=None
    )
    page.goto(f"{harrow}/batch/{batch.pk}/")
    page.get_by_text("Other pots, or several to one").click()
    page.locator("#pots-pot").select_option(label="nursery bag of 15 cm")
    page.get_by_role("button", name="Into these").click()
    said(page, "go by these pots")
    many = int(re.findall(r"(\d+) nursery bags? of 15 cm", page.locator(".potting").inner_text())[0])
    page.get_by_role("button", name=re.compile("^Done: pot on")).click()
    said(page, "potted on")
    page.goto(f"{harrow}/shed/")
    # A bag of 15 by 20 cm holds 3.534 litres, nine tenths filled; what is left is told to the tenth above.
    left = math.ceil((9 - many) * 0.9 * 3.5343 * 10) / 10
    assert 0 < left < 10
    expect(page.locator(".level", has_text="Plain potting mix, made up")).to_contain_text(f"{left:g} litres")
    page.goto(f"{harrow}/shed/list/")
    expect(page.get_by_role("heading", name="To buy, for Harrow Stair")).to_be_visible()


def test_a_shelf_is_measured_and_filled_on_a_phone(phone: Page, harrow: str) -> None:
    page, shelf = phone, Place.objects.get(garden__name="Harrow Stair", name="Landing shelf")
    page.goto(f"{harrow}/place/{shelf.pk}/floor/")
    answer = page.locator("#floor-answer")
    expect(answer).to_contain_text("Pots of 13 cm: 12")
    # Rows 9 cm apart, half the way √(13² − 9²) = 9.38: five and four on 90.
    page.get_by_label("Wide, cm").fill("22")
    expect(answer).to_contain_text("Pots of 13 cm: 9")
    page.get_by_label("Wide, cm").fill("25")
    page.get_by_label("Would more fit?").select_option(label="pots of 13 cm")
    many = page.get_by_label("How many")
    plus = page.locator(".stepper", has=many).locator("[data-step='1']")
    for _ in range(3):
        plus.tap()
    expect(many).to_have_value("3")
    expect(answer).to_contain_text("Yes: 3 pots of 13 cm would fit besides")
    expect(page.locator(".stand-tried")).to_have_count(3)
    many.fill("12")
    expect(answer).to_contain_text(re.compile(r"No: of 12 pots of 13 cm, 9 would fit besides\."))
    page.get_by_label("Long, cm").fill("60")
    expect(answer).to_contain_text("Pots of 13 cm: 8")
    page.get_by_role("button", name="Keep these measures").click()
    said(page, "Measured.")
    shelf.refresh_from_db()
    assert (shelf.long_cm, shelf.wide_cm) == (60, 25)
    page.get_by_label("Long, cm").fill("")
    expect(answer).to_contain_text("Measure it, and it is drawn")


def test_us_units_throughout(laptop: Page, harrow: str) -> None:
    page = laptop
    Person.objects.filter(username="gardener").update(units="us")
    for path in ("shed/", "shed/mix/", "shed/containers/", "shed/list/", "shed/count/", "shed/thing/part:perlite/"):
        page.goto(f"{harrow}/{path}")
        words = page.locator("main").inner_text()
        assert not re.search(r"\blitres?\b|\bcm\b|\bkg\b|\d g\b", words), path
    page.goto(f"{harrow}/shed/mix/")
    answer = page.locator("#mix-answer")
    expect(answer).to_contain_text("For 9 nursery bags of 6 in: 7.6 gal as it stands, 8.9 gal poured.")
    page.get_by_label("How many").fill("1")
    expect(answer).to_contain_text("For 1 nursery bag of 6 in: 3.4 qt as it stands, 4 qt poured.")
    page.goto(f"{harrow}/shed/container/")
    page.get_by_label("One is called").fill("pail")
    page.get_by_label("Across the top, in").fill("10")
    page.get_by_label("Across the foot, in").fill("8")
    page.get_by_label("High, in").fill("9")
    # π · 9/12 · (100 + 80 + 64) = 574.9 cubic inches, of which 231 are a gallon.
    expect(page.locator("#container-answer")).to_contain_text("It holds 2 gal to the brim")
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_role("region", name="Yours")).to_contain_text("pail")
