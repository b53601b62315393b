"""Plants of a household's own: begun as a copy of the nearest relative, in the handbook's own YAML.

What may be eaten or fed is never copied; cautions are, marked as the relative's. Every value that was changed says so
in its source, with the reason the household gave.
"""

from __future__ import annotations

import copy
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Final

import yaml

from elder.engine.handbook.tables import FOLDER, SAFE_LOADER

Raw = dict[str, Any]  # a plant's file as plain values
OURS: Final = "ours: "  # how the source of a changed value begins, before its reason
MOST_DEEP: Final = 12  # a plant's file is six deep
GREATEST: Final = 1e6  # no value of a plant comes near it; .nan and .inf are not below it
OPENING: Final = (
    yaml.BlockMappingStartToken, yaml.BlockSequenceStartToken, yaml.FlowMappingStartToken, yaml.FlowSequenceStartToken,
)  # fmt: skip
CLOSING: Final = yaml.FlowMappingEndToken | yaml.FlowSequenceEndToken
NOT_TO_EAT: Final = "Nothing is known of eating it, or of feeding it: do not, unless you know."


@dataclass(frozen=True)
class ValueRow:
    """One value that may be changed: where it stands in the file, what it is called, its unit, and between what it
    lies."""

    path: tuple[Any, ...]
    name: str
    unit: str
    least: float
    most: float

    @property
    def key(self) -> str:
        """As a form's field."""
        return "-".join(str(step) for step in self.path)


PLANT_ROWS: Final = (
    ValueRow(("warmth", "t_min", "value"), "No roots below", "°C", -5, 30),
    ValueRow(("warmth", "t_opt", "value"), "Roots fastest at", "°C", 5, 40),
    ValueRow(("warmth", "t_max", "value"), "No roots above", "°C", 10, 55),
    ValueRow(("planting", "frost_limit", "value"), "Hurt at", "°C", -30, 15),
    ValueRow(("planting", "least_soil", "value"), "Ground at least", "°C", 0, 30),
    ValueRow(("planting", "patience_in_pot", "value"), "Waits in its pot", "days", 1, 2000),
    ValueRow(("planting", "first_harvest", "early"), "First harvest, early", "days", 1, 4000),
    ValueRow(("planting", "first_harvest", "late"), "First harvest, late", "days", 2, 4000),
    ValueRow(("stock", "gives", "value"), "Gives", "cuttings", 1, 500),
    ValueRow(("stock", "again", "value"), "Again after", "days", 1, 1500),
)
WAY_ROWS: Final = (
    (("rooting", "early"), "Roots, early", "days", 1, 700),
    (("rooting", "late"), "Roots, late", "days", 2, 900),
    (("rooting", "at"), "at", "°C", 1, 45),
    (("take", "value"), "Take, as a share of 1", "", 0.02, 0.98),
    (("establish", "early"), "Grows on, early", "days", 1, 700),
    (("establish", "late"), "Grows on, late", "days", 2, 900),
    (("harden", "value"), "Hardened", "days", 0, 60),
    (("dry", "value"), "Dried first", "days", 0, 30),
    (("length", "value"), "Cut to", "cm", 1, 200),
)
RISING: Final = (
    (("warmth", "t_min", "value"), ("warmth", "t_opt", "value"), "The best warmth lies above the least."),
    (("warmth", "t_opt", "value"), ("warmth", "t_max", "value"), "The best warmth lies below the greatest."),
    (("planting", "first_harvest", "early"), ("planting", "first_harvest", "late"), "Late comes after early."),
)


def raw_of(text: str) -> Raw:
    """A plant's file as plain values. What it is was checked when it was read."""
    found: Raw = yaml.load(text, Loader=SAFE_LOADER)  # noqa: S506 - the safe loader
    return found


def relative_text(slug: str) -> str:
    """The shipped file of a plant."""
    return Path(FOLDER / "plants" / f"{slug}.yaml").read_text(encoding="utf-8")


def copy_of(raw: Raw, name: str, relative: str) -> Raw:
    """A plant begun from another: its values and cautions, none of what is eaten, no other names of its own."""
    made = copy.deepcopy(raw)
    called = raw["name"]
    made |= {"name": name, "relative": relative}
    made.pop("also", None)
    mark = f" (Of its relative, {called.lower()}.)"
    kept = [item for item in raw["cautions"] if item["at"] != "eat"]
    made["cautions"] = [{**item, "text": item["text"].rstrip() + mark} for item in kept]
    made["cautions"].append({"at": "eat", "text": NOT_TO_EAT, "source": "assumed"})
    return made


