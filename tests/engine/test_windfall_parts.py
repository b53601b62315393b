"""What a windfall is worth, and which pairs of places are looked at closely: small tables worked out by hand."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from types import SimpleNamespace
from typing import Any

import numpy as np
import pytest

from elder.engine.assumptions import Assumptions
from elder.engine.climate.climate import Climate
from elder.engine.climate.frost import FROST_FREE
from elder.engine.handbook.loading import handbook
from elder.engine.place.warmth import Place
from elder.engine.plan import windfall_pairs, windfall_worth
from elder.engine.plan.light_needs import LightFit, Suited
from elder.engine.plan.planting_windows import PlantingWindow
from elder.engine.plan.side_by_side import SideBySide
from elder.engine.plan.windfall_pairs import Glance, Glanced, Pair, best_looking
from elder.engine.plan.windfall_worth import REACH_DAYS, Season, Worth, day_at
from elder.engine.plan.wintering import keeps_at
from elder.engine.setting import Setting

TODAY = date(2027, 6, 12)
TOMATO, VINE = handbook()["tomato"], handbook()["grapevine"]  # a tomato waits 28 days in its pot
DIRECT = next(way for way in handbook()["blackcurrant"].methods if way.direct)  # sticks, struck where they stand
SILL, BED = Place("room", day_c=20, night_c=17), Place("ground")
NEVER = np.zeros(REACH_DAYS)


def day(number: int) -> date:
    return TODAY + timedelta(days=number)


def window(opens: int, shuts: int) -> PlantingWindow:
    return PlantingWindow(day(opens), day(shuts), (), (), None, None)


def asked(climate: Climate, way: str = "jar", **more: Any) -> Setting:
    return Setting(TOMATO, TOMATO.method(way), climate, SILL, SILL, TODAY, **more)


def season(climate: Climate, *windows: PlantingWindow, risk: float = 0.1) -> Season:
    """A season in which a tomato goes out in those windows alone; the next midwinter is 190 days off."""
    found = Season(climate, TODAY, risk)
    found._windows[TOMATO] = found._windows[VINE] = list(windows)
    vars(found)["_midwinter"] = 190
    return found


# Days to most being ready and to half; what it is worth, and the day out.
@pytest.mark.parametrize(
    ("windows", "settled", "half", "kept", "worth", "out"),
    [
        ([(20, 60)], 30, 25, False, Worth.THIS_YEAR, 30),
        ([(20, 60)], 5, 3, False, Worth.THIS_YEAR, 20),  # waits seventeen days for the gate
        ([(20, 60)], 60, 32, False, Worth.THIS_YEAR, 60),  # its last day, and waits 28
        ([(20, 60)], 60, 31, False, Worth.KEPT, 60),  # 29 are more than it waits
        ([(0, 60)], 0, 0, False, Worth.THIS_YEAR, 0),  # ready as it is
        ([(20, 60)], 61, 40, True, Worth.KEPT, None),  # too late for the gate
        ([(20, 60)], 61, 40, False, Worth.TOO_LATE, None),
        ([], 0, 0, True, Worth.KEPT, None),
        ([], -1, -1, True, Worth.TOO_LATE, None),  # never ready
        ([], 40, 30, False, Worth.TOO_LATE, None),
        ([(1, 5), (20, 60)], 30, 25, False, Worth.THIS_YEAR, 30),  # not in the first gate, in the second
        ([(200, 300)], 190, 180, True, Worth.STANDS, 200),  # past midwinter
        ([(200, 300)], 190, 180, False, Worth.TOO_LATE, None),
        ([(100, 300)], 190, 180, False, Worth.THIS_YEAR, 190),  # at midwinter itself: not past it
        ([(100, 300)], 191, 180, False, Worth.TOO_LATE, None),
        ([(100, 300)], 191, 180, True, Worth.STANDS, 191),
        ([(201, 300)], 190, 160, True, Worth.KEPT, 201),  # 41 days to wait
    ],
)
def test_what_it_is_worth(
    north: Climate,
    windows: list[tuple[int, int]],
    settled: int,
    half: int,
    *,
    kept: bool,
    worth: Worth,
    out: int | None,
) -> None:
    found = season(north, *(window(*one) for one in windows))
    answer = found.judged(asked(north), (NEVER, settled, half), lambda _: False, kept=kept)
    assert answer == (worth, None if out is None else day(out))


def test_where_it_never_freezes_another_year_begins_with_a_gate_two_hundred_days_off(north: Climate) -> None:
    mild = replace(north, frost=FROST_FREE)
    for opens, worth in ((200, Worth.THIS_YEAR), (201, Worth.STANDS)):
        found = season(mild, window(opens, 300)).judged(asked(mild), (NEVER, 195, 190), lambda _: False, kept=True)
        assert found == (worth, day(opens))


def test_bare_wood_bears_the_winter_that_a_plant_in_leaf_does_not(north: Climate) -> None:
    sticks = replace(asked(north), plant=VINE, method=VINE.method("stick"))
    assert (sticks.method.wood, sticks.method.direct) == ("dormant", False)
    gate = season(north, window(200, 300))
    answer = gate.judged(sticks, (NEVER, 195, 190), lambda _: False, kept=False)
    assert answer == (Worth.STANDS, day(200))
    # Struck where it stands it waits for nothing, however long the gate is off.
    early = gate.judged(replace(sticks, method=DIRECT), (NEVER, 5, 3), lambda _: False, kept=True)
    assert early == (Worth.STANDS, day(200))


def test_too_cold_until_the_day_out_is_too_late(north: Climate) -> None:
    asks: list[date] = []

    def cold(out: date) -> bool:
        asks.append(out)
        return True

    assert season(north, window(20, 60)).judged(asked(north), (NEVER, 30, 25), cold, kept=True) == (
        Worth.TOO_LATE,
        None,
    )
    assert asks == [day(30)]


@pytest.mark.parametrize(
    ("shuts", "share", "out"),
    [(60, 0.5, 60), (60, 0.49, None), (0, 0.5, 0), (-1, 0.9, None), (REACH_DAYS - 1, 0.5, REACH_DAYS - 1),
     (REACH_DAYS, 0.9, None)],
)  # fmt: skip
def test_the_last_day_of_a_gate_does_where_half_are_ready_by_then(
    north: Climate, shuts: int, share: float, out: int | None
) -> None:
    ready = np.full(REACH_DAYS, share)
    found = season(north)._day_out(window(-5, shuts), -1, ready)
    assert found == (None if out is None else day(out))


@pytest.mark.parametrize(
    ("most", "nights", "killed", "too_cold"),
    [(7, 7.4, 0.0, False), (7, 7.6, 0.0, True), (7, 0.0, 0.1, False), (7, 0.0, 0.11, True), (None, 50.0, 0.0, False),
     (None, 50.0, 0.2, True)],
)  # fmt: skip
def test_carried_in_on_too_many_nights_or_killed_too_often(
    north: Climate, monkeypatch: pytest.MonkeyPatch, most: int | None, nights: float, killed: float, *, too_cold: bool
) -> None:
    asks: list[tuple[object, ...]] = []

    def cold_of(*words: object) -> SimpleNamespace:
        asks.append(words)
        return SimpleNamespace(nights=np.array([nights]), killed=np.array([killed]))

    monkeypatch.setattr(windfall_worth, "cold_of", cold_of)
    setting = asked(north, assumptions=Assumptions(carry_nights=most))
    assert season(north).is_too_cold(setting, day(30)) is too_cold
    assert asks == [(setting, TODAY, 1, day(30))]


def test_each_place_is_asked_by_the_risk_that_is_accepted(north: Climate) -> None:
    rack, lit = Place("air", lift_night_c=9.0), Place("air", lift_night_c=40.0)
    lows = [float(low) for low in np.linspace(0, 30, 301)]
    at = next(c for c in lows if not keeps_at(TOMATO, replace(rack, lift_night_c=c), north) and
              keeps_at(TOMATO, replace(rack, lift_night_c=c), north, 0.6))  # fmt: skip
    rack = replace(rack, lift_night_c=at)
    assert season(north, risk=0.6).keeps(TOMATO, rack)
    usual = season(north)
    assert [usual.keeps(TOMATO, place) for place in (rack, lit, rack)] == [False, True, False]


def test_days_from_today() -> None:
    assert (day_at(TODAY, 0), day_at(TODAY, 1), day_at(TODAY, -1)) == (TODAY, day(1), None)


def test_half_are_ready_where_half_are(north: Climate) -> None:
    """Half on day 20 and eight in ten on day 30; the gate stands open: out on day 30, after ten days in a pot."""
    ready = np.zeros(REACH_DAYS)
    ready[20:], ready[30:] = 0.5, 0.8
    found = season(north, window(0, 60))
    vars(found)["_keeps"] = {(TOMATO, SILL): False}
    assert found.worth(asked(north, assumptions=Assumptions(carry_nights=None)), ready) == (Worth.THIS_YEAR, day(30))
    ready[2:20] = 0.5
    ready[1] = 0.49
    late = replace(TOMATO, patience_days=28)
    vars(found)["_keeps"][late, SILL] = False
    vars(found)["_windows"][late] = [window(0, 60)]
    # Half on day 2: 28 days to wait, which it does; half on day 1 would be 29.
    assert found.worth(replace(asked(north), plant=late), ready) == (Worth.THIS_YEAR, day(30))
    ready[1] = 0.5
    assert found.worth(replace(asked(north), plant=late), ready) == (Worth.KEPT, day(30))


NAMES = "abcdef"


def glances(monkeypatch: pytest.MonkeyPatch, *seen: tuple[bool, float, int]) -> Callable[[int], str]:
    """The pairs looked at, by their letters, where a glance gave those: too late, worth so much, out on a day."""
    monkeypatch.setattr(
        windfall_pairs, "_looks", lambda *_: (Glance((late, False), worth, (day(out),)) for late, worth, out in seen)
    )
    pairs: list[Pair] = [((name, SILL), (name, SILL)) for name in NAMES[: len(seen)]]
    return lambda count: "".join(pair[0][0] for pair in best_looking(pairs, object(), count))  # type: ignore[arg-type]


def test_half_are_the_best_and_half_the_soonest_of_those_that_are_nearly_as_good(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    # By worth, to a tenth and then by the day, b, a, c, d, e; f is too late. Nearly as good as twenty: 19.4 and more.
    many = glances(
        monkeypatch,
        *((False, 19.9, 5), (False, 20.0, 9), (False, 19.39, 1), (False, 19.4, 3), (False, 1, 0), (True, 20.0, 0)),
    )
    assert [many(count) for count in (1, 2, 4, 6)] == ["d", "bd", "bad", "bacd"]
    # Of three plants three tenths less will do: 2.7 and more.
    few = glances(monkeypatch, (False, 3.0, 9), (False, 2.7, 1), (False, 2.69, 0))
    assert (few(2), few(3)) == ("ab", "ab")
    # Tenths decide, then the day.
    assert glances(monkeypatch, (False, 3.04, 9), (False, 2.96, 1))(2) == "ba"


@dataclass
class FakeSeason:
    """A season that answers as it is told, and notes what it was asked."""

    answers: list[tuple[Worth, date | None]]
    today: date = TODAY
    asks: list[tuple[Any, ...]] = field(default_factory=list)
    killed: list[tuple[Any, ...]] = field(default_factory=list)

    def keeps(self, plant: object, place: Place) -> bool:
        return place == SILL

    def judged(
        self, setting: Setting, comes: Any, too_cold: Callable[[date], bool], *, kept: bool
    ) -> tuple[Worth, date | None]:
        cold = [too_cold(day(n)) for n in (9, 19, 39)]
        self.asks.append((comes[1], comes[2], kept, cold))
        return self.answers[len(self.asks) - 1]

    def is_too_cold(self, setting: Setting, out: date) -> bool:
        self.killed.append((setting.rooting_place, setting.growing_place, out))
        return True


def looked(
    monkeypatch: pytest.MonkeyPatch, setting: Setting, answers: list[tuple[Worth, date | None]], rooted: int = 20
) -> tuple[list[Glance], FakeSeason, list[date | None]]:
    """Glances at two pairs, of the sill with itself and with the bed. Ready to 0.5 on day 15 and 0.8 on day 25 at the
    sill; never in the bed. A night a day at the sill, two at the bed."""
    ready = np.zeros((1, 2, REACH_DAYS))
    ready[0, 0, 15:], ready[0, 0, 25:], ready[0, 0, REACH_DAYS - 1] = 0.5, 0.8, 0.9
    monkeypatch.setattr(windfall_pairs, "side_by_side", lambda *_: SideBySide(np.array([rooted]), ready))
    said, days = FakeSeason(answers), []

    def light(pair: Pair, on: date | None) -> LightFit:
        days.append(on)
        return LightFit(Suited.NOT if pair[1][0] == "bed" else Suited.BORDERLINE, "")

    glanced = Glanced(setting, said, 4.0, light)  # type: ignore[arg-type]
    nights = np.arange(REACH_DAYS + 1, dtype=float)
    vars(glanced)["_nights"] = {"sill": nights / 5, "bed": nights * 2 / 5}
    pairs: list[Pair] = [(("sill", SILL), ("sill", SILL)), (("sill", SILL), ("bed", BED))]
    return list(windfall_pairs._looks(pairs, glanced)), said, days


def test_a_glance_is_worked_out_by_hand(north: Climate, monkeypatch: pytest.MonkeyPatch) -> None:
    found, said, days = looked(monkeypatch, asked(north), [(Worth.THIS_YEAR, day(25)), (Worth.KEPT, None)])
    # Out on day 25: four that stand times 0.8. Never out of the bed: the last day there is, on which none is ready.
    assert found[0] == Glance((False, False), pytest.approx(3.2), (Worth.THIS_YEAR, day(25), False))
    assert found[1] == Glance((False, True), 0.0, (Worth.KEPT, date.max, True))
    assert days == [day(15), None]
    # Nights until out on day 9: ten days, two nights. Rooted on day 20: on day 39 the sill has had four, and then the
    # sill twenty fifths more, eight in all, more than seven; or the bed forty fifths, twelve.
    assert said.asks == [(25, 15, True, [False, False, True]), (-1, -1, False, [False, False, True])]
    assert not said.killed


def test_what_is_kept_is_worth_half_and_counted_to_the_last_day(
    north: Climate, monkeypatch: pytest.MonkeyPatch
) -> None:
    found, _, _ = looked(monkeypatch, asked(north), [(Worth.KEPT, None), (Worth.TOO_LATE, None)])
    assert found[0] == Glance((False, False), pytest.approx(4 * 0.9 / 2), (Worth.KEPT, day(15), False))
    assert found[1].first == (True, True)


@pytest.mark.parametrize(
    ("rooted", "cold"),
    [
        (-1, ([False, False, True], [False, False, True])),  # never rooted: it stands at the sill throughout, 8 nights
        (0, ([False, False, True], [False, True, True])),  # rooted as it is: in the bed on day 19 for twenty days, 8
        (5, ([False, False, True], [False, False, True])),  # 1 + 15 · 2/5 = 7 nights
        (4, ([False, False, True], [False, False, True])),  # 0.8 + 6.4 = 7.2, which is seven nights
        (3, ([False, False, True], [False, False, True])),  # 0.6 + 6.8 = 7.4
        (2, ([False, False, True], [False, True, True])),  # 0.4 + 7.2 = 7.6: eight
    ],
)
def test_nights_are_those_where_it_stands(
    north: Climate, monkeypatch: pytest.MonkeyPatch, rooted: int, cold: tuple[list[bool], list[bool]]
) -> None:
    _, said, _ = looked(monkeypatch, asked(north), [(Worth.KEPT, None)] * 2, rooted)
    assert tuple(one[3] for one in said.asks) == cold


def test_bare_wood_is_carried_in_on_no_night_before_it_has_roots(
    north: Climate, monkeypatch: pytest.MonkeyPatch
) -> None:
    sticks = replace(asked(north), plant=VINE, method=VINE.method("stick"))
    _, said, _ = looked(monkeypatch, sticks, [(Worth.KEPT, None)] * 2)
    # Rooted on day 20: on day 39 the sill has given four nights since, the bed eight.
    assert [one[3] for one in said.asks] == [[False, False, False], [False, False, True]]


def test_where_nobody_weighs_cold_it_is_never_too_cold(north: Climate, monkeypatch: pytest.MonkeyPatch) -> None:
    setting = asked(north, assumptions=Assumptions(carry_nights=None))
    _, said, _ = looked(monkeypatch, setting, [(Worth.KEPT, None)] * 2)
    assert [one[3] for one in said.asks] == [[False] * 3] * 2


def test_what_is_struck_where_it_stands_may_be_killed_there(north: Climate, monkeypatch: pytest.MonkeyPatch) -> None:
    direct = replace(asked(north), plant=handbook()["blackcurrant"], method=DIRECT)
    _, said, _ = looked(monkeypatch, direct, [(Worth.KEPT, None)] * 2)
    assert said.killed == [(SILL, place, day(n)) for place in (SILL, BED) for n in (9, 19, 39)]
