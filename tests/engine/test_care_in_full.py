"""Everything a batch asks for on a day, to the last task: its days and its count, worked out by hand.

How often is common practice of the trade, as the handbook has it; the days here follow from the dates alone.
"""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest

from elder.engine.batch.forecast import forecast
from elder.engine.batch.under_way import UnderWay
from elder.engine.round.care import STAKE_AFTER, Around, cares
from elder.engine.round.lifting import FREQUENCY, Lift, at_a_time, weight_limit_kg
from elder.engine.setting import Setting
from tests.engine.test_care import SILL, STUCK, Bench

HOT = Around(hot=True)


def asked(batch: Bench, day: int, **given: Any) -> dict[str, tuple[int, int, int]]:
    """By verb: the first day it may be done, the day it is due, and to how many."""
    tasks = batch.tasks(day, **given)
    assert all(task.may_from is not None for task in tasks.values()), "each says from when it may be done"
    return {v: ((t.may_from - STUCK).days, (t.due - STUCK).days, t.count) for v, t in tasks.items() if t.may_from}


def out_tasks(batch: Bench, day: int, **given: Any) -> list[Any]:
    """Every task, where one verb may come twice."""
    today, state = STUCK + timedelta(days=day), batch.state(day)
    standing = forecast(state, Setting(batch.plant, batch.method, batch.climate, SILL, SILL, today))
    return cares(UnderWay(state, standing, batch.plant, batch.method, today), **given)


@pytest.fixture
def of(north: Any) -> Any:
    return lambda *given: Bench(north, *given)


def test_eight_in_a_jar(of: Any) -> None:
    assert asked(of(), 0) == {"water": (2, 3, 8)}
    assert asked(of(), 1, around=HOT) == {"water": (2, 2, 8), "shade": (1, 1, 8), "mist": (1, 1, 8)}
    shaded = of().did("tended", 1, deed="shade").did("tended", 1, deed="mist")
    assert asked(shaded, 1, around=HOT) == {"water": (2, 2, 8), "mist": (2, 2, 8)}
    assert asked(shaded, 2, around=HOT) == {"water": (2, 2, 8), "mist": (2, 2, 8), "shade": (2, 2, 8)}


def test_eight_in_a_jar_of_which_five_have_rooted(of: Any) -> None:
    # Roots on day 9: water feed a week later at the soonest, two at the latest; pests after the look that saw them.
    jar = of().did("tended", 8, deed="water").did("rooted", 9, 5)
    assert asked(jar, 9) == {"water": (10, 11, 8), "feed_water": (16, 23, 5), "pests": (15, 18, 5)}
    jar.did("tended", 16, deed="feed_water").did("lost", 17, 2, stage="waiting")
    assert asked(jar, 17) == {"water": (10, 11, 6), "feed_water": (23, 30, 5), "pests": (23, 26, 5)}


@pytest.mark.parametrize(("weekdays", "day", "due"), [((0, 3), 0, 3), ((0,), 0, 7), ((3,), 3, 3), ((0, 3), 3, 3)])
def test_on_the_weekdays_chosen_there_is_no_sooner(of: Any, weekdays: tuple[int, ...], day: int, due: int) -> None:
    assert asked(of(), day, weekdays=weekdays)["water"] == (due, due, 8)


def test_under_a_dome(of: Any) -> None:
    # A chilli under a closed dome, its mix moistened by the visits of its page, the dome aired daily.
    dome = of("chilli", "dome")
    gap = max(round(7 / dome.method.visits_a_week), 1)
    assert dome.method.cover == "closed"
    assert asked(dome, 0) == {"moisten": (max(gap - 1, 1), gap, 8), "air": (1, 1, 8)}
    assert asked(dome, 2, around=HOT)["mist"] == (1, 1, 8)
    dome.did("rooted", 20, 3)
    # Uncovered by four steps, a day apart at the least, and no longer aired or misted.
    for step, day in enumerate((20, 21, 24, 25)):
        assert asked(dome, day)["uncover"] == ((21, 22, 25, 26)[step],) * 2 + (8,)
        assert "air" not in asked(dome, day)
        dome.did("tended", day + 1 if step != 1 else 24, deed="uncover")
    assert not {"uncover", "air", "mist"} & set(asked(dome, 27, around=HOT))


def test_uncovering_counts_from_the_first_roots(of: Any) -> None:
    dome = of("chilli", "dome").did("tended", 5, deed="uncover").did("rooted", 20, 3)
    assert asked(dome, 20)["uncover"] == (21, 21, 8)
    dome.did("tended", 20, deed="uncover")
    assert asked(dome, 20)["uncover"] == (21, 21, 8), "a step on the day itself counts as one of the four"
    for day in (21, 22, 23):
        dome.did("tended", day, deed="uncover")
    assert "uncover" not in asked(dome, 23)


def test_potted_from_water_in_two_lots(of: Any) -> None:
    # The first four potted on day 12, two more on day 20. Water roots are tender: the last lot settles the soaking.
    pots = of().did("rooted", 10, 8).did("potted", 12, 4)
    assert asked(pots, 12)["soak"] == (13, 13, 4)
    assert "water_pots" not in asked(pots, 14)
    assert asked(pots, 14)["soak"] == (13, 13, 4), "the second day is still one of them"
    assert "soak" not in asked(pots, 15)
    assert asked(pots, 15)["water_pots"] == (15, 16, 4)  # from day 13 on, every two or three days
    assert asked(pots, 15, around=HOT)["water_pots"] == (14, 14, 4)
    pots.did("potted", 20, 2)
    assert asked(pots, 22)["soak"] == (21, 21, 6)
    assert asked(pots, 23)["water_pots"] == (23, 24, 6)
    # Feed a fortnight after the first, bright shade for a week, a stake after three.
    said = asked(pots, 23)
    assert said["feed"] == (22, 26, 6)
    assert said["light"] == (19, 19, 6)
    assert said["stake"] == (12 + STAKE_AFTER,) * 2 + (6,)
    assert asked(pots.did("tended", 19, deed="light").did("tended", 24, deed="feed"), 24)["feed"] == (34, 38, 6)
    assert "light" not in asked(pots, 24)


