"""How a plant is potted, as the bench's own table has it: a bin turned out another way, pots of the household's own."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

from elder.engine.handbook.loading import handbook
from elder.engine.round.potting import ladder, potting_of
from elder.engine.shed.containers import CHOSEN, POT
from elder.engine.shed.kit import PLAIN, Kit, shipped
from elder.engine.shed.mix import usual_recipe

TOMATO, PINEAPPLE, SWEET_POTATO, VINE, FIG = (
    handbook()[slug] for slug in ("tomato", "pineapple", "sweet-potato", "grapevine", "fig")
)
BIN = {CHOSEN: "bin"}
OURS = Kit(own=(replace(shipped()["bin"], key="crate"), replace(shipped()["litre"], key="square")))
FROM_BIN = "Lay the bin on its side on a sheet, and let the mix slide out in one piece."
FROM_MIX = "Tip the pot on its side and tap it out; hold it by a leaf, not by the stem."
FROM_STICK = (
    "Lay a full vessel on its side and let the mix run out; lift each stick from among the roots, none is drawn out."
)
FROM_JAR = "Fill the pot loosely, and make a hole wide enough that no root is bent."


def first_step(slug: str, way: str, chosen: dict[str, str] | None = None, kit: Kit = PLAIN) -> str:
    plant = handbook()[slug]
    return potting_of(plant, plant.method(way), chosen, kit).steps[0]


def test_a_bin_of_many_is_turned_out_as_no_pot_is() -> None:
    assert first_step("tomato", "mix") == FROM_MIX
    assert first_step("tomato", "mix", BIN) == FROM_BIN
    assert first_step("grapevine", "stick") == FROM_STICK
    assert first_step("grapevine", "stick", BIN) == FROM_BIN
    assert first_step("tomato", "mix", {CHOSEN: "crate"}, OURS) == FROM_BIN  # a bin of their own is one
    assert first_step("tomato", "mix", {CHOSEN: "crate"}) == FROM_MIX  # and nothing where they have none
    assert first_step("tomato", "jar", BIN) == FROM_JAR  # what stood in water comes out of it


def test_a_potting_is_what_the_table_says() -> None:
    found = potting_of(TOMATO, TOMATO.method("mix"))
    assert found.vessel is shipped()["litre"]
    assert found.litres == shipped()["litre"].volume_l
    assert found.recipe == usual_recipe(TOMATO, TOMATO.method("mix"), "pot")
    assert found.feed == "None for a fortnight, then at half the label's strength once a week or two."
    assert found.feed_strength == "At half the label's strength."
    assert (found.support_kind, found.support) == ("stake", "A cane a finger from the stem, tied in a loose eight.")
    assert found.repot[1] == "Fresh mix below and round it, the ball at the depth it stood, no deeper."
    assert len(found.repot) == 3
    assert found.fill_up == "A finger of mix round the stem, up to its lowest leaves: it roots all along."
    assert found.fill_up_after == 14
    top = potting_of(PINEAPPLE, PINEAPPLE.method("peeled"))
    assert top.feed_strength == "At a quarter of the label's strength, none in the crown."
    assert (top.fill_up, top.support, top.support_kind) == ("", "", "")
    assert potting_of(VINE, VINE.method("stick")).support_kind == "climb"


def test_in_what_was_chosen_and_what_a_household_has() -> None:
    jar = TOMATO.method("jar")
    assert potting_of(TOMATO, jar, {POT: "square"}, OURS).vessel.key == "square"
    assert potting_of(TOMATO, jar, {POT: "square"}).vessel is shipped()["litre"]
    usual = usual_recipe(TOMATO, jar, "pot")
    assert usual is not None
    own = replace(usual, key="heap")
    kit = Kit(mixes=(own,), usual={usual.key: "heap", "litre": "gallon"})
    assert potting_of(TOMATO, jar, None, kit).recipe is own
    assert potting_of(TOMATO, jar, None, kit).vessel is shipped()["gallon"]


def test_the_first_pot_of_a_ladder_is_the_one_it_stands_in() -> None:
    day, way = date(2027, 4, 1), FIG.methods[0]
    usual = ladder(FIG, way, day)
    assert [(rung.vessel.key, rung.due) for rung in usual] == [
        ("gallon", day),
        ("six-gallon", date(2027, 11, 27)),  # 240 days on
        ("forty-litre", date(2029, 3, 31)),  # 730
    ]
    assert ladder(FIG, way, day, {POT: "square"}, OURS)[0].vessel.key == "square"
    swapped = ladder(FIG, way, day, None, Kit(usual={"gallon": "litre", "six-gallon": "gallon"}))
    assert [rung.vessel.key for rung in swapped] == ["litre", "gallon", "forty-litre"]
    assert [(rung.vessel.key, rung.due) for rung in ladder(SWEET_POTATO, SWEET_POTATO.methods[0], day)] == [
        ("litre", day)
    ]
