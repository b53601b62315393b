"""The examples of docs/handbook.md, put into a copy of the handbook, load and do what the page says they do."""

from __future__ import annotations

import re
import shutil
import textwrap
from collections.abc import Iterator
from pathlib import Path

import pytest

from elder.engine.cut import suitability
from elder.engine.handbook import loading, stems, tables
from elder.engine.handbook.tables import FOLDER
from elder.engine.plan import condition
from elder.engine.round import verdicts
from elder.engine.shed import vessels
from elder.engine.shed.recipes import mixes_book, recipes

PAGE = (Path(__file__).parents[2] / "docs" / "handbook.md").read_text(encoding="utf-8")
KEPT = (
    verdicts.table,
    stems.stem_table,
    suitability.asks,
    condition.costs,
    vessels.containers_book,
    vessels.shipped,
    mixes_book,
    recipes,
    loading._schools,
    loading.handbook,
    loading.clonable,
)


def example(name: str) -> str:
    """One block of the page, as it stands there."""
    found = re.search(rf"```yaml {name}\n(.*?)```", PAGE, re.DOTALL)
    assert found, name
    return found[1]


@pytest.fixture
def added(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Path]:
    """A copy of the handbook with every example in its place."""
    folder = tmp_path / "handbook"
    shutil.copytree(FOLDER, folder)
    for file, block in (("schools.yaml", "schools"), ("bench/signs.yaml", "signs"), ("bench/stems.yaml", "stems")):
        path = folder / file
        # Each is the last list of its file.
        path.write_text(path.read_text(encoding="utf-8") + textwrap.indent(example(block), "  "), encoding="utf-8")
    for file, block in (("containers", "containers"), ("mixes", "recipes")):
        path = folder / "bench" / f"{file}.yaml"
        whole = path.read_text(encoding="utf-8")
        path.write_text(
            whole.replace(f"\n{block}:\n", f"\n{block}:\n{textwrap.indent(example(file), '  ')}", 1), encoding="utf-8"
        )
    basil = folder / "plants" / "basil.yaml"
    before = basil.read_text(encoding="utf-8")
    whole = before.replace("    schools:\n", "    schools:\n" + textwrap.indent(example("plant"), "      "), 1)
    basil.write_text(whole, encoding="utf-8")
    monkeypatch.setattr(tables, "FOLDER", folder)
    monkeypatch.setattr(loading, "FOLDER", folder)
    for kept in KEPT:
        kept.cache_clear()
    yield folder
    monkeypatch.undo()
    for kept in KEPT:
        kept.cache_clear()


def test_the_rule_holds_where_the_page_says(added: Path) -> None:
    def codes(*facts: str) -> list[str]:
        return [rule.code for rule in verdicts.findings(["wilted"], "waiting", frozenset(facts))]

    assert codes("hot", "covered") == ["wilt_hot_covered"]
    assert codes("hot") == ["wilt_hot"]
    assert codes("covered") == ["wilt_waiting"]


def test_the_school_is_taken_up(added: Path) -> None:
    first = loading.handbook()["basil"].methods[0]
    schools = {(school.question, school.school): school for school in first.schools}
    school = schools["firming", "by water"]
    assert (school.text, school.start) == ("Settled by one slow watering, and not touched by hand at all.", False)


def test_the_stem_costs_what_the_page_says(added: Path) -> None:
    way = loading.handbook()["basil"].method("mix")
    found = suitability.look_over({"softness": "limp", "thickness": "thin"}, way)
    assert "limp_thin" in [one.code for one in found.found]
    # Limp 0.5 and 1.2, thin 0.88 and 1, both together 0.5 and 1: they multiply.
    assert (found.take, found.days) == (pytest.approx(0.5 * 0.88 * 0.5), pytest.approx(1.2))


@pytest.mark.parametrize("file", re.findall(r"`((?:bench/)?[a-z]+\.(?:yaml|schema\.json|json))`", PAGE))
def test_every_file_the_page_names_is_there(file: str) -> None:
    assert (FOLDER / file).is_file()


def test_the_container_and_the_mix_are_there(added: Path) -> None:
    pail = vessels.shipped()["pail"]
    # π/4 · 24² · 22 cm³, nine tenths of it filled.
    assert (pail.volume_l, pail.filled_l) == (pytest.approx(9.9526, abs=1e-4), pytest.approx(8.9573, abs=1e-4))
    assert pail.stems("stem") == 9
    assert recipes()["airy"].shares == {"bark": 1, "perlite": 1}
