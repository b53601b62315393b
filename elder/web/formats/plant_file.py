"""A plant passed on as a file: what it is, and its line back to the first (docs/plant-file.md). Elder's own open form,
JSON by a published schema. Nothing of who gave it, or where, is in it but the names that mothers have."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from pathlib import Path
from typing import Final, cast

from jsonschema import Draft202012Validator

from elder.engine.refusal import Refusal

FORM: Final = "elder plant 1"
MOST_BYTES: Final = 120_000
DEEPEST: Final = 6  # lists and objects in one another; a file of ours has three


@dataclass(frozen=True)
class Ancestor:
    """A mother of the line: since when she stood and when she ended; the day the next one was cut from her, and how
    many were cut that day."""

    name: str
    since: date | None = None
    ended: date | None = None
    cut_on: date | None = None
    taken: int | None = None


@dataclass(frozen=True)
class PlantFile:
    """A plant with its family. ``line``: what it was cut from, and on back to the first. ``own``: the text of a plant
    of a household's own, begun from ``relative``."""

    plant: str
    name: str
    latin: str
    variety: str
    count: int
    handed: str
    method: str
    way: str
    cut_on: date | None
    protected: str
    line: tuple[Ancestor, ...]
    own: str = ""
    relative: str = ""

    @property
    def is_unrooted(self) -> bool:
        """Whether it is to be struck yet."""
        return self.handed == "unrooted"


@lru_cache(maxsize=1)
def _validator() -> Draft202012Validator:
    text = (Path(__file__).parent / "plant_file.schema.json").read_text(encoding="utf-8")
    return Draft202012Validator(json.loads(text))


def write_plant(plant: PlantFile) -> bytes:
    """The file, UTF-8."""
    told: dict[str, object] = {
        "form": FORM,
        "plant": plant.plant,
        "name": plant.name,
        "latin": plant.latin,
        "variety": plant.variety,
        "count": plant.count,
        "handed": plant.handed,
        "method": plant.method,
        "way": plant.way,
        "cut_on": plant.cut_on.isoformat() if plant.cut_on else None,
        "protected": plant.protected,
        "line": line_told(plant.line),
        "own": plant.own,
        "relative": plant.relative,
    }
    kept = {name: value for name, value in told.items() if value not in (None, "")}
    return (json.dumps(kept, ensure_ascii=False, indent=1) + "\n").encode()


def line_told(line: Sequence[Ancestor]) -> list[dict[str, object]]:
    """A line as plain values."""
    return [
        {
            name: value.isoformat() if isinstance(value, date) else value
            for name, value in vars(one).items()
            if value is not None
        }
        for one in line
    ]


def line_read(line: Sequence[Mapping[str, object]]) -> tuple[Ancestor, ...]:
    """A line from plain values. Raises ValueError for a day that is none."""

    def day(one: Mapping[str, object], name: str) -> date | None:
        return date.fromisoformat(str(one[name])) if one.get(name) else None

    def count(one: Mapping[str, object]) -> int | None:
        return int(str(one["taken"])) if "taken" in one else None

    return tuple(
        Ancestor(str(one["name"]), day(one, "since"), day(one, "ended"), day(one, "cut_on"), count(one)) for one in line
    )


def read_plant(data: bytes) -> PlantFile | Refusal:
    """A plant from a file's bytes, or why it is none."""
    if len(data) > MOST_BYTES:
        return Refusal("plant_file_too_long", "file", {"most_kb": MOST_BYTES // 1000})
    try:
        text = data.decode("utf-8-sig")
        if _depth(text) > DEEPEST:
            return Refusal("not_a_plant_file", "file")
        raw = json.loads(text)
    except ValueError:
        return Refusal("not_a_plant_file", "file")
    if not isinstance(raw, dict) or not str(raw.get("form", "")).startswith("elder plant"):
        return Refusal("not_a_plant_file", "file")
    if raw["form"] != FORM:
        return Refusal("newer_plant_file", "file", {"form": str(raw["form"])[:40]})
    fault = next(iter(_validator().iter_errors(raw)), None)
    if fault is not None:
        where = ".".join(str(step) for step in fault.absolute_path) or "the file"
        return Refusal("plant_file_fault", "file", {"where": where[:60]})
    return _read(raw)


def _read(raw: Mapping[str, object]) -> PlantFile | Refusal:
    """A file that fits its schema; a day may still be none of the calendar."""
    said = {name: str(raw.get(name, "")) for name in ("latin", "variety", "method", "way", "own", "relative")}
    try:
        line = line_read(cast("Sequence[Mapping[str, object]]", raw["line"]))
        cut_on = date.fromisoformat(str(raw["cut_on"])) if raw.get("cut_on") else None
    except ValueError:
        return Refusal("plant_file_fault", "file", {"where": "a day"})
    return PlantFile(
        plant=str(raw["plant"]),
        name=str(raw["name"]),
        count=int(str(raw["count"])),
        handed=str(raw["handed"]),
        cut_on=cut_on,
        protected=str(raw.get("protected", "unknown")),
        line=line,
        **said,
    )


def _depth(text: str) -> int:
    """How deep brackets nest, strings left out: asked before anything is read."""
    deepest = depth = 0
    quoted = escaped = False
    for letter in text:
        if quoted:
            quoted = escaped or letter != '"'
            escaped = not escaped and letter == "\\"
        elif letter == '"':
            quoted = True
        elif letter in "[{":
            depth += 1
            deepest = max(deepest, depth)
        elif letter in "]}":
            depth -= 1
    return deepest
