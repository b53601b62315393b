"""The round: what is due where, deeds in one press, looks and verdicts, two people at once, ways out, photos."""

from __future__ import annotations

import io
import re
import uuid
from datetime import date
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse
from PIL import Image

from elder.engine.weather import DayAhead
from elder.web.batches.models import Batch, Entry, Photo
from elder.web.batches.reckoning import reckon_batch
from elder.web.garden import access
from elder.web.rounds import round as rounds
from elder.web.rounds import services
from elder.web.rounds.photos import LONGEST_PX
from elder.web.rounds.wording import shared_title
from elder.web.season.models import Want
from tests.factories import GardenFactory, PlaceFactory, WantFactory, take

TODAY = date(2027, 3, 20)
MILD = tuple(DayAhead(date.fromordinal(TODAY.toordinal() + i), 15, 8) for i in range(10))


@pytest.fixture(autouse=True)
def _mild(monkeypatch: pytest.MonkeyPatch) -> None:
    """Weather in which nothing need be carried or shaded, unless a test says otherwise."""
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: MILD)


@pytest.fixture
def sill(garden: Any) -> Any:
    return garden.places.get()


@pytest.fixture
def want(garden: Any, sill: Any) -> Any:
    return WantFactory(garden=garden, rooting_place=sill)


@pytest.fixture
def batch(want: Any) -> Batch:
    return take(want, on=date(2027, 3, 6))


def at(name: str, garden: Any, *more: Any) -> str:
    return reverse(name, args=[garden.pk, *more])


def page(client: Client, name: str, garden: Any, *more: Any) -> str:
    answer = client.get(at(name, garden, *more))
    assert answer.status_code == 200
    return str(answer.content.decode())


def press(client: Client, garden: Any, deed: str, *batches: Batch, **more: Any) -> Any:
    data = {"deed": deed, "batch": [batch.pk for batch in batches], "key": uuid.uuid4(), **more}
    return client.post(at("round-done", garden), data)


def look(client: Client, batch: Batch, **given: Any) -> Any:
    data = {"on": TODAY.isoformat(), "stage": "waiting", "key": uuid.uuid4(), **given}
    return client.post(at("round-look", batch.garden, batch.pk), data)


def kinds(batch: Batch) -> list[str]:
    return [entry.deed or entry.kind for entry in batch.entries.all()]


def test_an_empty_garden_says_what_to_do(owner: Client, garden: Any) -> None:
    assert "Nothing now." in page(owner, "round", garden)


def test_what_several_jars_share_is_one_press_and_undone_in_one(
    owner: Client, garden: Any, want: Any, sill: Any
) -> None:
    batches = [take(want, on=date(2027, 3, 6)), take(want, on=date(2027, 3, 8), count=4)]
    found = rounds.round_of(garden, TODAY)
    shared = [one for stop in found.now for one in stop.shared if one.verb == "water"]
    # Five stems to a jar: eleven want three jars, four want one.
    assert [shared_title(one) for one in shared] == ["Change the water in all four jars"]
    assert press(owner, garden, "water", *batches).url == at("round", garden)
    assert [kinds(one) for one in batches] == [["taken", "water"]] * 2
    said = page(owner, "round", garden)
    assert "Written down: water changed, two batches." in said
    assert "Change the water" not in said
    undo = re.search(r'action="([^"]*round/undo/\?entries=[\d,]+)"', said)
    assert undo
    owner.post(undo[1])
    assert "Change the water in all four jars" in page(owner, "round", garden)


def test_a_second_press_or_a_second_person_writes_nothing_twice(
    owner: Client, sign_in: Any, garden: Any, batch: Batch
) -> None:
    press(owner, garden, "water", batch)
    press(sign_in("helper"), garden, "water", batch)
    assert kinds(batch) == ["taken", "water"]
    struck = batch.entries.get(deed="water")
    owner.post(at("round-undo", garden) + f"?entries={struck.pk}")
    press(owner, garden, "water", batch)
    assert kinds(batch) == ["taken", "water", "struck", "water"]


