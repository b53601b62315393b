"""Day length against a reference library."""

from __future__ import annotations

from datetime import date

import pytest

from elder.engine.climate.daylight import day_length_h, day_lengths
from tests.engine.test_outside import CHECKS

CASES = [
    (given, hours)
    for check in CHECKS["day_length"]
    for given, hours in zip(check["inputs"], check["expected"], strict=True)
]


@pytest.mark.parametrize(("given", "expected"), CASES, ids=[given["case"] for given, _ in CASES])
def test_day_lengths(given: dict[str, float], expected: float) -> None:
    # ephem 4.2.1, sunrise to sunset with the horizon at −0.8333°, from local noon.
    day = date.fromisoformat(str(given["date"]))
    assert day_length_h(given["lat"], given["lon"], day) == pytest.approx(expected, abs=0.05)


def test_polar_day_and_night() -> None:
    # ephem 4.2.1 (AlwaysUpError, NeverUpError) and pyet 1.5.0, Tromsø.
    check = CHECKS["polar"]
    found = [
        day_length_h(check["inputs"]["lat"], check["inputs"]["lon"], date.fromisoformat(day))
        for day in check["inputs"]["dates"]
    ]
    assert found == check["expected"]


def test_a_year_of_days() -> None:
    hours = day_lengths(52.6, -4.1)
    assert hours.shape == (365,)
    assert 16.5 < hours.max() < 17.1
    assert hours.argmax() in range(169, 174)  # about 20 June
    south = day_lengths(-52.6, -4.1)
    assert south.argmin() in range(169, 174)
