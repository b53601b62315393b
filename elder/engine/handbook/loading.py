"""The handbook's plants, read from their YAML files and checked at load.

A file that does not fit is a bug of ours, so it raises, naming the file and the line.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import replace
from functools import lru_cache, partial
from pathlib import Path
from typing import Any, Final

from elder.engine.chance.counting import Take
from elder.engine.chance.rooting_time import DaysAt, units_to_stage
from elder.engine.handbook.model import Caution, Instead, Method, Plant, PupRule, School, Seed
from elder.engine.handbook.provenance import provenance_of
from elder.engine.handbook.routes import POTTED, ROUTES, Route
from elder.engine.handbook.tables import FOLDER, HandbookError, Where, parse_table, read_table
from elder.engine.place.warmth import Cardinals

YOURS: Final = "yours"  # said after the name of a household's own plant, wherever it is shown
UNKNOWN: Final = "unknown"  # the group of those without a name


class Book(dict[str, Plant]):
    """Plants by slug: those of the handbook, and, asked for by their own slugs, those of households. What a household
    has is never listed: who lists plants asks for a garden's own besides."""

    def __missing__(self, slug: str) -> Plant:
        found = own_plant(slug)
        if found is None:
            raise KeyError(slug)
        return found

    def __contains__(self, slug: object) -> bool:
        return super().__contains__(slug) or (isinstance(slug, str) and own_plant(slug) is not None)

    def get(self, slug: str, default: Plant | None = None) -> Plant | None:  # type: ignore[override]
        """The plant of a slug, a household's own among them."""
        return super().get(slug) or own_plant(slug) or default


OwnText = Callable[[str], str | None]
OWN: Final = "own-"  # how the slug of a household's own plant begins
_OWN_TEXTS: list[OwnText] = []
_OWN_PLANTS: dict[str, Plant] = {}


def find_own_in(source: OwnText) -> None:
    """Where the texts of households' own plants are to be had, by slug. What a slug names never changes: a change is
    another slug."""
    _OWN_TEXTS[:] = [source]


def own_plant(slug: str) -> Plant | None:
    """A household's own plant; nothing where there is none of that slug."""
    if not slug.startswith(OWN):
        return None
    if slug not in _OWN_PLANTS:
        text = _OWN_TEXTS[0](slug) if _OWN_TEXTS else None
        if text is None:
            return None
        _OWN_PLANTS[slug] = load_text(text, slug)
    return _OWN_PLANTS[slug]


def load_text(text: str, slug: str) -> Plant:
    """A household's own plant from its text. Raises HandbookError where it does not fit."""
    raw, where = parse_table(text, Path("plant.yaml"), "schema.json")
    _take_up_schools(raw, where)
    raw["slug"], raw["name"] = slug, f"{raw['name']} ({YOURS})"
    return _plant(raw, where)


@lru_cache(maxsize=1)
def clonable() -> Book:
    """The plants that can be struck, divided or taken as pups, by slug; none that has no name yet."""
    return Book({slug: plant for slug, plant in named().items() if plant.ways})


@lru_cache(maxsize=1)
def named() -> dict[str, Plant]:
    """The plants that have a name, by slug: all but those that stand for what nobody knows yet."""
    return {slug: plant for slug, plant in handbook().items() if plant.group != UNKNOWN}


@lru_cache(maxsize=1)
def unknown() -> dict[str, Plant]:
    """What stands for a plant nobody knows yet, by its habit: struck the cautious way, and named later."""
    return {slug: plant for slug, plant in handbook().items() if plant.group == UNKNOWN}


@lru_cache(maxsize=1)
def handbook() -> Book:
    """Every plant of the shipped handbook by slug, in the order of their names."""
    plants = [load_plant(path) for path in sorted((FOLDER / "plants").glob("*.yaml"))]
    return Book({plant.slug: plant for plant in sorted(plants, key=lambda plant: plant.name)})


def load_plant(path: Path) -> Plant:
    """Read one plant file. Raises HandbookError with file and line where it does not fit."""
    raw, where = read_table(path, "schema.json")
    if raw["slug"] != path.stem:
        raise HandbookError(f"{where(['slug'])}: slug {raw['slug']!r} is not the file's name")
    _take_up_schools(raw, where)
    return _plant(raw, where)


@lru_cache(maxsize=1)
def _schools() -> dict[str, dict[str, Any]]:
    raw, _ = read_table(FOLDER / "schools.yaml", "schools.schema.json")
    return {school.pop("key"): school for school in raw["schools"]}


def _take_up_schools(raw: dict[str, Any], where: Where) -> None:
    """Each school a way takes up by its key is put where the key stood, so that what is read is whole."""
    for i, way in enumerate(raw["methods"]):
        for j, taken in enumerate(way.get("schools", ())):
            if taken["use"] not in _schools():
                raise HandbookError(f"{where(['methods', i, 'schools', j, 'use'])}: no school {taken['use']!r}")
            way["schools"][j] = {**_schools()[taken["use"]], "start": taken["start"]}


