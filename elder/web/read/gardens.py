"""Garden rows to engine values, and nothing else."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from functools import lru_cache
from typing import Final, TypeVar

from elder.engine.assumptions import Assumptions
from elder.engine.climate.climate import Climate
from elder.engine.climate.freezes import frost_of
from elder.engine.climate.frost import Frost, FrostDates, by_hand
from elder.engine.climate.frost_risk import counts_in
from elder.engine.climate.normals import Normals, midsummer
from elder.engine.climate.records import DailyRecords
from elder.engine.place.light import PlaceLight
from elder.engine.place.solar_gain import SunShare, sun_share
from elder.engine.place.warmth import Place as EnginePlace
from elder.web.batches.models import Batch
from elder.web.garden.models import Garden, Place
from elder.web.logbook.standing import once
from elder.web.read.kept_records import readings_kept, records_kept
from elder.web.read.light import light_of

T = TypeVar("T")
CLIMATE: Final = (
    "latitude", "longitude", "elevation_m", "timezone", "records_digest", "dates_well_known",
    "last_frost_mean", "last_frost_late", "first_frost_mean", "first_frost_early",
)  # fmt: skip


def _itself(value: T) -> T:
    return value


# Of values that are equal always the same one: thousands are told apart a page, and what is the same at a glance.
# Few climates, for each may hold ninety years of days.
_one_climate = lru_cache(maxsize=16)(_itself)
_one_place = lru_cache(maxsize=2048)(_itself)


def climate_of(garden: Garden) -> Climate:
    """The climate a garden's row describes; where it has daily records, its frosts are counted in them. Made once of a
    row that stays as it is."""
    row = vars(garden)
    cells = (*(row.get(name) for name in CLIMATE), tuple(garden.t_min), tuple(garden.t_max))
    kept: tuple[object, Climate] | None = row.get("_climate")
    if kept is None or kept[0] != cells:
        kept = row["_climate"] = cells, _one_climate(_climate_of(garden))
    return kept[1]


def _climate_of(garden: Garden) -> Climate:
    normals = Normals(tuple(garden.t_min), tuple(garden.t_max))
    records = records_kept(garden.pk, garden.records_digest) if garden.records_digest else None
    return Climate(
        latitude=garden.latitude,
        longitude=garden.longitude,
        elevation_m=garden.elevation_m,
        timezone=garden.timezone,
        normals=normals,
        frost=_frost_of(garden, records, midsummer(normals)),
        daily_records=records,
    )


def _frost_of(garden: Garden, records: DailyRecords | None, summer: int) -> Frost:
    """As counted in records that are long enough to say; else as told, where it was."""
    told = _frost_by_hand(garden)
    if records is None:
        return told
    is_told = told.spring is not None or told.autumn is not None
    return told if is_told and not counts_in(records, told) else frost_of(records, summer)


def _frost_by_hand(garden: Garden) -> Frost:
    return Frost(
        _frost_dates(garden.last_frost_mean, garden.last_frost_late),
        _frost_dates(garden.first_frost_mean, garden.first_frost_early),
        well_known=garden.dates_well_known,
    )


def _frost_dates(mean: int | None, extreme: int | None) -> FrostDates | None:
    if mean is None or extreme is None:
        return None
    # The one year in ten may lie across New Year from the mean.
    days = (extreme - mean + 182) % 365 - 182
    return by_hand(mean, mean + days)


WARMTH: Final = ("standing", "day_c", "night_c", "depth_m", "lift_day_c", "lift_night_c", "floor_c")


def place_of(place: Place) -> EnginePlace:
    """The standing place a row describes; made once of a row that stays as it is."""
    sun, row = _sun_of(place), vars(place)
    cells = (*(getattr(place, name) for name in WARMTH), sun)
    kept: tuple[object, EnginePlace] | None = row.get("_engine_place")
    if kept is None or kept[0] != cells:
        kept = row["_engine_place"] = cells, _one_place(EnginePlace(sun=sun, **{name: row[name] for name in WARMTH}))
    return kept[1]


def _sun_of(place: Place) -> SunShare | None:
    """How the sun warms what is kept shut under a cover."""
    if not place.vents_shut or place.standing != Place.Standing.AIR:
        return None
    where = place.garden.latitude, place.garden.longitude
    return sun_share(light_of(place) or PlaceLight(), *where)


def stood_at(place: Place) -> EnginePlace:
    """The place as cuttings that stood there knew it: with what a sensor read, where there is one."""
    plain = place_of(place)
    if not place.readings_digest:
        return plain
    return replace(plain, readings=readings_kept(place.pk, place.readings_digest))


def assumptions_of(garden: Garden) -> Assumptions:
    """What a garden's chances take for granted."""
    return Assumptions(
        years=garden.possible_years,
        speed_sd=garden.speed_sd,
        look_every_days=garden.look_every_days,
        dear_share=garden.dear_share,
        carry_nights=garden.carry_nights,
        slack_days=garden.slack_days,
        stand_share=garden.stand_share,
    )


def stands_at(batch: Batch, garden: Garden) -> None:
    """Give a batch the garden's own rows of its two places, which would else be made anew for each."""
    places = places_of(garden)
    for name in ("rooting_place", "growing_place"):
        found = places.get(getattr(batch, f"{name}_id"))
        if found is not None:
            setattr(batch, name, found)


def places_of(garden: Garden) -> Mapping[int, Place]:
    """The garden's places by key, asked for once."""
    return once(garden, "places", lambda: {place.pk: place for place in garden.places.all()})
