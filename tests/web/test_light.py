"""The light of places in their pages: described, drawn, kept, ranked, walked; the foot of a wall."""

from __future__ import annotations

from datetime import date
from typing import Any

import pytest
import yaml
from bs4 import Tag
from django.urls import reverse

from demo.loader import DATA
from elder.engine.place.light import PlaceLight, light_year
from elder.engine.plan.light_needs import UNROOTED_H, LightNeed, fit
from elder.web.garden.models import Place
from elder.web.places.light_form import LightForm, filled_from
from elder.web.places.walk_views import walk_in_order
from elder.web.read.light import is_shaded, lamp_hours, light_as_described, light_of, lit_at
from tests.factories import PlaceFactory, WantFactory
from tests.web.reading import named, read, table, words

TODAY = date(2027, 3, 20)
SOUTH = {"facing": 180.0, "half_angle": 75.0}


def sky(owner: Any, place: Place, **asked: str) -> Tag:
    return read(owner.get(reverse("place-sky", args=[place.garden_id, place.pk]), asked))


def form_of(garden: Any, units: str = "metric", **given: str) -> LightForm:
    return LightForm(given, garden=garden, today=TODAY, units=units, others=[])


def test_a_place_nobody_described_asks_for_a_word(owner: Any, sill: Place) -> None:
    page = sky(owner, sill)
    assert "Say its light in a word" in words(named(page, "What it comes to"))
    assert lit_at(sill, sill.garden, TODAY) is None


def test_a_south_sill_worked_out(owner: Any, sill: Place) -> None:
    answer = words(named(sky(owner, sill, said="measured", facing="180"), "What it comes to"))
    # pvlib 0.16.1, minute by minute: azimuth 105 to 255° from 7:38 to 17:09, of it 6.08 hours at 25° and higher.
    assert "Kitchen sill today: full sun: 9½ hours of sun, 6 of it strong, 7:40 to 17:10." in answer
    rows = table(sky(owner, sill, said="measured", facing="180"), "What it suits today")
    assert [row[:2] for row in rows[1:]] == [
        ["Unrooted, open or loosely covered", "not there 6 hours of strong sun"],
        ["Under a closed cover", "never there 9½ hours of sun on a closed cover: it cooks"],
        ["Rooted, wanting six hours", "fits 9½ hours of sun"],
        ["Rooted, content with three", "fits 9½ hours of sun"],
        ["What bleaches: vanilla, coleus", "not there 6 hours of strong sun"],
    ]


def test_hours_by_the_month_go_by_the_gardens_clock(owner: Any, sill: Place) -> None:
    months = table(sky(owner, sill, said="measured", facing="180"), "What it comes to")
    page = sky(owner, sill, said="measured", facing="180")
    grid = page.select("table.sky-months tbody tr")
    by_month = {words(row.find_all("th")[0]): [words(cell) for cell in row.find_all("td")] for row in grid}
    assert months
    assert by_month["Jan"][1] == "–"
    # pvlib 0.16.1: on 15 June from 9:45 to 16:49 in summer time, on 15 December to 15:54 in winter time.
    assert by_month["Jun"][2] == "9:45 to 16:50"
    assert by_month["Dec"][2].split(" to ")[1] == "15:55"


