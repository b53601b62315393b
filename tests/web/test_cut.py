"""The Cut room: the sheet, the layout, the look over, hormone sums, trimmings, what is asked of a variety."""

from __future__ import annotations

import re
import uuid
from datetime import date
from typing import Any

import pytest
from django.test import Client

from elder.engine.handbook.loading import clonable
from elder.web.batches.models import Batch, Entry
from elder.web.cut.sheet import Facts, chosen_from, sheet_of
from elder.web.garden.models import Person
from elder.web.read.batches import setting_of
from elder.web.say.plants import way_words
from elder.web.season.models import Want
from elder.web.stock.models import StockLook, StockPlant, VarietyAnswer
from tests.factories import PlaceFactory, take
from tests.web.presses import TODAY, at, laid, page, take_back, text, wanted, way_back

WHOLE = ("crown top", "pup", "division", "runner", "leaf", "leaf with heel")


def cut(client: Client, want: Want, **given: Any) -> Any:
    place = want.rooting_place_id
    data = {
        "on": TODAY.isoformat(), "count": 11, "stock_plant": "Ferry Lamp 1", "rooting_place": place,
        "growing_place": place, "key": uuid.uuid4(), **given,
    }  # fmt: skip
    return client.post(at("cut-sheet", want.garden, want.pk), data)


def test_the_room_says_what_is_to_be_cut_and_made_ready(garden: Any, owner: Client) -> None:
    wanted(garden, "tomato", "jar", cut_on=TODAY)
    wanted(garden, "basil", "jar", cut_on=date(2027, 3, 30))
    far = wanted(garden, "mint", "jar", cut_on=date(2027, 5, 30))
    said = text(page(owner, "cut", garden))
    assert "12 Tomato side shoots" in said
    assert "Get ready: 3 jars and 3 labels." in said
    assert "Basil" in said[said.index("In the next fortnight") :]
    assert "Mint" not in said
    assert far.pk


def test_a_garden_with_nothing_to_cut(garden: Any, owner: Client) -> None:
    assert "Nothing is to be cut today." in page(owner, "cut", garden)


def test_the_sheet_is_the_plants_own_in_order(garden: Any, owner: Client, want: Want) -> None:
    html = page(owner, "cut-sheet", garden, want.pk)
    titles = re.findall(r"<h3>([^<]+?)\s*<", html)
    assert titles[:4] == ["Blade, bag, labels", "Fill the jars", "Choose the shoot, young tips", "Do not let them dry"]
    assert titles[-1] == "Label, the right way up"
    numbers = re.findall(r'class="step-number"\s+aria-hidden="true">(\d+)<', html)
    assert numbers == [str(i + 1) for i in range(len(titles))], "each with its number"
    said = text(html)
    assert "3 jars, washed. Water at the warmth of the room, 4 cm deep." in said
    assert "At Kitchen sill: 20 °C by day, 17 °C by night." in said


def test_its_figures_follow_the_count_the_mother_and_the_schools(garden: Any, owner: Client) -> None:
    want = wanted(garden, "rosemary", "gritty")
    url = at("cut-sheet", garden, want.pk)
    html = owner.get(f"{url}?count=40&mother_name=By+the+shed&school-hormone=gel").content.decode()
    said = text(html)
    # Ten pots of 13/10/11 cm hold 1.1493 l, nine tenths filled: 10.34 l, poured 12.17: a quarter sand, rounded up.
    assert "10 pots of 13 cm, holes below. Potting mix with a quarter sand, poured loose: 3.1 litres sand" in said
    assert "and 9.2 litres potting mix; damp" in said
    assert "From By the shed: low on the plant" in said
    assert "Squeeze 16 ml into a dish" in said
    assert "1,000–3,000 ppm, or 1–3 mg/g" in said
    assert 'name="school-hormone" value="gel"' in html
    assert "Tip 4 g into a dish" in text(owner.get(f"{url}?count=40&school-hormone=powder").content.decode())
    assert "Hormone powder" in text(owner.get(f"{url}?school-hormone=nonsense&count=frog").content.decode())