def test_a_press_made_out_of_reach_keeps_its_day(owner: Client, garden: Any, batch: Batch) -> None:
    press(owner, garden, "water", batch, on="2027-03-18")
    assert batch.entries.get(deed="water").on == date(2027, 3, 18)
    press(owner, garden, "mist", batch, on="2027-03-28")
    assert batch.entries.get(deed="mist").on == TODAY, "never a day that is still to come"
    answer = owner.post(
        at("round-done", garden), {"deed": "water", "key": uuid.uuid4()}, HTTP_ACCEPT="application/json"
    )
    assert answer.json() == {"ok": False, "said": "Nothing was ticked, so nothing was written down.", "seen": None}


def test_another_gardens_batches_cannot_be_tended(owner: Client, garden: Any, batch: Batch) -> None:
    other = WantFactory(garden=GardenFactory())
    theirs = take(other, on=date(2027, 3, 6))
    press(owner, garden, "water", batch, theirs)
    assert kinds(batch) == ["taken"]
    assert kinds(theirs) == ["taken"]


def test_places_are_walked_in_the_households_order(owner: Client, garden: Any, want: Any, sill: Any) -> None:
    shelf = PlaceFactory(garden=garden, name="Landing shelf")
    for place in (sill, shelf):
        take(WantFactory(garden=garden, rooting_place=place), on=date(2027, 3, 6))
    names = [stop.place.name for stop in rounds.round_of(garden, TODAY).now if stop.place]
    assert names == ["Kitchen sill", "Landing shelf"]
    owner.post(at("round-walk", garden, shelf.pk), {"up": ""})
    fresh = type(garden).objects.get(pk=garden.pk)
    assert [stop.place.name for stop in rounds.round_of(fresh, TODAY).now if stop.place] == names[::-1]


def test_fixed_weekdays_for_the_jars(owner: Client, garden: Any, batch: Batch) -> None:
    owner.post(at("round-water-days", garden), {"day": ["0", "3", "9", "x"]})
    garden.refresh_from_db()
    assert garden.water_days == [0, 3]
    assert "Jars are changed on Mon and Thu." in page(owner, "round", garden)
    press(owner, garden, "water", batch, on="2027-03-18")  # the Thursday
    assert "Change the water" not in page(owner, "round", garden)
    owner.post(at("round-water-days", garden) + "?back=1")
    garden.refresh_from_db()
    assert garden.water_days == []


def test_as_it_should_be_is_one_tap(owner: Client, garden: Any, batch: Batch) -> None:
    said = page(owner, "round", garden)
    assert "First look" in said
    assert "should root" in said
    assert look(owner, batch, well="1").url == at("round", garden)
    assert kinds(batch) == ["taken", "looked"]
    assert "First look" not in page(owner, "round", garden)


def test_signs_come_to_a_verdict_with_patience_and_course(owner: Client, garden: Any, batch: Batch) -> None:
    answer = look(owner, batch, signs=["slime"], lost=1, why="rot", note="It smells.")
    entry = batch.entries.last()
    assert entry is not None
    assert (entry.kind, entry.signs, entry.note) == ("lost", "slime", "It smells.")
    said = str(owner.get(answer.url).content.decode())
    assert "The base has begun to rot" in said
    assert "Rinse and recut" in said
    assert "Look again in 2 days" in said
    assert re.search(r"Of the 10 still waiting, .* should root. Give them until", said)
    assert "they are not worth the place" in said
    assert "8 wanted" in said
    assert "1 lost, rotted at the base (slime)" in page(owner, "batch", garden, batch.pk)


def test_slime_a_second_time_means_give_up(owner: Client, monkeypatch: pytest.MonkeyPatch, batch: Batch) -> None:
    first = look(owner, batch, signs=["slime"])
    assert "Give that one up" not in owner.get(first.url).content.decode()
    monkeypatch.setattr(access, "today_in", lambda garden: date(2027, 3, 23))
    second = look(owner, batch, on="2027-03-23", signs=["slime"])
    assert "Give that one up" in owner.get(second.url).content.decode()
    assert "Give that one up" not in owner.get(first.url).content.decode(), "the first look stays what it was"


