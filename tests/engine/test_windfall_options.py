"""One way of a windfall by itself: why there is none, in what order they stand, and what each says of its days."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta
from types import SimpleNamespace
from typing import Any

import pytest

from elder.engine.chance.counting import sure_number
from elder.engine.chance.ready_by import first_day_at, ready_from_cut
from elder.engine.climate.climate import Climate
from elder.engine.handbook.loading import handbook
from elder.engine.place.warmth import Place
from elder.engine.plan.cold import cold_of
from elder.engine.plan.harvest import harvest_day
from elder.engine.plan.light_needs import Suited
from elder.engine.plan.material import Material
from elder.engine.plan.windfall import Windfall, WindfallOption, _rank, what_can_this_become
from elder.engine.plan.windfall_worth import REACH_DAYS, WORTH_WEIGHT, Worth
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting

SILL, LANDING = Place("room", day_c=20, night_c=17), Place("room", day_c=17, night_c=14)
RACK = Place("air")
JUNE, SEPTEMBER = date(2027, 6, 12), date(2027, 9, 12)
SHOOTS = Material("shoot", 3, "soft", 14)


def asked(slug: str, climate: Climate, day: date = JUNE) -> Setting:
    return Setting(handbook()[slug], handbook()["tomato"].methods[0], climate, SILL, SILL, day)


def answer(material: Material, slug: str, climate: Climate, *places: Place, day: date = JUNE) -> Windfall | Refusal:
    return what_can_this_become(material, asked(slug, climate, day), [(str(i), one) for i, one in enumerate(places)])


def option(
    material: Material, slug: str, way: str, climate: Climate, *places: Place, day: date = JUNE
) -> WindfallOption:
    found = answer(material, slug, climate, *places, day=day)
    assert isinstance(found, Windfall)
    return next(one for one in found.options if one.method.slug == way)


def test_why_there_is_nothing_to_be_had(north: Climate) -> None:
    """What is said names the plant, and what would do instead."""
    lettuce = answer(Material("shoot", 1, "soft", 14), "lettuce", north, SILL)
    assert lettuce == Refusal("not_struck", "plant", {"plant": "Lettuce", "way": "sow"})
    bare = replace(asked("lettuce", north), plant=replace(handbook()["lettuce"], instead=None))
    nothing = what_can_this_become(Material("shoot", 1, "soft", 14), bare, [("sill", SILL)])
    assert nothing == Refusal("not_struck", "plant", {"plant": "Lettuce", "way": None})
    slip = answer(Material("slip", 2, "sound"), "mint", north, SILL)
    assert isinstance(slip, Refusal)
    assert (slip.code, slip.field, dict(slip.params)) == (
        "not_this_piece",
        "piece",
        {"plant": "Mint", "piece": "slip", "state": "sound", "instead": slip.params["instead"]},
    )
    assert {"shoot", "runner"} <= set(slip.params["instead"])  # type: ignore[call-overload]
    assert "slip" not in slip.params["instead"]  # type: ignore[operator]
    short = answer(Material("shoot", 1, "soft", 1), "tomato", north, SILL)
    assert short == Refusal("too_short", "length", {"plant": "Tomato"})
    homeless = answer(SHOOTS, "tomato", north)
    assert homeless == Refusal("no_place", "length", {"plant": "Tomato"})


def ranked(**more: Any) -> tuple[object, ...]:
    plain = {
        "plant_out": None, "ready": None, "likely": 2.26, "worth": Worth.THIS_YEAR, "places": ("a", "a"),
        "light": SimpleNamespace(standing=Suited.FITS), "method": SimpleNamespace(minutes_each=3.0),
    }  # fmt: skip
    return _rank(SimpleNamespace(**{**plain, **more}))  # type: ignore[arg-type]


def test_the_order_they_stand_in() -> None:
    """What is not too late first, then what has its light; by the plants it gives, to a tenth, weighed by what they are
    worth; by worth itself, the day out, else the day it is ready; staying before moving; then by the hands it takes."""
    worth = Worth.THIS_YEAR
    value = -round(2.26 * WORTH_WEIGHT[worth], 1)
    assert ranked() == (False, False, value, worth, date.max, False, 3.0)
    assert ranked(ready=JUNE)[4] == JUNE
    assert ranked(ready=JUNE, plant_out=SEPTEMBER)[4] == SEPTEMBER
    assert ranked(places=("a", "b"))[5] is True
    assert ranked(light=SimpleNamespace(standing=Suited.NOT))[1] is True
    assert ranked(light=SimpleNamespace(standing=Suited.BORDERLINE))[1] is False
    assert ranked(worth=Worth.TOO_LATE)[0] is True
    kept = ranked(worth=Worth.KEPT)
    assert kept[2] == -round(2.26 * WORTH_WEIGHT[Worth.KEPT], 1)
    assert kept[2] != value


@pytest.mark.parametrize("place", [SILL, LANDING])
def test_what_a_shoot_of_a_tomato_says_of_its_days(north: Climate, place: Place) -> None:
    """Three soft shoots in a jar: half have roots, half are ready, they go out, crop; and in between they wait."""
    found = option(SHOOTS, "tomato", "jar", north, place)
    plant = handbook()["tomato"]
    method = plant.method("jar")
    setting = replace(asked("tomato", north), plant=plant, method=method, rooting_place=place, growing_place=place)
    followed = ready_from_cut(setting.raising(), JUNE, REACH_DAYS)
    rooted, half = (int(first_day_at(of, 0.5)) for of in (followed.mean_rooted, followed.mean_ready))
    out = found.plant_out
    assert out is not None
    assert (found.rooted, found.ready) == (JUNE + timedelta(rooted), JUNE + timedelta(half))
    assert found.held_days == (out - JUNE).days - half > 0
    assert found.harvest == harvest_day(plant, north, out, plant.harvest_median_days)
    assert found.nights == cold_of(setting, JUNE, 1, out).nights[0]
    stands = method.plant_take.then(setting.after_roots)
    ready = followed.ready_on(out)
    assert (found.cuttings, found.take) == (3, method.plant_take)
    assert found.sure == sure_number(3, chance_ready=ready, take=stands, confidence=0.9)
    assert found.likely == pytest.approx(3 * stands.mean * ready.mean())
    assert found.places == ("0", "0")


def test_what_is_kept_has_no_crop_yet(north: Climate) -> None:
    """In September a tomato is kept through the winter: it goes out next year, and no harvest is told. A pineapple
    never goes out here: it waits for nothing."""
    tomato = option(SHOOTS, "tomato", "jar", north, SILL, day=SEPTEMBER)
    assert (tomato.worth, tomato.harvest) == (Worth.KEPT, None)
    assert tomato.plant_out is not None
    assert tomato.held_days == (tomato.plant_out - tomato.ready).days if tomato.ready else False
    pineapple = answer(Material("top", 1, "sound"), "pineapple", north, SILL)
    assert isinstance(pineapple, Windfall)
    top = pineapple.options[0]
    assert (top.plant_out, top.harvest, top.held_days) == (None, None, 0)
    assert top.ready is not None


def test_what_is_too_late_is_not_held(north: Climate) -> None:
    """On a cold rack in autumn: it never goes out, and waits for nothing."""
    found = option(SHOOTS, "basil", "jar", north, RACK, day=date(2027, 11, 1))
    assert (found.worth, found.plant_out, found.held_days, found.harvest) == (Worth.TOO_LATE, None, 0, None)


def test_of_two_places_the_better_is_taken_and_the_whole_piece_named(north: Climate) -> None:
    """A tomato's shoot on the sill or on the landing, which is cooler: a sooner plant by the sill for both. One long
    stem cut in several, and what it would be uncut."""
    found = option(SHOOTS, "tomato", "jar", north, LANDING, SILL)
    alone = option(SHOOTS, "tomato", "jar", north, SILL)
    assert found.places == ("1", "1")
    assert (found.ready, found.plant_out, found.sure) == (alone.ready, alone.plant_out, alone.sure)
    assert found.whole is None
    stem = option(Material("broken stem", 1, "sound", 45), "tomato", "jar", north, SILL)
    assert stem.cuttings > 1
    assert stem.whole is not None
    uncut = option(Material("broken stem", 1, "sound", 45).uncut, "tomato", "jar", north, SILL)
    assert (stem.whole.cuttings, stem.whole.sure, stem.whole.ready) == (1, uncut.sure, uncut.ready)
