"""What is done with one plant before winter, at the edges: chances that are just accepted, days, and who keeps it."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
from scipy.stats import betabinom

from elder.engine.chance.counting import Take
from elder.engine.climate.climate import Climate
from elder.engine.climate.frost_risk import frost_risk, last_safe_day
from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Plant
from elder.engine.place.warmth import Place
from elder.engine.plan.light_needs import Suited
from elder.engine.plan.wintering import lowest_nights
from elder.engine.year.winter import (
    COVER_LIFT_C,
    Outside,
    Shelter,
    WinterAnswer,
    bears_outside_c,
    first_safe_day,
    how_many,
    second_step,
    winter_answer,
    winter_of,
)

AIR = Place("air")
SILL = Place("room", day_c=20, night_c=17)
KEPT = (Shelter("sill", SILL),)
SUMMER = date(2027, 7, 30)


def answer(
    plant: Plant, climate: Climate, *, place: Place = AIR, in_pot: bool = False, risk: float = 0.1, after: date = SUMMER
) -> WinterAnswer:
    return winter_answer(Outside(plant, in_pot, place), KEPT, climate, after=after, accepted_risk=risk)


def bearing(slug: str, rest_c: float) -> Plant:
    """A plant of the handbook that at rest bears so much."""
    return replace(handbook()[slug], rest_limit_c=rest_c)


def coldest(climate: Climate) -> list[float]:
    """The lowest night of each possible winter in the open, the coldest first, °C."""
    return sorted(lowest_nights(AIR, climate).tolist())


def test_a_chance_that_is_just_accepted_is(quenby: Climate) -> None:
    """Ten of the winters are colder than it bears: at a risk of just as many it is left, at one less it is covered; and
    covered where just as many are colder than what the cover leaves."""
    nights = coldest(quenby)
    share = 10 / len(nights)
    left = answer(bearing("mint", nights[10]), quenby, risk=share)
    assert (left.way, left.bare) == ("left", share)
    assert answer(bearing("mint", nights[10]), quenby, risk=share - 1e-9).way == "covered"
    under = bearing("mint", nights[10] + COVER_LIFT_C)
    covered = answer(under, quenby, risk=share)
    assert (covered.way, covered.covered) == ("covered", share)
    assert covered.bare == sum(night < nights[10] + COVER_LIFT_C for night in nights) / len(nights)
    assert answer(under, quenby, risk=share - 1e-9).way == "dug"


def test_left_but_in_some_doubt_it_has_a_day_and_is_insured(quenby: Climate) -> None:
    """Killed in as many winters as are accepted, or in half as many: there is nothing to fear in half."""
    nights = coldest(quenby)
    share = 10 / len(nights)
    doubt = answer(bearing("mint", nights[10]), quenby, risk=share)
    assert doubt.by == last_safe_day(quenby, nights[10], accepted_risk=share, after=SUMMER)
    assert (doubt.insured, doubt.tops is not None) == (True, True)
    calm = answer(bearing("mint", nights[10]), quenby, risk=2 * share)
    assert (calm.way, calm.by, calm.insured) == ("left", None, False)
    assert calm.out_on == first_safe_day(quenby, nights[10], accepted_risk=2 * share, after=SUMMER)


def test_what_hurts_it_in_a_room_and_out_of_doors(quenby: Climate) -> None:
    """A fuchsia bears 3 °C in leaf and −4 °C at rest; a young one is hurt at −2 °C. In a pot, mint bears −10 °C."""
    fuchsia = handbook()["fuchsia"]
    room = answer(fuchsia, quenby, place=Place("room", day_c=12, night_c=2))
    assert (room.bears_c, room.bare, room.covered) == (3.0, 1.0, 0.0)
    assert room.by == last_safe_day(quenby, -2.0, accepted_risk=0.1, after=SUMMER)
    assert room.out_on == first_safe_day(quenby, -2.0, accepted_risk=0.1, after=SUMMER)
    glass = answer(fuchsia, quenby, place=Place("air", lift_night_c=2))
    assert glass.bears_c == -4.0
    assert glass.by == last_safe_day(quenby, -6.0, accepted_risk=0.1, after=SUMMER)
    assert glass.out_on == first_safe_day(quenby, -4.0, accepted_risk=0.1, after=SUMMER)
    assert answer(handbook()["mint"], quenby, in_pot=True).bears_c == -10.0
    assert bears_outside_c(bearing("mint", -2.0), in_pot=True) == -2.0


def test_tops_beside_what_is_done_or_instead_of_it(quenby: Climate) -> None:
    """In a pot it is carried in and its tops are a reserve; in a bed a soft fruit is lost but for its tops, which need
    none. They are struck within four weeks of the last day, and not before midsummer."""
    plant = handbook()["scented-pelargonium"]
    pot = answer(plant, quenby, in_pot=True)
    assert (pot.way, pot.insured) == ("in", True)
    assert pot.tops_until == pot.by
    assert pot.tops_from == pot.by - timedelta(days=28) if pot.by else False
    bed = answer(replace(plant, group="soft fruit"), quenby)
    assert (bed.way, bed.insured) == ("tops", False)
    late = answer(plant, quenby, in_pot=True, after=pot.by - timedelta(days=9) if pot.by else SUMMER)
    assert (late.tops_from, late.tops_until) == (pot.by - timedelta(days=9) if pot.by else None, pot.by)
    last = answer(plant, quenby, in_pot=True, after=pot.by or SUMMER)
    assert (last.by, last.tops_from, last.tops_until) == (pot.by, pot.by, pot.by)


def test_what_is_small_enough_to_dig(quenby: Climate) -> None:
    """An herb, unless it crops before the frost, or cannot be cloned at all; and anything that is lifted in clumps."""
    plant = replace(handbook()["scented-pelargonium"], crops_before_frost=False)
    assert answer(plant, quenby).way == "dug"
    assert answer(replace(plant, crops_before_frost=True), quenby).way == "tops"
    gone = replace(plant, methods=(), seed=None, instead=None)
    assert answer(gone, quenby).way == "lost"
    clump = replace(handbook()["lemongrass"], group="soft fruit")
    assert answer(clump, quenby).way == "dug"


def test_what_is_lost_is_sown_again_where_it_can_be(quenby: Climate) -> None:
    """By its own seed's days, or where sowing is what the handbook names instead."""
    lettuce = handbook()["lettuce"]
    assert lettuce.instead is not None
    assert answer(replace(lettuce, seed=None), quenby).way == "sown"
    assert answer(replace(lettuce, seed=None, instead=replace(lettuce.instead, way="buy")), quenby).way == "lost"


