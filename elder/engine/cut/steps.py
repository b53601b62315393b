"""The cut sheet: the steps in the order of the hands, and the schools on which people differ.

A table (``handbook/bench/cutting.yaml``) and the few lines that ask it. Texts hold words in braces that the batch
fills: the engine says which and how much, the web layer in whose units. The same steps are told of what is in the hand,
of a want, and of a batch after its cut.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Final

from elder.engine.handbook.bench import bench_facts, bench_table, conditions, fits
from elder.engine.handbook.model import Method, Plant, School

PARTS: Final = ("ready", "cut", "treat", "stick", "place")


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


@lru_cache(maxsize=256)
def schools_of(plant: Plant, method: Method) -> dict[str, tuple[School, ...]]:
    """The questions on which people differ at this sheet, each with its schools, the one Elder starts with first. Kept,
    and not to be written to."""
    facts = bench_facts(plant, method)
    bench = [
        School(row["question"], row["school"], row["text"], row["start"])
        for row in bench_table()["schools"]
        if fits(conditions(row), facts)
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


def sheet_steps(
    plant: Plant, method: Method, chosen: Mapping[str, str] | None = None, seen: frozenset[str] = frozenset()
) -> list[Step]:
    """The steps of a batch by the schools chosen and what was seen of it: of those with one key the first that fits."""
    chosen = {**start_of(plant, method), **(chosen or {})}
    facts, found = bench_facts(plant, method, chosen, seen), {}
    for raw in bench_table()["steps"]:
        holds = all(chosen.get(question) == school for question, school in raw.get("chosen", {}).items())
        if raw["key"] not in found and holds and fits(raw.get("when", {}), facts):
            found[raw["key"]] = _step(raw)
    return sorted(found.values(), key=lambda step: PARTS.index(step.part))


def _every_step(plant: Plant, method: Method) -> Iterator[Step]:
    facts = bench_facts(plant, method)
    dried = {**facts, "dry": True}
    for raw in bench_table()["steps"]:
        if fits(raw.get("when", {}), facts) or (method.dry_days and fits(raw.get("when", {}), dried)):
            yield _step(raw)


def _step(raw: dict[str, Any]) -> Step:
    return Step(**{key: value for key, value in raw.items() if key not in ("when", "chosen")})


def prepare_days(plant: Plant, method: Method) -> int:
    """Days before the cut on which the branch is got ready; 0 where that is not worth it (herbs)."""
    rule = bench_table()["prepare"]
    fits = plant.group in rule["groups"] and method.form in rule["forms"]
    return int(rule["days"]) if fits else 0


def kitchen_use(plant: Plant) -> str:
    """What of the trimmings may be eaten, where that is well known; else nothing."""
    return str(bench_table()["kitchen"].get(plant.slug, ""))


def animal_use(plant: Plant) -> str:
    """Which animals may have the trimmings, where that is well known; else nothing."""
    return str(bench_table()["animals"].get(plant.slug, ""))


def other_uses(plant: Plant) -> tuple[str, ...]:
    """What else its trimmings are good for: weaving, stakes."""
    return tuple(bench_table()["uses"].get(plant.kin, ()))


def is_quarantined(plant: Plant) -> bool:
    """Whether a plant is restricted in many regions and across many borders."""
    return plant.kin in bench_table()["quarantine"]