def rows_of(raw: Raw) -> Iterator[ValueRow]:
    """Every value of a file that may be changed."""
    for row in PLANT_ROWS:
        if value_at(raw, row.path) is not None:
            yield row
    for i in range(len(raw["methods"])):
        for path, name, unit, least, most in WAY_ROWS:
            row = ValueRow(("methods", i, *path), name, unit, least, most)
            if value_at(raw, row.path) is not None:
                yield row


def value_at(raw: Any, path: tuple[Any, ...]) -> Any:
    """The value at a path; nothing where there is none."""
    for step in path:
        if isinstance(raw, list):
            raw = raw[step] if isinstance(step, int) and step < len(raw) else None
        else:
            raw = raw.get(step) if isinstance(raw, dict) else None
    return raw


def changed(raw: Raw, path: tuple[Any, ...], value: float, why: str) -> None:
    """Put a value in its place, with why, where it is another than was there."""
    holder = value_at(raw, path[:-1])
    holder[path[-1]] = int(value) if float(value).is_integer() else float(value)
    holder["source"] = f"{OURS}{why}"


def out_of_order(raw: Raw) -> Iterator[tuple[tuple[Any, ...], str]]:
    """Pairs that do not rise, by the path of the second, each with its sentence."""
    pairs: list[tuple[tuple[Any, ...], tuple[Any, ...], str]] = [*RISING]
    for i in range(len(raw["methods"])):
        for key in ("rooting", "establish"):
            pairs.append((("methods", i, key, "early"), ("methods", i, key, "late"), "Late comes after early."))
    for low, high, said in pairs:
        first, second = value_at(raw, low), value_at(raw, high)
        if first is not None and second is not None and second <= first:
            yield high, said


class _Plainly(yaml.SafeDumper):
    """Writes every value out where it stands, never as a mark that points to another."""

    def ignore_aliases(self, data: object) -> bool:
        return True


def written(raw: Raw) -> str:
    """A plant as the handbook's own YAML."""
    return str(yaml.dump(raw, Dumper=_Plainly, sort_keys=False, allow_unicode=True, width=118))


def unsafe(text: str) -> str:
    """Why a text from elsewhere is not to be read at all: it points back into itself, by which a few lines grow without
    end, it is nested deeper than any plant, or a number in it is none. Nothing for one that may be read."""
    depth = 0
    try:
        for token in yaml.scan(text, Loader=SAFE_LOADER):
            if isinstance(token, yaml.AliasToken | yaml.AnchorToken):
                return "A plant says everything where it stands: no anchors."
            depth += isinstance(token, OPENING) - isinstance(token, yaml.BlockEndToken | CLOSING)
            if depth > MOST_DEEP:
                return "It is nested deeper than any plant."
        sound = all(abs(number) < GREATEST for number in _numbers(yaml.load(text, Loader=SAFE_LOADER)))  # noqa: S506
    except yaml.YAMLError:
        return ""  # what is wrong with it is said, by its line, when it is read
    except ValueError:  # thousands of digits, or a date that no calendar has
        sound = False
    return "" if sound else "A number in it is none that a plant has."


def out_of_bounds(raw: Raw) -> Iterator[str]:
    """What no plant has, each in a sentence: a value outside what may be asked for, or two ways of one name."""
    for row in rows_of(raw):
        value = value_at(raw, row.path)
        if not row.least <= value <= row.most:
            yield f"{row.name}: between {row.least:g} and {row.most:g} {row.unit}".rstrip() + "."
    slugs = [way["slug"] for way in raw["methods"]]
    if len(set(slugs)) < len(slugs):
        yield "Two of its ways have one name."


def _numbers(node: Any) -> Iterator[float]:
    if isinstance(node, dict | list):
        for item in node.values() if isinstance(node, dict) else node:
            yield from _numbers(item)
    elif isinstance(node, int | float):
        yield node


def own_values(raw: Raw, base: Raw) -> list[tuple[ValueRow, Any, Any, str]]:
    """The values a household gave, each with its relative's and the reason."""
    by_slug = {way["slug"]: i for i, way in enumerate(base["methods"])}
    found = []
    for row in rows_of(raw):
        source = str(value_at(raw, row.path[:-1]).get("source", ""))
        there = row.path
        if row.path[0] == "methods":
            there = ("methods", by_slug.get(raw["methods"][row.path[1]]["slug"], -1), *row.path[2:])
        theirs = value_at(base, there) if -1 not in there else None
        mine = value_at(raw, row.path)
        if source.startswith(OURS) and mine != theirs:
            found.append((row, mine, theirs, source.removeprefix(OURS)))
    return found
