"""The handbook: plants as YAML files, checked at load, every value with its provenance.

A file that does not fit is a bug of ours, so it raises, naming the file and the line.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field, replace
from functools import lru_cache, partial
from pathlib import Path
from typing import Any, Final, Literal, NamedTuple

import yaml
from jsonschema import Draft202012Validator

from elder.engine.chance.counting import Take
from elder.engine.chance.rooting_time import DaysAt, units_to_stage
from elder.engine.place.warmth import Cardinals

FOLDER = Path(__file__).resolve().parents[2] / "handbook"

Wood = Literal["growing", "softwood", "semi-ripe", "dormant", "any"]

MAKES_PLANT_FROM: Final = 0.5  # a way whose rooted pieces make plants less often than this is not offered (assumed)
VISIT_MINUTES: Final = 2.0  # a look at one lot with its water or mist, on the way round (assumed)


class HandbookError(Exception):
    """A handbook file that cannot be used: says the file, the line and what is wrong."""


class Provenance(NamedTuple):
    """Where one value of a plant's file comes from: its path in the file, the value as shown, the source."""

    path: str
    shown: str
    source: str


@dataclass(frozen=True)
class Caution:
    """One line shown ``at`` a step (cut, stick, pot, plant, eat, share)."""

    at: str
    text: str


@dataclass(frozen=True)
class School:
    """What one school says of a question on which people differ; ``start`` marks where Elder begins."""

    question: str
    school: str
    text: str
    start: bool


@dataclass(frozen=True)
class Seed:
    """Seed as the clone's rival: whether it comes true, and days from sowing to ready to harden."""

    comes_true: bool
    note: str
    ready: DaysAt


@dataclass(frozen=True)
class Instead:
    """What to do with a plant that is not struck from stems: ``way`` is sow or graft."""

    way: Literal["sow", "graft"]
    text: str


@dataclass(frozen=True)
class Method:
    """One way to root a plant: what is cut, when the wood is right, how long, how many take.

    ``makes_plant`` is the share of rooted pieces that ever grow on (1 but for leaves). ``direct``: struck
    where it is to stand. ``container`` is what it fills at a place. ``harvest_days`` overrides the plant's.
    """

    slug: str
    name: str
    medium: str
    container: str
    form: str
    wood: Wood
    length_cm: float
    rooting: DaysAt
    dry_days: int
    take: Take
    makes_plant: float
    caveat: str
    establish: DaysAt
    harden_days: int
    ready_sign: str
    minutes_each: float
    visits_a_week: float
    cover: str
    hormone: str
    direct: bool
    harvest_days: tuple[int, int] | None
    schools: tuple[School, ...] = field(compare=False)

    def effort_minutes(self, count: int, days: float) -> float:
        """Hands' minutes for ``count`` cuttings that take ``days`` to root: striking them, and the visits."""
        return self.minutes_each * count + self.visits_a_week * days / 7 * VISIT_MINUTES

    @property
    def plant_take(self) -> Take:
        """The share of cuttings that root and go on to make a plant."""
        return replace(self.take, mean=self.take.mean * self.makes_plant)

    @property
    def is_offered(self) -> bool:
        """Whether rooted ones make plants often enough to be worth the trouble."""
        return self.makes_plant >= MAKES_PLANT_FROM


@dataclass(frozen=True)
class PupRule:
    """How many pups a mother keeps: ``one_when_spent`` (on its old roots) or ``clump`` (so many stalks at most)."""

    kind: Literal["one_when_spent", "clump"]
    keep: int