def test_two_places_alike_keep_their_order(quenby: Climate) -> None:
    alike = (Shelter("second", SILL), Shelter("first", SILL), Shelter("dim", SILL, Suited.NOT))
    found = winter_answer(Outside(handbook()["fuchsia"], True, AIR), alike, quenby, after=SUMMER, accepted_risk=0.1)
    assert [one.key for one in found.shelters] == ["second", "first", "dim"]


def test_tops_past_what_is_no_top_and_without_a_frost(quenby: Climate, frost_free: Climate) -> None:
    """The first of a plant's ways may be a division, which has no tops; a pineapple's top is no tip. Without frost they
    may be cut for the half-year after midsummer: the 182nd day is the last."""
    mint = handbook()["mint"]
    clump = next(way for plant in handbook().values() for way in plant.ways if way.form == "division")
    both = replace(mint, methods=(clump, *mint.methods))
    found = answer(both, quenby, in_pot=True)
    assert found.tops is not None
    assert found.tops.form not in ("division", "runner")
    assert answer(handbook()["pineapple"], quenby, in_pot=True).tops is None
    warm = answer(handbook()["scented-pelargonium"], frost_free, after=date(2027, 7, 1))
    assert (warm.by, warm.tops_until, warm.tops_from) == (None, date(2027, 12, 30), date(2027, 12, 2))


def test_the_day_on_which_the_risk_is_just_accepted_is_safe(quenby: Climate) -> None:
    """10 May: the chance that frost at 0 °C still comes from then on. At just that risk it may go out then."""
    day = date(2028, 5, 10)
    risk = frost_risk(quenby, 0.0)
    accepted = float(risk[129])  # the 130th day of the year
    assert first_safe_day(quenby, 0.0, accepted_risk=accepted, after=SUMMER) == day
    assert first_safe_day(quenby, 0.0, accepted_risk=accepted - 1e-12, after=SUMMER) == day + timedelta(days=1)
    assert first_safe_day(quenby, 0.0, accepted_risk=float(risk.max()), after=SUMMER) is None