def test_what_is_described_is_kept_and_comes_back(owner: Any, sill: Place) -> None:
    sent = {
        "said": "measured", "facing": "135", "overhang": "60", "s90": "12", "s135": "20", "cloth": "30",
        "kind1": "house", "towards1": "180", "height1": "8", "away1": "12", "wide1": "10",
        "kind2": "tree", "towards2": "90", "height2": "6", "away2": "5", "wide2": "4",
        "leaf_from2": "5", "leaf_to2": "10",
        "lamps_on": "06:30", "lamps_off": "20:00",
    }  # fmt: skip
    answer = owner.post(reverse("place-sky", args=[sill.garden_id, sill.pk]), sent)
    assert answer.status_code == 302
    sill.refresh_from_db()
    assert sill.light["before"] == [
        {"towards": 180.0, "height": 8.0, "away": 12.0, "wide": 10.0},
        {"towards": 90.0, "height": 6.0, "away": 5.0, "wide": 4.0, "leaf": [120, 303]},
    ]
    assert (sill.light["facing"], sill.light["overhang"], sill.light["cloth"]) == (135.0, 60.0, 0.3)
    assert dict(map(tuple, sill.light["skyline"]))[135] == 20.0
    again = filled_from(sill.light, "metric")
    assert {key: again[key] for key in sent} == sent
    light = light_of(sill)
    assert light is not None
    assert (light.cloth, light.lamp_h, light.aspect.overhang_deg) == (0.3, 13.5, 60.0)
    assert "Kept. Places are ranked by this light" in words(read(owner.get(reverse("places", args=[sill.garden_id]))))


def test_the_hour_the_sun_looks_straight_in(garden: Any) -> None:
    # On 20 March at 52.6° N, 4.1° W noon by the sun is at 12:24: then it stands in the south.
    form = form_of(garden, said="measured", facing="0", oclock="12:24")
    assert form.is_valid(), form.errors
    assert form.described()["facing"] == pytest.approx(180.0, abs=0.6)
    dark = form_of(garden, said="measured", oclock="23:00")
    assert dark.errors["oclock"] == ["The sun is not up here at that hour today."]


def test_exact_degrees_go_before_the_rose(garden: Any) -> None:
    form = form_of(garden, said="measured", facing="135", exact="141")
    assert form.is_valid()
    described = form.described()
    assert described["facing"] == 141.0
    assert filled_from(described, "metric") == {
        "said": "measured", "facing": "135", "overhang": "90", "cloth": "0", "exact": "141",
    }  # fmt: skip
    assert form_of(garden, said="measured").is_valid()


@pytest.mark.parametrize(
    ("given", "field", "said"),
    [
        ({"overhang": "2"}, "overhang", "Between 5 and 90; 90 for none."),
        ({"s90": "89"}, "s90", "Between 0 and 85."),
        ({"cloth": "much"}, "cloth", "A number, please."),
        ({"lamps_on": "06:00"}, "lamps_off", "Say from when and until when, or neither."),
        ({"kind1": "house", "height1": "3", "away1": "4"}, "wide1", "How much?"),
        ({"kind1": "house", "height1": "0", "away1": "4", "wide1": "2"}, "height1", "More than nothing, up to 500 m."),
        ({"oclock": "noonish"}, "oclock", "A time of the clock, please."),
    ],
)
def test_what_cannot_be_is_said_beside_its_field(garden: Any, given: dict[str, str], field: str, said: str) -> None:
    assert form_of(garden, said="measured", **given).errors[field] == [said]


def test_feet_are_read_as_feet(garden: Any) -> None:
    form = form_of(garden, "us", said="measured", kind1="house", height1="10", away1="20", wide1="30")
    assert form.is_valid(), form.errors
    described = form.described()
    assert described["before"][0] == {"towards": 0.0, "height": 3.048, "away": 6.096, "wide": 9.144}
    assert filled_from(described, "us")["away1"] == "20"


def test_words_alone_are_kept_as_words(owner: Any, sill: Place) -> None:
    owner.post(reverse("place-sky", args=[sill.garden_id, sill.pk]), {"said": "part sun", "s90": "40"})
    sill.refresh_from_db()
    assert sill.light == {"said": "part sun"}
    assert light_of(sill) == PlaceLight("part sun")
    owner.post(reverse("place-sky", args=[sill.garden_id, sill.pk]), {"said": ""})
    sill.refresh_from_db()
    assert sill.light == {}


def test_lamps_over_midnight() -> None:
    assert lamp_hours(["18:00", "06:30"]) == 12.5
    assert lamp_hours(None) == 0.0
    assert light_as_described({"said": "full shade", "lamps": ["05:00", "21:00"]}).lamp_h == 16.0


