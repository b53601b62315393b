"""What a mother gives: a third, and again; pups by the keep-or-take rule. Common practice, so no sources."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import PupRule
from elder.engine.mother.demand import CuttingsAsked, shortages
from elder.engine.mother.gives_today import (
    Mother,
    MotherSeen,
    full_of,
    giving,
    pups_kept,
    takes_from,
    wood_opens,
)  # fmt: skip

TODAY = date(2027, 4, 6)
PINEAPPLE, BANANA = handbook()["pineapple"].pups, handbook()["banana"].pups


def ago(days: int) -> date:
    return TODAY - timedelta(days=days)


def gives(seen: MotherSeen | None = None, taken: Any = (), **more: Any) -> Any:
    today = more.pop("today", TODAY)
    return giving(Mother(**{"gives": 12, "again_days": 12, **more}), seen or MotherSeen(), taken, today)


def test_rested_it_gives_its_number() -> None:
    found = gives()
    assert (found.now, found.full, found.why, found.again_on, found.full_on) == (12, 12, "usual", None, None)


def test_just_cut_it_comes_back_evenly() -> None:
    found = gives(taken=[(ago(3), 12)])
    assert (found.now, found.why) == (3, "just_cut")
    assert found.full_on == TODAY + timedelta(days=9)
    assert found.again_on is None, "three is worth the walk"
    bare = gives(taken=[(TODAY, 12)])
    assert (bare.now, bare.again_on) == (0, TODAY + timedelta(days=2))
    assert gives(taken=[(ago(12), 12)]).now == 12
    assert gives(taken=[(TODAY + timedelta(days=2), 12)]).now == 12, "what is yet to be cut is still on it"


@pytest.mark.parametrize(
    ("taken", "wanted", "until", "takes"),
    [
        # She gives 4 and has 4 again 14 days on, evenly: 3 more are there after ten and a half days, so on the 11th.
        ([], 11, 90, [(0, 4), (14, 4), (25, 3)]),
        ([], 11, 20, [(0, 4), (14, 4)]),
        ([], 3, 90, [(0, 3)]),
        # All were cut today: two are worth going for after a week, then four a fortnight on.
        ([(0, 4)], 6, 90, [(7, 2), (21, 4)]),
        ([(0, 4)], 6, 6, []),
    ],
)
def test_taken_as_she_gives(taken: Any, wanted: int, until: int, takes: Any) -> None:
    mother = Mother(4, 14)
    found = giving(mother, MotherSeen(), [(TODAY + timedelta(days=day), count) for day, count in taken], TODAY)
    told = takes_from(mother, found, wanted, start=TODAY, until=TODAY + timedelta(days=until))
    assert [((day - TODAY).days, count) for day, count in told] == takes


def test_pups_do_not_come_again() -> None:
    mother = Mother(3, 400, PINEAPPLE)
    found = giving(mother, MotherSeen(on=TODAY, pups=3), [], TODAY)
    assert takes_from(mother, found, 8, start=TODAY, until=TODAY + timedelta(days=900)) == [(TODAY, 3)]


def test_a_third_of_the_shoots_counted() -> None:
    """Never more than about a third of the foliage of a plant that is to go on."""
    seen = MotherSeen(ago(10), shoots=20)
    assert (gives(seen).now, gives(seen).why) == (6, "third")
    assert gives(seen, [(ago(11), 6)]).now == 6, "the count was after that cut"
    assert gives(seen, [(ago(0), 4)]).now == 2
    assert gives(MotherSeen(ago(1), shoots=2)).why == "too_small"


@given(st.integers(0, 200))
def test_never_more_than_a_third(shoots: int) -> None:
    assert 3 * full_of(MotherSeen(TODAY, shoots=shoots), 12) <= shoots


def test_a_hungry_one_gives_half_and_a_sick_one_nothing() -> None:
    assert gives(MotherSeen(health="hungry")).now == 6
    assert gives(MotherSeen(health="pests")).now == 6
    assert (gives(MotherSeen(health="diseased")).now, gives(MotherSeen(health="diseased")).why) == (0, "diseased")
    assert gives(ended_on=ago(1)).why == "ended"
    assert gives(ended_on=TODAY + timedelta(days=1)).now == 12


@given(st.lists(st.tuples(st.integers(0, 40), st.integers(1, 12)), max_size=5), st.integers(1, 30), st.integers(1, 40))
def test_it_agrees_with_what_is_promised_to_wants(taken: list[tuple[int, int]], number: int, again: int) -> None:
    """Asked for one more than it gives today, the shortage of the planner says it has just that."""
    found = gives(None, [(ago(days), count) for days, count in taken], gives=number, again_days=again)
    asks = [CuttingsAsked("before", ago(days), count, done=True) for days, count in taken]
    (short,) = shortages([*asks, CuttingsAsked("now", TODAY, found.now + 1)], gives=number, again_days=again)
    assert short.has == found.now


@pytest.mark.parametrize(
    ("growth", "pups", "kept"),
    [("growing", 3, 0), ("fruited", 3, 1), ("fruited", 1, 1), ("fruited", 0, 0)],
)
def test_a_spent_pineapple_keeps_one_and_a_growing_one_none(growth: Any, pups: int, kept: int) -> None:
    found = gives(MotherSeen(ago(2), growth, pups=pups), pups=PINEAPPLE)
    assert (found.keep, found.now) == (kept, pups - kept)


@pytest.mark.parametrize(
    ("growth", "stalks", "pups", "kept"),
    [
        ("growing", 3, 4, 1),  # three stalks and one follower are four
        ("growing", 4, 2, 0),
        ("growing", 1, 6, 3),
        ("fruited", 1, 1, 1),  # the stalk dies: its one pup is the clump
        ("fruited", 4, 3, 1),  # three are left standing, and one more
    ],
)
def test_a_banana_clump_is_four_stalks_at_most(growth: Any, stalks: int, pups: int, kept: int) -> None:
    found = gives(MotherSeen(ago(2), growth, pups=pups, stalks=stalks), pups=BANANA)
    assert (found.keep, found.now) == (kept, pups - kept)


@given(st.sampled_from(["growing", "fruited"]), st.integers(0, 8), st.integers(0, 12))
def test_no_clump_dies_out_and_none_grows_too_large(growth: Any, stalks: int, pups: int) -> None:
    rule = PupRule("clump", 4)
    seen = MotherSeen(TODAY, growth, pups=pups, stalks=stalks)
    keep, living = pups_kept(rule, seen, pups), max(stalks - (growth == "fruited"), 0)
    assert 0 <= keep <= pups
    assert keep + living >= min(1, pups + living)
    assert keep == 0 or keep + living <= 4


def test_pups_taken_since_are_gone() -> None:
    seen = MotherSeen(ago(5), "fruited", pups=4)
    assert gives(seen, [(ago(2), 2)], pups=PINEAPPLE).now == 1
    assert gives(seen, [(ago(9), 2)], pups=PINEAPPLE).now == 3, "the count was after that"


def test_when_its_wood_is_in_season(north: Any) -> None:
    rose = handbook()["rosemary"]
    assert wood_opens(handbook()["pineapple"], north, TODAY) == TODAY, "a crown is there whenever its fruit is"
    opens = wood_opens(rose, north, date(2027, 1, 10))
    assert opens is not None
    assert opens > date(2027, 3, 1), "nothing in midwinter: neither soft nor ripe wood"
    assert wood_opens(handbook()["grapevine"], north, date(2027, 1, 10)) == date(2027, 1, 10)


def test_a_mother_gives_something() -> None:
    with pytest.raises(ValueError, match="at least one"):
        gives(gives=0)