def _plant(raw: dict[str, Any], where: Where) -> Plant:
    warmth, planting, harvest = raw["warmth"], raw["planting"], raw["planting"]["first_harvest"]
    stock, seed = raw["stock"], raw.get("seed")
    try:
        cardinals = Cardinals(*(warmth[key]["value"] for key in ("t_min", "t_opt", "t_max")))
    except ValueError as error:
        raise HandbookError(f"{where(['warmth'])}: {error}") from error
    return Plant(
        slug=raw["slug"],
        relative=raw.get("relative", ""),
        name=raw["name"],
        also=tuple(raw.get("also", ())),
        latin=raw["latin"],
        group=raw["group"],
        cutting_one=raw["cutting"]["one"],
        cutting_many=raw["cutting"]["many"],
        harvest_word=raw["harvest"],
        leaves=raw["leaves"]["value"],
        cardinals=cardinals,
        light=raw["light"]["value"] if "light" in raw else "full sun",  # older plants of households do not say
        frost_limit_c=planting["frost_limit"]["value"],
        least_soil_c=planting["least_soil"]["value"],
        heat_limit_c=planting["heat_limit"]["value"] if "heat_limit" in planting else None,
        # What is sown where it stands waits in no pot.
        patience_days=planting["patience_in_pot"]["value"] if "patience_in_pot" in planting else 0,
        crops_before_frost=planting["crops_before_frost"]["value"],
        harvest_early_days=harvest["early"],
        harvest_late_days=harvest["late"],
        crop_season=_season(planting),
        stock_indoors=stock["indoors"]["value"],
        gives=stock["gives"]["value"],
        again_days=stock["again"]["value"],
        keep_above_c=stock["keep_above"]["value"] if "keep_above" in stock else None,
        rest_limit_c=stock["rest_limit"]["value"] if "rest_limit" in stock else None,
        pups=PupRule(stock["pups"]["value"], stock["pups"]["keep"]) if "pups" in stock else None,
        spreads=raw["spreads"]["value"],
        spreads_note=raw["spreads"].get("note", ""),
        seed=_seed(seed, cardinals, where) if seed else None,
        instead=Instead(raw["instead"]["way"], raw["instead"]["text"]) if "instead" in raw else None,
        methods=tuple(_methods(raw, cardinals, where)),
        cautions=tuple(Caution(item["at"], item["text"]) for item in raw["cautions"]),
        provenance=tuple(provenance_of(raw)),
    )


def _methods(raw: dict[str, Any], cardinals: Cardinals, where: Where) -> Iterator[Method]:
    """Every way as it is written, then those that go another route once there are roots."""
    ways = [_method(way, cardinals, partial(_within, where, i)) for i, way in enumerate(raw["methods"])]
    yield from ways
    harvest = raw["planting"]["first_harvest"]
    for way, written in zip(ways, raw["methods"], strict=True):
        for route in written.get("also_by", {}).get("value", ()):
            yield _by_route(way, ROUTES[route], way.harvest_days or (harvest["early"], harvest["late"]))


ROUTE_WORDS: Final = {"straight out": "straight out", "solution": "then nutrient solution"}


def _by_route(way: Method, route: Route, harvest: tuple[int, int]) -> Method:
    """A way that goes another route. Set out without a pot it has yet to establish where it stands, so that its first
    harvest comes later by that (assumed: as long as it takes in a pot)."""
    late = (way.establish.early, way.establish.late) if way.establish and route.stays else (0, 0)
    return replace(
        way,
        slug=f"{way.slug}-{route.key.replace(' ', '-')}",
        name=f"{way.name}, {ROUTE_WORDS[route.key]}",
        route=route,
        harvest_days=(round(harvest[0] + late[0]), round(harvest[1] + late[1])) if route.stays else way.harvest_days,
    )


def _season(planting: dict[str, Any]) -> tuple[int, int] | None:
    """First and last day of the crop's own season, in days from midsummer."""
    season = planting.get("crop_season")
    return (season["early"], season["late"]) if season else None


def _within(where: Where, method: int, steps: Iterable[Any]) -> str:
    """File and line of one value of a method."""
    return where(["methods", method, *steps])


def _days(raw: dict[str, Any], cardinals: Cardinals, where: Where, key: str) -> DaysAt:
    try:
        days = DaysAt(raw[key]["early"], raw[key]["late"], raw[key]["at"])
        units_to_stage(days, cardinals)
    except ValueError as error:
        raise HandbookError(f"{where([key])}: {error}") from error
    return days


def _seed(raw: dict[str, Any], cardinals: Cardinals, where: Where) -> Seed:
    ready = _days(raw, cardinals, lambda steps: where(["seed", *steps]), "ready")
    return Seed(raw["comes_true"]["value"], raw["comes_true"].get("note", ""), ready)


def _method(raw: dict[str, Any], cardinals: Cardinals, where: Where) -> Method:
    harvest, makes = raw.get("first_harvest"), raw.get("makes_plant", {})
    return Method(
        slug=raw["slug"],
        name=raw["name"],
        medium=raw["medium"],
        container=raw["container"],
        form=raw["form"],
        wood=raw["wood"]["value"],
        length_cm=raw["length"]["value"],
        rooting=_days(raw, cardinals, where, "rooting"),
        dry_days=raw["dry"]["value"],
        take=Take(raw["take"]["value"], raw["take"]["weight"]),
        makes_plant=makes.get("value", 1.0),
        caveat=makes.get("note", ""),
        establish=_days(raw, cardinals, where, "establish") if "establish" in raw else None,
        harden_days=raw["harden"]["value"],
        ready_sign=raw["ready_sign"]["value"],
        minutes_each=raw["effort"]["value"],
        visits_a_week=raw["effort"]["visits"],
        cover=raw["needs"]["cover"],
        hormone=raw["needs"]["hormone"],
        route=ROUTES[raw.get("route", {}).get("value", POTTED.key)],
        harvest_days=(harvest["early"], harvest["late"]) if harvest else None,
        risk=raw.get("risk", {}).get("value", ""),
        schools=tuple(
            School(item["question"], item["school"], item["text"], item["start"]) for item in raw.get("schools", ())
        ),
    )
