"""Light where it matters: the round, the look, the hand, the fit, the want's first places."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import pytest

from elder.engine.handbook.loading import handbook
from elder.engine.place.weather import DayAhead
from elder.engine.setting import Setting
from elder.engine.space.alternatives import COST_LIGHT, choices_for
from elder.web.batches import around
from elder.web.batches.models import Entry
from elder.web.garden.models import Place
from elder.web.places.shelf_pages import sun_by_clock
from elder.web.plants.ways import quickest
from elder.web.read.batches import batch_of
from elder.web.read.gardens import assumptions_of, climate_of, place_of
from elder.web.read.ill_lit import ill_lit
from elder.web.read.light import light_of
from elder.web.read.wants import reckon_all
from elder.web.rounds import course
from elder.web.rounds import round as rounds
from elder.web.season.better_place import best_places
from tests.factories import PlaceFactory, WantFactory
from tests.web.conftest import take
from tests.web.presses import MILD, TODAY, at, look, page, press, text

SUNNY = {"facing": 180.0}
BRIGHT = {"said": "bright shade"}


def jobs(garden: Any) -> dict[str, Any]:
    fresh = type(garden).objects.get(pk=garden.pk)
    return {job.verb: job for job in rounds.jobs_in(rounds.round_of(fresh, TODAY).now)}


@pytest.fixture
def landing(garden: Any) -> Place:
    place: Place = PlaceFactory(garden=garden, name="Landing", day_c=18, night_c=16, light=BRIGHT)
    return place


@pytest.fixture
def in_the_sun(sill: Place, batch: Any, mild: None) -> Any:
    """Eleven side shoots in jars on a south sill."""
    sill.light = SUNNY
    sill.save()
    return batch


def test_a_tray_in_the_sun_is_moved(owner: Any, garden: Any, in_the_sun: Any, landing: Place) -> None:
    said = text(page(owner, "round", garden))
    assert "Move 11 out of the sun Tomato" in said
    assert "Kitchen sill has 6 hours of strong sun, and they are unrooted; Landing suits." in said
    owner.post(at("round-move", garden, in_the_sun.pk), {"place": landing.pk, "stage": "waiting"})
    assert "relight" not in jobs(garden)
    fresh = batch_of(type(garden).objects.get(pk=garden.pk), in_the_sun.pk, TODAY)
    assert fresh.place_id("waiting") == landing.pk


def test_or_it_is_shaded_where_it_stands(owner: Any, garden: Any, in_the_sun: Any) -> None:
    assert "no place described here suits" in text(page(owner, "round", garden))
    press(owner, garden, "shade", in_the_sun, on=TODAY.isoformat())
    assert "relight" not in jobs(garden)


def test_shaded_a_fortnight_ago(garden: Any, in_the_sun: Any) -> None:
    Entry(batch=in_the_sun, kind="tended", deed="shade", on=TODAY - timedelta(days=14)).save()
    assert "relight" not in jobs(garden)


def test_shaded_longer_ago(garden: Any, want: Any, sill: Place, mild: None) -> None:
    sill.light = SUNNY
    sill.save()
    batch = take(want, on=TODAY - timedelta(days=20))
    Entry(batch=batch, kind="tended", deed="shade", on=TODAY - timedelta(days=15)).save()
    assert "relight" in jobs(garden)


def test_what_is_potted_wants_its_sun_after_a_week(garden: Any, batch: Any, landing: Place, mild: None) -> None:
    batch.growing_place = landing
    batch.save()
    for kind in ("rooted", "potted"):
        Entry(batch=batch, kind=kind, on=TODAY - timedelta(days=7), count=11).save()
    assert "relight" not in jobs(garden)  # too dark, and nowhere lighter: no use to be told each day
    sunny = PlaceFactory(garden=garden, name="Lean-to", standing="air", light=SUNNY)
    found = jobs(garden)["relight"]
    assert (found.task.count, found.about.light.fit.why, found.about.light.there) == (11, "too_little_sun", sunny)
    sunny.capacity = {"pot": 0}
    sunny.save()
    assert "relight" not in jobs(garden)


def test_once_moved_to_more_light_it_is_not_said_again(garden: Any, batch: Any, landing: Place, mild: None) -> None:
    PlaceFactory(garden=garden, name="Lean-to", standing="air", light=SUNNY)
    batch.growing_place = landing
    batch.save()
    for kind in ("rooted", "potted"):
        Entry(batch=batch, kind=kind, on=TODAY - timedelta(days=9), count=11).save()
    assert "relight" in jobs(garden)
    Entry(batch=batch, kind="tended", deed="light", on=TODAY).save()
    assert "relight" not in jobs(garden)


def test_the_place_with_more_light_is_named(garden: Any, batch: Any, mild: None) -> None:
    PlaceFactory(garden=garden, name="Lean-to", standing="air", light=SUNNY)
    for kind in ("rooted", "potted"):
        Entry(batch=batch, kind=kind, on=TODAY - timedelta(days=7), count=11).save()
    assert jobs(garden)["light"].about.said == "Lean-to has it."


def test_a_wilt_at_noon_is_the_sun(owner: Any, garden: Any, in_the_sun: Any) -> None:
    answer = look(owner, in_the_sun, signs=["wilted"])
    said = text(owner.get(answer.url).content.decode())
    assert "The sun: where it stands there is more strong sun than a stem without roots bears" in said
    Place.objects.update(light=BRIGHT)
    said = text(owner.get(answer.url).content.decode())
    assert "The sun: where it stands" not in said


def test_shade_is_not_asked_for_in_the_shade(garden: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    rack = PlaceFactory(garden=garden, name="Shade rack", standing="air", light=BRIGHT)
    take(WantFactory(garden=garden, rooting_place=rack), on=date(2027, 3, 6))
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: (DayAhead(TODAY, 33, 18), *MILD[1:]))
    found = jobs(garden)
    assert "mist" in found
    assert "shade" not in found


def test_the_first_places_of_a_want_go_by_light(garden: Any, sill: Place, landing: Place) -> None:
    plant = handbook()["tomato"]
    spot = place_of(sill)
    asked = Setting(plant, plant.ways[0], climate_of(garden), spot, spot, TODAY, assumptions_of(garden))
    places = list(garden.places.all())
    assert best_places(asked, places) == (sill, sill)
    sill.light = SUNNY
    found = best_places(asked, [sill, landing])
    assert found is not None
    # Rooted in the shade of the landing; then back to the sun of the sill.
    assert [place.name for place in found] == ["Landing", "Kitchen sill"]


def test_the_hand_is_told_where_there_is_light(owner: Any, garden: Any, sill: Place) -> None:
    sill.light = SUNNY
    sill.save()
    said = text(page(owner, "windfall", garden))
    assert "Not the light for it: 6 hours of strong sun." in said
    assert "plug under a dome" not in said  # a closed dome has no business in the sun
    PlaceFactory(garden=garden, name="Landing", light=BRIGHT)
    said = text(page(owner, "windfall", garden))
    assert "Landing, then Kitchen sill" in said
    assert "Not the light for it" not in said.split("Worth it")[1]


def test_a_way_is_fitted_in_where_it_has_light(owner: Any, garden: Any, sill: Place, landing: Place) -> None:
    sill.light = SUNNY
    sill.save()
    row = WantFactory(garden=garden, rooting_place=sill)
    answer = owner.get(at("season-fit", garden))
    (change,) = answer.context["proposal"].changes
    assert change.choice.places == (landing.pk, sill.pk)
    said = text(answer.content.decode())
    assert "Kitchen sill has 6½ hours of strong sun before they root; Landing suits." in said
    owner.post(at("season-fit", garden), {"change": [change.key]})
    row.refresh_from_db()
    assert (row.rooting_place, row.growing_place) == (landing, sill)
    assert "Everything has room." in page(owner, "season-fit", garden)


def test_a_batch_under_a_closed_cover_is_told_at_once(garden: Any, sill: Place, mild: None) -> None:
    sill.light = {"said": "part sun"}
    sill.save()
    batch = take(WantFactory(garden=garden, rooting_place=sill, plant="tomato", method="plug"), on=date(2027, 3, 14))
    fresh = type(garden).objects.get(pk=garden.pk)
    (found,) = ill_lit(batch_of(fresh, batch.pk, TODAY), fresh)
    # pvlib 0.16.1 has the sun 10° up and higher for 9.77 hours that day; 0.35 of that in part sun.
    assert (found.fit.why, round(found.fit.hours, 1)) == ("cooks", 3.4)


def test_what_was_potted_six_days_ago_keeps_its_shade(garden: Any, batch: Any, landing: Place, mild: None) -> None:
    batch.growing_place = landing
    batch.save()
    for kind in ("rooted", "potted"):
        Entry(batch=batch, kind=kind, on=TODAY - timedelta(days=6), count=11).save()
    assert "relight" not in jobs(garden)


def test_the_school_of_six_hours_wants_the_sun(owner: Any, garden: Any, in_the_sun: Any) -> None:
    sheet = text(page(owner, "cut-sheet", garden, in_the_sun.want_id))
    assert "Bright, never full sun" in sheet
    chosen = owner.get(at("cut-sheet", garden, in_the_sun.want_id), {"school-light": "six hours of sun"})
    assert "Six hours of sun, water always to the mark" in text(chosen.content.decode())
    in_the_sun.treatment = {"light": "six hours of sun"}
    in_the_sun.save()
    assert "relight" not in jobs(garden)
    Place.objects.update(light=BRIGHT)
    PlaceFactory(garden=garden, name="Lean-to", standing="air", light=SUNNY)
    assert jobs(garden)["relight"].about.light.fit.why == "too_little_sun"


def test_a_warmer_place_in_the_sun_is_no_way_out(garden: Any, batch: Any, mild: None) -> None:
    warm = PlaceFactory(garden=garden, name="Hot sill", day_c=25, night_c=24, light=SUNNY)
    fresh = type(garden).objects.get(pk=garden.pk)
    here, found = fresh.places.get(name="Kitchen sill"), batch_of(fresh, batch.pk, TODAY)
    assert not course._may_stand(warm, here, found)
    warm.light = BRIGHT
    assert course._may_stand(warm, here, found)


def test_a_plants_page_takes_the_quickest_place_with_light(garden: Any, sill: Place) -> None:
    hot = PlaceFactory(garden=garden, name="Hot sill", day_c=25, night_c=24, light=SUNNY)
    plant, climate = handbook()["tomato"], climate_of(garden)
    assert quickest(plant, plant.ways[0], garden, climate, TODAY)[1] == sill
    sill.light = SUNNY
    sill.save()
    assert quickest(plant, plant.ways[0], garden, climate, TODAY)[1] == hot  # where none has it, the quickest of all


def test_a_closed_cover_is_fitted_in_nowhere_in_the_sun(garden: Any, sill: Place, landing: Place) -> None:
    sill.light = SUNNY
    sill.save()
    WantFactory(garden=garden, rooting_place=landing, plant="tomato", method="plug")
    (item,) = reckon_all(garden, TODAY)
    plan, option = item.planned()
    spots = {one.pk: place_of(one) for one in (sill, landing)}
    now = option.day, (landing.pk, landing.pk)
    dark = choices_for(plan, item.setting, now, spots)
    lit = choices_for(plan, item.setting, now, spots, lights={one.pk: light_of(one) for one in (sill, landing)})
    assert {choice.places[0] for choice in dark} == {sill.pk, landing.pk}
    assert {choice.places[0] for choice in lit} == {landing.pk}
    assert lit[0].unsuited == 1  # grown on where no sun falls
    assert lit[0].cost == COST_LIGHT


def test_a_dome_is_off_once_there_are_roots(garden: Any, sill: Place, mild: None) -> None:
    sill.light = SUNNY
    sill.save()
    batch = take(WantFactory(garden=garden, rooting_place=sill, plant="tomato", method="plug"), on=date(2027, 3, 8))
    assert jobs(garden)["relight"].about.light.fit.why == "cooks"
    Entry(batch=batch, kind="rooted", on=TODAY, count=3).save()
    assert jobs(garden)["relight"].about.light.fit.why == "too_sunny"


def test_the_warmest_place_with_its_light_is_named(garden: Any, in_the_sun: Any, landing: Place) -> None:
    warm = PlaceFactory(garden=garden, name="Airing shelf", day_c=22, night_c=21, light=BRIGHT)
    PlaceFactory(garden=garden, name="Cellar", day_c=12, night_c=12, light=BRIGHT)
    assert jobs(garden)["relight"].about.light.there == warm


def test_borderline_light_is_no_reason_to_go_elsewhere(garden: Any, sill: Place, landing: Place) -> None:
    plant, spot = handbook()["tomato"], place_of(sill)
    asked = Setting(plant, plant.ways[0], climate_of(garden), spot, spot, TODAY, assumptions_of(garden))
    # Six strong hours under a cloth of 60 per cent are 2.4: borderline, and the warmer sill roots five days sooner.
    sill.light = SUNNY | {"cloth": 0.6}
    found = best_places(asked, [sill, landing])
    assert found is not None
    assert found[0] == sill


def test_the_sun_on_a_shelf_by_the_clock(garden: Any, sill: Place) -> None:
    sill.light = SUNNY
    spans = sun_by_clock(sill, garden, TODAY)
    # pvlib 0.16.1: within 75° of south from 7:38 to 17:09, and 25° high and more for 6.08 hours round 12:24.
    assert [strong for *_, strong in spans] == [False, True, False]
    edges = [spans[0][0], spans[1][0], spans[1][1], spans[2][1]]
    assert edges == pytest.approx([7.63, 9.36, 15.44, 17.15], abs=0.12)
    sill.light = BRIGHT
    assert sun_by_clock(sill, garden, TODAY) == []


def test_a_batch_says_its_light_and_its_air(owner: Any, garden: Any, sill: Place, mild: None) -> None:
    sill.light = BRIGHT
    sill.save()
    jars = take(WantFactory(garden=garden, rooting_place=sill), on=date(2027, 3, 14))
    assert "Kitchen sill: its light fits (no strong sun)." in text(page(owner, "batch", garden, jars.pk))
    mixed = take(WantFactory(garden=garden, rooting_place=sill, plant="basil", method="mix"), on=date(2027, 3, 14))
    # In a room of 20 °C at half humidity, under a loose cap at 82%: 0.18 of 2.338 kPa.
    said = "Kitchen sill: its light fits (no strong sun); air of 0.4 kPa under their cap, right for them."
    assert said in text(page(owner, "batch", garden, mixed.pk))
    for kind in ("rooted", "potted"):
        Entry(batch=mixed, kind=kind, on=date(2027, 3, 15), count=11).save()
    # Too new in their pots to want sun; a week later 1.17 kPa is more than the 1.0 that rooted ones like.
    assert "Kitchen sill: its light" not in text(page(owner, "batch", garden, mixed.pk))
    fresh = batch_of(garden, mixed.pk, TODAY + timedelta(days=2))
    assert around.around_words(fresh, garden) == (
        "Kitchen sill: its light does not suit (no sun); air of 1.2 kPa, dry for them."
    )
