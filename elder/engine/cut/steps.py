"""The cut sheet: what one cutting must be, how it stands in its container, and the steps in the order of the hands.

A table (``handbook/bench/cutting.yaml``) and the few lines that ask it. Texts hold words in braces that the batch
fills: the engine says which and how much, the web layer in whose units.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Final

from elder.engine.cut.layout import CutSpec, Piece
from elder.engine.handbook.model import Method, Plant, School
from elder.engine.handbook.tables import read_bench
from elder.engine.round.loads import SHARED

PARTS: Final = ("ready", "cut", "treat", "stick", "place")
AT_ONCE: Final = "at once"
SHORTEST_SHARE: Final = 0.6  # of a way's own length (assumed)
LONGEST_SHARE: Final = 1.5
FACTS: Final = ("forms", "media", "plants", "methods", "groups", "cover", "hormone", "dry", "direct")
KEEPS: Final = 0.8  # of the pot's radius: how far out cuttings stand, one in each corner (assumed)


@dataclass(frozen=True)
class Step:
    """One step: its place in the work, what to do, its figure, why; the question of schools it belongs to; its
    caution; and whether a drawing, a sum or a clock goes with it."""

    key: str
    part: str
    title: str
    text: str
    why: str
    figure: str = ""
    school: str = ""
    caution: str = ""
    layout: bool = False
    hormone: bool = False
    timer: bool = False
    label: bool = False


@dataclass(frozen=True)
class Sticking:
    """How cuttings stand: so deep (cm), so many to one container of that size (cm), so many containers; ``spacing_cm``
    between neighbours, ``row_cm`` of row where they stand in the ground."""

    depth_cm: float
    each: int
    container: str
    containers: int
    width_cm: float
    height_cm: float
    spacing_cm: float
    row_cm: float


@dataclass(frozen=True)
class Dressing:
    """What is done to one cutting: its cuts, and by node (as counted on the stem) what becomes of its leaves."""

    base_cut: str
    top_cut: str
    buried: tuple[int, ...]
    strip: tuple[int, ...]
    halve: tuple[int, ...]
    keep: tuple[int, ...]


@lru_cache(maxsize=1)
def _table() -> dict[str, Any]:
    return read_bench("cutting")[0]


def _facts(plant: Plant, method: Method, chosen: Mapping[str, str] | None = None) -> dict[str, Any]:
    dries = method.dry_days > 0 and (chosen or {}).get("callus") != AT_ONCE
    return {
        "forms": method.form, "media": method.medium, "plants": plant.slug, "methods": method.slug,
        "groups": plant.group, "cover": method.cover, "hormone": method.hormone, "dry": dries, "direct": method.direct,
    }  # fmt: skip


def _fits(when: Mapping[str, Any], facts: Mapping[str, Any]) -> bool:
    for name, wanted in when.items():
        fact = name.removeprefix("not_")
        there = facts[fact] in wanted if isinstance(wanted, list) else facts[fact] == wanted
        if there == name.startswith("not_"):
            return False
    return True


def _first(rows: list[dict[str, Any]], facts: Mapping[str, Any]) -> dict[str, Any] | None:
    """The first row whose conditions hold."""
    return next((row for row in rows if _fits({k: v for k, v in row.items() if k in FACTS}, facts)), None)


def cut_spec(plant: Plant, method: Method, *, short: bool = False) -> CutSpec | None:
    """What one cutting must be, with ``short`` where material is scarce; ``None`` for what is taken whole."""
    raw = _spec_row(plant, method)
    if raw is None:
        return None
    least, most = raw["nodes"]
    few = _table()["short_by_plant"].get(plant.slug, {}).get(method.form)
    if short and few:
        least = few
    own = method.length_cm
    shortest = min(raw.get("shortest", SHORTEST_SHARE * own), own)
    return CutSpec(
        nodes_least=least,
        nodes_most=most,
        nodes_buried=min(raw["buried"], least),
        below_cm=raw["below"],
        above_cm=raw["above"],
        length_least_cm=shortest / 2 if short else shortest,
        length_most_cm=max(raw.get("longest", LONGEST_SHARE * own), own),
        keep_tip=raw["tip"],
    )


def _spec_row(plant: Plant, method: Method) -> dict[str, Any] | None:
    table = _table()
    row: dict[str, Any] | None = table["specs_by_plant"].get(plant.slug, {}).get(method.form)
    return row or table["specs"].get(method.form)


def may_be_short(plant: Plant, method: Method) -> bool:
    """Whether fewer nodes will do where material is scarce."""
    return method.form in _table()["short_by_plant"].get(plant.slug, {})


LEAFLESS: Final = ("dormant stick", "stem joint", "node section")  # bare by nature, or no leaves to speak of


def dressing(piece: Piece, spec: CutSpec, plant: Plant, method: Method) -> Dressing:
    """What is done to a piece: buried nodes are stripped, the top leaves stay whole, those between are halved where
    they are big. Every node is under or shows, once."""
    nodes = range(piece.first_node, piece.last_node + 1)
    buried = tuple(nodes[: spec.nodes_buried])
    shown = nodes[spec.nodes_buried :]
    if method.form in LEAFLESS:
        return Dressing("slanted", "flat", buried, (), (), ())
    whole = (_spec_row(plant, method) or {}).get("kept", 1)
    halves = any(step.key == "halve" for step in sheet_steps(plant, method))
    keep = tuple(shown[-whole:] if halves and whole else shown)
    halve = tuple(node for node in shown if node not in keep)
    top = "tip" if piece.has_tip else "flat"
    return Dressing("straight" if piece.has_tip else "slanted", top, buried, buried, halve, keep)


def sticking(plant: Plant, method: Method, count: int, length_cm: float | None = None) -> Sticking:
    """How so many stand; ``length_cm`` the cuttings' own where it is known. Raises ValueError for none."""
    if count < 1:
        raise ValueError("at least one cutting is stuck")
    table, facts = _table(), _facts(plant, method)
    size = dict(table["containers"][method.container])
    if method.container == "pot" and method.form in table["deep_pot"]["forms"]:
        size |= {key: table["deep_pot"][key] for key in ("width", "height")}
    own = _first(table["together"], facts)
    each = own["count"] if own and method.container in ("pot", "jar") else SHARED[method.container][0]
    each = count if method.container in ("row", "grow bed") else min(each, count)
    containers = math.ceil(count / each)
    spacing = size.get("spacing") or _apart(size["width"], each)
    row = spacing * count if method.container == "row" else 0.0
    depth = _depth(table, facts, length_cm or method.length_cm, size["height"])
    return Sticking(depth, each, method.container, containers, size.get("width", 0.0), size["height"], spacing, row)


