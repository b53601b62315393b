"""Tables of the handbook as YAML: read, checked against their schema, wrong lines named by file and line."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable
from functools import lru_cache
from pathlib import Path
from typing import Any, Final

import yaml
from jsonschema import Draft202012Validator

FOLDER = Path(__file__).resolve().parents[2] / "handbook"


class HandbookError(Exception):
    """A handbook file that cannot be used: says the file, the line and what is wrong."""


SAFE_LOADER: Final = getattr(yaml, "CSafeLoader", yaml.SafeLoader)


Where = Callable[[Iterable[Any]], str]


@lru_cache(maxsize=1)
def validator() -> Draft202012Validator:
    return Draft202012Validator(json.loads((FOLDER / "schema.json").read_text(encoding="utf-8")))


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
