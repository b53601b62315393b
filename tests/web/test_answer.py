"""What an answer rests on, seen in its pages: assumptions, cold, exchange, pots for good, slow places, condition."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import pytest
from django.test import Client
from django.urls import reverse

from elder.engine.assumptions import Assumptions
from elder.engine.handbook.loading import handbook
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Garden
from elder.web.read.batches import batch_today
from elder.web.read.gardens import assumptions_of, climate_of, place_of
from elder.web.read.mothers import known
from elder.web.read.shortfall import chance_word
from elder.web.read.wants import reckon
from elder.web.season.models import Want
from elder.web.stock.models import StockLook, StockPlant
from tests.engine.test_cold import plain_nights
from tests.factories import PlaceFactory, WantFactory, take


def sheet(garden: Any, **given: Any) -> dict[str, Any]:
    place = garden.places.first().pk
    start = {"plant": "tomato", "wanted": 8, "when": "safe", "confidence": 0.9, "purpose": "bed", "stock": "usual"}
    return {**start, "rooting_place": place, "growing_place": place, **given}


def asked(owner: Client, garden: Any, **given: Any) -> str:
    return owner.get(reverse("want-new", args=[garden.pk]), sheet(garden, **given)).content.decode()


def post_assumptions(client: Client, garden: Any, **changed: Any) -> Any:
    data = {
        "look_every_days": 3,
        "carry_nights": 7,
        "slack_days": 7,
        "dear_share": 0.2,
        "speed_sd": 0.2,
        "stand_share": 0.95,
    }
    return client.post(reverse("assumptions", args=[garden.pk]), {**data, "possible_years": 20, **changed}, follow=True)


# Assumptions


def test_a_chance_says_what_it_is_counted_over(owner: Client, garden: Any) -> None:
    page = asked(owner, garden)
    assert "Counted in 20 possible springs, looked at every three days." in page
    assert reverse("assumptions", args=[garden.pk]) in page


def test_how_often_one_looks_moves_the_answer(owner: Client, garden: Any) -> None:
    assert "Cut 12 side shoots between today and 29 Mar." in asked(owner, garden)
    page = post_assumptions(owner, garden, look_every_days=7).content.decode()
    assert "Kept. Every plan is reckoned anew." in page
    garden.refresh_from_db()
    assert assumptions_of(garden).look_every_days == 7
    weekly = asked(owner, garden)
    assert "looked at once a week." in weekly
    assert "between today and 29 Mar." not in weekly
    back = owner.post(reverse("assumptions", args=[garden.pk]), {"reset": 1}, follow=True).content.decode()
    assert "Back to what Elder starts with." in back
    garden.refresh_from_db()
    assert garden.look_every_days == 3


@pytest.mark.parametrize(
    ("given", "said"),
    [
        ({"look_every_days": 0}, "A whole number from 1 to 21, please."),
        ({"look_every_days": "often"}, "A whole number from 1 to 21, please."),
        ({"carry_nights": 201}, "A whole number from 0 to 200, please."),
        ({"slack_days": ""}, "A whole number from 0 to 60, please."),
        ({"possible_years": 9}, "A whole number from 10 to 40, please."),
    ],
)
def test_an_assumption_that_cannot_be_is_said_beside_it(owner: Client, garden: Any, given: Any, said: str) -> None:
    page = post_assumptions(owner, garden, **given).content.decode()
    assert page.count(said) == 1
    garden.refresh_from_db()
    assert (garden.look_every_days, garden.carry_nights, garden.slack_days, garden.possible_years) == (3, 7, 7, 20)


def test_a_helper_reads_the_assumptions_and_changes_none(sign_in: Any, garden: Any) -> None:
    helper = sign_in("helper")
    page = post_assumptions(helper, garden, look_every_days=7).content.decode()
    assert "What Elder takes for granted" in page
    assert "As Elder starts" not in page
    garden.refresh_from_db()
    assert garden.look_every_days == 3


def test_a_garden_is_asked_how_often_one_looks(owner: Client, garden: Any) -> None:
    garden.look_every_days = 4
    garden.save()
    page = owner.get(reverse("garden-edit", args=[garden.pk])).content.decode()
    assert "How often do you look?" in page
    assert "every 4 days" in page
    assert "<dd>every four days</dd>" in owner.get(reverse("garden", args=[garden.pk])).content.decode()


# Which day


def test_what_a_day_costs_stands_beside_the_answer(owner: Client, garden: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    from elder.web.garden import access

    monkeypatch.setattr(access, "today_in", lambda garden: date(2027, 6, 10))
    page = asked(owner, garden)
    assert "What a day costs:" in page
    assert "for 29 Jul, as planned" in page


def test_a_later_comfortable_day_says_what_it_takes(owner: Client, garden: Any) -> None:
    """By plain sums 11 do until 47 days before the 15th of May, and 13 until 42."""
    assert "between today and 29 Mar.</strong> 14 will do until 3 Apr." in asked(owner, garden)


def test_a_plant_without_a_season_is_asked_for_in_a_pot(owner: Client, garden: Any) -> None:
    page = asked(owner, garden, plant="citrus", wanted=1)
    assert "No bed here ever suits it, so this is for a pot, to stand there for good." in page
    assert "first fruit" in page
    owner.post(reverse("want-new", args=[garden.pk]), sheet(garden, plant="citrus", wanted=1))
    assert Want.objects.get().purpose == "pot"


# Cold


@pytest.fixture
def rack(garden: Any) -> Any:
    return PlaceFactory(garden=garden, name="Rack", standing="air")


def cold_sheet(garden: Any, rack: Any, **given: Any) -> dict[str, Any]:
    cold = {"plant": "rosemary", "wanted": 2, "when": "by", "by": "2028-05-01", "purpose": "spare"}
    return sheet(garden, **cold, growing_place=rack.pk, **given)


def test_cold_says_what_it_would_take_and_is_accepted_in_one_press(owner: Client, garden: Any, rack: Any) -> None:
    Garden.objects.filter(pk=garden.pk).update(carry_nights=0)
    url = reverse("want-new", args=[garden.pk])
    page = owner.get(url, cold_sheet(garden, rack)).content.decode()
    assert "to carry it in; you said 0." in page
    promise = page.split('name="carry_nights" value="')[-1].split('"')[0]
    nights = int(promise.removesuffix(" rosemary"))
    assert f"Carry them in on {nights} nights" in page
    owner.post(url, cold_sheet(garden, rack, carry_nights=promise))
    row = Want.objects.get()
    assert row.carry_nights == nights
    edit = owner.get(reverse("want-edit", args=[garden.pk, row.pk])).content.decode()
    assert f'value="{promise}"' in edit
    # A promise made for one plant is none for another, and nonsense is none at all.
    for wrong in (f"{nights} sage", "many rosemary", "201 rosemary"):
        assert "you said 0." in owner.get(url, cold_sheet(garden, rack, carry_nights=wrong)).content.decode()
    assert "Cut " in owner.get(reverse("want", args=[garden.pk, row.pk])).content.decode()


def test_a_kept_want_is_told_it_will_be_carried(owner: Client, garden: Any) -> None:
    row = WantFactory(garden=garden, rooting_place=garden.places.first())
    url = reverse("want-carry", args=[garden.pk, row.pk])
    assert "its pots come in on 33 cold nights." in owner.post(url, {"nights": 33}, follow=True).content.decode()
    row.refresh_from_db()
    assert row.carry_nights == 33
    for wrong in ("-1", "x", "201", ""):
        assert "That is no number of nights." in owner.post(url, {"nights": wrong}, follow=True).content.decode()
    row.refresh_from_db()
    assert row.carry_nights == 33


def test_the_frost_that_kills_in_the_ground_is_said(owner: Client, garden: Any) -> None:
    bed = PlaceFactory(garden=garden, name="Bed", standing="ground")
    page = asked(
        owner, garden, plant="sweet-potato", method="bed", wanted=4, rooting_place=bed.pk, growing_place=bed.pk
    )
    assert "frost kills it where it stands nearly every year." in page
    assert "Carry them in" not in page


def test_a_place_three_times_as_slow_is_said_with_the_one_that_serves(owner: Client, garden: Any, rack: Any) -> None:
    page = asked(owner, garden, plant="mint", wanted=3, rooting_place=rack.pk, purpose="spare")
    assert "To root:" not in page  # in summer, when it is cut, the rack is not three times slower
    page = asked(owner, garden, wanted=3, rooting_place=rack.pk, stock="indoors", cut_on="2027-03-22")
    assert "at Rack, 1" in page
    assert "days at Kitchen sill" not in page
    assert "To root:" in page


def test_a_place_that_falls_below_what_it_bears_is_said_with_the_one_that_does_not(
    owner: Client, garden: Any, rack: Any
) -> None:
    PlaceFactory(garden=garden, name="Cool room", day_c=14, night_c=9)
    row = WantFactory(garden=garden, rooting_place=garden.places.first(), growing_place=rack, carry_nights=60)
    found = reckon(row, garden, date(2027, 3, 20))
    assert found.option is not None
    assert found.target is not None
    rooted = found.option.day + timedelta(
        days=12
    )  # half of them, in the room of the worked example: day 11 is the last
    nights = round(plain_nights(climate_of(garden), place_of(rack), 1.0, rooted, found.target))
    assert nights > 1
    page = owner.get(reverse("want", args=[garden.pk, row.pk])).content.decode()
    assert f"Rack falls below what they bear on about {nights} nights; Kitchen sill does not." in page
    row.growing_place = row.rooting_place
    row.save()
    assert "falls below" not in owner.get(reverse("want", args=[garden.pk, row.pk])).content.decode()


def test_bare_wood_without_roots_is_not_said_to_suffer(owner: Client, garden: Any, rack: Any) -> None:
    vine = {"plant": "grapevine", "method": "stick", "wanted": 2, "purpose": "spare", "when": "by", "by": "2028-07-15"}
    vine = {**vine, "cut_on": "2028-01-05"}
    assert "falls below" not in asked(owner, garden, **vine, rooting_place=rack.pk)
    page = asked(owner, garden, **vine, growing_place=rack.pk)
    assert "Rack falls below" in page


# What an address asks for, and what goes with a plant


def _chosen(page: str, name: str) -> str:
    """What is chosen in one of the sheet's lists."""
    field = page.split(f'<select name="{name}"')[1].split("</select>")[0]
    return field.split(" selected")[0].rsplit('value="', 1)[1].split('"')[0]


