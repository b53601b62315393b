"""The round: what is due where, deeds in one press, carrying in and to warmth, the sheet, undo."""

from __future__ import annotations

import re
import uuid
from datetime import date
from typing import Any
from uuid import UUID, uuid4

import pytest
from django.contrib.staticfiles import finders
from django.test import Client
from django.urls import reverse

from elder.engine.place.weather import DayAhead
from elder.web.batches.models import Batch, Entry
from elder.web.batches.undoing import untaking
from elder.web.read import services
from elder.web.read.batches import batch_today
from elder.web.rounds import round as rounds
from elder.web.rounds.wording import shared_title
from tests.factories import GardenFactory, PlaceFactory, WantFactory, take
from tests.web.presses import MILD, TODAY, at, kinds, look, page, press, struck, take_back, undo_on

pytestmark = pytest.mark.usefixtures("mild")


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
    take_back(owner, garden, undo_on(said))
    assert "Change the water in all four jars" in page(owner, "round", garden)


def test_a_second_press_or_a_second_person_writes_nothing_twice(
    owner: Client, sign_in: Any, garden: Any, batch: Batch
) -> None:
    press(owner, garden, "water", batch)
    helper = sign_in("helper")
    press(helper, garden, "water", batch)
    assert kinds(batch) == ["taken", "water"]
    first = batch.entries.get(deed="water").by
    assert f"Water changed: {first} did that already." in page(helper, "round", garden)
    struck(owner, garden, batch.entries.get(deed="water"))
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
    said = owner.post(at("round-water-days", garden), {"day": ["0", "3", "9", "x"]}, follow=True).content.decode()
    garden.refresh_from_db()
    assert garden.water_days == [0, 3]
    assert "Jars are changed on Mon and Thu." in said
    press(owner, garden, "water", batch, on="2027-03-18")  # the Thursday
    assert "Change the water" not in page(owner, "round", garden)
    take_back(owner, garden, undo_on(said))
    garden.refresh_from_db()
    assert garden.water_days == []


def test_moves_from_the_round_come_back_to_it(owner: Client, garden: Any, batch: Batch) -> None:
    look(owner, batch, rooted=5)
    assert "Pot on 5" in page(owner, "round", garden)
    url = reverse("move", args=[garden.pk, batch.pk, "pot-on"])
    data = {"pot-on-on": TODAY.isoformat(), "pot-on-count": 5, "then": "round", "key": uuid.uuid4()}
    assert owner.post(url, data).url == at("round", garden)
    told = owner.post(url, {**data, "key": uuid.uuid4()}, HTTP_ACCEPT="application/json").json()
    assert "5 potted on does not add up" in told["said"]


def test_carrying_to_a_warmer_place_changes_the_forecast_and_the_walk(owner: Client, garden: Any, batch: Batch) -> None:
    mat = PlaceFactory(garden=garden, name="Heat mat", standing="air", floor_c=24)
    before = batch_today(batch, garden, TODAY, want=batch.want).forecast.root_day(0.99)
    owner.post(at("round-move", garden, batch.pk), {"place": mat.pk, "stage": "waiting"})
    fresh = type(garden).objects.get(pk=garden.pk)
    moved = batch_today(Batch.objects.get(pk=batch.pk), fresh, TODAY, want=batch.want)
    assert moved.place_id("waiting") == mat.pk
    assert moved.forecast.root_day(0.99) < before  # type: ignore[operator]
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
    assert "3 jars from Cold frame, about 0.7 kg each" in said
    press(owner, garden, "carry_in", tender, worse)
    said = page(owner, "round", garden)
    assert said.count("in already") == 2
    assert rounds.round_of(garden, TODAY).presses == found.presses - 1, "what is in is no longer to do"
    assert "All in or covered" not in said


def test_tender_cuttings_in_their_row_are_covered(owner: Client, garden: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    bed = PlaceFactory(garden=garden, name="Terrace bed", standing="ground")
    want = WantFactory(garden=garden, rooting_place=bed, plant="sweet-potato", method="bed")
    take(want, on=date(2027, 3, 18), count=5)
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: (DayAhead(TODAY, 9, 2.0), *MILD[1:]))
    assert "Cover 5 plants in the bed with fleece" in page(owner, "round", garden)


