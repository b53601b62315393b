"""What becomes of a plant that is moved with, each field of each answer; cuttings that root in time or travel."""

from __future__ import annotations

from datetime import date, timedelta

import pytest

from elder.engine.climate.climate import Climate
from elder.engine.handbook.loading import handbook
from elder.engine.place.warmth import Place
from elder.engine.plan.wood import MotherHere
from elder.engine.year.moving import MoveAnswer, MoveWay, ToMove, cutting_way, move_answer
from elder.engine.year.root_ball import ball_of

APRIL, OCTOBER = date(2027, 4, 6), date(2027, 10, 9)
POT, DIG, CUTTINGS, SEED, LEAVE = MoveWay.POT, MoveWay.DIG, MoveWay.CUTTINGS, MoveWay.SEED, MoveWay.LEAVE


def thing(slug: str, height: float = 60, stem: float = 1.0, **more: object) -> ToMove:
    return ToMove(handbook()[slug], bool(more.get("kg")), height, stem, float(more.get("kg", 0.0)))  # type: ignore[arg-type]


def told(slug: str, way: MoveWay, *why: str, by: str = "", **more: object) -> MoveAnswer:
    return MoveAnswer(way, why, cut=handbook()[slug].method(by) if by else None, **more)  # type: ignore[arg-type]


def test_every_field_of_every_answer(quenby: Climate) -> None:
    """Cut by the surest way whose wood is in season by then; what is not dug has no ball, no days, no weight."""
    cool, clump, bush = (date(2027, 10, 1), date(2027, 10, 8)), ball_of(25, 0.0), ball_of(75, 1.8)
    july = date(2027, 7, 1), date(2027, 7, 20)
    for one, (today, day), answer in (
        (thing("fig", kg=56), (APRIL, OCTOBER),
         told("fig", POT, "in_pot", "too_heavy_full", by="bag", kg=56, people=0, may=(POT, CUTTINGS, LEAVE))),
        (thing("tomato"), (APRIL, OCTOBER),
         told("tomato", SEED, "one_summer", "comes_true", by="jar", may=(DIG, CUTTINGS, SEED, LEAVE))),
        (thing("scented-pelargonium"), (APRIL, OCTOBER),
         told("scented-pelargonium", CUTTINGS, "one_summer", "not_true", by="gritty", may=(DIG, CUTTINGS, LEAVE))),
        (thing("scented-pelargonium"), (APRIL, APRIL),
         told("scented-pelargonium", LEAVE, "one_summer", "no_wood", may=(DIG, LEAVE))),
        (thing("rhubarb"), (APRIL, OCTOBER),
         told("rhubarb", DIG, "clump", ball=clump, kg=clump.kg, dig=cool, may=(DIG, SEED, LEAVE))),
        (thing("fuchsia", 80), (APRIL, OCTOBER),
         told("fuchsia", CUTTINGS, "roots_easily", by="mix", may=(DIG, CUTTINGS, LEAVE))),
        (thing("blackcurrant", 75, 1.8), july,
         told("blackcurrant", DIG, "years_to_bear", ball=bush, kg=bush.kg, people=2, must=True,
              dig=(date(2027, 7, 15), date(2027, 7, 19)), may=(DIG, LEAVE))),
    ):  # fmt: skip
        assert move_answer(one, quenby, today=today, day=day) == answer, (one.plant.slug, day)


# Gooseberries are struck of dormant sticks alone, which are there until 9 April here; nine in ten are rooted after
# 95 days, and bare sticks bear a fortnight in a parcel.
LAST = date(2027, 4, 9)


@pytest.mark.parametrize(
    ("today", "day", "comes"),
    [
        (LAST, LAST + timedelta(days=96), True),  # cut today, rooted the day before
        (LAST, LAST + timedelta(days=95), False),
        (LAST + timedelta(days=1), LAST + timedelta(days=97), False),  # no wood
        (date(2027, 3, 20), LAST + timedelta(days=14), True),  # cut on the last day, and sent
        (date(2027, 3, 20), LAST + timedelta(days=15), False),
        (LAST, LAST + timedelta(days=1), True),
        (LAST, LAST, False),  # the day itself
    ],
)
def test_sticks_that_root_in_time_or_travel(quenby: Climate, today: date, day: date, *, comes: bool) -> None:
    found = cutting_way(thing("gooseberry"), quenby, today, day)
    assert (found.slug if found else None) == ("stick" if comes else None)


def test_a_mother_indoors_has_her_own_season(quenby: Climate) -> None:
    """A fuchsia grows on in a warm room in January, when nothing soft is to be had out of doors."""
    january, spring = date(2027, 1, 5), date(2027, 2, 10)
    outdoors = thing("fuchsia")
    warm = ToMove(outdoors.plant, True, 60, 1.0, 4.0, MotherHere(Place("room", day_c=21, night_c=19)))
    assert cutting_way(outdoors, quenby, january, spring) is None
    assert cutting_way(warm, quenby, january, spring) is not None
