"""The table of what a look over a stem may find (``handbook/bench/stems.yaml``)."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

from elder.engine.handbook.tables import HandbookError, read_bench


@lru_cache(maxsize=1)
def stem_table() -> dict[str, Any]:
    """Classes, questions and rules. Raises HandbookError where a rule speaks of an answer that is not asked for."""
    raw, where = read_bench("stems")
    known = {ask["key"]: {way["key"] for way in ask["ways"]} for ask in raw["asks"]}
    for i, rule in enumerate(raw["rules"]):
        for key, wanted in rule["when"].items():
            if not set(listed(wanted)) <= known.get(key, set()):
                raise HandbookError(f"{where(['rules', i, 'when', key])}: {key} has no {wanted}")
    return raw


def listed(value: Any) -> list[str]:
    """One answer or several, as several."""
    return value if isinstance(value, list) else [value]