@dataclass(frozen=True)
class Plant:
    """A plant of the handbook. Temperatures °C, times days."""

    slug: str
    name: str
    also: tuple[str, ...]
    latin: str
    group: str
    cutting_one: str
    cutting_many: str
    harvest_word: str
    cardinals: Cardinals
    frost_limit_c: float
    least_soil_c: float
    heat_limit_c: float | None
    patience_days: int
    crops_before_frost: bool
    harvest_early_days: int
    harvest_late_days: int
    stock_indoors: bool
    gives: int
    again_days: int
    keep_above_c: float | None
    pups: PupRule | None
    spreads: bool
    spreads_note: str
    seed: Seed | None
    instead: Instead | None
    methods: tuple[Method, ...]
    cautions: tuple[Caution, ...] = field(compare=False)
    provenance: tuple[Provenance, ...] = field(compare=False)

    def __hash__(self) -> int:
        """By name alone: a plant is asked for thousands of times a page, and its methods are long."""
        return hash((self.slug, self.harvest_early_days, self.harvest_late_days))

    @property
    def ways(self) -> tuple[Method, ...]:
        """The methods worth offering, the usual one first."""
        return tuple(method for method in self.methods if method.is_offered)

    def method(self, slug: str) -> Method:
        """The method of that slug; KeyError where the plant has none such."""
        for method in self.methods:
            if method.slug == slug:
                return method
        raise KeyError(slug)

    def grown_by(self, method: Method) -> Plant:
        """The plant as that method grows it: a pup crops sooner than a top."""
        return _grown_by(self, method) if method.harvest_days else self


@lru_cache(maxsize=64)
def _grown_by(plant: Plant, method: Method) -> Plant:
    early, late = method.harvest_days or (plant.harvest_early_days, plant.harvest_late_days)
    return replace(plant, harvest_early_days=early, harvest_late_days=late)


def search(words: str) -> list[Plant]:
    """Plants whose name, other names or botanical name hold every word; those whose name begins so first."""
    wanted = words.lower().split()

    def text(plant: Plant) -> str:
        return " ".join((plant.name, *plant.also, plant.latin)).lower()

    found = [plant for plant in handbook().values() if all(word in text(plant) for word in wanted)]
    return sorted(found, key=lambda plant: not plant.name.lower().startswith(words.lower()))


@lru_cache(maxsize=1)
def clonable() -> dict[str, Plant]:
    """The plants that can be struck, divided or taken as pups, by slug."""
    return {slug: plant for slug, plant in handbook().items() if plant.ways}


@lru_cache(maxsize=1)
def handbook() -> dict[str, Plant]:
    """Every plant of the shipped handbook by slug, in the order of their names."""
    plants = [load_plant(path) for path in sorted((FOLDER / "plants").glob("*.yaml"))]
    return {plant.slug: plant for plant in sorted(plants, key=lambda plant: plant.name)}


def load_plant(path: Path) -> Plant:
    """Read one plant file. Raises HandbookError with file and line where it does not fit."""
    text = path.read_text(encoding="utf-8")
    where = partial(_place, path, text)
    try:
        raw = yaml.load(text, Loader=_LOADER)  # noqa: S506 - the safe loader, in C where there is one
    except yaml.MarkedYAMLError as error:
        line = error.problem_mark.line + 1 if error.problem_mark else 1
        raise HandbookError(f"{path.name}:{line}: {error.problem}") from error
    if not _validator().is_valid(raw):
        faults = sorted(_validator().iter_errors(raw), key=lambda fault: list(map(str, fault.absolute_path)))
        raise HandbookError("\n".join(f"{where(fault.absolute_path)}: {fault.message}" for fault in faults))
    if raw["slug"] != path.stem:
        raise HandbookError(f"{where(['slug'])}: slug {raw['slug']!r} is not the file's name")
    return _plant(raw, where)


_LOADER: Final = getattr(yaml, "CSafeLoader", yaml.SafeLoader)
Where = Callable[[Iterable[Any]], str]


@lru_cache(maxsize=1)
def _validator() -> Draft202012Validator:
    return Draft202012Validator(json.loads((FOLDER / "schema.json").read_text(encoding="utf-8")))


def _place(path: Path, text: str, steps: Iterable[Any]) -> str:
    """File and line, from 1, at which the value at that path stands (or the nearest thing above it)."""
    node: Any = yaml.compose(text, Loader=_LOADER)
    line = 1
    for step in steps:
        if isinstance(node, yaml.MappingNode):
            found = next((pair for pair in node.value if pair[0].value == step), None)
            if found is None:
                break
            line, node = found[0].start_mark.line + 1, found[1]
        elif isinstance(node, yaml.SequenceNode):
            node = node.value[step]
            line = node.start_mark.line + 1
    return f"{path.name}:{line}"


