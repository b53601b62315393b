"""Which places suit a plant at a stage by their light: cases worked by hand from the needs as they are written."""

from __future__ import annotations

from datetime import date

import pytest

from elder.engine.climate.climate import Climate
from elder.engine.handbook.loading import handbook
from elder.engine.place.light import DIM_SKY, Aspect, Lit, PlaceLight, light_year
from elder.engine.plan.light_needs import (
    SIX_HOURS,
    LightFit,
    LightNeed,
    Suited,
    fit,
    fit_on,
    need_of,
    pair_fits,
    ranked,
)

SHADE, DARK = Lit(0, 0, 0, 0.05), Lit(0, 0, 0, 0.01)
BRIGHT = Lit(0, 0, 0, 0.3)
MORNING = Lit(3.5, 2.5, 1.0, 0.3)  # an east sill
SUNNY = Lit(7.0, 6.5, 4.5, 0.4)
LAMPS = Lit(0, 0, 0, 0.0, lamp_h=14)


def needs(plant: str, way: str, stage: str, **more: str) -> object:
    item = handbook()[plant]
    return need_of(item, item.method(way), stage, **more)


@pytest.mark.parametrize(
    ("lit", "need", "standing", "why"),
    [
        (BRIGHT, ("tomato", "jar", "unrooted"), "FITS", "right"),
        (MORNING, ("tomato", "jar", "unrooted"), "FITS", "right"),
        (Lit(4, 3, 2.0, 0.3), ("tomato", "jar", "unrooted"), "BORDERLINE", "too_sunny"),
        (SUNNY, ("tomato", "jar", "unrooted"), "NOT", "too_sunny"),
        (SHADE, ("tomato", "jar", "unrooted"), "FITS", "right"),  # uncovered: full shade is a school of its own
        (SHADE, ("tomato", "mix", "unrooted"), "BORDERLINE", "too_dark"),
        (DARK, ("tomato", "mix", "unrooted"), "NOT", "too_dark"),
        (LAMPS, ("tomato", "mix", "unrooted"), "FITS", "right"),
        (MORNING, ("tomato", "plug", "unrooted"), "SHUT_OUT", "cooks"),
        (Lit(1.0, 0.5, 0, 0.3), ("tomato", "plug", "unrooted"), "FITS", "right"),
        (SUNNY, ("grapevine", "stick", "unrooted"), "FITS", "right"),  # bare wood
        (SUNNY, ("basil", "jar", "rooted"), "FITS", "enough"),
        (MORNING, ("basil", "jar", "rooted"), "BORDERLINE", "too_little_sun"),
        (BRIGHT, ("basil", "jar", "rooted"), "NOT", "too_little_sun"),
        (LAMPS, ("basil", "jar", "rooted"), "FITS", "enough"),  # fourteen hours count as seven
        (MORNING, ("mint", "jar", "rooted"), "FITS", "enough"),
        (SUNNY, ("vanilla", "bark", "rooted"), "NOT", "too_sunny"),
        (MORNING, ("vanilla", "bark", "rooted"), "FITS", "right"),
        (None, ("vanilla", "bark", "rooted"), "FITS", "unsaid"),
    ],
)
def test_a_place_suits(lit: Lit | None, need: tuple[str, str, str], standing: str, why: str) -> None:
    found = fit(lit, needs(*need))
    assert (found.standing, found.why) == (Suited[standing], why)


OPEN = LightNeed(bears_h=(1.5, 3.0))  # a stem in leaf, under a clear sky
SUN = LightNeed(wants_h=(6.0, 3.0))


# Each at its bound and just past it, with the hours that say so.
@pytest.mark.parametrize(
    ("lit", "need", "fits"),
    [
        (Lit(1.0, 0.5, 0.2, 0.3), LightNeed(covered=True), LightFit(Suited.FITS, "right", 0.2)),
        (Lit(1.0, 0.6, 0.2, 0.3), LightNeed(covered=True), LightFit(Suited.SHUT_OUT, "cooks", 0.6)),
        (Lit(4.0, 3.0, 1.5, 0.3), OPEN, LightFit(Suited.FITS, "right", 1.5)),
        (Lit(4.0, 3.0, 1.6, 0.3), OPEN, LightFit(Suited.BORDERLINE, "too_sunny", 1.6)),
        (Lit(4.0, 3.5, 3.0, 0.3), OPEN, LightFit(Suited.BORDERLINE, "too_sunny", 3.0)),
        (Lit(4.0, 3.5, 3.1, 0.3), OPEN, LightFit(Suited.NOT, "too_sunny", 3.1)),
        (Lit(6.0, 5.0, 4.0, 0.3), SUN, LightFit(Suited.FITS, "enough", 6.0)),
        (Lit(5.0, 5.0, 4.0, 0.3, lamp_h=2.0), SUN, LightFit(Suited.FITS, "enough", 6.0)),  # lamps for half
        (Lit(5.9, 5.0, 4.0, 0.3), SUN, LightFit(Suited.BORDERLINE, "too_little_sun", 5.9)),
        (Lit(3.0, 2.0, 1.0, 0.3), SUN, LightFit(Suited.BORDERLINE, "too_little_sun", 3.0)),
        (Lit(2.9, 2.0, 1.0, 0.3), SUN, LightFit(Suited.NOT, "too_little_sun", 2.9)),
        # What wants no sun wants an eighth of the open sky, or lamps for six hours.
        (Lit(0.2, 0.0, 0.0, DIM_SKY), OPEN, LightFit(Suited.FITS, "right", 0.0)),
        (Lit(0.2, 0.0, 0.0, DIM_SKY - 0.001), OPEN, LightFit(Suited.BORDERLINE, "too_dark", 0.2)),
        (Lit(0.2, 0.0, 0.0, 0.02), OPEN, LightFit(Suited.BORDERLINE, "too_dark", 0.2)),
        (Lit(0.2, 0.0, 0.0, 0.019), OPEN, LightFit(Suited.NOT, "too_dark", 0.2)),
        (Lit(0.2, 0.0, 0.0, 0.019, lamp_h=6.0), OPEN, LightFit(Suited.FITS, "right", 0.0)),
        (Lit(0.2, 0.0, 0.0, 0.019, lamp_h=5.9), OPEN, LightFit(Suited.NOT, "too_dark", 0.2)),
        (Lit(7.0, 6.0, 5.0, 0.01), SUN, LightFit(Suited.FITS, "enough", 7.0)),  # sun on it is light enough
        (Lit(0.0, 0.0, 0.0, 0.0), LightNeed(bears_dark=True), LightFit(Suited.FITS, "right", 0.0)),
    ],
)
def test_a_bound_is_where_it_is_said_to_be(lit: Lit, need: LightNeed, fits: LightFit) -> None:
    assert fit(lit, need) == fits


