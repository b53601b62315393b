"""What is in the hand, and what can become of it."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from elder.engine.chance.counting import Take, cuttings_needed, sure_number
from elder.engine.chance.ready_by import first_day_at, ready_from_cut
from elder.engine.climate.climate import Climate
from elder.engine.handbook.loading import handbook
from elder.engine.place.light import Aspect, PlaceLight
from elder.engine.place.warmth import Place
from elder.engine.plan import windfall
from elder.engine.plan.light_needs import fit_on, need_of
from elder.engine.plan.material import PIECES, STATES, Material, cuttings_from
from elder.engine.plan.side_by_side import side_by_side
from elder.engine.plan.windfall import Windfall, what_can_this_become
from elder.engine.plan.windfall_worth import Worth
from elder.engine.refusal import Refusal
from elder.engine.setting import Setting

PLACES = [
    ("sill", Place("room", day_c=20, night_c=17)),
    ("glasshouse", Place("air", lift_day_c=7, lift_night_c=2)),
    ("bed", Place("ground")),
]
JUNE, SEPTEMBER = date(2027, 6, 12), date(2027, 9, 12)


def asked(slug: str, climate: Climate, day: date) -> Setting:
    """A setting whose way and places are not read: any will do, for a plant that has no way as well."""
    plant, anywhere = handbook()[slug], PLACES[0][1]
    return Setting(plant, handbook()["tomato"].methods[0], climate, anywhere, anywhere, day)


def found(
    material: Material, slug: str, climate: Climate, day: date, places: list[tuple[str, Place]] = PLACES
) -> Windfall:
    answer = what_can_this_become(
        material,
        asked(slug, climate, day),
        places,
    )
    assert isinstance(answer, Windfall), answer
    return answer


def refused(material: Material, slug: str, climate: Climate, day: date = JUNE) -> Refusal:
    answer = what_can_this_become(
        material,
        asked(slug, climate, day),
        PLACES,
    )
    assert isinstance(answer, Refusal)
    return answer


def test_a_snapped_tomato_in_june_and_in_september(north: Climate) -> None:
    stem = Material("broken stem", 1, "sound", 45)
    june, september = (found(stem, "tomato", north, day).options[0] for day in (JUNE, SEPTEMBER))
    assert june.worth is Worth.THIS_YEAR
    assert june.plant_out is not None
    assert june.plant_out.year == 2027
    assert june.harvest is not None
    assert june.harvest.year == 2027
    assert september.worth is Worth.KEPT  # too late to crop; the sill keeps a plant through winter
    assert september.plant_out is not None
    assert september.plant_out.year == 2028


def test_without_a_warm_place_september_is_too_late(north: Climate) -> None:
    cold = [("rack", Place("air"))]
    options = found(Material("broken stem", 1, "sound", 45), "tomato", north, SEPTEMBER, cold).options
    assert {option.worth for option in options} == {Worth.TOO_LATE}


def test_the_calendar_turns_with_the_hemisphere(north: Climate, south: Climate) -> None:
    stem = Material("shoot", 3, "soft", 14)
    summers = found(stem, "tomato", north, JUNE), found(stem, "tomato", south, date(2027, 12, 12))
    assert {summer.options[0].worth for summer in summers} == {Worth.THIS_YEAR}
    assert found(stem, "tomato", south, JUNE).options[0].worth is not Worth.THIS_YEAR


def test_a_top_of_a_pineapple(north: Climate, frost_free: Climate) -> None:
    top = Material("top", 1, "sound")
    here = found(top, "pineapple", north, JUNE)
    assert (here.options[0].worth, here.options[0].plant_out) == (Worth.KEPT, None)  # never in open ground here
    assert here.options[0].ready is not None
    assert [option.method.slug for option in here.options][-1] == "unpeeled"
    there = found(top, "pineapple", frost_free, JUNE)
    assert there.options[0].worth is Worth.THIS_YEAR


def test_a_leaf_is_only_ever_a_leaf(north: Climate) -> None:
    answer = found(Material("leaf", 4, "sound"), "citrus", north, JUNE)
    assert answer.options == ()
    assert {item.method.slug for item in answer.not_offered} == {"leaf", "leaf-alone"}


@pytest.mark.parametrize(
    ("slug", "piece", "code"),
    [("lettuce", "shoot", "not_struck"), ("apple", "pruning", "not_struck"), ("mint", "slip", "not_this_piece")],
)
def test_what_cannot_be(north: Climate, slug: str, piece: str, code: str) -> None:
    assert refused(Material(piece, 1, "sound", 30), slug, north).code == code


def test_too_short_is_said(north: Climate) -> None:
    assert refused(Material("shoot", 1, "soft", 3), "tomato", north).code == "too_short"


@pytest.mark.parametrize("state", ["flowering", "wilted"])
def test_a_poor_state_costs_cuttings(north: Climate, state: str) -> None:
    sound, poor = (found(Material("shoot", 10, s, 14), "mint", north, JUNE).options[0] for s in ("sound", state))
    assert poor.likely < sound.likely
    assert poor.flags == (state,)


def test_wood_out_of_season_costs_more(north: Climate) -> None:
    sticks = Material("pruning", 10, "woody", 30)
    winter, summer = (found(sticks, "blackcurrant", north, day) for day in (date(2027, 1, 20), JUNE))
    assert winter.options[0].flags == ()
    assert "out_of_season" in summer.options[0].flags
    assert winter.options[0].likely > 1.5 * summer.options[0].likely


@pytest.mark.parametrize(
    ("material", "slug", "way", "count"),
    [
        (Material("pruning", 3, "woody", 60), "grapevine", "stick", 6),  # two of 25 cm out of each
        (Material("broken stem", 1, "sound", 45), "tomato", "jar", 3),  # 5 cm lost to the break, 12 cm each
        (Material("shoot", 4, "soft", 9), "tomato", "jar", 4),  # short, but three quarters of a cutting serves
        (Material("shoot", 4, "soft", 8), "tomato", "jar", 0),
        (Material("pup", 2, "sound"), "banana", "pup", 2),
    ],
)
def test_how_many_cuttings_are_in_it(material: Material, slug: str, way: str, count: int) -> None:
    assert cuttings_from(material, handbook()[slug].method(way)) == count


@pytest.mark.parametrize("count", [1, 5, 12])
@pytest.mark.parametrize("chance", [0.4, 0.9, 1.0])
def test_the_sure_number_is_the_greatest_that_is_sure(count: int, chance: float) -> None:
    # scipy.stats.binom, the take known.
    take = Take(0.8, float("inf"))
    expected = max(n for n in range(count + 1) if stats.binom.sf(n - 1, count, 0.8 * chance) >= 0.9 - 1e-12)
    assert sure_number(count, chance_ready=chance, take=take, confidence=0.9) == expected
    # And the other way round: that number wants no more cuttings, one more does.
    more = cuttings_needed(expected + 1, chance_ready=chance, take=take, confidence=0.9)
    assert more is None or more > count


def test_a_tender_plant_is_not_left_in_the_ground_through_winter(north: Climate) -> None:
    # Late August: a slip struck in the bed would be ready only after the frost has had it.
    answer = found(Material("slip", 6, "sound"), "sweet-potato", north, date(2027, 8, 25), [("bed", Place("ground"))])
    assert [option.worth for option in answer.options] == [Worth.TOO_LATE]
    # Bare wood of a hardy bush may stand there.
    sticks = found(Material("pruning", 6, "woody", 30), "blackcurrant", north, date(2027, 11, 25), PLACES[2:])
    assert sticks.options[0].worth is not Worth.TOO_LATE


def test_direct_ways_want_a_bed(north: Climate) -> None:
    sticks = Material("pruning", 6, "woody", 30)
    with_bed = found(sticks, "blackcurrant", north, date(2027, 1, 20))
    without = found(sticks, "blackcurrant", north, date(2027, 1, 20), PLACES[:2])
    assert "ground" in {option.method.slug for option in with_bed.options}
    assert "ground" not in {option.method.slug for option in without.options}
    assert all(option.places == ("bed", "bed") for option in with_bed.options if option.method.direct)


@settings(max_examples=80)
@given(
    st.sampled_from(sorted(handbook())),
    st.sampled_from(sorted(PIECES)),
    st.sampled_from(sorted(STATES)),
    st.integers(1, 12),
    st.one_of(st.none(), st.floats(1, 120)),
    st.dates(date(2027, 1, 1), date(2027, 12, 31)),
    st.sampled_from(["north", "south", "frost_free"]),
)
def test_every_piece_has_an_answer(
    climates: dict[str, Climate],
    slug: str,
    piece: str,
    state: str,
    pieces: int,
    length: float | None,
    day: date,
    where: str,
) -> None:
    material = Material(piece, pieces, state, length)
    answer = what_can_this_become(
        material,
        asked(slug, climates[where], day),
        PLACES,
    )
    if isinstance(answer, Refusal):
        assert answer.code in {"not_struck", "not_this_piece", "too_short", "no_place"}
        return
    for option in answer.options:
        assert 0 <= option.sure <= option.cuttings
        assert 0 <= option.likely <= option.cuttings
        if option.worth is not Worth.TOO_LATE:
            assert option.plant_out is None or option.plant_out >= day


@pytest.fixture(scope="module")
def climates(north: Climate, south: Climate, frost_free: Climate) -> dict[str, Climate]:
    return {"north": north, "south": south, "frost_free": frost_free}


def test_nonsense_is_an_error() -> None:
    with pytest.raises(ValueError, match="no such piece"):
        Material("brick", 1, "sound")


def many_places(count: int) -> list[tuple[str, Place]]:
    """Rooms and covers, none like another."""
    found = []
    for i in range(count):
        if i % 2:
            found.append((f"cover {i}", Place("air", lift_day_c=1 + i / 3, lift_night_c=i / 6)))
        else:
            found.append((f"room {i}", Place("room", day_c=15 + i / 2, night_c=12 + i / 2)))
    return found


@pytest.mark.parametrize(("slug", "day"), [("basil", JUNE), ("rosemary", JUNE), ("mint", date(2027, 3, 20))])
def test_the_few_pairs_looked_at_hold_the_best_of_all(
    slug: str, day: date, north: Climate, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Every pair of eight places tried closely gives no more plants, and none sooner by more than two days."""
    shoot, places = Material("shoot", 3, "soft", 30), many_places(8)
    few = {one.method.slug: one for one in found(shoot, slug, north, day, places).options}
    monkeypatch.setattr(windfall, "LOOKED_AT", 10_000)
    every = {one.method.slug: one for one in found(shoot, slug, north, day, places).options}
    assert set(few) == set(every)
    for way, best in every.items():
        mine = few[way]
        assert mine.worth is best.worth, way
        assert mine.likely >= best.likely - 0.1, (way, mine.places, best.places)
        if best.plant_out and mine.plant_out:
            assert mine.plant_out <= best.plant_out + timedelta(days=2), way