def test_the_same_day_at_another_window(owner: Any, garden: Any, sill: Place) -> None:
    north = PlaceFactory(garden=garden, name="Landing", light={"facing": 0.0})
    answer = words(named(sky(owner, sill, said="measured", facing="180", other=str(north.pk)), "What it comes to"))
    assert "Landing today: bright shade. That is 9½ hours less." in answer


def test_a_helper_may_look_and_not_describe(sign_in: Any, sill: Place) -> None:
    helper = sign_in("helper")
    at = reverse("place-sky", args=[sill.garden_id, sill.pk])
    assert helper.get(at).status_code == 200
    assert helper.post(at, {"said": "full sun"}).status_code == 403


def test_places_are_ranked_for_this_plant_at_this_stage(owner: Any, garden: Any, sill: Place) -> None:
    sill.light = SOUTH
    sill.save()
    PlaceFactory(garden=garden, name="Landing", day_c=17, night_c=14, light={"said": "bright shade"})
    PlaceFactory(garden=garden, name="Attic", day_c=21, night_c=21)
    at = reverse("places", args=[garden.pk])

    def lines(**asked: str) -> list[str]:
        answer = owner.get(at, asked, headers={"X-Alpine-Request": "true"})
        return [words(line) for line in read(answer).select("ol.ranked li")]

    # 8.918 units at 0.7731 a day, so 11 days where it is 20 and 17; at 21 all day, as the handbook has it, the middle
    # of 7 and 14, nearly ten.
    assert lines(way="tomato.jar", stage="unrooted") == [
        "Attic its light is not said · 9 days",
        "Landing fits no strong sun · 16 days",
        "Kitchen sill not there 6 hours of strong sun · 11 days",
    ]
    assert lines(way="tomato.plug", stage="unrooted")[-1].startswith("Kitchen sill never there 9½ hours of sun")
    assert lines(way="tomato.jar", stage="rooted") == [
        "Kitchen sill fits 9½ hours of sun", "Attic its light is not said", "Landing not there no sun",
    ]  # fmt: skip
    assert lines(way="nonsense", stage="unrooted")[0].startswith("Attic")


def test_a_shelf_says_what_stands_there(owner: Any, garden: Any, batch: Any, sill: Place) -> None:
    sill.light = {"said": "bright shade"}
    sill.save()
    page = read(owner.get(reverse("places", args=[garden.pk])))
    shelf = named(page, "Kitchen sill")
    assert "Bright shade." in words(shelf)
    drawing = shelf.find("svg", class_="scene")
    assert isinstance(drawing, Tag)
    assert drawing["aria-label"] == "Kitchen sill: bright shade. There stands: 3 Tomato."
    assert "indoors" not in words(shelf)
    swings = PlaceFactory(garden=garden, name="Rack", standing="air")
    said = words(named(read(owner.get(reverse("places", args=[garden.pk]))), "Rack"))
    assert "Its light is not said." in said
    assert swings.name in said


def test_a_place_that_swings_is_set_beside_a_steady_one(owner: Any, garden: Any, want: Any) -> None:
    PlaceFactory(garden=garden, name="Glass", standing="air", lift_day_c=15, lift_night_c=4)
    said = words(named(read(owner.get(reverse("places", args=[garden.pk]))), "Glass"))
    # At 20.5 °C all day the response to 8, 25 and 36 °C is 0.888: 8.918 units take eleven days to the end of day 10.
    assert "Its warmth swings: Tomato roots in" in said
    assert "at a steady 20 to 21 °C in 10." in said
    assert "swings" not in words(named(read(owner.get(reverse("places", args=[garden.pk]))), "Kitchen sill"))


