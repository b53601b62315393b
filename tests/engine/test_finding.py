"""Plants by people's words. Names and kinship are common knowledge of the trade and of botany (common practice)."""

from __future__ import annotations

import pytest

from elder.engine.handbook.finding import find_plants, kin, plain
from elder.engine.handbook.loading import handbook, named


@pytest.mark.parametrize(
    ("typed", "first", "how"),
    [
        ("tomato", "tomato", "name"),
        ("Tomatoes", "tomato", "name"),
        ("love apples", "tomato", "name"),
        ("sucker", "tomato", "piece"),
        ("slip", "sweet-potato", "piece"),
        ("tops", "pineapple", "piece"),
        ("pineapple top", "pineapple", "piece"),
        ("runners", "strawberry", "piece"),
        ("offset", "banana", "piece"),
        ("pads", "dragon-fruit", "piece"),
        ("shiso", "perilla", "name"),
        ("cilantro", "coriander", "name"),
        ("kumara", "sweet-potato", "name"),
        ("goosegogs", "gooseberry", "name"),
        ("Ocimum basilicum", "basil", "name"),
        ("ocimum", "basil", "beginning"),
        ("aubergines", "tomato", "kin"),
        ("eggplant", "tomato", "kin"),
        ("raspberries", "rose", "kin"),
        ("rosmary", "rosemary", "slip"),
        ("blakcurrant", "blackcurrant", "slip"),
        ("tomatoe", "tomato", "slip"),
        ("cress", "watercress", "within"),
    ],
)
def test_a_word_finds_its_plant(typed: str, first: str, how: str) -> None:
    found = find_plants(typed)[0]
    assert (found.plant.slug, found.how) == (first, how)


def test_one_word_for_several_pieces_finds_them_all_the_usual_first() -> None:
    found = [one.plant.slug for one in find_plants("sucker")]
    assert {"tomato", "banana", "pineapple", "artichoke"} <= set(found)
    assert found.index("tomato") < found.index("artichoke")
    assert {"blackcurrant", "gooseberry", "grapevine"} <= {one.plant.slug for one in find_plants("dormant wood")}


def test_currants_are_of_every_colour() -> None:
    assert {one.plant.slug for one in find_plants("currants")} == {"blackcurrant", "redcurrant"}


def test_kin_says_what_was_asked_for_and_how_it_is_raised() -> None:
    relative = find_plants("garlic")[0].kin
    assert relative is not None
    assert (relative.name, relative.near.slug, relative.by, relative.sown) == (
        "garlic", "onion", "genus", "from cloves or seed",
    )  # fmt: skip
    assert find_plants("eggplant")[0].kin.sown == ""  # type: ignore[union-attr]


def test_nothing_typed_finds_nothing() -> None:
    for typed in ("xyzzy", "hierbabuena", "qq", "armpit shoo-be-doo"):
        found = find_plants(typed)
        names = {name for plant in named().values() for name in (plant.name, *plant.also, plant.latin)}
        assert {one.word for one in found} <= names | {one.name for one in kin().values()}, "names, not pieces"
        assert 1 <= len(found) <= 3
        assert {one.how for one in found} == {"like"}


def test_no_words_are_every_plant() -> None:
    assert [one.plant for one in find_plants("  ")] == list(named().values())


def test_a_plant_of_ones_own_is_found_too() -> None:
    mine = handbook()["unknown-soft"]
    assert find_plants(mine.name, [mine])[0].plant is mine


def test_no_plant_of_the_handbook_is_called_a_relative_too() -> None:
    own = {plain(name) for plant in named().values() for name in (plant.name, *plant.also)}
    assert not own & set(kin())


@pytest.mark.parametrize(
    ("plural", "one"),
    [("berries", "berry"), ("tomatoes", "tomato"), ("leaves", "leaf"), ("radishes", "radish"), ("grass", "grass"),
     ("cactus", "cactus"), ("limes", "lime"), ("Pitayas, Áloe", "pitaya aloe")],
)  # fmt: skip
def test_plurals(plural: str, one: str) -> None:
    assert plain(plural) == one
