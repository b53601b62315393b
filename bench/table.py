"""What every part of the benchmark shares: a stop watch, nothing kept from before, a garden's database, the table."""

from __future__ import annotations

import inspect
import statistics
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import _lru_cache_wrapper
from typing import Any

from rich.console import Console
from rich.table import Table

from elder.engine.keeping import STORE

HEADS = ("part", "what", "Elder", "beside it", "that takes", "ratio", "to note")


@dataclass(frozen=True)
class Line:
    """One comparison, seconds. ``beside`` names the rival, or the least that could be done: a floor."""

    part: str
    what: str
    seconds: float
    beside: str
    other_seconds: float
    note: str = ""

    def cells(self) -> tuple[str, ...]:
        """As the table shows it; the ratio is how many times the other's time Elder takes."""
        ratio = f"{self.seconds / self.other_seconds:.3g} ×"
        return self.part, self.what, _ms(self.seconds), self.beside, _ms(self.other_seconds), ratio, self.note


def _ms(seconds: float) -> str:
    return f"{1000 * seconds:,.1f} ms"


def timed(run: Callable[[], Any], times: int) -> tuple[float, Any]:
    """The median seconds of several runs, and the last answer."""
    spent, answer = [], None
    for _ in range(times):
        begin = time.perf_counter()
        answer = run()
        spent.append(time.perf_counter() - begin)
    return statistics.median(spent), answer


def forget() -> None:
    """Everything Elder keeps between calls is thrown away, but what it reads from its own files: that is a part of
    the start."""
    STORE.forget()
    for kept in kept_functions():
        if inspect.signature(kept).parameters:
            kept.cache_clear()


def kept_functions() -> list[Any]:
    """Every function of Elder's that keeps its answers, of modules and of classes. Looked up by name, since what is
    frozen once a process is settled is not among what the collector tells of; by exact type, since asking a lazy object
    of a request what it is would wake it."""
    modules = [module for name, module in sys.modules.items() if name.startswith("elder.")]
    there = [value for module in modules for value in vars(module).values()]
    within = [value for one in there if isinstance(one, type) for value in vars(one).values()]
    found = {id(value): value for value in (*there, *within) if type(value) is _lru_cache_wrapper}
    return [value for value in found.values() if value.__module__.startswith("elder.")]


@contextmanager
def garden_database() -> Iterator[None]:
    """A test database, made once for all the parts that need one."""
    import django

    django.setup()
    from django.conf import settings
    from django.test.utils import get_runner, setup_test_environment, teardown_test_environment

    setup_test_environment()
    runner = get_runner(settings)(verbosity=0, interactive=False)
    databases = runner.setup_databases()
    try:
        yield
    finally:
        runner.teardown_databases(databases)
        teardown_test_environment()


def show(lines: list[Line]) -> None:
    """The one table."""
    table = Table(title="Elder beside another way, or beside the least there is to do; one run, one thread")
    for head in HEADS:
        table.add_column(head, justify="right" if head in ("Elder", "that takes", "ratio") else "left")
    part = ""
    for line in lines:
        if line.part != part:
            table.add_section()
        table.add_row(*line.cells())
        part = line.part
    Console(width=170).print(table)
