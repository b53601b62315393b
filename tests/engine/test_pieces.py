"""What is in the hand, in the gardener's word: what each piece of each plant can be, what lying about has cost it, and
keeping it whole. The shares lost are assumed; that they are lost is common practice."""

from __future__ import annotations

from datetime import date

import pytest

from elder.engine.climate.climate import Climate
from elder.engine.handbook.loading import clonable, handbook, unknown
from elder.engine.handbook.model import Plant
from elder.engine.place.warmth import Place
from elder.engine.plan.condition import Condition, costs
from elder.engine.plan.material import (
    PIECES,
    Material,
    cuttings_from,
    dried_already,
    pieces_that_serve,
    reasons_of,
    suits,
)
from elder.engine.plan.windfall import Windfall, what_can_this_become
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting
from elder.web.say.pieces import PIECE_WORDS, WHY_NOT, not_this_piece

JUNE = date(2027, 6, 12)
PLACES = [("sill", Place("room", day_c=20, night_c=17)), ("bed", Place("ground"))]


def ways_of(slug: str, piece: str, state: str = "sound") -> list[str]:
    plant = handbook()[slug]
    return [way.slug for way in plant.methods if way.is_offered and suits(Material(piece, 1, state, 40), way)]


@pytest.mark.parametrize("piece", PIECES)
@pytest.mark.parametrize("slug", sorted(clonable()))
def test_every_piece_of_every_plant_is_answered(slug: str, piece: str) -> None:
    """Either it makes a plant, or the nearest that does is named, and why this does not."""
    plant = handbook()[slug]
    instead = pieces_that_serve(plant, piece)
    assert instead, "something of it does"
    assert all(ways_of(slug, one) for one in instead)
    if ways_of(slug, piece):
        assert instead[0] == piece or len(set(PIECES[instead[0]]) & set(PIECES[piece])) == len(set(PIECES[piece]))
        return
    assert piece not in instead
    said = not_this_piece({"plant": plant.name, "piece": piece, "instead": instead, "state": "sound"})
    assert said == (
        f"Not from that. {plant.name} is not raised from {PIECE_WORDS[piece]}: {WHY_NOT[piece]}. What does: "
        + (" and ".join(PIECE_WORDS[one] for one in instead[:2]) if len(instead) == 2 else said.split("What does: ")[1])
        + ("." if len(instead) == 2 else "")
    )


@pytest.mark.parametrize(
    ("slug", "piece", "ways"),
    [
        ("tomato", "sucker", {"jar", "mix", "plug", "clay", "growbed", "ground"}),
        ("strawberry", "runner", {"plug", "pegged", "ground"}),
        ("pineapple", "crown", {"peeled", "jar", "unpeeled", "growbed", "pup"}),
        ("banana", "sucker", {"pup", "ground"}),
        ("rhubarb", "crown", {"ground", "pot"}),
        ("grapevine", "stick", {"stick", "ground", "jar", "growbed"}),
        ("dragon-fruit", "joint", {"gritty", "jar", "ground", "growbed"}),
        ("sugar-cane", "joint", {"mix", "ground"}),
        ("sweet-potato", "slip", {"pot", "jar", "bed", "growbed"}),
        ("rosemary", "heel", {"gritty"}),
        ("mint", "runner", {"division"}),
        ("perilla", "rooted piece", {"lifted"}),
        ("vanilla", "joint", {"bark", "moss"}),
        ("tomato", "leaf", set()),
        ("strawberry", "leaf", set()),
        ("mint", "slip", set()),
    ],
)
def test_what_people_call_it(slug: str, piece: str, ways: set[str]) -> None:
    found = {way for way in ways_of(slug, piece) if not way.endswith(("-straight-out", "-solution"))}
    assert found == ways


def test_a_woody_shoot_of_a_tomato_is_not_struck_as_it_is() -> None:
    tomato = handbook()["tomato"]
    instead = pieces_that_serve(tomato, "shoot")
    assert instead[0] == "shoot"
    said = not_this_piece({"plant": "Tomato", "piece": "shoot", "instead": instead, "state": "woody"})
    assert said == (
        "Not as it is. Tomato is not struck from a shoot that is woody. What does: a shoot, a tip and a pruning."
    )


@pytest.mark.parametrize(
    ("slug", "way", "kept", "days", "share"),
    [
        ("tomato", "jar", "dry", 0, 1.0),
        ("tomato", "jar", "dry", 1, 0.5),
        ("tomato", "jar", "dry", 2, 0.1),
        ("tomato", "jar", "bag", 1, 1.0),
        ("tomato", "jar", "bag", 2, 0.9),
        ("tomato", "jar", "bag", 4, 0.6),
        ("tomato", "jar", "water", 4, 1.0),
        ("tomato", "jar", "water", 5, 0.9),
        ("mint", "division", "dry", 1, 0.8),
        ("mint", "division", "dry", 3, 0.1),
        ("pineapple", "peeled", "dry", 4, 1.0),  # the better for it
        ("pineapple", "peeled", "dry", 21, 0.85),
        ("pineapple", "peeled", "water", 1, 0.8),
        ("dragon-fruit", "gritty", "bag", 2, 0.8),
        ("grapevine", "stick", "bag", 20, 1.0),
        ("grapevine", "stick", "dry", 2, 0.8),
        ("grapevine", "stick", "dry", 5, 0.5),
    ],
)
def test_what_lying_about_has_cost(slug: str, way: str, kept: str, days: int, share: float) -> None:
    method = handbook()[slug].method(way)
    reasons = reasons_of(Material("tip", 1, "sound", 40, cut_days=days, kept=kept), method)
    assert Condition.of(reasons).share == pytest.approx(share)
    assert all(costs()[name].words for name in reasons if name != "sound")