def test_rooted_ones_lead_to_the_plants_own_way_of_potting(owner: Client, batch: Batch) -> None:
    answer = look(owner, batch, rooted=4, signs=["roots", "root_length"], root_cm="1.5")
    said = str(owner.get(answer.url).content.decode())
    assert "Long enough: ready to pot" in said
    assert "roots come along the buried stem" in said
    assert "keep it very wet for two days" in said
    assert "Day 1 of 7: out for 1 hour" in said
    assert "roots come along the buried stem" in page(owner, "batch", batch.garden, batch.pk), "and on the batch itself"
    entry = batch.entries.last()
    assert entry is not None
    assert entry.root_cm == 1.5
    assert "4 newly rooted (roots seen and roots of 1.5 cm)" in page(owner, "batch", batch.garden, batch.pk)


@pytest.mark.parametrize(
    ("given", "sentence"),
    [
        ({"rooted": "99"}, "99 rooted does not add up"),
        ({"lost": "-1"}, "At least 0."),
        ({"on": "2027-04-01"}, "is still to come"),
        ({"root_cm": "500"}, "At most 60 cm."),
        ({"signs": ["purple"]}, "That is not one of the signs."),
    ],
)
def test_a_look_that_cannot_be_keeps_all_that_was_typed(
    owner: Client, batch: Batch, given: dict[str, Any], sentence: str
) -> None:
    answer = look(owner, batch, note="Half of them lean.", **{"signs": ["moss"], **given})
    said = answer.content.decode()
    assert answer.status_code == 200
    assert sentence in said
    assert "Half of them lean." in said
    assert "signs" in given or 'value="moss" checked' in said
    assert kinds(batch) == ["taken"]


def test_two_people_do_not_count_the_same_roots_twice(owner: Client, sign_in: Any, batch: Batch) -> None:
    opened = batch.entries.latest("pk").pk
    look(sign_in("helper"), batch, rooted=4, seen=opened)
    answer = look(owner, batch, rooted=4, seen=opened, note="Four white ones.")
    said = answer.content.decode()
    assert re.search(r"Since this page was opened, grower\d+ wrote down 4 newly rooted. Write down only", said)
    assert "Four white ones." in said
    assert kinds(batch) == ["taken", "rooted"]
    newer = re.search(r'name="seen" value="(\d+)"', said)
    assert newer
    look(owner, batch, rooted=2, seen=newer[1])
    assert [entry.count for entry in batch.entries.filter(kind="rooted")] == [4, 2]


def test_a_look_without_a_count_is_never_in_anothers_way(owner: Client, sign_in: Any, batch: Batch) -> None:
    opened = batch.entries.latest("pk").pk
    look(sign_in("helper"), batch, rooted=4, seen=opened)
    answer = look(owner, batch, signs=["moss"], seen=opened)
    assert answer.status_code == 302
    assert kinds(batch) == ["taken", "rooted", "looked"]


def test_a_phone_is_told_what_could_not_be_written(owner: Client, sign_in: Any, batch: Batch) -> None:
    opened = batch.entries.latest("pk").pk
    look(sign_in("helper"), batch, rooted=4, seen=opened)
    data = {"on": TODAY.isoformat(), "stage": "waiting", "rooted": 4, "seen": opened, "key": uuid.uuid4()}
    url = at("round-look", batch.garden, batch.pk)
    told = owner.post(url, data, HTTP_ACCEPT="application/json").json()
    assert told["ok"] is False
    assert "wrote down 4 newly rooted" in told["said"]
    again = owner.post(url, {**data, "seen": told["seen"]}, HTTP_ACCEPT="application/json").json()
    assert again["ok"] is True
    # The same press once more, as after an answer that was lost on the way.
    assert owner.post(url, {**data, "seen": told["seen"]}, HTTP_ACCEPT="application/json").json()["ok"] is True
    assert [entry.count for entry in batch.entries.filter(kind="rooted")] == [4, 4]


def test_moves_from_the_round_come_back_to_it(owner: Client, garden: Any, batch: Batch) -> None:
    look(owner, batch, rooted=5)
    assert "Pot on 5" in page(owner, "round", garden)
    url = reverse("move", args=[garden.pk, batch.pk, "pot-on"])
    data = {"pot-on-on": TODAY.isoformat(), "pot-on-count": 5, "then": "round", "key": uuid.uuid4()}
    assert owner.post(url, data).url == at("round", garden)
    told = owner.post(url, {**data, "key": uuid.uuid4()}, HTTP_ACCEPT="application/json").json()
    assert "5 potted on does not add up" in told["said"]