def test_the_walk_is_kept_in_the_order_sent(owner: Any, garden: Any, sill: Place) -> None:
    second, third = (PlaceFactory(garden=garden, name=name) for name in ("Landing", "Rack"))
    foreign = PlaceFactory()
    at = reverse("places-walk", args=[garden.pk])
    keys = [third.pk, foreign.pk, sill.pk, third.pk]
    answer = owner.post(at, {"place": [*keys, "x"]}, headers={"Accept": "application/json"})
    assert answer.json()["ok"]
    assert [place.name for place in garden.places.all()] == ["Rack", "Kitchen sill", "Landing"]
    foreign.refresh_from_db()
    assert foreign.walk == 1000
    walk_in_order(garden, [])
    assert [place.pk for place in garden.places.all()] == [third.pk, sill.pk, second.pk]


def test_the_foot_of_a_wall(owner: Any, garden: Any) -> None:
    page = read(owner.get(reverse("places-wall", args=[garden.pk])))
    said = words(named(page, "The strip at its foot"))
    # A wall of 2 m that faces north: at noon on 20 March the sun stands 37.4° high, and 2/tan of it is 2.6 m.
    assert "On the side that faces north, 2.6 m out from its foot have no sun today." in said
    assert "Shade all day 21 Sep to 22 Mar" in said
    rows = [[words(cell) for cell in row.find_all(["th", "td"])] for row in page.select("table.sky-months tbody tr")]
    assert rows[5] == ["Jun", "–"]
    assert rows[11] == ["Dec", "8.0 m"]
    south = words(read(owner.get(reverse("places-wall", args=[garden.pk]), {"facing": "180"})))
    assert "nowhere has no sun all day" in south
    assert "At no time of the year is it shade enough" in south
    wrong = words(read(owner.get(reverse("places-wall", args=[garden.pk]), {"height": "0"})))
    assert "More than nothing, up to 20 m." in wrong


def test_a_want_says_which_of_its_places_has_not_its_light(owner: Any, garden: Any, sill: Place) -> None:
    sill.light = SOUTH
    sill.save()
    PlaceFactory(garden=garden, name="Landing", day_c=18, night_c=16, light={"said": "bright shade"})
    row = WantFactory(garden=garden, rooting_place=sill)
    said = words(read(owner.get(reverse("want", args=[garden.pk, row.pk]))))
    assert "Kitchen sill has 6½ hours of strong sun before they root; Landing suits." in said
    row.rooting_place = Place.objects.get(name="Landing")
    row.save()
    said = words(read(owner.get(reverse("want", args=[garden.pk, row.pk]))))
    assert "strong sun before they root" not in said


def test_where_it_is_always_shady(garden: Any, sill: Place) -> None:
    assert not is_shaded(sill, garden)
    for light, shady in (({"said": "bright shade"}, True), ({"facing": 0.0, "overhang": 45}, True), (SOUTH, False)):
        sill.light = light
        assert is_shaded(sill, garden) is shady


def test_a_cloth_says_what_it_leaves(owner: Any, sill: Place) -> None:
    answer = words(named(sky(owner, sill, said="measured", facing="180", cloth="80"), "What it comes to"))
    assert (
        "bright shade: 2 hours of sun, 1 of it strong, 7:40 to 17:10: what a cloth of 80% leaves of 9½ hours." in answer
    )


def test_the_demos_sill_turns_bad_for_cuttings_in_may() -> None:
    data = yaml.safe_load(DATA.read_text(encoding="utf-8"))
    harrow = data["gardens"][0]
    assert all(place.get("light") for garden in data["gardens"] for place in garden["places"])
    sill = next(place for place in harrow["places"] if place["name"] == "Kitchen sill")
    year = light_year(light_as_described(sill["light"]), harrow["latitude"], harrow["longitude"])
    need = LightNeed(bears_h=UNROOTED_H)
    found = [fit(year.on(day), need).standing.name for day in (date(2027, 4, 6), date(2027, 4, 24), date(2027, 5, 5))]
    assert found == ["FITS", "BORDERLINE", "NOT"]
