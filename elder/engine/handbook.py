"""The handbook: plants as YAML files, checked at load, every value with its provenance.

A file that does not fit is a bug of ours, so it raises, naming the file and the line.
"""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache, partial
from pathlib import Path
from typing import Any, Literal, NamedTuple

import yaml
from jsonschema import Draft202012Validator

from elder.engine.counting import Take
from elder.engine.rooting import DaysAt, units_to_stage
from elder.engine.warmth import Cardinals

FOLDER = Path(__file__).resolve().parent.parent / "handbook"

Wood = Literal["growing", "softwood", "semi-ripe", "dormant"]


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
class Method:
    """One way to root a plant: what is cut, when the wood is right, how long, how many take."""

    slug: str
    name: str
    form: str
    wood: Wood
    rooting: DaysAt
    dry_days: int
    take: Take
    establish: DaysAt
    harden_days: int
    ready_sign: str


@dataclass(frozen=True)
class Plant:
    """A plant of the handbook. Temperatures °C, times days."""

    slug: str
    name: str
    latin: str
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
    methods: tuple[Method, ...]
    cautions: tuple[Caution, ...]
    provenance: tuple[Provenance, ...]

    def method(self, slug: str) -> Method:
        """The method of that slug; KeyError where the plant has none such."""
        for method in self.methods:
            if method.slug == slug:
                return method
        raise KeyError(slug)


@lru_cache(maxsize=1)
def handbook() -> dict[str, Plant]:
    """Every plant of the shipped handbook by slug, in the order of their names."""
    plants = [load_plant(path) for path in sorted((FOLDER / "plants").glob("*.yaml"))]
    return {plant.slug: plant for plant in sorted(plants, key=lambda plant: plant.name)}


def load_plant(path: Path) -> Plant:
    """Read one plant file. Raises HandbookError with file and line where it does not fit."""
    text = path.read_text(encoding="utf-8")
    try:
        tree = yaml.compose(text, Loader=yaml.SafeLoader)
        raw = yaml.safe_load(text)
    except yaml.MarkedYAMLError as error:
        line = error.problem_mark.line + 1 if error.problem_mark else 1
        raise HandbookError(f"{path.name}:{line}: {error.problem}") from error
    faults = sorted(_validator().iter_errors(raw), key=lambda fault: list(map(str, fault.absolute_path)))
    if faults:
        said = [f"{path.name}:{_line(tree, fault.absolute_path)}: {fault.message}" for fault in faults]
        raise HandbookError("\n".join(said))
    if raw["slug"] != path.stem:
        raise HandbookError(f"{path.name}:{_line(tree, ['slug'])}: slug {raw['slug']!r} is not the file's name")
    return _plant(raw, path, tree)


@lru_cache(maxsize=1)
def _validator() -> Draft202012Validator:
    return Draft202012Validator(json.loads((FOLDER / "schema.json").read_text(encoding="utf-8")))


def _line(node: Any, steps: Any) -> int:
    """The line, from 1, at which the value at that path stands (or the nearest thing above it)."""
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
    return line


def _plant(raw: dict[str, Any], path: Path, tree: Any) -> Plant:
    warmth, planting, harvest = raw["warmth"], raw["planting"], raw["planting"]["first_harvest"]
    try:
        cardinals = Cardinals(*(warmth[key]["value"] for key in ("t_min", "t_opt", "t_max")))
    except ValueError as error:
        raise HandbookError(f"{path.name}:{_line(tree, ['warmth'])}: {error}") from error
    return Plant(
        slug=raw["slug"],
        name=raw["name"],
        latin=raw["latin"],
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
        stock_indoors=raw["stock"]["indoors"]["value"],
        methods=tuple(
            _method(method, cardinals, partial(_place, path, tree, i)) for i, method in enumerate(raw["methods"])
        ),
        cautions=tuple(Caution(item["at"], item["text"]) for item in raw["cautions"]),
        provenance=tuple(_provenance(raw)),
    )


def _place(path: Path, tree: Any, method: int, key: str) -> str:
    """File and line of one value of a method."""
    return f"{path.name}:{_line(tree, ['methods', method, key])}"


def _days(raw: dict[str, Any], key: str, cardinals: Cardinals, place: Callable[[str], str]) -> DaysAt:
    try:
        days = DaysAt(raw[key]["early"], raw[key]["late"], raw[key]["at"])
        units_to_stage(days, cardinals)
    except ValueError as error:
        raise HandbookError(f"{place(key)}: {error}") from error
    return days


def _method(raw: dict[str, Any], cardinals: Cardinals, place: Callable[[str], str]) -> Method:
    return Method(
        slug=raw["slug"],
        name=raw["name"],
        form=raw["form"],
        wood=raw["wood"]["value"],
        rooting=_days(raw, "rooting", cardinals, place),
        dry_days=raw["dry"]["value"],
        take=Take(raw["take"]["value"], raw["take"]["weight"]),
        establish=_days(raw, "establish", cardinals, place),
        harden_days=raw["harden"]["value"],
        ready_sign=raw["ready_sign"]["value"],
    )


def _provenance(node: Any, path: str = "") -> list[Provenance]:
    """Every value of a file that carries a source, in the file's order."""
    if isinstance(node, list):
        return [row for i, item in enumerate(node) for row in _provenance(item, f"{path}.{item.get('slug', i)}")]
    if not isinstance(node, dict):
        return []
    if "source" in node:
        return [Provenance(path.lstrip("."), _shown(node), node["source"])]
    return [row for key, item in node.items() for row in _provenance(item, f"{path}.{key}")]


def _shown(node: dict[str, Any]) -> str:
    if "early" in node:
        at = f" at {node['at']} °C" if "at" in node else ""
        return f"{node['early']}–{node['late']} {node.get('unit', '')}{at}"
    if "text" in node:
        return str(node["text"])
    value = (
        {True: "yes", False: "no"}.get(node["value"], node["value"])
        if isinstance(node["value"], bool)
        else node["value"]
    )
    worth = f", worth {node['weight']} cuttings" if "weight" in node else ""
    return f"{value} {node.get('unit', '')}".strip() + worth