def test_a_look_where_all_is_well_says_how_the_want_stands(owner: Client, garden: Any, want: Any) -> None:
    look(owner, take(want, on=date(2027, 3, 18)), well="1")
    assert re.search(r"On course: about \d+ in \d+ that 8 are ready by 17 May.", page(owner, "round", garden))


def test_and_so_does_one_that_came_too_late_to_be_no_news(owner: Client, garden: Any, batch: Batch) -> None:
    look(owner, batch, well="1")  # day 14, when 8 in 10 would have had roots
    assert re.search(
        r"Short: .* that 8 are ready by 17 May. Cut \d+ side shoots more now", page(owner, "round", garden)
    )


def test_shoots_are_measured_where_they_are_the_sign(owner: Client, garden: Any, sill: Any) -> None:
    vine = WantFactory(garden=garden, rooting_place=sill, plant="grapevine", method="stick")
    vine = take(vine, on=date(2027, 2, 1))
    said = page(owner, "round-look", garden, vine.pk)
    assert "Longest shoot, cm" in said
    answer = look(owner, vine, root_cm="16", signs=["new_growth"])
    assert "Long enough: ready to pot" in owner.get(answer.url).content.decode()
    answer = look(owner, vine, root_cm="6")
    assert "Growing, still short" in owner.get(answer.url).content.decode()


def test_a_short_want_offers_its_ways_out_with_numbers(
    owner: Client, sign_in: Any, garden: Any, want: Any, batch: Batch
) -> None:
    PlaceFactory(garden=garden, name="Heat mat", standing="air", floor_c=24)
    young = take(want, on=date(2027, 3, 18))
    look(owner, batch, lost=11, why="rot")
    answer = look(owner, young, lost=7, why="rot")
    said = str(owner.get(answer.url).content.decode())
    assert re.search(r"Cut \d+ more", said)
    assert re.search(r"Roots \d+ days sooner than at Kitchen sill", said)
    assert re.search(r"Accept fewer</b> <span>[1-3] are? as sure", said)
    assert "Sow</b> <span>Sown today, ready about" in said
    assert "will do" in said
    helper_sees = sign_in("helper").get(answer.url).content.decode()
    assert "Cut" in helper_sees
    assert "will do" not in helper_sees, "what a want asks for is its owner's to change"


def test_settling_for_fewer_or_later_and_taking_it_back(owner: Client, garden: Any, want: Any, batch: Batch) -> None:
    url = at("round-settle", garden, want.pk)
    owner.post(url, {"count": "3"})
    want.refresh_from_db()
    assert (want.settled_count, want.total) == (3, 3)
    owner.post(url, {"by": "2027-06-10"})
    want.refresh_from_db()
    assert (want.settled_count, want.settled_by) == (3, date(2027, 6, 10))
    assert reckon_batch(batch, garden, TODAY, want=want).target == date(2027, 6, 10)
    assert "On course" in page(owner, "want", garden, want.pk)
    owner.post(f"{url}?back=1&count=&by=")
    assert Want.objects.get(pk=want.pk).total == 8
    assert owner.post(url, {"count": "900"}).status_code == 404
    assert owner.post(url, {"by": "soon"}).status_code == 404


def test_carrying_to_a_warmer_place_changes_the_forecast_and_the_walk(owner: Client, garden: Any, batch: Batch) -> None:
    mat = PlaceFactory(garden=garden, name="Heat mat", standing="air", floor_c=24)
    before = reckon_batch(batch, garden, TODAY, want=batch.want).standing.root_day(0.9)
    owner.post(at("round-move", garden, batch.pk), {"place": mat.pk, "stage": "waiting"})
    fresh = type(garden).objects.get(pk=garden.pk)
    moved = reckon_batch(Batch.objects.get(pk=batch.pk), fresh, TODAY, want=batch.want)
    assert moved.place_id("waiting") == mat.pk
    assert moved.standing.root_day(0.9) < before  # type: ignore[operator]
    assert "moved to Heat mat" in page(owner, "batch", garden, batch.pk)
    other = PlaceFactory(garden=GardenFactory())
    assert owner.post(at("round-move", garden, batch.pk), {"place": other.pk}).status_code == 404
    assert owner.post(at("round-move", garden, batch.pk), {"place": "x"}).status_code == 404