def test_an_address_that_says_part_is_answered_with_the_rest_as_it_starts(owner: Client, garden: Any) -> None:
    page = owner.get(reverse("want-new", args=[garden.pk]), {"plant": "mint", "wanted": 5}).content.decode()
    assert "required" not in page.split("want-answer")[1].split("Ways to root")[0]
    assert "No answer yet" not in page
    assert _chosen(page, "plant") == "mint"
    assert 'name="wanted" value="5"' in page


def test_another_plant_comes_with_its_own_way_and_the_best_place_for_it(owner: Client, garden: Any, rack: Any) -> None:
    """Asked for tomato in jars on the sill, then for a cactus: its first way, and the warmest place, which no frost
    reaches; a choice made for the cactus itself then stays."""
    warm = PlaceFactory(garden=garden, name="Warm room", day_c=26, night_c=24)
    bed = PlaceFactory(garden=garden, name="Bed", standing="ground")
    sill = garden.places.get(name="Kitchen sill")
    first = sheet(
        garden, plant="dragon-fruit", method="jar", for_plant="tomato", rooting_place=rack.pk, growing_place=rack.pk
    )
    page = owner.get(reverse("want-new", args=[garden.pk]), first).content.decode()
    assert _chosen(page, "method") == handbook()["dragon-fruit"].ways[0].slug
    assert (_chosen(page, "rooting_place"), _chosen(page, "growing_place")) == (str(warm.pk), str(warm.pk))
    own = sheet(garden, plant="dragon-fruit", for_plant="dragon-fruit", rooting_place=sill.pk, growing_place=sill.pk)
    page = owner.get(reverse("want-new", args=[garden.pk]), own).content.decode()
    assert _chosen(page, "rooting_place") == str(sill.pk)
    # What is struck in the ground goes there, and nothing else does.
    stick = next(slug for slug, plant in handbook().items() if plant.ways and plant.ways[0].direct)
    page = owner.get(reverse("want-new", args=[garden.pk]), {"plant": stick}).content.decode()
    assert _chosen(page, "rooting_place") == str(bed.pk)