def test_the_sheet_offers_the_mother_that_gives_most_and_says_how_it_is(garden: Any, owner: Client, want: Want) -> None:
    for name, shoots, growth in (("Weak one", 6, "growing"), ("Strong one", 30, "flowering")):
        row = StockPlant.objects.create(garden=garden, name=name, plant="tomato", gives=6, again_days=14)
        StockLook.objects.create(mother=row, on=TODAY, shoots=shoots, growth=growth)
    html = page(owner, "cut-sheet", garden, want.pk)
    assert "From Strong one: strong young shoots" in text(html)
    assert "Strong one : 10 today, in flower · Weak one : 2 today" in text(html)
    assert "from Strong one, which gives 10 today, 2 too few" in text(page(owner, "cut", garden))


def test_inches_for_those_who_read_them(garden: Any, owner: Client, want: Want) -> None:
    Person.objects.update(units="us")
    said = text(page(owner, "cut-sheet", garden, want.pk))
    assert "1½ in deep" in said
    assert "68 °F by day" in said


@pytest.mark.parametrize("units", ["us", "metric"])
def test_every_sheet_is_filled_in_for_everyone(garden: Any, sill: Any, owner: Client, units: str) -> None:
    """Each way of each plant, its reasons too: no brace left over, and one kind of unit only."""
    facts = Facts(11, 8, "the old one", "Kitchen sill", "a warmth", None, TODAY, TODAY, units)
    wrong = r"\d (cm|ml|°C)" if units == "us" else r"\d (in|fl oz|oz|°F)\b"
    for plant in clonable().values():
        for way in plant.ways:
            for part in sheet_of(plant, way, chosen_from({}, plant, way), facts):
                for line in part.lines:
                    said = f"{line.text} {line.figure} {line.why}"
                    assert not re.search(r"[{}]", said), said
                    assert not re.search(wrong, said), said


KINDS = {(way.form, way.medium): (plant.slug, way) for plant in clonable().values() for way in plant.ways}


@pytest.mark.no_cover
@pytest.mark.parametrize(("plant", "way"), KINDS.values(), ids=["-".join(kind) for kind in KINDS])
def test_every_kind_of_cutting_in_every_medium_has_its_pages(garden: Any, owner: Client, plant: str, way: Any) -> None:
    want = wanted(garden, plant, way.slug, wanted=3)
    if way.direct:
        Want.objects.update(rooting_place=PlaceFactory(garden=garden, name="Bed", standing="ground"))
    html = page(owner, "cut-sheet", garden, want.pk)
    assert way_words(way.form, way.name) in text(html)
    assert 'class="scene scene-pot"' in html
    stems = page(owner, "cut-layout", garden) if way.form in WHOLE else laid(owner, garden, f"want={want.pk}")
    assert "No layout yet" not in stems
    batch = take(want, on=date(2027, 3, 18), count=7, today=TODAY)
    assert batch.code[:2] in page(owner, "cut-after", garden, batch.pk)


def test_one_press_writes_the_batch_with_how_it_was_treated(garden: Any, owner: Client) -> None:
    mother = StockPlant.objects.create(garden=garden, name="By the shed", plant="rosemary", gives=9, again_days=30)
    want = wanted(garden, "rosemary", "gritty")
    answer = cut(
        owner, want, count=8, stock_plant="by the shed", **{"school-hormone": "none", "school-foot": "with a heel"}
    )
    batch = Batch.objects.get()
    assert answer.url == at("cut-after", garden, batch.pk)
    assert batch.mother == mother
    assert (batch.treatment["hormone"], batch.treatment["foot"]) == ("none", "with a heel")
    undo = way_back(owner, answer)
    said = text(page(owner, "cut-after", garden, batch.pk))
    assert batch.code[:2] in said
    assert "hormone none" in said
    take_back(owner, garden, undo)
    assert not Batch.objects.exists()