def test_carry_in_tonight_by_risk_weight_and_who_is_in_already(
    owner: Client, garden: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    frame = PlaceFactory(garden=garden, name="Cold frame", standing="air", lift_night_c=1)
    rack = PlaceFactory(garden=garden, name="Shade rack", standing="air")
    tender = take(WantFactory(garden=garden, rooting_place=frame, plant="tomato"), on=date(2027, 3, 6))
    worse = take(WantFactory(garden=garden, rooting_place=rack, plant="basil"), on=date(2027, 3, 6), count=4)
    take(WantFactory(garden=garden, rooting_place=rack, plant="mint"), on=date(2027, 3, 6), count=4)
    cold = (DayAhead(TODAY, 9, 1.0), *MILD[1:])
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: cold)
    found = rounds.round_of(garden, TODAY)
    # Basil bears 2 °C and 2 more while soft, so at 1 °C it is 3 short; tomato in the frame, 1; mint bears −4.
    assert [(carry.batch.row.pk, carry.load.containers) for carry in found.carries] == [(worse.pk, 1), (tender.pk, 3)]  # type: ignore[union-attr]
    assert [round(carry.worst.short_c, 1) for carry in found.carries] == [3.0, 1.0]
    said = page(owner, "round", garden)
    assert "Carry in tonight" in said
    assert "3 jars from Cold frame, about 0.9 kg each" in said
    press(owner, garden, "carry_in", tender, worse)
    said = page(owner, "round", garden)
    assert said.count("in already") == 2
    assert "All in or covered" not in said


def test_heavy_pots_bring_the_lifting_caution(owner: Client, garden: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    rack = PlaceFactory(garden=garden, name="Shade rack", standing="air")
    want = WantFactory(garden=garden, rooting_place=rack, plant="fig", method="bag", wanted=2)
    fig = take(want, on=date(2027, 2, 1), count=4, today=TODAY)
    for kind in ("rooted", "potted", "potted_up"):
        Entry(batch=fig, kind=kind, on=date(2027, 3, 10), count=4).save()
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: (DayAhead(TODAY, 5, -3), *MILD[1:]))
    said = page(owner, "round", garden)
    assert "4 pots from Shade rack, about 31 kg each" in said
    assert "31 kg is more than one should lift from the floor: two people, or slide it." in said


def test_heat_gives_shade_and_mist(garden: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    rack = PlaceFactory(garden=garden, name="Shade rack", standing="air")
    take(WantFactory(garden=garden, rooting_place=rack), on=date(2027, 3, 6))
    assert not {"shade", "mist"} & {job.verb for job in rounds.jobs_in(rounds.round_of(garden, TODAY).now)}
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: (DayAhead(TODAY, 33, 18), *MILD[1:]))
    assert {"shade", "mist"} <= {job.verb for job in rounds.jobs_in(rounds.round_of(garden, TODAY).now)}


def test_the_weather_service_is_what_the_settings_name(garden: Any, settings: Any) -> None:
    settings.WEATHER_SERVICE = "tests.web.test_rounds.frosty"
    services._ahead.cache_clear()
    assert services.days_ahead(garden, TODAY)[0].low_c == -9
    settings.WEATHER_SERVICE = "elder.web.rounds.services.simulated_weather"
    services._ahead.cache_clear()
    assert len(services.days_ahead(garden, TODAY)) == 10


class Frosty:
    def ahead(self, climate: Any, *, today: date, days: int = 10) -> tuple[DayAhead, ...]:
        return (DayAhead(today, 0, -9),)


def frosty(garden: Any) -> Frosty:
    return Frosty()


