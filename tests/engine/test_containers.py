"""What cuttings stand in, worked by hand: rows and solution, pots of the household's own, what may be chosen."""

from __future__ import annotations

from dataclasses import replace

import pytest

from elder.engine.handbook.loading import handbook
from elder.engine.shed.containers import (
    CHOSEN,
    POT,
    Counts,
    Filling,
    final_pot,
    fitting,
    potted_in,
    stands_in,
    stuck_in,
    to_a_pot,
    vessel_for,
)
from elder.engine.shed.kit import AsTreated, Kit, shipped

TOMATO, BASIL, SWEET_POTATO = (handbook()[slug] for slug in ("tomato", "basil", "sweet-potato"))
OURS = Kit(own=(replace(shipped()["litre"], key="square"),))


def test_what_a_way_may_be_stuck_in() -> None:
    assert {one.kind for one in fitting(TOMATO.method("jar"))} == {"jar"}
    assert {one.kind for one in fitting(SWEET_POTATO.method("pot"))} == {"pot", "tray", "bin"}


@pytest.mark.parametrize(("count", "each", "rows"), [(0, 1, 0), (1, 1, 1), (9, 9, 1)])
def test_all_of_them_stand_in_one_row(count: int, each: int, rows: int) -> None:
    filled = stuck_in(TOMATO, TOMATO.method("ground"), count)
    assert filled == Filling(shipped()["row"], each, count, rows)


@pytest.mark.parametrize(
    ("way", "vessel", "count", "each", "vessels"),
    [
        ("growbed-solution", "grow bed", 7, 7, 1),  # all of them in the bed, a hand apart
        ("growbed-solution", "grow bed", 1, 1, 1),
        ("clay-solution", "net pot", 7, 1, 7),  # each in its own
    ],
)
def test_what_grows_on_solution(way: str, vessel: str, count: int, each: int, vessels: int) -> None:
    filled = potted_in(TOMATO, TOMATO.method(way), count)
    assert filled == Filling(shipped()[vessel], each, count, vessels)
    assert final_pot(TOMATO, TOMATO.method(way)) is shipped()[vessel]


def test_what_nobody_chose_is_the_usual_one() -> None:
    jar = TOMATO.method("jar")
    assert vessel_for(TOMATO, jar, {}, OURS) is shipped()["jar"]
    assert vessel_for(TOMATO, jar, {CHOSEN: "square"}, OURS).key == "square"
    assert final_pot(TOMATO, jar, {}, OURS) is shipped()["litre"]
    assert final_pot(TOMATO, jar, {POT: "square"}, OURS).key == "square"


def test_how_many_go_to_one_pot() -> None:
    assert [to_a_pot(one) for one in (TOMATO, BASIL)] == [1, 1]
    assert [to_a_pot(one, for_good=True) for one in (TOMATO, BASIL)] == [1, 3], "herbs that stay in it by threes"
    assert to_a_pot(BASIL, {"to a pot": "4"}) == 4


def test_what_stands_today_stands_in_what_was_chosen() -> None:
    """Of nine stuck in a square pot two were moved on and three potted, four of basil to one square pot."""
    jar = BASIL.method("jar")
    treated = AsTreated({CHOSEN: "square", POT: "square", "to a pot": "4"}, OURS)
    stuck, potted = stands_in(BASIL, jar, Counts(9, 7, 2, 3), treated)
    whole = stuck_in(BASIL, jar, 9, treated.chosen, OURS)
    assert stuck is not None
    assert (stuck.vessel.key, stuck.each, stuck.plants) == ("square", whole.each, 7)
    assert potted is not None
    assert (potted.vessel.key, potted.each, potted.plants, potted.vessels) == ("square", 4, 3, 1)
    assert stands_in(BASIL, jar, Counts(9, 0, 9, 0), treated) == (None, None)