def test_places_that_are_alike_are_tried_once(north: Climate, monkeypatch: pytest.MonkeyPatch) -> None:
    tried: list[tuple[str, str]] = []
    look = windfall._Hand._option

    def counting(self: object, method: object, pair: object, *, usual: bool) -> object:
        tried.append((pair[0][0], pair[1][0]))  # type: ignore[index]
        return look(self, method, pair, usual=usual)  # type: ignore[arg-type]

    monkeypatch.setattr(windfall._Hand, "_option", counting)
    same = [(f"sill {i}", Place("room", day_c=20, night_c=17)) for i in range(40)]
    alike = found(Material("tip", 2, "soft", 12), "basil", north, JUNE, same)
    assert set(tried) == {("sill 0", "sill 0")}
    assert {option.places for option in alike.options} == {("sill 0", "sill 0")}


def test_pairs_set_side_by_side_are_what_each_is_by_itself(north: Climate) -> None:
    """Each pair's chance by each day in the year of the normals, within a twentieth; half and most ready within two
    days."""
    basil = handbook()["basil"]
    places = [place for _, place in many_places(4)]
    setting = Setting(basil, basil.method("jar"), north, *places[:2], JUNE)
    table = side_by_side(setting, places, places, JUNE, 200)
    for i, rooting in enumerate(places):
        for j, growing in enumerate(places):
            raising = replace(setting, rooting_place=rooting, growing_place=growing).raising().usual
            alone = ready_from_cut(raising, JUNE, 200)
            assert table.ready[i, j] == pytest.approx(alone.mean_ready, abs=0.05)
            half = int(first_day_at(alone.mean_rooted, 0.5))
            assert int(table.half_rooted[i]) == half
            for mine, theirs in (
                (table.half[i, j], first_day_at(alone.mean_ready, 0.5)),
                (table.settled(0.8)[i, j], first_day_at(alone.mean_ready, 0.8)),
            ):
                assert abs(int(mine) - int(theirs)) <= 2


def test_the_light_is_that_of_the_day_it_grows_on(north: Climate) -> None:
    """A hill keeps the sun from the sill until late in April: too dark for a plant in March, and enough when half are
    ready; rooting stems bear it. What is told is the worse of both: of the plants, not of the stems."""
    tomato, march = handbook()["tomato"], date(2027, 3, 24)
    hill, needs = PlaceLight(aspect=Aspect(skyline=((0.0, 46.0),))), need_of(tomato, tomato.method("jar"), "rooted")
    setting = asked("tomato", north, march)
    answer = what_can_this_become(Material("shoot", 3, "soft", 25.0), setting, PLACES[:1], lights={"sill": hill})
    assert isinstance(answer, Windfall)
    jar = next(option for option in answer.options if option.method.slug == "jar")
    assert jar.ready is not None
    assert jar.light == fit_on(hill, north, needs, jar.ready)
    assert jar.light != fit_on(hill, north, needs, march)
    assert jar.light != fit_on(hill, north, need_of(tomato, jar.method, "unrooted"), march)