def test_a_pair_is_asked_each_on_its_day_and_for_its_stage(north: Climate) -> None:
    """Nothing said of the rooting place; a hill south of the other, over which the sun stands in June alone."""
    tomato, hill = handbook()["tomato"], PlaceLight(aspect=Aspect(skyline=((0.0, 46.0),)))
    june, december = date(2027, 6, 21), date(2027, 12, 21)
    jar = tomato, tomato.method("jar")
    unsaid = LightFit(Suited.FITS, "unsaid")
    year = light_year(hill, north.latitude, north.longitude)

    def rooted(day: date) -> LightFit:
        return fit(year.on(day), LightNeed(wants_h=(6.0, 3.0)))

    def stem(day: date) -> LightFit:
        return fit(year.on(day), LightNeed(bears_h=(1.5, 3.0), bears_dark=True))

    assert len({rooted(june), rooted(december), stem(june), stem(december)}) == 4
    assert pair_fits((None, hill), jar, north, (december, june)) == (unsaid, rooted(june))
    assert pair_fits((None, hill), jar, north, (june, december)) == (unsaid, rooted(december))
    assert pair_fits((hill, None), jar, north, (june, december)) == (stem(june), unsaid)
    assert pair_fits((hill, None), jar, north, (december, june)) == (stem(december), unsaid)
    direct = next(way for way in tomato.methods if way.direct)
    assert pair_fits((hill, hill), (tomato, direct), north, (june, december)) == (
        fit_on(hill, north, need_of(tomato, direct, "unrooted"), june),
    )


def test_a_cloth_saves_what_bleaches() -> None:
    # Six strong hours under a cloth of 70 per cent are 1.8.
    assert fit(Lit(2.1, 2.0, 1.8, 0.12), needs("vanilla", "bark", "rooted")).standing is Suited.FITS


def test_the_school_of_six_hours() -> None:
    need = needs("basil", "jar", "unrooted", school=SIX_HOURS)
    assert fit(SUNNY, need).standing is Suited.FITS
    assert fit(BRIGHT, need).why == "too_little_sun"


def test_the_cover_that_is_really_used() -> None:
    assert fit(SUNNY, needs("tomato", "mix", "unrooted", cover="closed")).standing is Suited.SHUT_OUT
    assert fit(SUNNY, needs("tomato", "plug", "unrooted", cover="none")).standing is Suited.NOT


def test_places_are_ranked_by_light_then_by_days() -> None:
    lits = {"south": SUNNY, "north": BRIGHT, "landing": BRIGHT, "attic": None, "frame": MORNING}
    days = {"south": 9, "north": 16, "landing": 12, "attic": -1, "frame": 20}
    order = ranked(lits, needs("tomato", "jar", "unrooted"), days)
    assert [key for key, _ in order] == ["landing", "north", "frame", "attic", "south"]
    assert order[-1][1].hours == 4.5
    # One whose days nobody reckoned goes with those that never root, behind one that roots today.
    alike = {"unknown": BRIGHT, "never": BRIGHT, "today": BRIGHT, "late": BRIGHT}
    order = ranked(alike, needs("tomato", "jar", "unrooted"), {"never": -1, "today": 0, "late": 99})
    assert [key for key, _ in order] == ["today", "late", "unknown", "never"]


def test_every_plant_says_its_light() -> None:
    assert all(any(row.path == "light" for row in plant.provenance) for plant in handbook().values())
    by_light = {plant.slug: plant.light for plant in handbook().values()}
    assert [by_light[slug] for slug in ("basil", "mint", "vanilla")] == ["full sun", "part sun", "bright shade"]
