"""Wrong lines put into the engine one at a time, and whether a test notices: ``make mutate MODULE=batch/history``.

mutmut changes one operator, number or word at a time in a copy of the engine and runs the engine's tests against each
change. What no test notices is listed; those that change nothing anybody could see are in ``docs/testing.md``, each
with its reason. Several modules, or whole rooms, may be named at once.
"""

from __future__ import annotations

import argparse
import shutil
import subprocess
import sys
import tempfile
from collections import Counter
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
COPIED = ("elder", "tests", "demo", "pyproject.toml")
KILLED = ("killed", "timeout", "suspicious", "segfault", "caught by type check")
CONFIG = """
[tool.mutmut]
source_paths = ["elder/engine"]
only_mutate = [{modules}]
also_copy = ["elder", "demo"]
pytest_add_cli_args = ["-p", "no:cacheprovider", "-p", "no:xdist", "-x", "-q"]
pytest_add_cli_args_test_selection = [{tests}]
"""

# Every mutant is tested in a fork of one process, and mutmut asks once which tests reach which line: what an earlier
# test keeps would hide a wrong line from both. So nothing is kept from one test to the next, but the handbook as read.
FORGET = """
import pytest

from elder.engine.keeping import STORE


def _kept():
    import gc
    from functools import _lru_cache_wrapper

    return [
        one for one in gc.get_objects()
        if type(one) is _lru_cache_wrapper and str(getattr(one, "__module__", "")).startswith("elder.")
    ]


@pytest.fixture(autouse=True, scope="session")
def nothing_kept():
    found = _kept()
    for one in found:
        one.cache_clear()
    return [one for one in found if not one.__module__.startswith("elder.engine.handbook")]


@pytest.fixture(autouse=True)
def nothing_kept_from_test_to_test(nothing_kept):
    STORE.forget()
    for one in nothing_kept:
        one.cache_clear()
"""


def copied(to: Path, modules: list[str], tests: list[str]) -> None:
    """The project as mutmut is to see it."""
    skipped = shutil.ignore_patterns("__pycache__", "journeys", "web", "vendor")
    for name in COPIED:
        source = ROOT / name
        if source.is_dir():
            shutil.copytree(source, to / name, ignore=skipped if name == "tests" else None)
        else:
            text = source.read_text(encoding="utf-8")
            named = ", ".join(f'"elder/engine/{module}.py"' for module in modules)
            asked = ", ".join(f'"{test}"' for test in tests)
            (to / name).write_text(text + CONFIG.format(modules=named, tests=asked), encoding="utf-8")
    with (to / "tests" / "conftest.py").open("a", encoding="utf-8") as file:
        file.write(FORGET)


def _mutmut(where: Path, *words: str) -> str:
    mutmut = Path(sys.executable).with_name("mutmut")
    ran = subprocess.run([str(mutmut), *words], cwd=where, capture_output=True, text=True, check=False)  # noqa: S603
    return ran.stdout


def fates(where: Path) -> dict[str, str]:
    """What became of each mutant."""
    told = _mutmut(where, "results", "--all", "true")
    pairs = (line.strip().rsplit(": ", 1) for line in told.splitlines() if ": " in line)
    return {pair[0]: pair[1] for pair in pairs}


def main() -> int:
    """Run, count, list what lived."""
    words = argparse.ArgumentParser(description=(__doc__ or "").splitlines()[0])
    words.add_argument("modules", nargs="+", help="such as batch/history, or mother/gives_today")
    words.add_argument("--least", type=float, default=0.0, help="the share to be killed, else this ends with 1")
    words.add_argument(
        "--tests",
        nargs="+",
        default=["tests/engine"],
        help="only these: quicker, and the share is then the least",
    )
    words.add_argument("--show", action="store_true", help="each survivor with its line")
    asked = words.parse_args()
    modules = [module.removeprefix("elder/engine/").removesuffix(".py") for module in asked.modules]
    with tempfile.TemporaryDirectory(prefix="elder-mutants-") as folder:
        where = Path(folder)
        copied(where, modules, asked.tests)
        _mutmut(where, "run")
        found = fates(where)
        lived = [name for name, fate in found.items() if fate not in KILLED]
        if asked.show:
            for name in lived:
                sys.stdout.write(f"\n# {name}: {found[name]}\n{_mutmut(where, 'show', name)}")
    ok = True
    for module in modules:
        dotted = f"elder.engine.{module.replace('/', '.')}."
        mine = Counter("killed" if fate in KILLED else fate for name, fate in found.items() if name.startswith(dotted))
        share = mine["killed"] / max(sum(mine.values()), 1)
        ok &= share >= asked.least
        rest = ", ".join(f"{count} {fate}" for fate, count in mine.items() if fate != "killed")
        sys.stdout.write(f"{module:24} {mine['killed']:4} of {sum(mine.values()):4} killed  {share:4.0%}  {rest}\n")
    return 0 if ok else 1


if __name__ == "__main__":
    raise SystemExit(main())
