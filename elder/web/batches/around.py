"""The light and the air about a batch where it stands, in a line."""

from __future__ import annotations

from typing import Final

from elder.engine.place.air import Air, Stage, advice, under_cover
from elder.engine.plan.light_needs import Suited, fit
from elder.web.garden.models import Garden, Place
from elder.web.read.air import air_at, wilts_in
from elder.web.read.batches import BatchToday
from elder.web.read.gardens import places_of
from elder.web.read.ill_lit import cover_of, lit_needs
from elder.web.read.light import lit_at
from elder.web.read.services import days_ahead
from elder.web.say.light import fit_words

AIR_WORDS: Final = {"close": "too close, mould comes", "right": "right for them", "dry": "dry for them"}

LIGHT_WORDS: Final = {
    Suited.FITS: "its light fits",
    Suited.BORDERLINE: "its light is borderline",
    Suited.NOT: "its light does not suit",
    Suited.SHUT_OUT: "no light for it",
}


def around_words(batch: BatchToday, garden: Garden) -> str:
    """How what stands where suits by its light and its air today: "Kitchen sill: its light fits (no strong sun); air
    of 0.4 kPa under their cap, right for them"."""
    ahead, said = days_ahead(garden, batch.today), []
    for kind, stage, _, need in lit_needs(batch):
        here = places_of(garden)[batch.place_id(kind)]
        if here.standing == Place.Standing.GROUND:
            continue
        suits = fit(lit_at(here, garden, batch.today), need)
        light = f"{LIGHT_WORDS[suits.standing]} ({fit_words(suits)})" if suits.why != "unsaid" else fit_words(suits)
        air = air_at(here, batch.today, ahead) if stage == "rooted" or wilts_in(batch.method) else None
        told = _air(air, "unrooted" if stage == "unrooted" else _grown(batch), cover_of(batch)) if air else ""
        said.append(f"{here.name}: {light}{told}.")
    return " ".join(said)


def _grown(batch: BatchToday) -> Stage:
    return "hardening" if batch.state.count("hardening") else "rooted"


def _air(air: Air, stage: Stage, cover: str) -> str:
    covered = cover if stage == "unrooted" else "none"
    under = under_cover(covered, air)
    where = " under their cap" if covered != "none" else ""
    return f"; air of {under.deficit_kpa:.1f} kPa{where}, {AIR_WORDS[advice(under, stage, covered).standing]}"