def test_a_wrong_count_is_said_beside_it_with_nothing_lost(garden: Any, owner: Client, want: Want) -> None:
    html = cut(owner, want, count=0, stock_plant="The old one", **{"school-blade": "just sharp"}).content.decode()
    assert "At least 1." in html
    assert 'value="The old one"' in html
    assert 'name="school-blade" value="just sharp"' in html
    html = cut(owner, want, on="2027-04-20").content.decode()
    assert "is still to come" in html
    assert not Batch.objects.exists()


def test_a_viewer_reads_the_sheet_and_cuts_nothing(garden: Any, sign_in: Any, want: Want) -> None:
    viewer = sign_in("viewer")
    assert "They are cut" not in page(viewer, "cut-sheet", garden, want.pk)
    assert cut(viewer, want).status_code == 403


def test_what_dries_is_a_task_until_it_is_stuck(garden: Any, owner: Client, mild: None, monkeypatch: Any) -> None:
    want = wanted(garden, "dragon-fruit", "gritty", wanted=2)
    cut(owner, want, count=3, on="2027-03-17")
    batch = Batch.objects.get()
    said = text(page(owner, "cut-after", garden, batch.pk))
    assert "Stick them today." in said
    assert "Stick 3 Dragon fruit now" in text(page(owner, "cut", garden))
    assert "Stick" in text(page(owner, "round", garden))
    owner.post(at("round-done", garden), {"deed": "stick", "batch": [batch.pk], "key": uuid.uuid4()})
    assert "Stick them" not in text(page(owner, "cut-after", garden, batch.pk))
    assert [one.deed for one in batch.entries.filter(kind="tended")] == ["stick"]


def test_stuck_at_once_by_choice_it_is_no_task(garden: Any, owner: Client, mild: None) -> None:
    want = wanted(garden, "dragon-fruit", "gritty", wanted=2)
    answer = cut(owner, want, count=3, **{"school-callus": "at once"})
    batch, undo = Batch.objects.get(), way_back(owner, answer)
    assert batch.entries.filter(deed="stick").exists()
    assert "Let them dry" not in text(page(owner, "cut-after", garden, batch.pk))
    take_back(owner, garden, undo)
    assert not Batch.objects.exists(), "and taking it back takes both lines back"


@pytest.mark.parametrize("said", ["9" * 5000, "²", "-4", "1e3", "٣", ""])
def test_numbers_that_are_none_do_no_harm(garden: Any, owner: Client, want: Want, said: str) -> None:
    for name, query in (("cut-sheet", {"count": said}), ("cut-layout", {"want": said, "drop": said}),
                        ("cut-can", {"mother": said}), ("labels", {"batch": said})):  # fmt: skip
        parts = (want.pk,) if name == "cut-sheet" else ()
        assert owner.get(at(name, garden, *parts), query).status_code == 200
    assert cut(owner, want, count=said).status_code in (200, 302)  # a three is a three in any script
    batch = take(want, on=TODAY)
    assert owner.post(at("cut-trim", garden, batch.pk), {"fate": "struck", "count": said}).status_code == 302
    assert owner.post(at("undo", garden), {"of": said}).status_code == 404


def test_the_branch_is_got_ready_days_ahead(garden: Any, owner: Client) -> None:
    want = wanted(garden, "elder", "mix", cut_on=date(2027, 3, 25), wanted=2, stock="indoors")
    day = "in 3 days"
    assert f"take the chosen branch’s leaves back by half {day}" in text(page(owner, "cut-sheet", garden, want.pk))
    assert "Ready the branch" in text(page(owner, "season", garden))
    answer = owner.post(at("cut-prepared", garden, want.pk))
    undo = way_back(owner, answer)
    assert "the branch was got ready Sat 20 Mar" in text(page(owner, "cut-sheet", garden, want.pk))
    assert "Ready the branch" not in text(page(owner, "season", garden))
    take_back(owner, garden, undo)
    want.refresh_from_db()
    assert want.prepared_on is None
    Want.objects.update(stock="outdoors")  # nothing soft to cut on that day, so nothing to get ready
    assert "Ready the branch" not in text(page(owner, "season", garden))


