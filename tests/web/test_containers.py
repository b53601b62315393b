"""What cuttings and plants stand in, from the jar to the pot, and what room they take at their places."""

from __future__ import annotations

import uuid
from collections import Counter
from datetime import date, timedelta
from typing import Any

from django.test import Client

from demo.loader import load
from elder.engine.round.loads import loads
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Garden, Person, Place
from elder.web.read.batches import batch_of, living, stands_of
from elder.web.read.shed import shed_today
from elder.web.read.space import capacities
from elder.web.say.batches import name_of
from elder.web.say.containers import filled_words
from elder.web.say.words import plural
from tests.factories import PlaceFactory, WantFactory, take
from tests.web.presses import TODAY, at, page, take_back, text, wanted, way_back
from tests.web.reading import read, words


def test_a_batch_keeps_what_it_was_stuck_in(owner: Client, garden: Any) -> None:
    want = wanted(garden, "tomato", "mix")
    batch = take(want, on=date(2027, 3, 6), count=12)
    owner.post(at("shed-use", garden), {"use-pot": "pot-9", "use-light": "plain", "use-jar": "no-such"})
    garden.refresh_from_db()
    assert garden.kit["usual"] == {"pot": "pot-9", "light": "plain"}
    said = text(owner.get(f"{at('cut-sheet', garden, want.pk)}?count=12").content.decode())
    assert "6 pots of 9 cm, holes below. Plain potting mix, 2.5 litres poured; damp" in said
    assert [(one.filled.vessel.key, one.filled.vessels) for one in batch_of(garden, batch.pk, TODAY).stands] == [
        ("pot", 3)
    ]
    owner.post(at("shed-use", garden), {"use-pot": "pot", "use-light": "light"})
    garden.refresh_from_db()
    assert garden.kit["usual"] == {}
    sheet = at("cut-sheet", garden, want.pk)
    assert "6 pots of 9 cm" in text(owner.get(f"{sheet}?count=12&school-container=pot-9").content.decode())
    assert "3 pots of 13 cm" in text(owner.get(f"{sheet}?count=12&school-container=jar").content.decode())
    given = {
        "on": "2027-03-20", "count": "12", "stock_plant": "the old one", "key": uuid.uuid4(),
        "rooting_place": want.rooting_place_id, "growing_place": want.growing_place_id, "school-container": "pot-9",
    }  # fmt: skip
    owner.post(sheet, given)
    made = Batch.objects.latest("pk")
    assert made.treatment["container"] == "pot-9"
    assert "12 labels" not in text(page(owner, "labels", garden))
    assert "6 labels" in text(page(owner, "cut-after", garden, made.pk))


def test_into_which_pots_they_go(owner: Client, garden: Any) -> None:
    batch = take(wanted(garden, "basil", "jar"), on=date(2027, 3, 6), count=7)
    for kind in ("rooted",):
        Entry.objects.create(batch=batch, kind=kind, on=date(2027, 3, 16), count=7)
    said = text(page(owner, "batch", garden, batch.pk))
    assert "Pots 7 pots of 0.5 litres" in said
    assert "Mix Plain potting mix, 4.2 litres poured." in said
    url = at("batch-pots", garden, batch.pk)
    assert "from 1 to 12 plants" in owner.post(url, {"pot": "litre", "to_a_pot": "0"}, follow=True).content.decode()
    assert "from 1 to 12 plants" in owner.post(url, {"pot": "jar", "to_a_pot": "2"}, follow=True).content.decode()
    undo = way_back(owner, owner.post(url, {"pot": "litre", "to_a_pot": "3"}))
    said = text(page(owner, "batch", garden, batch.pk))
    assert "Pots 3 pots of 1 litre, 3 to each" in said
    assert "Mix Plain potting mix, 3.6 litres poured." in said
    assert "3 pots of 1 litre, 3 to each." in text(page(owner, "round", garden))
    Entry.objects.create(batch=batch, kind="potted", on=TODAY, count=7)
    found = batch_of(garden, batch.pk, TODAY)
    assert [(one.stage, one.filled.vessels) for one in found.stands] == [("potted", 3)]
    take_back(owner, garden, undo)
    batch.refresh_from_db()
    assert not {"pot", "to a pot"} & set(batch.treatment)
    pineapple = take(wanted(garden, "pineapple", "peeled"), on=date(2027, 2, 6), count=1)
    Entry.objects.create(batch=pineapple, kind="rooted", on=date(2027, 3, 16), count=1)
    said = text(page(owner, "batch", garden, pineapple.pk))
    assert "pH 5.5 to 6.5: test it, and where it is above, sulphur lowers it." in said
    assert "Sulphur by its own label" in said
    assert "legionella" in said


# ---- floors


