"""Small parts of the bench, each against figures worked out beside it: containers as written, what a household uses
instead, what a batch stands in on its way, outlines in the sky, the simulated sensor, the coolest stretch of a year."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import date, datetime, time, timedelta
from typing import Any

import numpy as np
import pytest

from elder.engine.batch.stands import standing_in, stuck_counts
from elder.engine.batch.state import BatchState, Lot
from elder.engine.climate.climate import Climate
from elder.engine.climate.normals import daily_mean
from elder.engine.climate.phases import coolest_stretch
from elder.engine.handbook.loading import handbook
from elder.engine.place import simulated_sensor
from elder.engine.place.light import skyline_height
from elder.engine.place.simulated_sensor import A_DAY, SimulatedSensor
from elder.engine.place.skyline import Obstacle, looking, outline, over_one_another
from elder.engine.place.warmth import Place
from elder.engine.place.weather import SimulatedWeather
from elder.engine.round.loads import loads, stands, vessel_now, weight_kg, wet_kg
from elder.engine.shed.kit import AsTreated, Kit
from elder.engine.shed.recipes import Recipe, recipes
from elder.engine.shed.vessels import Vessel, shipped, vessel_of

CUT = date(2027, 4, 6)
BARE: dict[str, Any] = {"key": "tub", "kind": "pot", "one": "tub", "many": "tubs", "shape": {"cylinder": [10, 20]}}


def test_a_container_that_says_little_is_taken_as_it_is() -> None:
    tub = vessel_of(BARE)
    assert (tub.key, tub.kind, tub.one, tub.many, tub.said) == ("tub", "pot", "tub", "tubs", "")
    assert (tub.litres, tub.cells, tub.fill, tub.takes, tub.empty_kg) == (0.0, 0, 1.0, {}, 0.0)
    assert (tub.foot, tub.spacing_cm, tub.gone) == (None, 0.0, False)
    # A cylinder 10 across and 20 deep: 5² · π · 20 = 1,571 cm³.
    assert tub.volume_l == tub.filled_l == pytest.approx(1.5708, abs=1e-4)


def test_a_container_is_what_was_written_of_it() -> None:
    tub = vessel_of(
        {
            **BARE, "said": "across", "litres": 2.0, "cells": 6, "fill": 0.8, "takes": {"stem": 3}, "empty_kg": 0.4,
            "foot": [30, 20], "spacing": 15.0, "gone": True,
        }
    )  # fmt: skip
    assert (tub.said, tub.litres, tub.cells, tub.fill, tub.takes) == ("across", 2.0, 6, 0.8, {"stem": 3})
    assert (tub.empty_kg, tub.foot, tub.foot_cm, tub.spacing_cm, tub.gone) == (0.4, (30, 20), (30, 20), 15.0, True)
    assert (tub.volume_l, tub.filled_l) == (2.0, pytest.approx(1.6))
    assert not tub.is_round, "what stands on a foot of its own is not round"
    assert vessel_of(BARE).is_round


def test_stems_go_one_to_a_cell_else_as_practice_has_it_else_as_there_is_room() -> None:
    assert vessel_of({**BARE, "cells": 6, "takes": {"stem": 3}}).stems("stem") == 6
    assert vessel_of({**BARE, "takes": {"stem": 3}}).stems("stem") == 3
    room = shipped()["pot"]
    assert room.takes.get("stick") is None
    # A pot 13 cm across: 133 cm² at its rim; so many as the room of a stick goes into that, one at the least.
    from elder.engine.shed.vessels import containers_book

    assert room.stems("stick") == max(int(6.5**2 * math.pi / containers_book()["room_cm2"]["stick"]), 1)


MINE = vessel_of({**BARE, "key": "mine"})
GRIT = Recipe("grit", "my grit", (("grit", 1.0),), 1.6)


def test_a_household_has_what_is_its_own_and_uses_it_where_it_says_so() -> None:
    kit = Kit(own=(MINE,), usual={"pot": "mine", "plain": "grit"}, mixes=(GRIT,))
    assert kit.vessel("mine") is MINE
    assert kit.vessel("jar") is shipped()["jar"]
    assert kit.vessel("nothing of the kind") is None
    assert kit.used("pot") is MINE
    assert kit.used("jar") is shipped()["jar"], "where nothing is said it is Elder's"
    assert Kit(usual={"pot": "gone"}).used("pot") is shipped()["pot"], "one that is no more is Elder's again"
    pot, plain = replace(MINE, key="pot"), replace(GRIT, key="plain")
    bettered = Kit(own=(pot,), mixes=(plain,))
    assert (bettered.used("pot"), bettered.mixed("plain")) == (pot, plain), "its own of the same key goes before"
    assert kit.mix("grit") is GRIT
    other = next(key for key in recipes() if key != "plain")
    assert kit.mix(other) is recipes()[other]
    assert kit.mix("no mix") is None
    assert kit.mixed("plain") is GRIT
    assert kit.mixed(other) is recipes()[other]
    assert kit.every()[0] is MINE
    assert kit.every_mix()[0] is GRIT
    assert Kit(own=(vessel_of({**BARE, "gone": True}),)).every() == tuple(shipped().values())


def state(moved_on: int = 0, potted_up: tuple[date, ...] = (), **lots: int) -> BatchState:
    there = {stage: (Lot(CUT + timedelta(days=20), count),) for stage, count in lots.items()}
    return BatchState(12, CUT, there, moved_on=moved_on, potted_up=potted_up)


def test_what_still_stands_as_it_was_stuck() -> None:
    tomato, basil = handbook()["tomato"], handbook()["basil"]
    counts = stuck_counts(state(3, waiting=4, rooted=5, hardening=3), tomato.method("jar"))
    assert (counts.taken, counts.unmoved, counts.moved) == (12, 9, 3)
    # What goes straight out of its jar hardens in it: it has not moved on.
    counts = stuck_counts(state(3, waiting=4, rooted=5, hardening=3), basil.method("jar-straight-out"))
    assert (counts.taken, counts.unmoved, counts.moved) == (12, 12, 0)
    assert stuck_counts(state(0, hardening=3), basil.method("jar-straight-out")).moved == 0


def test_a_batch_stands_stuck_potted_and_hardening() -> None:
    tomato = handbook()["tomato"]
    found = standing_in(state(7, waiting=5, potted=4, hardening=3), tomato, tomato.method("jar"))
    assert [(one.stage, one.filled.plants, one.filled.vessels) for one in found] == [
        ("stuck", 5, 1), ("potted", 4, 4), ("hardening", 3, 3),
    ]  # fmt: skip
    assert found[0].filled.vessel.key == "jar"
    basil = handbook()["basil"]
    (stuck,) = standing_in(state(0, hardening=6, rooted=2), basil, basil.method("jar-straight-out"))
    assert (stuck.stage, stuck.filled.plants) == ("stuck", 8)
    assert standing_in(state(0, waiting=6), basil, basil.method("ground")) == ()
    (only,) = standing_in(state(12, hardening=6), tomato, tomato.method("jar"))
    assert only.stage == "hardening", "with none in pots before it"


def test_in_bigger_pots_it_stands_in_those() -> None:
    """A fig climbs from a gallon to six, and to forty litres, where it stays."""
    fig = handbook()["fig"]
    method, again = fig.method("bag"), CUT + timedelta(days=60)

    def vessel(count: int, stage: str = "potted") -> str:
        return vessel_now(state(12, (again,) * count, **{stage: 6}), fig, method).key

    assert [vessel(count) for count in range(4)] == ["gallon", "six-gallon", "forty-litre", "forty-litre"]
    assert vessel(1, "hardening") == "six-gallon"
    assert vessel(1, "waiting") == "gallon", "nothing was potted, so nothing climbed"
    for count, key in ((0, "gallon"), (1, "six-gallon")):
        (now,) = stands(state(12, (again,) * count, potted=6), fig, method)
        assert (now.filled.vessel.key, now.filled.plants) == (key, 6)


def test_a_jar_weighs_its_water_and_a_pot_its_mix() -> None:
    tomato = handbook()["tomato"]
    method = tomato.method("jar")
    jar = shipped()["jar"]
    # Half of a cylinder 8 across and 13 deep: 0.327 l of water at 1.0 and 0.05 of plant, and 0.35 of glass.
    assert wet_kg(tomato, method, "stuck") == 1.0
    assert weight_kg(jar, 1.0) == pytest.approx(0.3267 * 1.05 + 0.35, abs=1e-3)
    found = loads(state(7, waiting=5, potted=7), tomato, method)
    assert found["stuck"].each_kg == pytest.approx(0.693, abs=1e-3)
    assert (found["stuck"].container, found["stuck"].containers, found["stuck"].plants) == ("jar", 1, 5)
    pot = found["potted"].filled.vessel
    assert found["potted"].each_kg == pytest.approx(weight_kg(pot, wet_kg(tomato, method, "potted")))
    solution = tomato.method("growbed-solution")
    assert wet_kg(tomato, solution, "potted") == wet_kg(tomato, solution, "stuck") == 1.6, "gravel, all its life"
    heavy = AsTreated(kit=Kit(usual={"plain": "grit"}, mixes=(GRIT,)))
    assert loads(state(7, potted=7), tomato, method, heavy)["potted"].each_kg >= found["potted"].each_kg


@pytest.mark.parametrize("measures", [(0, 5, 5), (3, 0, 5), (3, 5, 0), (-1, 5, 5)])
def test_what_stands_before_a_place_has_measures(measures: tuple[float, float, float]) -> None:
    with pytest.raises(ValueError, match="a height, a width, and stands some way off"):
        Obstacle(180, *measures)


def test_the_outline_of_a_house() -> None:
    """Eight metres high, ten away, twenty wide: seen 45° to either side, 38.7° high before one, and at its corners
    √2 times as far off and so 29.5° high (by hand)."""
    points = outline(Obstacle(180, 8, 10, 20))
    assert (points[0], points[-1]) == ((pytest.approx(134.99), 0.0), (pytest.approx(225.01), 0.0))
    azimuth = [at for at, _ in points[1:-1]]
    assert azimuth == pytest.approx(np.linspace(135, 225, 46).tolist()), "a step every two degrees"
    assert max(height for _, height in points) == pytest.approx(math.degrees(math.atan(0.8)), abs=0.01)
    assert points[1][1] == pytest.approx(math.degrees(math.atan(0.8 * math.cos(math.radians(45)))))
    narrow = outline(Obstacle(0, 8, 100, 1))
    assert len(narrow) == 5, "the narrowest has its middle and both edges"


def test_of_several_outlines_the_highest_counts() -> None:
    low, high = outline(Obstacle(180, 2, 10, 60)), outline(Obstacle(180, 8, 10, 4))
    both = over_one_another([low, (), high])
    assert [at for at, _ in both] == [2.0 * i for i in range(180)]
    for at, height in both:
        expected = max(float(skyline_height(one, np.array([at]))[0]) for one in (low, high))
        assert height == pytest.approx(expected)
    assert over_one_another([(), low]) == low, "one alone is left as it was drawn"
    assert over_one_another([]) == ()


def test_a_tree_is_an_outline_with_its_days() -> None:
    tree, house = Obstacle(90, 6, 8, 4, leaf=(110, 300)), Obstacle(180, 8, 10, 20)
    seen = looking(135.0, 70.0, 60.0, (), [tree, house])
    (leafy,) = seen.trees
    assert (leafy.outline, leafy.first, leafy.last) == (outline(tree), 110, 300)
    assert (seen.facing_deg, seen.half_angle_deg, seen.overhang_deg) == (135.0, 70.0, 60.0)
    assert seen.skyline == outline(house)


def test_the_coolest_stretch_is_the_least_sum_of_all(north: Climate) -> None:
    mean = daily_mean(north.normals).tolist()
    for days in (1, 90, 150):
        sums = [sum(mean[(start + i) % 365] for i in range(days)) for start in range(365)]
        assert coolest_stretch(north.normals, days) == (sums.index(min(sums)), days)
    assert coolest_stretch(north.normals)[1] == 90


def at(hour: int, minute: int = 0, *, day: int = 1) -> datetime:
    """A local time of March."""
    return datetime.combine(date(2027, 3, day), time(hour, minute))


def sensor(place: Place, north: Climate) -> SimulatedSensor:
    return SimulatedSensor(place, north, 11, SimulatedWeather(3))


@pytest.fixture
def still(monkeypatch: pytest.MonkeyPatch) -> None:
    """Draughts of a known size: one, all day."""
    monkeypatch.setattr(simulated_sensor, "wandering", lambda chance, days, keeps: np.full(days, 2.0 * keeps / 0.985))


def test_a_room_is_read_by_its_day_and_night(north: Climate, still: None) -> None:
    room = sensor(Place("room", day_c=21, night_c=17), north)
    read = room.read(at(6, 45), at(22, 15))
    assert [one.at for one in read][:2] == [at(6, 45), at(7, 0)]
    assert (read[-1].at, len(read)) == (at(22, 0), 62), "up to, but not at, the end"
    off = 0.5 * 2.0 + room.off_c
    assert [one.celsius for one in (read[0], read[1], read[-2], read[-1])] == [
        round(17 + off, 2), round(21 + off, 2), round(21 + off, 2), round(17 + off, 2),
    ]  # fmt: skip
    # Drier when warmer, 1.8 in a hundred a degree from 58 at 20 °C, and draughts are moist.
    assert read[1].humidity == round(58 - 1.8 * (21 + off - 20) + 2 * off, 1)
    assert -1.6 <= room.off_c <= 2.0
    assert A_DAY == 96


def test_out_of_doors_it_follows_the_day_that_comes(north: Climate, still: None) -> None:
    place = Place("air", lift_day_c=4, lift_night_c=1.5, floor_c=9)
    lean_to, day = sensor(place, north), date(2027, 3, 1)
    low, high = SimulatedWeather(3).came(north, day)
    low, high = low + 1.5, high + place.lift_on(59)
    read = lean_to.read(at(0), at(0, day=2))
    assert len(read) == 96
    for hour in (0.25, 3.0, 9.5, 15.0, 20.75):
        modelled = (low + high) / 2 + (high - low) / 2 * math.cos(2 * math.pi * (hour - 15) / 24)
        assert read[int(4 * hour)].celsius == round(max(modelled, 9) + 1.0 + lean_to.off_c, 2)
    bare = sensor(Place("air"), north).read(at(0), at(1))
    assert bare[0].celsius < 9 + 1.0 + lean_to.off_c, "no mat, no floor"


def test_humidity_is_never_more_than_air_holds_nor_none(north: Climate, still: None) -> None:
    hot, cold = Place("room", day_c=45, night_c=45), Place("room", day_c=-10, night_c=-10)
    span = at(12), at(12, 15)
    assert [sensor(place, north).read(*span)[0].humidity for place in (hot, cold)] == [15.0, 99.0]


def test_what_a_vessel_is_called_stays_apart_from_what_it_holds() -> None:
    assert isinstance(MINE, Vessel)
    assert {vessel.kind for vessel in shipped().values()} >= {"jar", "pot", "tray"}
