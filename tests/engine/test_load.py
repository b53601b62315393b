"""How things are made ready for a load and set on its floor: edges and places, each by hand."""

from __future__ import annotations

import pytest

from elder.engine.year.load import Journey, LoadPlan, Thing, Vehicle, _Fitted, least_journeys, load_plan

CAR = Vehicle(200, 100, 80, 100)
STRONG = 200.0  # kg that one person may lift: nothing is emptied for the lifting


def thing(name: str, long: float, wide: float, high: float, kg: float, **more: object) -> Thing:
    return Thing(name, name, long, wide, high, kg, **more)  # type: ignore[arg-type]


def keys(journey: Journey) -> set[object]:
    return {one.thing.key for one in journey.stowed}


def only(plan: LoadPlan) -> tuple[float, float, bool, bool]:
    """The floor one thing takes, and whether it lies, and was emptied."""
    ((one,),) = (journey.stowed for journey in plan.journeys)
    return one.long_cm, one.wide_cm, one.lies, one.emptied


@pytest.mark.parametrize(
    ("item", "goes"),
    [
        (thing("as high as there is room", 40, 30, 80, 5), (40, 30, False, False)),
        (thing("a hair too high", 40, 30, 80.1, 5), (80.1, 30, True, False)),  # laid: it stands 40 high
        (thing("laid on its broad side", 90, 30, 120, 5), (120, 90, True, False)),  # 90 would not stand under 80
        (thing("laid just as high", 80, 30, 120, 5), (120, 30, True, False)),
        (thing("as heavy as it carries", 40, 30, 40, 100), (40, 30, False, False)),
        (thing("emptied", 40, 30, 40, 100.5, emptied_kg=20.0), (40, 30, False, True)),
        (thing("light enough to go full", 40, 30, 40, 90, emptied_kg=20.0), (40, 30, False, False)),
    ],
)
def test_a_thing_as_it_goes(item: Thing, goes: tuple[float, float, bool, bool]) -> None:
    sides = sorted(goes[:2])
    found = only(load_plan([item], CAR, limit_kg=STRONG))
    assert (sorted(found[:2]), found[2:]) == (sides, goes[2:])


@pytest.mark.parametrize(
    "item",
    [
        thing("too high, and may not lie", 40, 30, 81, 5, may_lie=False),
        thing("too high either way", 90, 85, 120, 5),
        thing("too heavy", 40, 30, 40, 100.5),
        thing("too long", 201, 30, 40, 5),
    ],
)
def test_what_goes_in_none_is_left(item: Thing) -> None:
    plan = load_plan([item, thing("box", 40, 30, 40, 5)], CAR, limit_kg=STRONG)
    assert [one.key for one in plan.left] == [item.key]
    assert [keys(journey) for journey in plan.journeys] == [{"box"}]


def test_what_two_cannot_lift_is_emptied() -> None:
    """A limit of 15 kg a person: two lift 30."""
    pots = [thing(str(kg), 40, 40, 40, kg, emptied_kg=4.0) for kg in (29.9, 31.0)]
    plan = load_plan(pots, CAR, limit_kg=15)
    assert [one.thing.key for one in plan.emptied] == ["31.0"]
    assert plan.journeys[0].kg == pytest.approx(33.9)
    assert load_plan(pots, CAR, limit_kg=STRONG).emptied == ()


def test_for_a_journey_less_the_heaviest_is_emptied() -> None:
    """110 kg are two journeys for 100; with the 60 kg emptied to ten it is one. The other stays as it is."""
    pots = [thing("fifty", 40, 40, 40, 50, emptied_kg=5.0), thing("sixty", 40, 40, 40, 60, emptied_kg=10.0)]
    plan = load_plan(pots, CAR, limit_kg=STRONG)
    assert [keys(journey) for journey in plan.journeys] == [{"fifty", "sixty"}]
    assert [one.thing.key for one in plan.emptied] == ["sixty"]
    assert plan.journeys[0].kg == 60


def test_nothing_is_emptied_where_it_is_the_floor_that_lacks() -> None:
    """Two boxes of the whole floor: two journeys whatever they weigh; 90 kg would go in one."""
    boxes = [thing(name, 200, 100, 40, 45, emptied_kg=1.0) for name in "ab"]
    plan = load_plan(boxes, CAR, limit_kg=STRONG)
    assert len(plan.journeys) == 2
    assert plan.emptied == ()


def fitted(long: float, wide: float, kg: float) -> _Fitted:
    return _Fitted(thing("one", long, wide, 40, kg), long, wide, kg, lies=False, emptied=False)


@pytest.mark.parametrize(
    ("ready", "least"),
    [
        ([], 1),
        ([fitted(200, 100, 10)], 1),  # just the floor
        ([fitted(200, 100, 10), fitted(1, 1, 1)], 2),
        ([fitted(10, 10, 50), fitted(10, 10, 50)], 1),  # just what it carries
        ([fitted(10, 10, 50), fitted(10, 10, 50.1)], 2),
        ([fitted(10, 10, 90)] * 3, 3),  # 270 kg
        ([fitted(150, 100, 1)] * 3, 3),  # 2.25 floors
    ],
)
def test_no_fewer_journeys_than_floor_and_weight_ask(ready: list[_Fitted], least: int) -> None:
    assert least_journeys(ready, CAR) == least


def test_the_weight_stands_in_front() -> None:
    """Whichever way they were packed, turned so that the middle of the weight lies before the middle of the floor."""
    items = [thing("light", 120, 100, 40, 5), thing("heavy", 60, 100, 40, 50)]
    for order in (items, items[::-1]):
        (journey,) = load_plan(order, CAR).journeys
        at = {one.thing.key: (one.x_cm, one.long_cm) for one in journey.stowed}
        middle = sum(one.kg * (one.x_cm + one.long_cm / 2) for one in journey.stowed) / 55
        assert middle <= 100
        assert at["heavy"][0] + 60 <= at["light"][0] or at["heavy"][0] < at["light"][0]
        assert [one.x_cm for one in journey.stowed] == sorted(one.x_cm for one in journey.stowed)


@pytest.mark.parametrize("sides", [(0, 1, 1, 1), (1, 0, 1, 1), (1, 1, 0, 1), (1, 1, 1, -0.1)])
def test_a_thing_has_three_sides_and_a_weight(sides: tuple[float, float, float, float]) -> None:
    with pytest.raises(ValueError, match="a thing has three sides and a weight"):
        Thing("a", "a", *sides)
    assert Thing("a", "a", 0.5, 0.5, 0.5, 0).kg == 0


@pytest.mark.parametrize("sides", [(0, 1, 1, 1), (1, 0, 1, 1), (1, 1, 0.0, 0), (1, 1, -1, 1)])
def test_a_vehicle_has_a_floor_and_carries_something(sides: tuple[float, float, float, float]) -> None:
    with pytest.raises(ValueError, match="a vehicle has a floor and carries something"):
        Vehicle(*sides)
    assert Vehicle(0.5, 0.5, 0.5, 0.5).carries_kg == 0.5