def _apart(width_cm: float, count: int) -> float:
    """Between neighbours round the rim of a pot, cm; the pot's width where one stands alone."""
    if count < 2:
        return width_cm
    return width_cm * KEEPS * math.sin(math.pi / count)


def _depth(table: dict[str, Any], facts: Mapping[str, Any], length_cm: float, height_cm: float) -> float:
    row = _first(table["depths"], facts) or {"share": 0.5}
    if "cm" in row:
        return float(row["cm"])
    if "of_container" in row:
        return float(row["of_container"] * height_cm)
    return float(min(row["share"] * length_cm, height_cm))


def schools_of(plant: Plant, method: Method) -> dict[str, tuple[School, ...]]:
    """The questions on which people differ at this sheet, each with its schools, the one Elder starts with first."""
    facts = _facts(plant, method)
    bench = [
        School(row["question"], row["school"], row["text"], row["start"])
        for row in _table()["schools"]
        if _fits({key: value for key, value in row.items() if key in FACTS}, facts)
    ]
    asked = {step.school for step in _every_step(plant, method) if step.school}
    found: dict[str, dict[str, School]] = {}
    for school in (*method.schools, *bench):
        if school.question in asked or school.question == "stem":
            found.setdefault(school.question, {}).setdefault(school.school, school)
    mine = {school.question for school in method.schools if school.start}
    return {
        question: tuple(sorted(ways.values(), key=lambda one: not _starts(one, method, mine)))
        for question, ways in found.items()
    }


def _starts(school: School, method: Method, mine: set[str]) -> bool:
    """Whether Elder starts with it: as the method's own file says, where it says."""
    return school.start and (school.question not in mine or school in method.schools)


def start_of(plant: Plant, method: Method) -> dict[str, str]:
    """The school of each question that Elder starts with."""
    return {question: ways[0].school for question, ways in schools_of(plant, method).items()}


def sheet_steps(plant: Plant, method: Method, chosen: Mapping[str, str] | None = None) -> list[Step]:
    """The steps of a batch by the schools chosen: of those with one key the first that fits."""
    chosen = {**start_of(plant, method), **(chosen or {})}
    facts, found = _facts(plant, method, chosen), {}
    for raw in _table()["steps"]:
        holds = all(chosen.get(question) == school for question, school in raw.get("chosen", {}).items())
        if raw["key"] not in found and holds and _fits(raw.get("when", {}), facts):
            found[raw["key"]] = _step(raw)
    return sorted(found.values(), key=lambda step: PARTS.index(step.part))


def _every_step(plant: Plant, method: Method) -> Iterator[Step]:
    facts = _facts(plant, method)
    dried = {**facts, "dry": True}
    for raw in _table()["steps"]:
        if _fits(raw.get("when", {}), facts) or (method.dry_days and _fits(raw.get("when", {}), dried)):
            yield _step(raw)


def _step(raw: dict[str, Any]) -> Step:
    return Step(**{key: value for key, value in raw.items() if key not in ("when", "chosen")})


def prepare_days(plant: Plant, method: Method) -> int:
    """Days before the cut on which the branch is got ready; 0 where that is not worth it (herbs)."""
    rule = _table()["prepare"]
    fits = plant.group in rule["groups"] and method.form in rule["forms"]
    return int(rule["days"]) if fits else 0


def kitchen_use(plant: Plant) -> str:
    """What of the trimmings may be eaten, where that is well known; else nothing."""
    return str(_table()["kitchen"].get(plant.slug, ""))


def animal_use(plant: Plant) -> str:
    """Which animals may have the trimmings, where that is well known; else nothing."""
    return str(_table()["animals"].get(plant.slug, ""))


def is_quarantined(plant: Plant) -> bool:
    """Whether a plant is restricted in many regions and across many borders."""
    return plant.slug in _table()["quarantine"]