def test_a_place_is_measured_and_what_stands_there_is_packed(owner: Client, garden: Any, sill: Any) -> None:
    take(WantFactory(garden=garden, rooting_place=sill), on=date(2027, 3, 6), count=11)
    url = at("place-floor", garden, sill.pk)
    assert "Measure it, and it is drawn" in owner.get(url).content.decode()
    assert "Between a hand" in owner.post(url, {"long_cm": "2", "wide_cm": "25"}).content.decode()
    assert "A number, please." in owner.post(url, {"long_cm": "wide", "wide_cm": "25"}).content.decode()
    tried = owner.get(url, {"long_cm": "90", "wide_cm": "25", "vessel": "pot", "many": "10"})
    said = text(tried.content.decode())
    assert "3 containers stand here, all with room. Yes: 10 pots of 13 cm would fit besides" in said
    assert "Jars: 33 , 30 more now" in said
    # Eleven pots end at 78 cm of the front row; what is left, 12 by 25 cm, takes three jars one behind the other.
    assert "Pots of 13 cm: 12 , 11 more now" in said
    assert tried.content.count(b'class="stand-tried"') == 10
    assert tried.content.count(b'class="stand"') == 3
    said = text(owner.get(url, {"long_cm": "90", "wide_cm": "25", "vessel": "pot", "many": "12"}).content.decode())
    assert "No: of 12 pots of 13 cm, 11 would fit besides." in said
    owner.post(url, {"long_cm": "16", "wide_cm": "8"})
    sill.refresh_from_db()
    assert (sill.long_cm, sill.wide_cm) == (16, 8)
    said = text(page(owner, "place-floor", garden, sill.pk))
    assert "1 container of 3 find no room: it is too full." in said
    assert "3 jars , 1 without room" in said
    assert "150% of its floor, too many" in text(page(owner, "places", garden))
    assert capacities([sill]) == {(sill.pk, "floor"): 1000}
    assert "Kitchen sill, its floor: 1.5 times the room it has asked" in text(page(owner, "season", garden))


def test_the_place_form_measures_too(owner: Client, garden: Any, sill: Any) -> None:
    url = at("place-edit", garden, sill.pk)
    base = {"name": "Kitchen sill", "standing": "room", "day_c": "20", "night_c": "17"}
    assert "Measure both sides, or neither." in owner.post(url, {**base, "long_cm": "90"}).content.decode()
    assert owner.post(url, {**base, "long_cm": "90", "wide_cm": "25"}).status_code == 302
    sill.refresh_from_db()
    assert (sill.long_cm, sill.wide_cm) == (90, 25)
    owner.post(url, base)
    sill.refresh_from_db()
    assert (sill.long_cm, sill.wide_cm) == (None, None)


def test_fit_them_in_goes_by_the_floor(owner: Client, garden: Any, sill: Any) -> None:
    Place.objects.filter(pk=sill.pk).update(long_cm=26, wide_cm=13, capacity={})
    PlaceFactory(garden=garden, name="Spare room", day_c=19, night_c=16)
    for _ in range(3):
        WantFactory(garden=garden, rooting_place=sill)
    said = text(page(owner, "season-fit", garden))
    assert "its floor:" in said
    assert "Room everywhere." in said
    assert "Spare room" in said


def test_a_plants_page_says_what_each_way_stands_in(owner: Client, garden: Any) -> None:
    said = text(page(owner, "plant", garden, "pineapple"))
    assert (
        "1 to a pot of 13 cm, light mix, then a pot of 3.8 litres of potting mix with a quarter sand at pH 5.5 to 6.5"
        in said
    )
    tomato = text(page(owner, "plant", garden, "tomato"))
    assert "5 to a jar, then a pot of 1 litre of plain potting mix" in tomato
    assert "4 to a pot of 13 cm, light mix, then a pot of 1 litre of plain potting mix" in tomato


def test_one_count_of_containers_over_every_page_of_every_demo_batch(db: None, settings: Any, client: Client) -> None:
    """Labels, loads, floors, room and shed stand in as many containers as the batch does, and as its sheet filled."""
    settings.DEMO = True
    load()
    garden = Garden.objects.get(name="Harrow Stair")
    day = garden.household.demo_day + timedelta(days=9)  # type: ignore[operator]
    garden.household.demo_day = day
    garden.household.save()
    client.force_login(Person.objects.get(username="gardener"), backend="django.contrib.auth.backends.ModelBackend")
    Place.objects.filter(garden=garden).exclude(standing="ground").update(long_cm=220, wide_cm=120)
    labels = read(client.get(at("labels", garden)))
    rows = {row.input["value"]: words(row) for row in labels.find_all("label", class_="label-row")}  # type: ignore[index]
    floors = {
        place.pk: text(page(client, "place-floor", garden, place.pk))
        for place in Place.objects.filter(garden=garden).exclude(standing="ground")
    }
    batches = living(garden, day)
    assert len(batches) >= 8
    for batch in batches:
        stands = batch.stands
        many = {one.stage: one.filled.vessels for one in stands}
        assert stands_of(batch.row, garden) == stands
        assert rows[str(batch.row.pk)].endswith(f" {plural(max(sum(many.values()), 1), 'label', 'labels')}")
        lifted = loads(batch.state, batch.plant, batch.method, batch.treated)
        assert {stage: load.containers for stage, load in lifted.items()} == many
        assert [stay.filled.vessels for stay in batch.stays if stay.filled] == list(many.values())
        for one in stands:
            where = floors[batch.place_id("waiting" if one.stage == "stuck" else "potted")]
            assert f"{name_of(batch)} : {filled_words(one.filled, 'metric')}" in where
        if not batch.state.moved_on and many.get("stuck"):
            sheet = text(page(client, "cut-after", garden, batch.row.pk))
            filled = -(-batch.state.taken // stands[0].filled.each)
            assert f"{plural(filled, 'label', 'labels')} written before the first cut" in sheet
    asked = shed_today(garden, day).needed
    standing = Counter[str]()
    for batch in batches:
        for one in batch.stands:
            standing[f"vessel:{one.filled.vessel.key}"] += one.filled.vessels
    assert all(asked[what].sure[0] >= count for what, count in standing.items())
