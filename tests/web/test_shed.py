"""The shed as people use it: counted, bought, used, mixed; what batches draw down; floors measured; pots chosen."""

from __future__ import annotations

import uuid
from datetime import date, timedelta
from typing import Any

import pytest
from django.test import Client

from elder.engine.shed.vessels import shipped
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Person, Place
from elder.web.garden.undo import Undo
from elder.web.read.shed import shed_today
from elder.web.read.stock import in_shed
from elder.web.read.wants import reckon_all
from elder.web.say.words import about
from elder.web.season.taking import Taken, take_batch
from elder.web.shed.models import MixOrder, ShedEntry, Supply
from tests.factories import GardenFactory, WantFactory, member, take
from tests.web.conftest import TUB
from tests.web.presses import TODAY, at, page, take_back, text, wanted, way_back
from tests.web.reading import read, table, words

POT_L = shipped()["pot"].filled_l


def counted(garden: Any, on: date = date(2027, 3, 1), **amounts: float) -> None:
    """What was counted before anything was cut; ``__`` stands for a colon."""
    for what, amount in amounts.items():
        ShedEntry.objects.create(garden=garden, what=what.replace("__", ":"), kind="counted", amount=amount, on=on)


def there(garden: Any, what: str) -> float:
    return in_shed(garden).there.get(what, 0.0)


def write(client: Client, garden: Any, what: str, kind: str, amount: object) -> Any:
    return client.post(at("shed-thing", garden, what), {"kind": kind, "amount": amount, "key": uuid.uuid4()})


def test_nobody_has_counted_yet(owner: Client, garden: Any) -> None:
    said = text(page(owner, "shed", garden))
    assert "Nobody has counted yet." in said
    assert "Nothing is short." in said
    assert "Potting mix 0 litres not counted" in said


def test_counting_buying_and_using_stand_in_the_book_and_can_be_taken_back(owner: Client, garden: Any) -> None:
    form = read(owner.get(at("shed-count", garden)))
    fields = {words(label): label["for"] for label in form.find_all("label")}
    name = fields["Potting mix, litres"].removeprefix("id_")
    answer = owner.post(at("shed-count", garden), {name: "22.5", "key": uuid.uuid4()})
    assert there(garden, "part:potting") == 22.5
    assert "label" not in in_shed(garden).since, "what was left empty is not counted"
    back = way_back(owner, answer)
    assert there(garden, "part:potting") == 22.5
    key = uuid.uuid4()
    for _ in range(2):  # the same press twice is one
        owner.post(at("shed-thing", garden, "part:potting"), {"kind": "bought", "amount": "40", "key": key})
    assert there(garden, "part:potting") == 62.5
    used = write(owner, garden, "part:potting", "used", "2,5")
    assert "A number, please." in used.content.decode()
    assert 'value="2,5"' in used.content.decode(), "what was typed is still there"
    undo = way_back(owner, write(owner, garden, "part:potting", "used", "2.5"))
    assert there(garden, "part:potting") == 60.0
    assert "used: 2.5 litres of potting mix" in text(page(owner, "shed-thing", garden, "part:potting"))
    take_back(owner, garden, undo)
    assert there(garden, "part:potting") == 62.5
    take_back(owner, garden, back)
    assert there(garden, "part:potting") == 40.0
    assert owner.get(at("shed-thing", garden, "vessel:none-such")).status_code == 404
    assert "As it was." in owner.post(at("shed-count", garden), {"of-0": ""}, follow=True).content.decode()


def test_a_batch_draws_down_what_it_used_and_gives_it_back(owner: Client, garden: Any) -> None:
    counted(garden, part__sand=10, part__potting=30, label=20, vessel__pot=12, powder=9)
    want = wanted(garden, "rosemary", "gritty")
    batch = take(want, on=date(2027, 3, 6), count=9)
    # Nine rosemary in three pots of 13 cm: 3 × 1.0344 l, poured 3.651, a quarter of it sand; three labels.
    assert there(garden, "part:sand") == pytest.approx(10 - 3 * POT_L / 0.85 / 4)
    assert there(garden, "part:potting") == pytest.approx(30 - 3 * POT_L / 0.85 * 3 / 4)
    assert there(garden, "label") == 17
    assert there(garden, "vessel:pot") == 12, "the pots come back"
    line = Entry.objects.create(batch=batch, kind="rooted", on=date(2027, 3, 15), count=6)
    potted = Entry.objects.create(batch=batch, kind="potted", on=date(2027, 3, 16), count=6)
    before = there(garden, "part:potting")
    Entry.objects.create(batch=batch, kind="struck", on=date(2027, 3, 16), strikes=potted)
    # Six half-litre pots of plain mix: 3 l, poured 3.529.
    assert there(garden, "part:potting") - before == pytest.approx(3 / 0.85)
    assert line.count == 6
    Entry.objects.filter(batch=batch)._raw_delete("default")
    Batch.objects.filter(pk=batch.pk).delete()
    assert there(garden, "part:sand") == 10