def test_heat_is_looked_for_where_they_stand_now(garden: Any, want: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    """Rooted on a sill and potted under glass: the glass decides how often they are watered."""
    glass = PlaceFactory(garden=garden, name="Lean-to", standing="air", lift_day_c=10)
    want.growing_place = glass
    want.save()
    batch = take(want, on=date(2027, 3, 1), count=4)
    for kind, day in (("rooted", 12), ("potted", 12), ("tended", 19)):
        deed = "water_pots" if kind == "tended" else ""
        Entry(batch=batch, kind=kind, on=date(2027, 3, day), count=0 if deed else 4, deed=deed).save()
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: (DayAhead(TODAY, 22, 12), *MILD[1:]))
    assert "water_pots" in {job.verb for job in rounds.jobs_in(rounds.round_of(garden, TODAY).now)}


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
    assert services.days_ahead(garden, TODAY)[0].low_c == -9
    settings.WEATHER_SERVICE = "elder.web.read.services.simulated_weather"
    assert len(services.days_ahead(garden, TODAY)) == 10


class Frosty:
    def ahead(self, climate: Any, *, today: date, days: int = 10) -> tuple[DayAhead, ...]:
        return (DayAhead(today, 0, -9),)


def frosty(garden: Any) -> Frosty:
    return Frosty()


def test_a_batch_that_is_over_leaves_the_round_and_comes_back_when_that_is_undone(
    owner: Client, garden: Any, batch: Batch
) -> None:
    look(owner, batch, lost=11, why="cold")
    batch.refresh_from_db()
    assert batch.over_on == TODAY
    assert rounds.round_of(garden, TODAY).batches == {}
    struck(owner, garden, batch.entries.get(kind="lost"))
    batch.refresh_from_db()
    assert batch.over_on is None
    assert list(rounds.round_of(garden, TODAY).batches) == [batch.pk]


def test_undo_of_what_later_lines_stand_on_is_refused_whole(owner: Client, garden: Any, batch: Batch) -> None:
    look(owner, batch, rooted=3)
    rooted = batch.entries.get(kind="rooted")
    url = reverse("move", args=[garden.pk, batch.pk, "pot-on"])
    owner.post(url, {"pot-on-on": TODAY.isoformat(), "pot-on-count": 3})
    struck(owner, garden, rooted)
    assert "cannot be undone any more" in page(owner, "round", garden)
    assert "struck" not in kinds(batch)


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
    with django_assert_max_num_queries(19):
        page(owner, "round", garden)


def test_the_round_sees_what_was_written_a_moment_ago(owner: Client, garden: Any, want: Any, batch: Batch) -> None:
    """Histories are kept between requests, and read again when anything was written."""
    assert rounds.round_of(garden, TODAY).batches[batch.pk].state.count("waiting") == 11
    look(owner, batch, rooted=4)
    assert rounds.round_of(garden, TODAY).batches[batch.pk].state.count("rooted") == 4
    other = take(want, on=date(2027, 3, 10), count=3)
    assert set(rounds.round_of(garden, TODAY).batches) == {batch.pk, other.pk}
    take_back(owner, garden, untaking(other, garden))
    assert set(rounds.round_of(garden, TODAY).batches) == {batch.pk}


def test_the_worker_names_files_that_are_there_and_answers_for_its_head_alone(owner: Client) -> None:
    answer = owner.get("/sw.js")
    assert answer["Content-Type"].startswith("text/javascript")
    assert answer["Service-Worker-Allowed"] == "/"
    named = re.findall(r'"/static/([^"]+)"', answer.content.decode())
    assert len(named) == 8
    assert [name for name in named if finders.find(name) is None] == []
    base = owner.get("/out-of-reach/").content.decode()
    used = set(re.findall(r'/static/([^"]+\.(?:js|css))"', base))
    assert used <= set(named), "every script and style of a page is kept with it"
    assert owner.head("/sw.js").content == b""


