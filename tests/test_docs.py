"""What the docs name is there: files, make's targets, names in the code, and the same words as on the screen."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from elder.web.say.glossary import WORDS

ROOT = Path(__file__).parents[1]
PAGES = [ROOT / "README.md", ROOT / "CONTRIBUTING.md", *sorted((ROOT / "docs").glob("*.md"))]
BASES = (ROOT, ROOT / "elder" / "handbook")  # the handbook's page names its own files
CODE = "\n".join(path.read_text(encoding="utf-8") for path in (ROOT / "elder").rglob("*.py"))


@pytest.mark.parametrize("doc", PAGES, ids=lambda doc: doc.name)
def test_every_file_named_is_there(doc: Path) -> None:
    text = doc.read_text(encoding="utf-8")
    named = re.findall(r"`((?:elder|tests|docs|demo|bench|scripts)/[\w/.-]+)`", text)
    named += [
        f"elder/engine/{path}.py"
        for path in re.findall(r"`((?:climate|place|chance|plan|batch|mother|space|round|cut)/\w+)`", text)
    ]
    named += [f"elder/web/ui/static/elder/{path}" for path in re.findall(r"`(js/\w+/\w+\.js)`", text)]
    named += re.findall(r"\]\((docs/[\w/.-]+)\)", text)
    assert [path for path in named if not any((base / path).exists() for base in BASES)] == []


@pytest.mark.parametrize("doc", PAGES, ids=lambda doc: doc.name)
def test_every_target_named_is_in_the_makefile(doc: Path) -> None:
    targets = set(re.findall(r"^([a-z-]+):", (ROOT / "Makefile").read_text(encoding="utf-8"), re.MULTILINE))
    assert set(re.findall(r"`make ([a-z-]+)", doc.read_text(encoding="utf-8"))) <= targets


def test_the_glossary_says_what_the_screen_says() -> None:
    text = (ROOT / "docs" / "glossary.md").read_text(encoding="utf-8")
    assert re.findall(r"^\| \*\*(.+?)\*\* \| (.+) \|$", text, re.MULTILINE) == [(w.term, w.text) for w in WORDS]


def test_every_name_of_the_glossary_is_in_the_code() -> None:
    text = (ROOT / "docs" / "glossary.md").read_text(encoding="utf-8").split("## In the code")[1]
    names = re.findall(r"`([A-Za-z_]+)(?:\.\w+)?`", text)
    assert [name for name in names if not re.search(rf"\b(?:class|def) {name}\b|\b{name}:", CODE)] == []
