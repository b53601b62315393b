"""What a sign of trouble costs: the share of those waiting that is expected to go. Assumed, in ``signs.yaml``."""

from __future__ import annotations

import math
from collections.abc import Iterable
from functools import lru_cache

from elder.engine.handbook.tables import read_bench


@lru_cache(maxsize=1)
def sign_costs() -> dict[str, float]:
    """Of each sign that costs any, the share of those still waiting that is expected to be lost."""
    raw, _ = read_bench("signs")
    return {item["key"]: float(item["costs"]) for item in raw["signs"] if "costs" in item}


def waiting_kept(signs: Iterable[str]) -> float:
    """Of those waiting, the share that the signs of the last look leave."""
    costs = sign_costs()
    return math.prod(1 - costs.get(sign, 0.0) for sign in set(signs))
