"""The bench's table (``handbook/bench/cutting.yaml``) and how its rows are asked: the first whose conditions hold."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from typing import Any, Final

from elder.engine.handbook.model import Method, Plant
from elder.engine.handbook.tables import read_bench

AT_ONCE: Final = "at once"
FACTS: Final = (
    "forms", "media", "plants", "methods", "groups", "cover", "hormone", "dry", "direct", "leaves", "route", "seen",
)  # fmt: skip


@lru_cache(maxsize=1)
def bench_table() -> dict[str, Any]:
    """The table as it was read."""
    return read_bench("cutting")[0]


def bench_facts(
    plant: Plant, method: Method, chosen: Mapping[str, str] | None = None, seen: frozenset[str] = frozenset()
) -> dict[str, Any]:
    """What a row may ask of a way, of the schools chosen, and of what was seen on what is cut."""
    dries = method.dry_days > 0 and (chosen or {}).get("callus") != AT_ONCE
    return {
        "forms": method.form, "media": method.medium, "plants": plant.kin, "methods": method.slug,
        "groups": plant.group, "cover": method.cover, "hormone": method.hormone, "dry": dries, "direct": method.direct,
        "leaves": plant.leaves, "route": method.route.key, "seen": seen,
    }  # fmt: skip


def fits(when: Mapping[str, Any], facts: Mapping[str, Any]) -> bool:
    """Whether every condition holds; one that begins with not_ where it does not."""
    for name, wanted in when.items():
        fact = facts[name.removeprefix("not_")]
        if isinstance(fact, frozenset):
            there = not fact.isdisjoint(wanted)
        else:
            there = fact in wanted if isinstance(wanted, list) else fact == wanted
        if there == name.startswith("not_"):
            return False
    return True


def conditions(row: Mapping[str, Any]) -> dict[str, Any]:
    """Of a row that holds both, only its conditions."""
    return {key: value for key, value in row.items() if key.removeprefix("not_") in FACTS}


def first_that_fits(rows: list[dict[str, Any]], facts: Mapping[str, Any]) -> dict[str, Any] | None:
    """The first row whose conditions hold."""
    return next((row for row in rows if fits(conditions(row), facts)), None)