def test_the_powder_that_was_dipped_and_what_was_used_before_the_count(garden: Any) -> None:
    counted(garden, powder=9, label=5)
    want, person = wanted(garden, "rosemary", "gritty"), member(garden)
    places = (want.rooting_place, want.growing_place)
    taken = Taken(date(2027, 3, 6), 20, "the old one", *places, treatment={"hormone": "powder"})
    assert isinstance(take_batch(want, taken, garden=garden, person=person, today=TODAY), Batch)
    assert there(garden, "powder") == pytest.approx(9 - 20 * 0.1)
    counted(garden, on=TODAY, label=7)
    assert there(garden, "label") == 7
    early = Taken(date(2027, 3, 6), 4, "the old one", *places)
    assert isinstance(take_batch(want, early, garden=garden, person=person, today=TODAY), Batch)
    assert there(garden, "label") == 7, "cut before the count, written down after it: counted already"
    late = Taken(TODAY, 4, "the old one", *places)
    assert isinstance(take_batch(want, late, garden=garden, person=person, today=TODAY), Batch)
    assert there(garden, "label") == 6, "cut on the day of the count, after it"


def test_a_pot_that_is_given_away_does_not_come_back(garden: Any) -> None:
    counted(garden, vessel__litre=10)
    batch = take(WantFactory(garden=garden, rooting_place=garden.places.get()), on=date(2027, 3, 6), count=5)
    for kind, count in (("rooted", 5), ("potted", 5)):
        Entry.objects.create(batch=batch, kind=kind, on=date(2027, 3, 16), count=count)
    Entry.objects.create(batch=batch, kind="given", on=TODAY, count=2, stage="potted")
    assert there(garden, "vessel:litre") == 8


