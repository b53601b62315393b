"""Where cuttings are best rooted and grown on here: the rule by itself, with days and nights given."""

from __future__ import annotations

from datetime import date
from typing import Any

import pytest

from elder.engine.handbook.loading import handbook
from elder.engine.setting import Setting
from elder.web.read.gardens import assumptions_of, climate_of, place_of
from elder.web.read.wants import reckon_all
from elder.web.season import better_place
from elder.web.season.better_place import best_places, place_words
from tests.factories import PlaceFactory, WantFactory
from tests.web.presses import TODAY


@pytest.fixture
def asked(garden: Any) -> Any:
    """The best places for a tomato of a sill and a lean-to, whose days and cold nights are as given."""
    sill, lean = garden.places.get(), PlaceFactory(garden=garden, name="Lean-to", standing="air")
    plant, spot = handbook()["tomato"], place_of(sill)
    setting = Setting(plant, plant.ways[0], climate_of(garden), spot, spot, date(2027, 4, 6), assumptions_of(garden))

    def best(
        monkeypatch: pytest.MonkeyPatch, rooted: tuple[int, int], ready: tuple[int, int], nights: float = 0
    ) -> Any:
        days = {"rooted": rooted, "ready": ready}

        def days_there(there: Setting, _: date, stage: str) -> int:
            place = there.rooting_place if stage == "rooted" else there.growing_place
            return days[stage][place != spot]

        monkeypatch.setattr(better_place, "_days", days_there)
        monkeypatch.setattr(better_place, "nights_below", lambda _, place, *__: 0.0 if place == spot else nights)
        found = best_places(setting, [sill, lean])
        assert found
        return found[0].name, found[1].name

    return best


def test_it_is_moved_for_more_than_a_tenth_of_the_days(asked: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    assert asked(monkeypatch, (10, 12), (33, 30)) == ("Kitchen sill", "Kitchen sill")
    assert asked(monkeypatch, (10, 12), (34, 30)) == ("Kitchen sill", "Lean-to")


def test_not_where_more_nights_are_too_cold_than_one_carries_in(asked: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    assert asked(monkeypatch, (12, 10), (30, 25), nights=7.4) == ("Lean-to", "Lean-to")
    assert asked(monkeypatch, (12, 10), (30, 25), nights=7.6) == ("Kitchen sill", "Kitchen sill")


def test_what_comes_after_a_slow_place_is_not_blamed_for_it(garden: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    WantFactory(garden=garden, rooting_place=garden.places.get())
    monkeypatch.setattr(better_place, "_cold_words", lambda *_: "")
    monkeypatch.setattr(better_place, "_slow_words", lambda *_: "Slow here.")
    assert place_words(reckon_all(garden, TODAY)[0], garden) == "Slow here."