@pytest.mark.parametrize(("kept", "days", "left"), [("dry", 4, 0), ("dry", 1, 2), ("bag", 4, 3), ("dry", 0, 3)])
def test_days_it_has_lain_dry_need_not_be_waited_again(kept: str, days: int, left: int) -> None:
    way = handbook()["pineapple"].method("peeled")
    assert way.dry_days == 3
    assert dried_already(Material("top", 1, "sound", cut_days=days, kept=kept), way).dry_days == left


def test_a_stem_cut_up_or_kept_whole() -> None:
    """A branch of 45 cm, 5 of it bruised: three of 12 cm, or one, which is longer than the usual."""
    jar = handbook()["tomato"].method("jar")
    branch = Material("broken stem", 1, "sound", 45)
    assert (cuttings_from(branch, jar), cuttings_from(branch.uncut, jar)) == (3, 1)
    assert reasons_of(branch, jar) == ("sound",)
    assert reasons_of(branch.uncut, jar) == ("sound", "longer")
    assert reasons_of(Material("shoot", 1, "sound", 15.5, whole=True), jar) == ("sound",), "15.5 of 12 is not longer"
    assert reasons_of(Material("shoot", 1, "sound", 15.6, whole=True), jar) == ("sound", "longer")
    assert cuttings_from(Material("shoot", 4, "sound", 30, whole=True), jar) == 4


def test_longer_pieces_take_less_and_are_sooner() -> None:
    way = handbook()["tomato"].method("jar")
    longer, shorter = Condition.of(["longer"]), Condition.of(["shorter"])
    assert longer.lowers(way.take).mean == pytest.approx(0.9 * 0.93)
    assert shorter.lowers(way.take).mean == pytest.approx(0.9 * 1.04)
    assert shorter.lowers(handbook()["watercress"].method("jar").take).mean == 0.99, "some are lost whatever the size"
    grown = longer.slowed(way).establish
    assert grown is not None
    assert (grown.early, grown.late) == (6, 11)  # 8 to 14 days, by 0.75; whole days, the longest last
    assert longer.slowed(way).rooting == way.rooting
    later = shorter.slowed(way).establish
    assert later is not None
    assert (later.early, later.late) == (11, 19)
    ground = handbook()["tomato"].method("ground")
    assert longer.slowed(ground).establish is None


def becomes(plant: Plant, material: Material, climate: Climate) -> Windfall | Refusal:
    setting = Setting(plant, plant.methods[0], climate, PLACES[0][1], PLACES[0][1], JUNE)
    return what_can_this_become(material, setting, PLACES)


def test_both_answers_are_computed(north: Climate) -> None:
    found = becomes(handbook()["tomato"], Material("broken stem", 1, "sound", 45), north)
    assert isinstance(found, Windfall)
    by_way = {option.method.slug: option for option in found.options}
    jar = by_way["jar-straight-out"]
    assert (jar.cuttings, jar.whole and jar.whole.cuttings) == (3, 1)
    assert jar.whole
    assert jar.whole.flags == ("longer",)
    assert jar.whole.take.mean == pytest.approx(0.9 * 0.93)
    assert jar.places == ("sill", "sill")
    short = becomes(handbook()["tomato"], Material("shoot", 2, "sound", 14), north)
    assert isinstance(short, Windfall)
    assert all(option.whole is None for option in short.options), "there is nothing to cut up"


def test_a_top_that_has_dried_is_stuck_at_once(north: Climate) -> None:
    fresh, lain = (
        becomes(handbook()["pineapple"], Material("top", 1, "sound", cut_days=days, kept="dry"), north)
        for days in (0, 4)
    )
    assert isinstance(fresh, Windfall)
    assert isinstance(lain, Windfall)
    rooted = [
        next(option.rooted for option in found.options if option.method.slug == "peeled") for found in (fresh, lain)
    ]
    assert rooted[0]
    assert rooted[1]
    assert (rooted[0] - rooted[1]).days == 3


def test_what_nobody_knows_is_struck_the_cautious_way(north: Climate) -> None:
    assert set(unknown()) == {f"unknown-{habit}" for habit in ("soft", "woody", "bare", "fleshy", "clump")}
    assert not set(unknown()) & set(clonable())
    for plant in unknown().values():
        assert all(way.take.weight <= 4 for way in plant.ways), "little is known of it"
        assert any("not eaten" in caution.text for caution in plant.cautions)
    found = becomes(unknown()["unknown-soft"], Material("tip", 3, "soft", 12), north)
    assert isinstance(found, Windfall)
    assert {option.method.slug for option in found.options} == {"mix", "jar"}


def test_a_piece_is_kept_in_a_way_there_is() -> None:
    with pytest.raises(ValueError, match="kept in no such way"):
        Material("tip", 1, "sound", 10, kept="pocket")
    with pytest.raises(ValueError, match="kept in no such way"):
        Material("tip", 1, "sound", 10, cut_days=31)