def test_half_of_the_winter_half_year(quenby: Climate) -> None:
    """Midsummer is 30 July, in a leap year too; the 182nd day after it is the last of the winter that has begun."""
    assert winter_of(quenby, SUMMER + timedelta(days=182)) == SUMMER
    assert winter_of(quenby, SUMMER + timedelta(days=183)) == date(2028, 7, 30)
    assert winter_of(quenby, date(2028, 7, 29)) == winter_of(quenby, date(2028, 7, 30)) == date(2028, 7, 30)


def least(wanted: int, mean: float, weight: float, sure: float = 0.9) -> int:
    """The fewest for so many, by scipy's beta-binomial."""
    a, b = mean * weight, (1 - mean) * weight
    return next(n for n in range(wanted, 2000) if betabinom.sf(wanted - 1, n, a, b) >= sure)


def test_mothers_only_where_fewer_do() -> None:
    """One tip to a young mother, or none of them lost: as many mothers as plants, so the plants themselves are kept."""
    plant, keep = handbook()["scented-pelargonium"], Take(0.85, 10)
    way = plant.method("gritty")
    plain = how_many(plant, None, 6, keep, 0.9)
    assert plain is not None
    assert (plain.wanted, plain.mothers, plain.gives, plain.cut) == (6, 6, 0, 0)
    for gives in (1, 3):  # a half of three is one
        scant = how_many(replace(plant, gives=gives), way, 6, keep, 0.9)
        assert scant == plain
    surely = replace(way, take=Take(1.0, 10), makes_plant=1.0)
    assert surely.plant_take.mean == 1.0
    assert how_many(replace(plant, gives=2), surely, 6, keep, 0.9) == plain, "as many: they themselves"


def test_mothers_where_the_plants_themselves_are_too_many() -> None:
    """A hundred and fifty of which a fifth live are more than is reckoned with; so few mothers are not. Where the
    mothers are too many, the plants are kept; where no number of tops does, none are named."""
    plant, poor = handbook()["scented-pelargonium"], Take(0.2, 1e6)
    way = plant.method("gritty")
    mothers = -(-least(150, way.plant_take.mean, way.plant_take.weight) // 5)
    found = how_many(plant, way, 150, poor, 0.9, tops=replace(way, take=Take(0.05, 10)))
    assert found is not None
    assert (found.mothers, found.gives, found.tops) == (mothers, 5, 0)
    assert found.kept == least(mothers, 0.2, 1e6)
    assert how_many(plant, None, 150, poor, 0.9) is None
    weak = replace(way, take=Take(0.3, 1e6))
    whole = how_many(replace(plant, gives=1), weak, 120, Take(0.5, 1e6), 0.9)
    assert whole is not None
    assert (whole.kept, whole.gives) == (least(120, 0.5, 1e6), 0)
    hopeless = how_many(plant, replace(way, take=Take(0.001, 1e6)), 6, Take(0.85, 10), 0.9)
    assert hopeless is not None
    assert (hopeless.kept, hopeless.gives) == (least(6, 0.85, 10), 0)


def test_the_second_step_at_its_ends() -> None:
    plant = handbook()["scented-pelargonium"]
    way = plant.method("gritty")
    enough, none = second_step(plant, way, 6, 6, 0.9), second_step(plant, None, 3, 6, 0.9)
    assert (enough.lived, enough.cut, enough.sure, enough.chance) == (6, 0, 6, 1.0)
    assert (none.lived, none.cut, none.sure, none.chance) == (3, 0, 3, 0.0)
    gone = second_step(plant, way, 0, 6, 0.9)
    assert (gone.lived, gone.cut, gone.sure, gone.chance) == (0, 0, 0, 0.0)
    scant = second_step(replace(plant, gives=1), way, 3, 6, 0.9)
    assert (scant.lived, scant.cut) == (3, 3)
    assert second_step(plant, way, 3, 2000, 0.9).cut == 15, "all there are, where no number does"
    just = float(betabinom.sf(7, 10, way.plant_take.mean * 15, (1 - way.plant_take.mean) * 15))
    assert way.plant_take.weight == 15
    assert second_step(plant, way, 2, 12, round(just, 12) - 1e-9).sure == 8


def test_lowest_nights_are_those_of_the_years(quenby: Climate) -> None:
    """So that the shares above are of winters: one night for each of the possible years."""
    assert np.unique(lowest_nights(AIR, quenby)).size > 20
