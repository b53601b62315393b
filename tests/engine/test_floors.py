"""What stands on a floor, kind by kind: counts by hand, and nothing in another’s place or over the edge."""

from __future__ import annotations

import itertools
import math
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from elder.engine.shed.packing import Floor, Several, arrange, holds, packed, share_of
from elder.engine.shed.vessels import Vessel, shipped, vessel_of

VESSELS = shipped()


def square(side: float) -> Vessel:
    return vessel_of({"key": f"s{side}", "kind": "pot", "one": "x", "many": "x", "shape": {"box": [side, side, 5]}})


def oblong(long: float, wide: float) -> Vessel:
    return vessel_of(
        {"key": f"{long}x{wide}", "kind": "tray", "one": "x", "many": "x", "shape": {"box": [long, wide, 5]}}
    )


TEN = vessel_of({"key": "c", "kind": "pot", "one": "x", "many": "x", "shape": {"cylinder": [10, 5]}})


@pytest.mark.parametrize(
    ("vessel", "floor", "many"),
    [
        # Pots of 13 cm on 90 × 25: a second row of six in the gaps of the first, 13 + 13·√3/2 = 24.26 cm deep.
        (VESSELS["pot"], (90, 25), 12),
        # A little less, and the rows move together: h = 11.2, half the way √(13² − 11.2²) = 6.60, so 6 and 6 on 90.
        (VESSELS["pot"], (90, 24.2), 12),
        (VESSELS["pot"], (85.5, 24.2), 11),  # the twelfth would end at 13 + 11 · 6.60 = 85.6
        (VESSELS["pot"], (90, 19.4), 7),  # h = 6.4, half the way √(13² − 6.4²) = 11.32: four and three on 90
        (VESSELS["pot"], (36, 25.9), 4),  # three rows would take five, the first and the third of them touching
        (VESSELS["pot"], (60, 31.9), 9),  # three rows 9.45 apart, half the way 8.93: 3, 3 and 3
        (VESSELS["pot"], (25, 90), 12),
        (VESSELS["pot"], (26, 26), 4),
        (VESSELS["pot"], (13, 13), 1),
        (VESSELS["pot"], (12.9, 40), 0),
        (VESSELS["jar"], (90, 25), 33),  # a grid of 11 by 3; in the gaps only 11 + 10 + 11
        (VESSELS["jar"], (40, 40), 25),
        # Ten centimetres across, rows 8.66 apart: (100 − 10)/8.66 + 1 = 11 rows, 6 of ten and 5 of nine.
        (TEN, (100, 100), 105),
        (square(3), (9, 9), 9),
        (oblong(2, 1), (3, 3), 4),  # dominoes: two one way and two the other
        (oblong(3, 2), (5, 5), 4),  # four tiles about a gap of one
        (oblong(27, 18), (90, 25), 3),
        (oblong(5, 3), (4, 20), 4),  # only turned
    ],
)  # fmt: skip
def test_how_many_of_a_kind_a_floor_holds(vessel: Vessel, floor: tuple[float, float], many: int) -> None:
    assert holds(vessel, Floor(*floor)) == many


def apart(one: Any, other: Any) -> bool:
    """Whether two containers stand clear of each other."""
    if one.vessel.is_round and other.vessel.is_round:
        across = math.hypot(
            one.x_cm + one.long_cm / 2 - other.x_cm - other.long_cm / 2,
            one.y_cm + one.wide_cm / 2 - other.y_cm - other.wide_cm / 2,
        )
        return across >= (one.long_cm + other.long_cm) / 2 - 1e-5
    return (
        one.x_cm + one.long_cm <= other.x_cm + 1e-5
        or other.x_cm + other.long_cm <= one.x_cm + 1e-5
        or one.y_cm + one.wide_cm <= other.y_cm + 1e-5
        or other.y_cm + other.wide_cm <= one.y_cm + 1e-5
    )


@settings(max_examples=80, deadline=None)
@given(
    st.lists(st.tuples(st.sampled_from(["jar", "pot", "tray", "bag", "gallon"]), st.integers(0, 7)), max_size=4),
    st.floats(10, 150),
    st.floats(8, 90),
)
def test_nothing_stands_in_anothers_place_or_over_the_edge(
    kinds: list[tuple[str, int]], long: float, wide: float
) -> None:
    wanted = [Several(VESSELS[key], many, i) for i, (key, many) in enumerate(kinds)]
    found = arrange(wanted, Floor(long, wide))
    assert len(found.placed) + sum(one.count for one in found.left) == sum(many for _, many in kinds)
    for one in found.placed:
        assert min(one.x_cm, one.y_cm) >= -1e-6
        assert one.x_cm + one.long_cm <= long + 1e-5
        assert one.y_cm + one.wide_cm <= wide + 1e-5
    assert all(apart(one, other) for one, other in itertools.combinations(found.placed, 2))
    for i, (key, many) in enumerate(kinds):
        stands = sum(one.owner == i for one in found.placed)
        assert stands + sum(one.count for one in found.left if one.owner == i) == many
        assert stands <= holds(VESSELS[key], Floor(long, wide))


def test_kinds_stand_side_by_side_and_owners_keep_their_own() -> None:
    floor = Floor(90, 25)
    full = arrange([Several(VESSELS["pot"], 12, "a")], floor)
    assert (len(full.placed), full.left) == (12, ())
    over = arrange([Several(VESSELS["pot"], 9, "a"), Several(VESSELS["pot"], 5, "b")], floor)
    assert over.left == (Several(VESSELS["pot"], 2, "b"),)
    # Two trays of 27 × 18 on 54 cm of the shelf leave 36 cm: pots of 13 cm go 2 and 2 there, in the gaps.
    mixed = arrange([Several(VESSELS["tray"], 2, "t"), Several(VESSELS["pot"], 4, "p")], floor)
    assert (len(mixed.placed), mixed.left) == (6, ())
    assert min(one.x_cm for one in mixed.placed if one.owner == "p") == pytest.approx(54)
    # Kind by kind the long boxes leave no strip; as rectangles both kinds find room.
    fitted = arrange([Several(oblong(10, 4), 2, "l"), Several(square(5), 1, "s")], Floor(10, 13))
    assert len(fitted.placed) == 3
    assert [share_of(VESSELS["pot"], many, floor) for many in (6, 12, 18)] == [0.5, 1.0, 1.5]
    assert share_of(VESSELS["gallon"], 1, Floor(10, 10)) > 1
    with pytest.raises(ValueError, match="two sides"):
        Floor(0, 10)
    assert packed(VESSELS["pot"], floor)[0].x_cm == 0