# Condition and mothers


def test_taking_out_of_season_says_what_it_costs_and_the_batch_keeps_it(
    owner: Client, garden: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    from elder.web.garden import access

    monkeypatch.setattr(access, "today_in", lambda garden: date(2027, 11, 10))
    row = WantFactory(garden=garden, rooting_place=garden.places.first(), plant="rosemary", method="mix", wanted=10)
    page = owner.get(reverse("take", args=[garden.pk, row.pk])).content.decode()
    # 0.6 × 0.45 = 0.27
    assert "The wood is out of season: about 3 in 10 take instead of about 6 in 10" in page
    assert "The wood is out of season" in owner.get(reverse("cut-sheet", args=[garden.pk, row.pk])).content.decode()
    batch = take(row, on=date(2027, 11, 10), count=26)
    assert batch.condition == ["out_of_season"]
    found = batch_today(batch, garden, date(2027, 11, 10), want=row)
    assert found.forecast.expected[-1] == pytest.approx(26 * 0.27, abs=0.6)


def test_a_mother_in_flower_gives_fewer_that_take(owner: Client, garden: Any, today: date) -> None:
    place = garden.places.first()
    mother = StockPlant.objects.create(garden=garden, name="Old mint", plant="mint", gives=9, again_days=9, place=place)
    StockLook.objects.create(mother=mother, on=today, growth="flowering", shoots=36)
    row = WantFactory(garden=garden, rooting_place=place, plant="mint", method="mix", wanted=4, mother=mother)
    batch = take(row, on=today, count=9)
    assert batch.condition == ["flowering"]
    page = owner.get(reverse("take", args=[garden.pk, row.pk])).content.decode()
    assert "The mother is in flower:" in page


def test_an_indoor_mint_with_shoots_gives_in_march(owner: Client, garden: Any, today: date) -> None:
    place = garden.places.first()
    mother = StockPlant.objects.create(garden=garden, name="Old mint", plant="mint", gives=9, again_days=9, place=place)
    StockLook.objects.create(mother=mother, on=today, growth="growing", shoots=36)
    (one,) = known(garden, today)
    assert (one.rests, one.now) == (False, 12)  # a third of 36
    row = WantFactory(garden=garden, rooting_place=place, plant="mint", method="mix", wanted=4, mother=mother)
    said = owner.get(reverse("want", args=[garden.pk, row.pk])).content.decode()
    assert "between today and" in said or "today." in said


def test_what_the_hand_was_promised_the_batch_says(owner: Client, garden: Any) -> None:
    query = {"plant": "tomato", "piece": "broken stem", "pieces": 2, "state": "wilted", "length": 45}
    page = owner.get(reverse("windfall", args=[garden.pk]), query).content.decode()
    assert "Reckoned with:" in page
    form = page.split('action="' + reverse("windfall-take", args=[garden.pk]))[1].split("</form>")[0]
    data = {one.split('"')[0]: one.split('value="')[1].split('"')[0] for one in form.split('name="')[1:]}
    assert data["seen"] == "wilted"
    owner.post(reverse("windfall-take", args=[garden.pk]), data)
    batch = Batch.objects.get()
    assert batch.condition == ["wilted"]


def test_a_slow_batch_is_told_from_a_poor_one(owner: Client, garden: Any, today: date) -> None:
    """Eleven cut 18 days ago, when nine in ten that root have: of none that shows the batch is slow, and a day is named
    by which it is given up; where some have rooted, the rest are given so long."""
    row = WantFactory(garden=garden, rooting_place=garden.places.first())
    batch = take(row, on=date(2027, 3, 2))
    Entry(batch=batch, kind="looked", on=today).save()
    said = owner.get(reverse("batch", args=[garden.pk, batch.pk])).content.decode()
    assert "With no root on any by" in said
    # plain_life's eleven speeds, weighed by none of eleven on day 18: a mean pace of 1.65; with nine rooted, 1.10.
    assert "This batch is slow: its days run about 6 in 10 longer than usual." in said
    Entry(batch=batch, kind="rooted", on=today, count=9).save()
    said = owner.get(reverse("batch", args=[garden.pk, batch.pk])).content.decode()
    assert "Those without roots by" in said
    assert "This batch is" not in said


def test_nights_to_carry_in_are_said_beside_an_open_day(owner: Client, garden: Any, rack: Any) -> None:
    page = owner.get(
        reverse("want-new", args=[garden.pk]), cold_sheet(garden, rack, carry_nights="40 rosemary")
    ).content.decode()
    assert "<dt>Cold</dt>" in page
    assert "nights to carry the pots in; you said 40." in page
    assert "<dt>Cold</dt>" not in asked(owner, garden)


@pytest.mark.parametrize(
    ("chance", "word"),
    [(0.95, "on-course"), (0.876, "on-course"), (0.874, "tight"), (0.751, "tight"), (0.749, "short"), (0.0, "short")],
)
def test_a_chance_beside_nine_in_ten_asked(chance: float, word: str) -> None:
    assert chance_word(chance, 0.9) == word


def test_every_assumption_of_a_garden_is_asked_with(owner: Client, garden: Any) -> None:
    changed = {"look_every_days": 5, "carry_nights": 20, "slack_days": 3, "dear_share": 0.35, "speed_sd": 0.3}
    post_assumptions(owner, garden, **changed, possible_years=12, stand_share=0.9)
    garden.refresh_from_db()
    asked_with = Assumptions(
        years=12, speed_sd=0.3, look_every_days=5, dear_share=0.35, carry_nights=20, slack_days=3, stand_share=0.9
    )
    assert assumptions_of(garden) == asked_with
    row = WantFactory(garden=garden, rooting_place=garden.places.first())
    assert reckon(row, garden, date(2027, 3, 20)).setting.assumptions == asked_with
    row.carry_nights = 30
    assert reckon(row, garden, date(2027, 3, 20)).setting.assumptions.carry_nights == 30
    row.carry_nights = 1  # the garden's own is more
    assert reckon(row, garden, date(2027, 3, 20)).setting.assumptions.carry_nights == 20


def test_a_want_knows_that_its_mother_is_in_flower(garden: Any, today: date) -> None:
    place = garden.places.first()
    mother = StockPlant.objects.create(garden=garden, name="Old mint", plant="mint", gives=9, again_days=9, place=place)
    StockLook.objects.create(mother=mother, on=today, growth="flowering", shoots=36)
    row = WantFactory(garden=garden, rooting_place=place, plant="mint", method="mix", mother=mother)
    asked_for = reckon(row, garden, today).want
    assert asked_for.condition.reasons == ("flowering",)
    assert asked_for.mother is not None
    assert (asked_for.mother.place, asked_for.mother.shoots) == (place_of(place), 36)


def test_a_vines_first_harvest_is_due_in_autumn(garden: Any) -> None:
    """Grapes ripen from 23 September to 17 November here, so whatever day a vine goes out, its harvest is due then."""
    row = WantFactory(garden=garden, rooting_place=garden.places.first(), plant="grapevine", method="stick")
    batch = take(row, on=date(2027, 2, 1))
    found = batch_today(batch, garden, date(2027, 3, 20), want=row)
    due = found.target + timedelta(days=found.harvest_days)
    assert date(due.year, 9, 23) <= due <= date(due.year, 11, 17)
    assert found.harvest_days >= 877  # the geometric mean of 700 and 1100
