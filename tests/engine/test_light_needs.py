"""Which places suit a plant at a stage by their light: cases worked by hand from the needs as they are written."""

from __future__ import annotations

import pytest

from elder.engine.handbook.loading import handbook
from elder.engine.place.light import Lit
from elder.engine.plan.light_needs import SIX_HOURS, Suited, fit, need_of, ranked

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


def test_every_plant_says_its_light() -> None:
    assert all(any(row.path == "light" for row in plant.provenance) for plant in handbook().values())
    by_light = {plant.slug: plant.light for plant in handbook().values()}
    assert [by_light[slug] for slug in ("basil", "mint", "vanilla")] == ["full sun", "part sun", "bright shade"]