def test_a_variety_is_asked_once_and_remembered(garden: Any, owner: Client) -> None:
    want = wanted(garden, "grapevine", "stick", variety="Stairhead")
    assert "Is ‘Stairhead’ protected, or restricted?" in text(page(owner, "cut-sheet", garden, want.pk))
    given = {"want": want.pk, "plant": "grapevine", "variety": "Stairhead", "protected": "yes", "quarantine": "no"}
    owner.post(at("cut-variety", garden), given)
    other = wanted(garden, "grapevine", "jar", variety="Stairhead")
    said = text(page(owner, "cut-sheet", garden, other.pk))
    assert "What you said of ‘Stairhead’" in said
    assert "Protected, you said: propagating it without a licence is unlawful in many countries." in said
    assert "Under quarantine" not in said
    owner.post(at("cut-variety", garden), {**given, "protected": "licence", "quarantine": "unknown"})
    assert VarietyAnswer.objects.get().protected == "licence"
    said = text(page(owner, "cut-sheet", garden, other.pk))
    assert "Protected, you said" not in said
    assert "Under quarantine in many regions" in said
    assert "protected" not in text(page(owner, "cut-sheet", garden, wanted(garden, "basil", "jar").pk)).lower()


def trim(client: Client, batch: Batch, fate: str, **more: Any) -> Any:
    return client.post(at("cut-trim", batch.garden, batch.pk), {"fate": fate, "key": uuid.uuid4(), **more})


def test_trimmings_in_one_press_and_only_where_known(garden: Any, owner: Client) -> None:
    herb = take(wanted(garden, "basil", "jar"), on=TODAY)
    said = text(page(owner, "cut-after", garden, herb.pk))
    assert "To the kitchen" in said
    assert "To the animals Nothing is known of feeding it: leave it." in said
    answer = trim(owner, herb, "kitchen")
    undo = way_back(owner, answer)
    assert "Trimmings to the kitchen." in text(page(owner, "cut-after", garden, herb.pk))
    trim(owner, herb, "struck", count=4)
    assert "4 more cuttings from the trimmings" in text(page(owner, "batch", garden, herb.pk))
    assert "1 × struck as well, 1 × to the kitchen" in text(page(owner, "cut", garden))
    assert take_back(owner, garden, undo).url == at("cut-after", garden, herb.pk)
    assert "to the kitchen" not in text(page(owner, "cut", garden))
    trim(owner, herb, "animals")
    assert not Entry.objects.filter(deed="animals").exists(), "not offered, so not written"
    tomato = take(wanted(garden, "tomato", "jar"), on=TODAY)
    assert "Nothing is known of eating it" in text(page(owner, "cut-after", garden, tomato.pk))


def test_the_same_press_twice_is_one(garden: Any, owner: Client) -> None:
    batch, key = take(wanted(garden, "basil", "jar"), on=TODAY), uuid.uuid4()
    for fate in ("compost", "compost", "kitchen"):
        owner.post(at("cut-trim", garden, batch.pk), {"fate": fate, "key": key})
    deeds = Entry.objects.filter(kind="trimmed").values_list("deed", flat=True)
    assert sorted(deeds) == ["compost", "kitchen"], "another fate from the same page is another"


def test_can_it_be_cut_and_what_would_it_cost(garden: Any, owner: Client) -> None:
    url = at("cut-can", garden)
    sound = text(owner.get(f"{url}?plant=basil&method=jar").content.decode())
    assert "Suitable" in sound
    want = wanted(garden, "tomato", "jar", cut_on=date(2027, 3, 24))
    said = text(owner.get(f"{url}?want={want.pk}&flower=open&pests=few").content.decode())
    assert "With care" in said
    assert "Take 9 in 10 5 in 10" in said
    assert "Pinch it all out" in said
    counts = re.search(r"Cut on 24 Mar (\d+) cuttings (\d+) cuttings", said)
    assert counts
    assert int(counts[2]) > int(counts[1]) == 12
    ready = re.search(r"Half are ready (\d+ \w+) (\d+ \w+)", said)
    assert ready
    assert ready[1] != ready[2]
    assert "Not this one" in text(owner.get(f"{url}?plant=basil&method=jar&pests=sick").content.decode())
    odd = owner.get(f"{url}?plant=basil&flower=blue&want=999&mother=frog").content.decode()
    assert "No answer yet." in odd


