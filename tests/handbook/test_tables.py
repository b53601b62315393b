"""A fault in a table of the bench is named by file and line, as one in a plant's file is."""

from __future__ import annotations

import shutil
from pathlib import Path
from typing import Any

import pytest

from elder.engine.handbook import tables
from elder.engine.handbook.loading import load_plant
from elder.engine.handbook.stems import stem_table as stems_table
from elder.engine.handbook.tables import FOLDER, HandbookError, read_bench
from elder.engine.round.verdicts import table as signs_table

BENCH = ("signs", "stems", "potting", "cutting")


@pytest.fixture
def handbook_copy(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """A copy of the handbook that may be broken."""
    shutil.copytree(FOLDER, tmp_path / "handbook")
    monkeypatch.setattr(tables, "FOLDER", tmp_path / "handbook")
    return tmp_path / "handbook" / "bench"


def spoil(path: Path, was: str, becomes: str) -> int:
    """Change the first of some words; the line they stood on, from 1."""
    text = path.read_text(encoding="utf-8")
    at = text.index(was)
    path.write_text(text.replace(was, becomes, 1), encoding="utf-8")
    return text[:at].count("\n") + 1


@pytest.mark.parametrize("name", BENCH)
def test_the_shipped_tables_fit(name: str) -> None:
    assert read_bench(name)[0]


@pytest.mark.parametrize(
    ("name", "was", "becomes", "words"),
    [
        ("signs", "urgency: today", "urgency: soonish", "'soonish' is not one of"),
        ("signs", "gravity: 2", "gravity: 7", "7 is not one of"),
        ("signs", "stages: [waiting], facts: [new]", "stages: [asleep], facts: [new]", "'asleep' is not one of"),
        ("signs", "facts: [hot]", "facts: [windy]", "'windy' is not one of"),
        ("stems", 'cause: "A gross, sappy shoot"', "cause: A gross, sappy shoot", "'sappy shoot' was unexpected"),
        ("stems", "take: 0.85, days: 1.05", "take: 1.85, days: 1.05", "1.85 is greater than the maximum of 1"),
        ("stems", "for: [bare, fleshy]", "for: [bare, bony]", "'bony' is not one of"),
        ("mixes", "wet_kg: 1.3", "wet_kg: heavy", "'heavy' is not of type 'number'"),
        ("containers", "litres: 22", "litres: -22", "-22 is less than or equal to the minimum of 0"),
        ("cutting", "media: [plug], cm: 3", "media: [plug], cm: 3, share: 0.5", "is valid under each of"),
        ("cutting", "part: cut", "part: wave", "'wave' is not one of"),
        ("containers", "kind: jar", "kind: bucket", "'bucket' is not one of"),
    ],
)
def test_a_row_that_does_not_fit(handbook_copy: Path, name: str, was: str, becomes: str, words: str) -> None:
    line = spoil(handbook_copy / f"{name}.yaml", was, becomes)
    with pytest.raises(HandbookError) as fault:
        read_bench(name)
    said = [one for one in str(fault.value).splitlines() if words in one]
    assert said, str(fault.value)
    where, at = said[0].split(": ")[0].split(":")
    assert where == f"{name}.yaml"
    assert line - 1 <= int(at) <= line, "the line itself, or the row it belongs to"


@pytest.mark.parametrize(
    ("name", "read", "was", "becomes", "words"),
    [
        ("signs", signs_table, "all: [wilted], stages: [waiting], facts: [new]",
         "all: [wildly], stages: [waiting], facts: [new]", "there is no sign wildly"),
        ("signs", signs_table, "look_days: 1,\n     cause: \"Too much",
         "look_days: 1, discard: true,\n     cause: \"Too much", "a plant would be thrown away on one weak sign"),
        ("stems", stems_table, "when: {softness: limp}, for: [soft, ripe]",
         "when: {softness: floppy}, for: [soft, ripe]", "softness has no floppy"),
        ("stems", stems_table, "when: {softness: limp}, for: [soft, ripe]",
         "when: {weight: limp}, for: [soft, ripe]", "weight has no limp"),
    ],
)  # fmt: skip
def test_a_row_that_names_what_there_is_not(
    handbook_copy: Path, name: str, read: Any, was: str, becomes: str, words: str
) -> None:
    line = spoil(handbook_copy / f"{name}.yaml", was, becomes)
    with pytest.raises(HandbookError) as fault:
        read.__wrapped__()
    assert str(fault.value) == f"{name}.yaml:{line}: {words}"


def test_a_school_that_there_is_not(tmp_path: Path) -> None:
    path = tmp_path / "basil.yaml"
    shutil.copy(FOLDER / "plants" / "basil.yaml", path)
    line = spoil(path, "use: callus-at-once", "use: callus-next-year")
    with pytest.raises(HandbookError) as fault:
        load_plant(path)
    assert str(fault.value) == f"basil.yaml:{line}: no school 'callus-next-year'"


def test_no_school_is_said_twice() -> None:
    raw, _ = tables.read_table(FOLDER / "schools.yaml", "schools.schema.json")
    texts = [school["text"] for school in raw["schools"]]
    assert len(set(texts)) == len(texts) == 29
    files = "\n".join(path.read_text(encoding="utf-8") for path in (FOLDER / "plants").glob("*.yaml"))
    assert [text for text in texts if text in files] == []
