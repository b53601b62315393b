"""Cold: nights to carry in, years that kill in the ground, days that either closes, and what is said of it."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import pytest

from elder.engine.assumptions import Assumptions
from elder.engine.climate.climate import Climate
from elder.engine.climate.frost_risk import frost_risk
from elder.engine.climate.normals import midwinter
from elder.engine.climate.years import possible_years
from elder.engine.handbook.loading import clonable, handbook
from elder.engine.place.warmth import Place
from elder.engine.plan.cold import cold_of, half_rooted, nights_below
from elder.engine.plan.curve import CutDay
from elder.engine.plan.search import plan_want
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.plan.want import Want
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting

SILL, AIR, BED = Place("room", day_c=20, night_c=17), Place("air"), Place("ground")
GLASS = Place("air", lift_day_c=7, lift_night_c=2)
MARCH, OCTOBER = date(2027, 3, 1), date(2027, 10, 1)


def asked(climate: Climate, slug: str, places: tuple[Place, Place], today: date, **assumed: int | None) -> Setting:
    plant = handbook()[slug]
    return Setting(plant, plant.methods[0], climate, *places, today, Assumptions(**assumed))  # type: ignore[arg-type]


def plain_nights(climate: Climate, place: Place, limit: float, first: date, last: date) -> float:
    """Nights colder than a limit at a place from a day up to another, that one left out: the mean over twenty years,
    night by night."""
    years, total = possible_years(climate, 20), 0
    for row in range(20):
        year = row
        for ahead in range((last - first).days):
            day = first + timedelta(days=ahead)
            at = ((date(2027, day.month, day.day) - date(2027, 1, 1)).days - midwinter(climate.normals)) % 365
            if at == 0 and ahead:
                year = (year + 1) % 10 + 10 * (year >= 10)
            total += years.t_min[year, at] + place.lift_night_c < limit
    return total / 20


def test_nights_to_carry_in_are_those_counted_one_by_one(north: Climate) -> None:
    """Tomato in a pot outdoors, hurt at 1 °C: the nights at the rooting place to half rooted, then at the other."""
    setting = asked(north, "tomato", (AIR, GLASS), MARCH)
    target, cuts = date(2027, 6, 1), 60
    cold, half = cold_of(setting, MARCH, cuts, target), half_rooted(setting, MARCH, cuts, 93)
    for cut in (0, 20, 59):
        day, rooted = MARCH + timedelta(days=cut), MARCH + timedelta(days=int(half[cut]))
        after = plain_nights(north, GLASS, 1.0, rooted, target + timedelta(days=1))
        assert cold.nights[cut] == pytest.approx(plain_nights(north, AIR, 1.0, day, rooted) + after)
        assert cold.nights[cut] > 0 or cut == 59
    assert not cold.killed.any()


def test_nights_below_at_one_place_are_those_counted_one_by_one(north: Climate) -> None:
    setting, last = asked(north, "tomato", (AIR, SILL), MARCH), date(2027, 5, 20)
    assert nights_below(setting, AIR, MARCH, last) == pytest.approx(plain_nights(north, AIR, 1.0, MARCH, last))
    assert nights_below(setting, AIR, MARCH, last) > 10
    assert nights_below(setting, SILL, MARCH, last) == 0
    assert nights_below(setting, AIR, last, MARCH) == 0


def test_half_rooted_by_a_loop(north: Climate) -> None:
    """8.918 units at 0.7731 a day in the room of the worked example: on the twelfth day, day 11."""
    assert half_rooted(asked(north, "tomato", (SILL, SILL), MARCH), MARCH, 3, 90).tolist() == [12, 13, 14]
    # Never past the days reckoned.
    assert half_rooted(asked(north, "tomato", (AIR, AIR), MARCH), MARCH, 2, 30).tolist() == [30, 30]


def test_unrooted_dormant_wood_bears_the_winter(north: Climate) -> None:
    vine = handbook()["grapevine"]
    setting = Setting(vine, vine.methods[0], north, AIR, SILL, date(2027, 11, 1))
    assert vine.methods[0].wood == "dormant"
    cold = cold_of(setting, date(2027, 11, 1), 30, date(2028, 6, 1))
    assert cold.nights.max() == 0  # it roots outdoors in winter, and grows on in a room
    green = replace(setting, method=replace(vine.methods[0], wood="softwood"))
    assert cold_of(green, date(2027, 11, 1), 30, date(2028, 6, 1)).nights.min() > 10


def test_a_room_and_an_ideal_year_have_no_cold(north: Climate) -> None:
    far = date(2028, 5, 1)
    assert cold_of(asked(north, "tomato", (SILL, SILL), OCTOBER), OCTOBER, 20, far).nights.max() == 0
    out = asked(north, "tomato", (AIR, AIR), OCTOBER)
    assert cold_of(out, OCTOBER, 20, far).nights.min() > 20
    ideal = replace(out, assumptions=Assumptions.ideal())
    assert cold_of(ideal, OCTOBER, 20, far).nights.max() == 0
    assert cold_of(out, OCTOBER, 5, OCTOBER - timedelta(days=3)).nights.tolist() == [0] * 5  # a target gone by


def test_years_that_kill_in_the_ground_counted_one_by_one(north: Climate) -> None:
    currant = handbook()["blackcurrant"]
    # A plant hurt at −4 °C, green, struck in the ground on 1 October and 1 November, until 1 April.
    plant, method = replace(currant, frost_limit_c=-4.0), replace(currant.method("ground"), wood="growing")
    setting = Setting(plant, method, north, BED, BED, OCTOBER)
    cold = cold_of(setting, OCTOBER, 32, date(2028, 4, 1))
    years = possible_years(north, 400)
    first = (273 - midwinter(north.normals)) % 365  # 1 October
    last = (90 - midwinter(north.normals)) % 365  # 1 April
    for cut, begin in ((0, first), (31, first + 31)):
        killed = 0
        for row in range(400):
            then = (row + 1) % 200 + 200 * (row >= 200)
            nights = [*years.t_min[row, begin:].tolist(), *years.t_min[then, : last + 1].tolist()]
            killed += any(night < -4 for night in nights)
        assert cold.killed[cut] == pytest.approx(killed / 400)
        assert 0.3 < killed / 400 < 1
    assert not cold.nights.any()


def test_cold_closes_a_day_and_a_promise_to_carry_opens_it(north: Climate) -> None:
    """Rosemary in pots outdoors from September to April, hurt at −3 °C: so many nights close it, or do not."""
    want = Want(2, by=date(2028, 5, 1), purpose="spare")
    setting = asked(north, "rosemary", (GLASS, AIR), date(2027, 9, 1), carry_nights=0)
    refused = plan_want(want, setting)
    assert isinstance(refused, Refusal)
    assert (refused.code, refused.field, refused.params["most"]) == ("too_cold", "by", 0)
    nights = refused.params["nights"]
    assert nights >= 1
    assert refused.params["killed"] == 0
    accepted = plan_want(want, replace(setting, assumptions=Assumptions(carry_nights=nights)))
    assert isinstance(accepted, SeasonPlan)
    option = accepted.option(accepted.recommended)
    assert 0 < round(option.nights) <= nights
    closed = [day for day in accepted.options if day.closed_by == "cold"]
    assert all(round(day.nights) > nights for day in closed)


def test_what_every_winter_kills_is_refused_as_that(north: Climate) -> None:
    bed = handbook()["sweet-potato"]
    struck = plan_want(Want(2), Setting(bed, bed.method("bed"), north, BED, BED, MARCH))
    assert isinstance(struck, Refusal)
    assert (struck.code, struck.params["killed"], struck.params["by"]) == ("too_cold", 1.0, None)


@pytest.mark.no_cover
@pytest.mark.parametrize(
    ("where", "today"), [("north", date(2027, 1, 10)), ("north", date(2027, 10, 5)), ("south", date(2027, 4, 20))]
)
def test_no_plan_stands_through_certain_frost(request: pytest.FixtureRequest, where: str, today: date) -> None:
    """Whatever is asked, its pots are carried in on a week of nights at most, and nothing is left in the ground where
    the garden's own frost curve calls its death likelier than was accepted."""
    climate: Climate = request.getfixturevalue(where)
    ways = [(plant, way) for plant in clonable().values() for way in plant.ways if way.direct or way is plant.ways[0]]
    planned = 0
    for plant, method in ways:
        rooting, growing = (BED, BED) if method.direct else (GLASS, AIR)
        plan = plan_want(Want(3), Setting(plant, method, climate, rooting, growing, today))
        if isinstance(plan, Refusal):
            continue
        planned += 1
        option = plan.option(plan.recommended)
        assert option.standing in (CutDay.COMFORTABLE, CutDay.STRETCH), (plant.slug, method.slug)
        assert round(option.nights) <= 7, (plant.slug, method.slug)
        assert option.killed <= 0.10, (plant.slug, method.slug)
        if method.direct and method.wood != "dormant":
            risk = frost_risk(climate, plant.frost_limit_c)
            stretch = range((plan.target - option.day).days + 1)
            doy = [(option.day + timedelta(days=i)).timetuple().tm_yday - 1 for i in stretch]
            assert max(risk[min(one, 364)] for one in doy) < 0.5, (plant.slug, method.slug)
    assert planned > 20