def test_a_climber_is_given_its_support_when_it_is_potted(of: Any) -> None:
    vine = of("passionfruit", "jar").did("rooted", 40, 4).did("potted", 50, 4)
    assert asked(vine, 50)["stake"] == (50, 50, 4)
    assert "stake" not in asked(vine.did("tended", 51, deed="stake"), 51)


def test_hardening_off(of: Any) -> None:
    # Hardened from day 30: watered every day or two, every day in heat, and one step of the ladder a day.
    out = of().did("rooted", 10, 8).did("potted", 12, 8).did("hardening", 30, 5)
    said = asked(out, 30)
    assert said["water_pots"][2] in (3, 5)
    assert said["harden_step"] == (30, 30, 5)
    tasks = [t for t in out_tasks(out, 30) if t.verb == "water_pots" and t.count == 5]
    assert [((t.opens - STUCK).days, (t.due - STUCK).days) for t in tasks] == [(31, 32)]
    tasks = [t for t in out_tasks(out, 30, around=HOT) if t.verb == "water_pots" and t.count == 5]
    assert [((t.opens - STUCK).days, (t.due - STUCK).days) for t in tasks] == [(31, 31)]
    assert "harden_step" not in asked(out.did("tended", 30, deed="harden_step"), 30)
    assert asked(out, 31)["harden_step"] == (31, 31, 5)


def test_set_out_and_watered_in_for_a_fortnight_from_the_last(of: Any) -> None:
    bed = of().did("rooted", 10, 8).did("potted", 12, 8).did("planted", 60, 5).did("planted", 64, 3)
    assert asked(bed, 64) == {"water_in": (66, 67, 8)}
    assert asked(bed, 64, around=HOT) == {"water_in": (65, 65, 8)}
    assert asked(bed.did("tended", 77, deed="water_in"), 78) == {"water_in": (79, 80, 8)}
    assert asked(bed, 79) == {}
    assert asked(bed.did("harvested", 78), 78) == {}


def test_dried_to_a_callus_and_then_stuck(of: Any) -> None:
    # Its page dries a pineapple top for three days; nothing is done to it till then but to stick it.
    top = of("pineapple", "peeled")
    dry = 3
    assert asked(top, 0) == {"stick": (dry, dry, 8)}
    top.did("tended", dry + 2, deed="stick")
    assert "stick" not in asked(top, dry + 2)
    assert asked(top, dry + 2), "and is cared for from the day it was stuck"


# Waters, Putz-Anderson & Garg 1994, Table 5 (from memory): every row, at every column, for an ideal lift below 75 cm.
@pytest.mark.parametrize("row", FREQUENCY)
@pytest.mark.parametrize(("hours", "column"), [(0.5, 1), (1, 1), (1.5, 2), (2, 2), (2.5, 3), (8, 3)])
def test_the_frequency_multiplier(row: tuple[float, ...], hours: float, column: int) -> None:
    ideal = {"ahead_cm": 25, "height_cm": 75, "way_cm": 25, "grip": "good", "hours": hours}
    assert weight_limit_kg(Lift(**ideal, a_minute=row[0])) == pytest.approx(23 * row[column])  # type: ignore[arg-type]


def test_each_multiplier_by_itself() -> None:
    def share(**given: Any) -> float:
        ideal = {"ahead_cm": 25, "height_cm": 75, "way_cm": 25, "grip": "good", "a_minute": 0.2}
        return weight_limit_kg(Lift(**{**ideal, **given})) / 23

    assert share(ahead_cm=50) == pytest.approx(0.5)
    assert share(ahead_cm=63) == pytest.approx(25 / 63)
    assert share(ahead_cm=0) == share(ahead_cm=10) == 1
    assert share(height_cm=0) == pytest.approx(0.775)
    assert share(height_cm=175) == pytest.approx(0.7)
    assert share(way_cm=175) == pytest.approx(0.82 + 4.5 / 175)
    assert share(twist_deg=90) == pytest.approx(0.712)
    assert share(twist_deg=135) == pytest.approx(0.568)
    assert (share(grip="fair", height_cm=74), share(grip="fair")) == (pytest.approx(0.95 * 0.997), 1)
    assert (share(grip="fair", height_cm=75.5), share(grip="poor")) == (pytest.approx(0.9985), pytest.approx(0.9))
    assert share(ahead_cm=63.5) == share(height_cm=175.5) == share(way_cm=175.5) == share(twist_deg=135.5) == 0


@pytest.mark.parametrize("wrong", [{"ahead_cm": -1}, {"height_cm": -0.5}, {"grip": "wet"}])
def test_a_lift_that_cannot_be(wrong: dict[str, Any]) -> None:
    with pytest.raises(ValueError, match=r"^a lift has lengths of nought or more, and a good, fair or poor grip$"):
        weight_limit_kg(Lift(**wrong))


def test_pots_at_a_time() -> None:
    assert [at_a_time(each, 12.0) for each in (0, 0.5, 1.2, 4, 12, 12.5)] == [0, 24, 10, 3, 1, 0]