def _plant(raw: dict[str, Any], where: Where) -> Plant:
    warmth, planting, harvest = raw["warmth"], raw["planting"], raw["planting"]["first_harvest"]
    stock, seed = raw["stock"], raw.get("seed")
    try:
        cardinals = Cardinals(*(warmth[key]["value"] for key in ("t_min", "t_opt", "t_max")))
    except ValueError as error:
        raise HandbookError(f"{where(['warmth'])}: {error}") from error
    return Plant(
        slug=raw["slug"],
        name=raw["name"],
        also=tuple(raw.get("also", ())),
        latin=raw["latin"],
        group=raw["group"],
        cutting_one=raw["cutting"]["one"],
        cutting_many=raw["cutting"]["many"],
        harvest_word=raw["harvest"],
        cardinals=cardinals,
        frost_limit_c=planting["frost_limit"]["value"],
        least_soil_c=planting["least_soil"]["value"],
        heat_limit_c=planting["heat_limit"]["value"] if "heat_limit" in planting else None,
        patience_days=planting["patience_in_pot"]["value"],
        crops_before_frost=planting["crops_before_frost"]["value"],
        harvest_early_days=harvest["early"],
        harvest_late_days=harvest["late"],
        stock_indoors=stock["indoors"]["value"],
        gives=stock["gives"]["value"],
        again_days=stock["again"]["value"],
        keep_above_c=stock["keep_above"]["value"] if "keep_above" in stock else None,
        pups=PupRule(stock["pups"]["value"], stock["pups"]["keep"]) if "pups" in stock else None,
        spreads=raw["spreads"]["value"],
        spreads_note=raw["spreads"].get("note", ""),
        seed=_seed(seed, cardinals, where) if seed else None,
        instead=Instead(raw["instead"]["way"], raw["instead"]["text"]) if "instead" in raw else None,
        methods=tuple(_method(way, cardinals, partial(_within, where, i)) for i, way in enumerate(raw["methods"])),
        cautions=tuple(Caution(item["at"], item["text"]) for item in raw["cautions"]),
        provenance=tuple(_provenance(raw)),
    )


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
        establish=_days(raw, cardinals, where, "establish"),
        harden_days=raw["harden"]["value"],
        ready_sign=raw["ready_sign"]["value"],
        minutes_each=raw["effort"]["value"],
        visits_a_week=raw["effort"]["visits"],
        cover=raw["needs"]["cover"],
        hormone=raw["needs"]["hormone"],
        direct=raw.get("direct", {}).get("value", False),
        harvest_days=(harvest["early"], harvest["late"]) if harvest else None,
        schools=tuple(
            School(item["question"], item["school"], item["text"], item["start"]) for item in raw.get("schools", ())
        ),
    )


def _provenance(node: Any, path: str = "") -> list[Provenance]:
    """Every value of a file that carries a source, in the file's order."""
    if isinstance(node, list):
        named = [(item.get("slug", i) if isinstance(item, dict) else i, item) for i, item in enumerate(node)]
        return [row for name, item in named for row in _provenance(item, f"{path}.{name}")]
    if not isinstance(node, dict):
        return []
    if "source" in node:
        return [Provenance(path.lstrip("."), _shown(node), node["source"])]
    return [row for key, item in node.items() for row in _provenance(item, f"{path}.{key}")]


def _shown(node: dict[str, Any]) -> str:
    if "early" in node:
        at = f" at {node['at']} °C" if "at" in node else ""
        return f"{node['early']}–{node['late']} {node.get('unit', '')}{at}"
    if "cover" in node:
        return f"cover {node['cover']}, hormone {node['hormone']}"
    if "text" in node:
        said = " · ".join(str(node[key]) for key in ("question", "school", "way") if key in node)
        return f"{said}: {node['text']}" if said else str(node["text"])
    value = node["value"]
    if isinstance(value, bool):
        value = "yes" if value else "no"
    worth = f", worth {node['weight']} cuttings" if "weight" in node else ""
    visits = f", {node['visits']} visits a week" if "visits" in node else ""
    keep = f", {node['keep']} kept" if "keep" in node else ""
    return f"{value} {node.get('unit', '')}".strip() + worth + visits + keep