def test_what_a_want_will_ask_reckoned_apart(garden: Any) -> None:
    """A want for eight tomatoes: its cut, its jars, its labels in their week; then potting, expected by its take."""
    want = WantFactory(garden=garden, rooting_place=garden.places.get())
    (item,) = reckon_all(garden, TODAY)
    plan, option = item.planned()
    found = shed_today(garden, TODAY)
    week = (option.day - found.weeks.monday).days // 7
    cut = item.to_cut
    jars = -(-cut // 5)
    assert found.needed["label"].sure[week - 1 : week + 1].tolist() == [0, jars]
    assert found.needed["vessel:jar"].sure[week] == jars
    free = (option.rooted[2] - found.weeks.monday).days // 7  # type: ignore[operator]
    assert found.needed["vessel:jar"].sure[free : free + 2].tolist() == [jars, 0]
    potted = found.needed["vessel:litre"].expected
    out = (plan.target - found.weeks.monday).days // 7
    assert potted[out] == pytest.approx(cut * plan.roots.mean * plan.followed(option.day).mean_rooted[-1], rel=0.02)
    assert potted[min(out + 1, 25)] == 0 or out >= 25
    mix = found.needed["part:potting"].expected
    assert mix[-1] == pytest.approx(potted[out] / 0.85, rel=0.02), "a litre each, and what settles"
    sure = found.needed["vessel:litre"].sure[out]
    assert cut >= sure >= potted[out]
    assert want.pk


def test_the_list_is_in_whole_packs_at_ones_own_price(owner: Client, garden: Any) -> None:
    WantFactory(garden=garden, rooting_place=garden.places.get())
    counted(garden, vessel__jar=1, label=0, part__potting=100, vessel__litre=40, stake=40)
    answer = owner.post(at("shed-thing", garden, "label"), {"pack": "50", "price": "2.4"})
    assert answer.status_code == 302
    assert Supply.objects.get(what="label").pack == 50
    assert (
        "A price is a number"
        in owner.post(at("shed-thing", garden, "label"), {"pack": "50", "price": "dear"}).content.decode()
    )
    (item,) = reckon_all(garden, TODAY)
    jars = -(-item.to_cut // 5)
    said = text(page(owner, "shed", garden))
    assert f"{jars - 1} jars" in said
    assert f"1 pack of 50 labels 2.40 {jars} short; {50 - jars} over" in said
    assert "In all 2.40 , of what has a price" in said
    printed = text(page(owner, "shed-list", garden))
    assert "1 pack of 50 labels, 2.40" in printed
    answer = owner.post(at("shed-bought", garden), {"what": "label", "key": uuid.uuid4()})
    assert there(garden, "label") == 50
    assert "Bought: 50 labels." in owner.get(answer.url).content.decode()
    assert "of 50 labels" not in text(page(owner, "shed", garden))
    owner.post(at("shed-bought", garden), {"everything": "1", "key": uuid.uuid4()})
    assert "Nothing is short." in text(page(owner, "shed", garden))
    assert (
        "not on the list any more"
        in owner.post(at("shed-bought", garden), {"what": "label"}, follow=True).content.decode()
    )


def test_one_press_buys_the_next_trip_and_not_what_is_short_in_summer(owner: Client, garden: Any) -> None:
    counted(garden, label=0)
    for by, count in ((date(2027, 4, 5), 2), (date(2027, 7, 5), 9)):
        MixOrder.objects.create(garden=garden, recipe="plain", vessel="litre", count=count, by=by)
    MixOrder.objects.create(garden=garden, recipe="half-bark", vessel="litre", count=17, by=date(2027, 4, 12))
    answer = owner.get(at("shed", garden))
    assert "Buy by Sun 4 Apr: potting mix." in text(answer.content.decode()), "more than a fortnight off, and the first"
    assert "Later: 1 thing more" in text(answer.content.decode())
    owner.post(at("shed-bought", garden), {"everything": "1", "key": uuid.uuid4()})
    # 2 + 9 litres of plain and half of 17, over 0.85, are 22.94: two bags of 20; bark waits in the fold.
    assert there(garden, "part:potting") == 40
    assert there(garden, "part:bark") == 0


def test_a_thing_says_who_asks_for_it_and_what_is_left_week_by_week(owner: Client, garden: Any) -> None:
    want = WantFactory(garden=garden, rooting_place=garden.places.get(), variety="Ferry Lamp")
    standing = take(WantFactory(garden=garden, rooting_place=garden.places.get()), on=date(2027, 3, 18), count=11)
    counted(garden, vessel__jar=5)
    MixOrder.objects.create(garden=garden, recipe="half-bark", vessel="litre", count=17, by=date(2027, 4, 14))
    found = read(owner.get(at("shed-thing", garden, "vessel:jar")))
    item = next(one for one in reckon_all(garden, TODAY) if one.row.pk == want.pk)
    asked = words(found.find("h2", string="Who asks for it").parent)  # type: ignore[union-attr,arg-type]
    jars = -(-item.to_cut // 5)
    week = (item.planned()[1].day - date(2027, 3, 15)).days // 7
    monday = date(2027, 3, 15) + timedelta(days=7 * week)
    when = "now" if monday <= TODAY else f"from about {about(monday, TODAY)}"
    assert f"Tomato ‘Ferry Lamp’ : {jars} expected, {when}" in asked
    assert "Tomato, cut already : 3 expected, now" in asked
    assert found.find("a", href=at("batch", garden, standing.pk))
    rows = table(found, "Week by week")
    assert rows[0] == ["By", "Asked, expected", "To be sure", "Left then"]
    assert len(rows) == 13
    sure = shed_today(garden, TODAY).needed["vessel:jar"].sure
    assert (
        rows[1] == ["Sun 21 Mar", "3" if week else str(3 + jars), str(int(sure[0])), str(int(5 - sure[0]))]
        or sure[0] > 5
    )
    bark = text(page(owner, "shed-thing", garden, "part:bark"))
    # Seventeen litres stand, half of them bark: 17 / 0.85 / 2 = 10, by the week of 12 April.
    assert "mix that was ordered : 10 litres expected, from about 12 Apr" in bark
    assert "Sun 18 Apr 10 litres 10 litres 10 litres short" in bark
    assert "Sun 11 Apr 0 litres 0 litres 0 litres" in bark


def test_the_trip_is_in_the_calendar(owner: Client, garden: Any) -> None:
    WantFactory(garden=garden, rooting_place=garden.places.get())
    assert b"Buy for the shed" not in owner.get(at("calendar-download", garden)).content, "where nobody keeps a shed"
    counted(garden, label=0)
    assert b"SUMMARY:Buy for the shed" in owner.get(at("calendar-download", garden)).content


def test_nine_bags_are_worked_out_ordered_and_mixed(owner: Client, garden: Any) -> None:
    counted(garden, **{"part__peat-free": 20, "part__perlite": 3, "part__vermiculite": 12})
    said = text(page(owner, "shed-mix", garden))
    assert "For 9 nursery bags of 15 cm: 29 litres as it stands, 34 litres poured." in said
    assert "8.5 litres perlite 1 part 3 litres there; buy 1 bag of 10 litres, 4.6 litres over" in said
    wrong = owner.post(at("shed-mix", garden), {"recipe": "light", "vessel": "bag", "count": "0", "settle": "15"})
    assert "At least 1." in wrong.content.decode()
    past = {"recipe": "light", "vessel": "bag", "count": "9", "settle": "15", "by": "2027-03-01"}
    assert "That day is past." in owner.post(at("shed-mix", garden), past).content.decode()
    owner.post(at("shed-mix", garden), {**past, "by": "2027-03-27", "key": uuid.uuid4()})
    order = MixOrder.objects.get()
    said = text(page(owner, "shed", garden))
    assert "29 litres of light mix, for 9 nursery bags of 15 cm by Sat 27 Mar" in said
    assert "1 bag of 10 litres of perlite 5.5 litres short" in said
    undo = way_back(owner, owner.post(at("shed-mixed", garden, order.pk), {"key": uuid.uuid4()}))
    litres = 9 * shipped()["bag"].filled_l
    assert there(garden, "mix:light") == pytest.approx(litres)
    assert there(garden, "part:perlite") == pytest.approx(3 - litres / 0.85 / 4)
    assert "To be mixed" not in text(page(owner, "shed", garden))
    # A batch stuck now draws on the mix that is made up, not on its parts.
    take(wanted(garden, "tomato", "mix"), on=TODAY, count=8)
    assert there(garden, "mix:light") == pytest.approx(litres - 2 * POT_L)
    assert there(garden, "part:vermiculite") == pytest.approx(12 - litres / 0.85 / 4)
    take_back(owner, garden, undo)
    assert there(garden, "part:perlite") == pytest.approx(3 - 2 * POT_L / 0.85 / 4)
    order.refresh_from_db()
    assert order.mixed_on is None
    answer = owner.post(at("shed-drop", garden, order.pk))
    assert not MixOrder.objects.exists()
    take_back(owner, garden, way_back(owner, answer))
    assert MixOrder.objects.get().count == 9


def test_a_recipe_and_a_container_of_ones_own(owner: Client, garden: Any) -> None:
    assert "at least one thing" in owner.post(at("shed-recipe", garden), {"name": "Ours"}).content.decode()
    made = owner.post(at("shed-recipe", garden), {"name": "Ours", "part-bark": "2", "part-grit": "1"})
    said = text(owner.get(f"{made.url}&vessel=litre&count=1").content.decode())
    # One litre standing is 1.1765 poured, two thirds of it bark.
    assert "0.8 litres bark 2 parts" in said
    assert "0.4 litres grit 1 part" in said
    url = at("shed-container-new", garden)
    given = {"name": "blue tub", "kind": "pot", "shape": "frustum", "top": "24", "height": "22"}
    wrong = owner.post(url, given).content.decode()
    assert "Say how wide its foot is." in wrong
    assert 'value="blue tub"' in wrong
    shown = owner.get(url, {**given, "base": "19"}, headers={"X-Alpine-Request": "true"}).content.decode()
    # π · 22/12 · (24² + 24 · 19 + 19²) = 8.02 l; 452 cm² for stems of 32.
    assert "It holds 8.02 litres to the brim, takes 14 stems, and 8.5 litres of loose mix fills it." in shown
    owner.post(url, {**given, "base": "19"})
    garden.refresh_from_db()
    key = garden.kit["own"][0]["key"]
    rows = table(read(owner.get(at("shed-containers", garden))), "Yours")
    assert rows[1] == ["blue tub", "24 cm × 24 cm, 22 cm high", "8.02 litres", "8.5 litres", "14 stems"]
    owner.post(at("shed-container", garden, key), {**given, "base": "19", "stems": "9"})
    garden.refresh_from_db()
    assert [row["takes"]["stem"] for row in garden.kit["own"]] == [9], "put right, not another one"
    undo = way_back(owner, owner.post(at("shed-container", garden, key), {"gone": "1"}))
    assert "blue tub" not in page(owner, "shed-mix", garden)
    take_back(owner, garden, undo)
    assert "blue tub" in page(owner, "shed-mix", garden)


def test_us_units_throughout(owner: Client, garden: Any, sill: Any) -> None:
    WantFactory(garden=garden, rooting_place=sill)
    batch = take(wanted(garden, "tomato", "mix"), on=date(2027, 3, 6), count=8)
    Entry.objects.create(batch=batch, kind="rooted", on=date(2027, 3, 16), count=8)
    Place.objects.filter(pk=sill.pk).update(long_cm=91.44, wide_cm=25.4)
    counted(garden, part__potting=18.927, powder=28.35)
    Person.objects.update(units="us")
    pages = [page(owner, name, garden) for name in ("shed", "shed-mix", "shed-list", "shed-containers", "shed-count")]
    pages += [page(owner, "place-floor", garden, sill.pk), page(owner, "batch", garden, batch.pk)]
    for html in pages:
        said = text(html)
        assert "litre" not in said
        assert " cm" not in said
        assert " kg" not in said
    assert "Potting mix 5 gal" in text(pages[0])
    assert "For 9 nursery bags of 6 in: 7.6 gal as it stands, 8.9 gal poured." in text(pages[1])
    assert 'value="36"' in pages[5]
    assert "Plain potting mix, 2.5 gal poured." in text(pages[6])
    write(owner, garden, "part:potting", "used", "4")
    assert there(garden, "part:potting") == pytest.approx(18.927 - 4 * 0.946353, abs=1e-3)
    owner.post(at("place-floor", garden, sill.pk), {"long_cm": "20", "wide_cm": "10"})
    sill.refresh_from_db()
    assert (sill.long_cm, sill.wide_cm) == (pytest.approx(50.8), pytest.approx(25.4))
    owner.post(at("shed-container-new", garden), {
        "name": "pail", "kind": "pot", "shape": "cylinder", "top": "10", "height": "10", "litres": "10",
    })  # fmt: skip
    garden.refresh_from_db()
    assert garden.kit["own"][0]["shape"] == {"cylinder": [25.4, 25.4]}
    assert garden.kit["own"][0]["litres"] == pytest.approx(9.46353, abs=1e-4)


def test_dates_on_a_hormone_jar(owner: Client, garden: Any) -> None:
    counted(garden, powder=9)
    give = {"pack": "25", "price": "", "opened_on": "2024-03-01", "use_by": ""}
    assert owner.post(at("shed-thing", garden, "powder"), give).status_code == 302
    assert "Open for over two years" in text(page(owner, "shed", garden))
    owner.post(at("shed-thing", garden, "powder"), {**give, "opened_on": "2025-04-01"})
    assert "Open for over two years" not in text(page(owner, "shed", garden))
    owner.post(at("shed-thing", garden, "powder"), {**give, "use_by": "2027-03-19"})
    assert "Past its date" in text(page(owner, "shed", garden))


def test_another_shed_is_not_to_be_written_in(owner: Client, garden: Any, sign_in: Any) -> None:
    other = GardenFactory()
    counted(other, label=9)
    line = ShedEntry.objects.get()
    take_back(owner, garden, Undo("shed-lines", {"lines": [line.pk], "order": 0}).offered(garden))
    assert ShedEntry.objects.filter(pk=line.pk).exists()
    order = MixOrder.objects.create(garden=other, recipe="light", vessel="bag", count=2, by=TODAY)
    assert owner.post(at("shed-mixed", garden, order.pk)).status_code == 404
    assert write(sign_in("viewer"), garden, "label", "used", "1").status_code == 403
    mix = {"recipe": "light", "vessel": "bag", "count": "2", "settle": "15"}
    assert sign_in("viewer").post(at("shed-mix", garden), mix).status_code == 403
    asked = sign_in("viewer").post(at("shed-mix", garden), {**mix, "ask": "1"})
    assert "For 2 nursery bags" in asked.content.decode()
    assert sign_in("helper").post(at("shed-thing", garden, "label"), {"pack": "3"}).status_code == 403
    assert sign_in("helper").post(at("place-floor", garden, garden.places.get().pk), {}).status_code == 403
    assert garden.kit == {}
    assert TUB["kind"] == "pot"
