"""What Elder takes for granted, value by value."""

from __future__ import annotations

from typing import Any

import pytest

from elder.engine.assumptions import Assumptions


def test_the_usual_values() -> None:
    usual = Assumptions()
    assert (usual.years, usual.speed_sd, usual.look_every_days, usual.dear_share) == (20, 0.20, 3, 0.2)
    assert (usual.carry_nights, usual.slack_days, usual.stand_share, usual.stand_weight) == (7, 7, 0.95, 20.0)


def test_the_ideal_is_one_year_one_speed_a_look_a_day_and_nothing_lost() -> None:
    ideal = Assumptions.ideal()
    assert (ideal.years, ideal.speed_sd, ideal.look_every_days, ideal.carry_nights) == (1, 0.0, 1, None)
    assert (ideal.stand_share, ideal.dear_share, ideal.slack_days) == (1.0, 0.2, 7)


# A fifth more than the fewest, rounded; one more at the least.
@pytest.mark.parametrize(
    ("fewest", "allowed"), [(1, 2), (4, 5), (7, 8), (8, 10), (12, 14), (13, 16), (40, 48), (100, 120)]
)
def test_so_many_still_count_as_few(fewest: int, allowed: int) -> None:
    assert Assumptions().allowed(fewest) == allowed


@pytest.mark.parametrize(
    ("value", "why"),
    [
        ({"stand_share": 0.0}, "a share of the rooted comes to stand, and is worth something"),
        ({"stand_share": 1.01}, "a share of the rooted comes to stand, and is worth something"),
        ({"stand_weight": 0.0}, "a share of the rooted comes to stand, and is worth something"),
        ({"years": 0}, "there is a year and a look at least, and no share or spread is negative"),
        ({"look_every_days": 0}, "there is a year and a look at least, and no share or spread is negative"),
        ({"speed_sd": -0.01}, "there is a year and a look at least, and no share or spread is negative"),
        ({"dear_share": -0.01}, "there is a year and a look at least, and no share or spread is negative"),
    ],
)
def test_a_value_that_cannot_be_is_refused(value: dict[str, Any], why: str) -> None:
    with pytest.raises(ValueError, match=f"^{why}$"):
        Assumptions(**value)


@pytest.mark.parametrize(
    "value",
    [{"stand_share": 0.01}, {"stand_share": 1.0}, {"stand_weight": 0.5}, {"years": 1}, {"look_every_days": 1},
     {"speed_sd": 0.0}, {"dear_share": 0.0}],
)  # fmt: skip
def test_a_value_at_its_bound_is_one(value: dict[str, Any]) -> None:
    assert vars(Assumptions(**value)).items() >= value.items()