# Presses that come late, twice, or from somebody else's page


def _water(garden: Any, batch: Any, key: UUID) -> dict[str, Any]:
    return {"deed": "water", "batch": [batch.pk], "on": "2027-03-20", "key": str(key)}


def test_a_page_of_somebody_else_writes_nothing_under_whoever_is_signed_in(garden: Any, owner: Any, batch: Any) -> None:
    sent, key = reverse("round-done", args=[garden.pk]), uuid4()
    me = owner.session["_auth_user_id"]
    answer = owner.post(sent, _water(garden, batch, key), headers={"X-Elder-Person": "99999"})
    assert (answer.status_code, answer["X-Elder-Answer"]) == (409, "1")
    assert not Entry.objects.filter(kind="tended").exists()
    mine = owner.post(sent, _water(garden, batch, key), headers={"X-Elder-Person": me, "Accept": "application/json"})
    assert (mine.status_code, mine["X-Elder-Answer"], mine.json()["ok"]) == (200, "1", True)
    assert Entry.objects.filter(kind="tended").count() == 1


def test_a_press_taken_back_before_it_came_is_never_written(garden: Any, owner: Any, batch: Any) -> None:
    key, other = uuid4(), uuid4()
    back, done = reverse("round-withdraw", args=[garden.pk]), reverse("round-done", args=[garden.pk])
    json = {"Accept": "application/json"}
    assert owner.post(back, {"key": key, "batch": [batch.pk]}).json() == {"ok": True, "next": "", "written": False}
    late = owner.post(done, _water(garden, batch, key), headers=json).json()
    assert (late["ok"], late["said"]) == (False, "It was taken back before it came.")
    assert not Entry.objects.filter(kind="tended").exists()
    owner.post(done, _water(garden, batch, other), headers=json)
    assert owner.post(back, {"key": other, "batch": [batch.pk]}).json()["written"] is True
    assert owner.post(back, {"key": "frog"}).status_code == 404
    # A look goes by its own key.
    look = reverse("round-look", args=[garden.pk, batch.pk])
    owner.post(back, {"key": (seen := uuid4())})
    owner.post(look, {"on": "2027-03-20", "well": "1", "key": seen})
    assert not Entry.objects.filter(kind="looked").exists()


def test_a_key_already_used_elsewhere_is_said(garden: Any, owner: Any, batch: Any) -> None:
    other = take(WantFactory(), on=date(2027, 3, 1))  # another household's
    key = other.entries.get().key
    look = reverse("round-look", args=[garden.pk, batch.pk])
    said = owner.post(look, {"on": "2027-03-20", "well": "1", "key": key}).content.decode()
    assert "This page was sent once already, for something else." in said
    row = WantFactory(garden=garden, rooting_place=garden.places.first())
    place = row.rooting_place_id
    data = {"on": "2027-03-20", "count": 4, "stock_plant": "Old", "rooting_place": place, "growing_place": place}
    said = owner.post(reverse("take", args=[garden.pk, row.pk]), {**data, "key": key}).content.decode()
    assert "This page was sent once already, for something else." in said
    assert Batch.objects.filter(garden=garden).count() == 1


def test_whoever_signs_in_again_comes_back_to_the_page_not_to_where_it_was_sent(garden: Any, batch: Any) -> None:
    round_, done = (reverse(name, args=[garden.pk]) for name in ("round", "round-done"))
    nobody = Client()
    sent = nobody.post(done, _water(garden, batch, uuid4()), headers={"Referer": f"http://testserver{round_}"})
    assert (sent.status_code, sent["Location"]) == (302, f"/sign-in/?next={round_}")
    stray = nobody.post(done, {}, headers={"Referer": "http://elsewhere.example/x/"})
    assert stray["Location"] == "/sign-in/?next=/"
    assert nobody.get(round_)["Location"] == f"/sign-in/?next={round_}"