def test_what_was_seen_of_a_stem_goes_with_the_batch_cut_from_it(garden: Any, owner: Client) -> None:
    want = wanted(garden, "tomato", "jar", cut_on=date(2027, 3, 24))
    looked = owner.get(f"{at('cut-can', garden)}?want={want.pk}&softness=half&colour=yellow").content.decode()
    onward = re.search(r'href="([^"]+)">Cut it all the same', looked)
    assert onward
    assert onward[1].endswith("?seen=half_soft.yellow")

    sheet = owner.get(onward[1]).content.decode()
    said = text(sheet)
    count = int(re.search(r"Cut (\d+) ", said)[1])  # type: ignore[index]
    # 0.9 × 0.8 × 0.7 of the handbook's own table: 5 in 10; the days 1.25 × 1.15 of themselves.
    assert "Half ripe already and it is hungry or ageing: about half take instead of about 9 in 10" in said
    assert f"of {count} cut expect about {round(count * 0.504)}; its days to roots run about 4 in 10 longer." in said
    assert '<input type="hidden" name="seen" value="half_soft.yellow"' in sheet
    assert "A sound stem after all" in said
    taking = text(owner.get(at("take", garden, want.pk), {"seen": "yellow.half_soft"}).content.decode())
    assert f"of {count} cut expect about" in taking

    assert cut(owner, want, seen="half_soft.yellow.frog", count=count).status_code == 302
    batch = Batch.objects.get()
    assert batch.condition == ["half_soft", "yellow"]
    assert batch.plan["take"][0] == pytest.approx(0.9 * 0.8 * 0.7)
    shown = text(page(owner, "batch", garden, batch.pk))
    assert (
        "Cut as it was Half ripe already and it is hungry or ageing: about half take instead of about 9 in 10" in shown
    )
    asked = setting_of(batch, garden, TODAY).method.rooting
    assert (asked.early, asked.late, asked.at_c) == (10, 21, 21)  # 7–14 days, 1.4375 times as long

    sound = cut(owner, wanted(garden, "tomato", "jar"))
    assert sound.status_code == 302
    assert Batch.objects.latest("pk").condition == []


def test_what_is_too_late_for_its_want_is_said(garden: Any, owner: Client) -> None:
    want = wanted(garden, "tomato", "jar", by=date(2027, 5, 20), cut_on=date(2027, 4, 10))
    said = text(owner.get(f"{at('cut-can', garden)}?want={want.pk}&softness=woody&flower=fruit").content.decode())
    assert "too late for this want" in said


@pytest.mark.parametrize(
    ("query", "said"),
    [
        ("strength=0.8&unit=percent&wanted=1000&volume=100", "12.5 ml of it and 87.5 ml of water."),
        ("strength=8&unit=mg_g&wanted=1000&volume=100", "0.8 % = 8,000 ppm = 8 mg per g"),
        ("strength=1000&unit=ppm&wanted=3000&volume=100", "That is stronger than what you have"),
        ("strength=0&unit=ppm&wanted=3000&volume=100", "More than nothing, please."),
        ("strength=200&unit=percent&wanted=3000&volume=100", "A label says at most 100 %."),
        ("strength=&unit=ppm&wanted=1&volume=1", "Say how much."),
    ],
)
def test_thinning(garden: Any, owner: Client, query: str, said: str) -> None:
    html = owner.get(f"{at('cut-hormone', garden)}?{query}").content.decode()
    assert said in text(html)
    assert "label is the rule" in html


def test_a_place_outdoors_says_what_the_climate_gives_it(garden: Any, owner: Client) -> None:
    want = wanted(garden, "rosemary", "gritty")
    place = garden.places.get()
    place.standing, place.floor_c = "air", 21
    place.save()
    assert "21 °C by day, 21 °C by night" in text(page(owner, "cut-sheet", garden, want.pk))
