"""Tables of the handbook as YAML: read, checked against their schema, wrong lines named by file and line."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable
from functools import lru_cache, partial
from pathlib import Path
from typing import Any, Final

import yaml
from jsonschema import Draft202012Validator

FOLDER = Path(__file__).resolve().parents[2] / "handbook"


class HandbookError(Exception):
    """A handbook file that cannot be used: says the file, the line and what is wrong."""


SAFE_LOADER: Final = getattr(yaml, "CSafeLoader", yaml.SafeLoader)


MOST_MESSAGE: Final = 200  # of a fault: a whole list would bury what is wrong with it


Where = Callable[[Iterable[Any]], str]


@lru_cache(maxsize=16)
def _validator(schema: str) -> Draft202012Validator:
    return Draft202012Validator(json.loads((FOLDER / schema).read_text(encoding="utf-8")))


def read_table(path: Path, schema: str) -> tuple[dict[str, Any], Where]:
    """A YAML file and what names its lines. Raises HandbookError, with file and line, for each fault its schema finds.

    ``schema`` is the schema's own file below the handbook's folder.
    """
    return parse_table(path.read_text(encoding="utf-8"), path, schema)


def parse_table(text: str, path: Path, schema: str) -> tuple[dict[str, Any], Where]:
    """The same of a text that is called by a path, whether or not it lies there."""
    where = partial(line_of, path, text)
    try:
        raw: dict[str, Any] = yaml.load(text, Loader=SAFE_LOADER)  # noqa: S506 - the safe loader, in C where there is one
    except yaml.MarkedYAMLError as error:
        line = error.problem_mark.line + 1 if error.problem_mark else 1
        raise HandbookError(f"{path.name}:{line}: {error.problem}") from error
    except yaml.YAMLError as error:
        raise HandbookError(f"{path.name}:1: {error}") from error
    if not isinstance(raw, dict):
        raise HandbookError(f"{path.name}:1: a plant is written as names with values")
    validator = _validator(schema)
    if not validator.is_valid(raw):
        faults = sorted(validator.iter_errors(raw), key=lambda fault: list(map(str, fault.absolute_path)))
        raise HandbookError(
            "\n".join(f"{where(fault.absolute_path)}: {fault.message[:MOST_MESSAGE]}" for fault in faults)
        )
    return raw, where


def read_bench(name: str) -> tuple[dict[str, Any], Where]:
    """A table of the bench, such as ``signs``: its rows and what names its lines."""
    return read_table(FOLDER / "bench" / f"{name}.yaml", f"bench/{name}.schema.json")


def line_of(path: Path, text: str, steps: Iterable[Any]) -> str:
    """File and line, from 1, at which the value at that path stands (or the nearest thing above it)."""
    node: Any = yaml.compose(text, Loader=SAFE_LOADER)
    line = 1
    for step in steps:
        if isinstance(node, yaml.MappingNode):
            found = next((pair for pair in node.value if pair[0].value == step), None)
            if found is None:
                break
            line, node = found[0].start_mark.line + 1, found[1]
        elif isinstance(node, yaml.SequenceNode):
            node = node.value[step]
            line = node.start_mark.line + 1
    return f"{path.name}:{line}"
