"""What the benchmark calls cold: nothing kept of a garden, wherever it is kept, and all that ships with Elder."""

from __future__ import annotations

import gc
import os
import subprocess
import sys
from functools import lru_cache
from pathlib import Path

import pytest

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


@pytest.mark.skipif(not Path("/proc/self/task").exists(), reason="where threads are not told")
def test_it_is_measured_on_one_thread() -> None:
    """Whatever part numpy comes with: a second thread of its linear algebra waits busily, and was counted."""
    asked = "import os, bench.every_page, numpy as n; n.ones((400, 400)) @ n.ones((400, 400));"
    asked += "print(len(os.listdir('/proc/self/task')))"
    left = {name: value for name, value in os.environ.items() if not name.endswith("_NUM_THREADS")}
    root = Path(__file__).resolve().parents[2]
    told = subprocess.run([sys.executable, "-c", asked], env=left, cwd=root, capture_output=True, text=True, check=True)
    assert told.stdout.strip() == "1"
