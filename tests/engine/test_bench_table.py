"""What the benchmark calls cold: nothing kept of a garden, wherever it is kept, and all that ships with Elder."""

from __future__ import annotations

import gc
from functools import lru_cache

from bench.table import forget, kept_functions
from elder.engine.chance import rooting_time
from elder.engine.chance.rooting_time import Lognormal
from elder.engine.handbook.loading import handbook
from elder.engine.keeping import STORE
from elder.engine.plan import wood


def test_what_a_process_settled_for_serving_keeps_is_forgotten_too() -> None:
    """Frozen, its functions are not among what the collector tells of."""
    plants = handbook()
    Lognormal(9.0, 0.27).quick_cdf(Lognormal(9.0, 0.27).cdf([4.0]))
    STORE.hold("anything", 1, 1)
    gc.freeze()
    try:
        assert rooting_time._table.cache_info().currsize
        forget()
    finally:
        gc.unfreeze()
    assert rooting_time._table.cache_info().currsize == 0
    assert STORE.held("anything") is None
    assert handbook() is plants, "its own files are read at the start"


def test_every_function_that_keeps_its_answers_is_found_once() -> None:
    found = kept_functions()
    assert len({id(one) for one in found}) == len(found)
    assert {rooting_time._table, wood._season_under, handbook} <= set(found)
    assert all(type(one) is type(lru_cache(len)) for one in found)
