"""The house stays in order: sizes, words, types and where a page's values come from, read off the code itself."""

from __future__ import annotations

import ast
import re
from collections import defaultdict
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parents[1]
MODULES = sorted(path for path in (ROOT / "elder").rglob("*.py") if "migrations" not in path.parts)
TREES = {path: ast.parse(path.read_text(encoding="utf-8")) for path in MODULES}
WEB = [path for path in MODULES if "web" in path.parts]
FUNCTIONS = (ast.FunctionDef, ast.AsyncFunctionDef)

# A row and the engine's value of one idea share its name.
ONE_IDEA = {"Entry", "Place", "Want"}
# Pages for what went wrong are drawn without a garden, the last without even a database.
WITHOUT_A_PAGE_OBJECT = {"ui/errors.py", "ui/pages.py", "ui/templatetags/elder.py", "rounds/offline_views.py"}


def functions() -> Iterator[tuple[Path, ast.FunctionDef | ast.AsyncFunctionDef]]:
    for path, tree in TREES.items():
        yield from ((path, node) for node in ast.walk(tree) if isinstance(node, FUNCTIONS))


def test_no_module_is_longer_than_300_lines() -> None:
    long = {str(path): n for path in MODULES if (n := len(path.read_text(encoding="utf-8").splitlines())) > 300}
    assert long == {}


def test_no_function_is_longer_than_50_lines() -> None:
    assert [node.name for _, node in functions() if (node.end_lineno or 0) - node.lineno + 1 > 50] == []


def test_at_most_six_functions_take_more_than_six_parameters() -> None:
    trains = []
    for _, node in functions():
        names = [one.arg for one in (*node.args.posonlyargs, *node.args.args, *node.args.kwonlyargs)]
        if len([name for name in names if name not in ("self", "cls")]) > 6:
            trains.append(node.name)
    assert len(trains) <= 6, trains  # the sixth is `multiply`, whose shape is given


def test_no_class_name_stands_for_two_ideas() -> None:
    found = defaultdict(set)
    for path, tree in TREES.items():
        for node in ast.walk(tree):
            if isinstance(node, ast.ClassDef) and node.name not in ("Meta", "Command"):
                found[node.name].add(path)
    assert {name for name, paths in found.items() if len(paths) > 1} == ONE_IDEA


def test_any_is_seldom_needed_in_the_pages() -> None:
    used = [
        f"{path.name}:{node.lineno}"
        for path in WEB
        for node in ast.walk(TREES[path])
        if isinstance(node, ast.Name) and node.id == "Any" and "commands" not in path.parts  # Django's own options
    ]
    assert len(used) <= 15, used


def test_every_page_is_drawn_from_a_typed_object() -> None:
    """Only ``ui/pages.show`` draws a page of a room; a view that fills a dict with names is one nobody checks."""
    loose = [
        str(path)
        for path in WEB
        for node in ast.walk(TREES[path])
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "render"
    ]
    allowed = {str(ROOT / "elder" / "web" / name) for name in WITHOUT_A_PAGE_OBJECT}
    assert set(loose) <= allowed


def test_no_line_of_a_page_or_a_style_is_over_120_columns() -> None:
    files = [*(ROOT / "elder").rglob("*.html"), *(ROOT / "elder").rglob("*.css")]
    long = [
        f"{path.name}:{number}"
        for path in files
        if "vendor" not in path.parts
        for number, line in enumerate(path.read_text(encoding="utf-8").splitlines(), start=1)
        if len(line) > 120 and not re.search(r"https?://|url\(", line)
    ]
    assert long == []


def test_no_value_is_kept_behind_a_lock_over_its_class() -> None:
    """``functools.cached_property`` lets one thread at a time ask any object of a class: ``keeping`` has one that does
    not."""
    named = re.compile(r"from functools import .*\bcached_property\b|functools\.cached_property[^`]")
    assert [str(path) for path in MODULES if named.search(path.read_text(encoding="utf-8"))] == []