def picture(size: tuple[int, int] = (3000, 2000), form: str = "JPEG") -> SimpleUploadedFile:
    """A photo with what cameras write into it: a maker, a place, and a turn."""
    image = Image.new("RGB", size, "green")
    exif = Image.Exif()
    exif[0x010F] = "Maker of cameras"
    exif[0x0112] = 6  # to be turned a quarter
    exif.get_ifd(0x8825)[2] = (52.0, 36.0, 0.0)
    out = io.BytesIO()
    image.save(out, form, exif=exif)
    return SimpleUploadedFile(f"leaf.{form.lower()}", out.getvalue(), content_type="image/jpeg")


@pytest.mark.parametrize("form", ["JPEG", "PNG", "WEBP"])
def test_a_photo_is_turned_made_smaller_and_stripped(owner: Client, batch: Batch, form: str) -> None:
    look(owner, batch, signs=["moss"], photo=picture(form=form))
    row = Photo.objects.get()
    assert (row.width_px, row.height_px) == (853, LONGEST_PX)
    answer = owner.get(at("photo", batch.garden, row.pk))
    assert answer["Content-Type"] == "image/jpeg"
    kept = Image.open(io.BytesIO(answer.content))
    assert kept.size == (853, LONGEST_PX)
    assert not kept.getexif()
    assert b"Maker of cameras" not in answer.content
    assert f"photo/{row.pk}/" in owner.get(at("round-verdict", batch.garden, batch.pk, row.entry_id)).content.decode()


@pytest.mark.parametrize("data", [b"no picture at all", b"GIF89a" + b"\0" * 50], ids=["text", "gif"])
def test_what_is_no_photo_is_refused_in_words(owner: Client, batch: Batch, data: bytes) -> None:
    answer = look(owner, batch, signs=["moss"], note="With a photo.", photo=SimpleUploadedFile("a.jpg", data))
    assert "That is not a photo that can be read" in answer.content.decode()
    assert "With a photo." in answer.content.decode()
    assert kinds(batch) == ["taken"]


def test_a_batch_that_is_over_leaves_the_round_and_comes_back_when_that_is_undone(
    owner: Client, garden: Any, batch: Batch
) -> None:
    look(owner, batch, lost=11, why="cold")
    batch.refresh_from_db()
    assert batch.over_on == TODAY
    assert rounds.round_of(garden, TODAY).batches == {}
    owner.post(at("round-undo", garden) + f"?entries={batch.entries.get(kind='lost').pk}")
    batch.refresh_from_db()
    assert batch.over_on is None
    assert list(rounds.round_of(garden, TODAY).batches) == [batch.pk]


def test_undo_of_what_later_lines_stand_on_is_refused_whole(owner: Client, garden: Any, batch: Batch) -> None:
    look(owner, batch, rooted=3)
    rooted = batch.entries.get(kind="rooted")
    url = reverse("move", args=[garden.pk, batch.pk, "pot-on"])
    owner.post(url, {"pot-on-on": TODAY.isoformat(), "pot-on-count": 3})
    owner.post(at("round-undo", garden) + f"?entries={rooted.pk}")
    assert "cannot be undone any more" in page(owner, "round", garden)
    assert "struck" not in kinds(batch)
    assert owner.post(at("round-undo", garden) + "?entries=x").status_code == 302


def test_the_sheet_has_a_box_for_every_line_of_the_round(owner: Client, garden: Any, want: Any) -> None:
    for day in (6, 8, 10):
        take(want, on=date(2027, 3, day))
    found = rounds.round_of(garden, TODAY)
    lines = sum(len(stop.shared) + len(stop.jobs) for stop in (*found.now, *found.waits))
    assert page(owner, "round-sheet", garden).count('class="box"') == lines


def test_who_only_looks_on_sees_the_round_and_no_buttons(sign_in: Any, garden: Any, batch: Batch) -> None:
    said = page(sign_in("viewer"), "round", garden)
    assert "Change the water" in said
    assert "data-queue" not in said


def test_the_round_takes_as_many_queries_for_many_batches_as_for_one(
    owner: Client, garden: Any, want: Any, django_assert_max_num_queries: Any
) -> None:
    for day in range(1, 19):
        take(want, on=date(2027, 3, day))
    page(owner, "round", garden)
    with django_assert_max_num_queries(11):
        page(owner, "round", garden)
