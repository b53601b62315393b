"""The shipped handbook, and what is said of a file that does not fit."""

from __future__ import annotations

from pathlib import Path

import pytest

from elder.engine.handbook import FOLDER, HandbookError, handbook, load_plant
from elder.engine.rooting import hope, units_to_stage
from elder.engine.warmth import response

TOMATO = (FOLDER / "plants" / "tomato.yaml").read_text(encoding="utf-8")


def test_the_first_six() -> None:
    assert set(handbook()) == {"tomato", "basil", "mint", "chilli", "sweet-potato", "grapevine"}


@pytest.mark.parametrize("slug", sorted(handbook()))
def test_every_value_has_its_source(slug: str) -> None:
    plant = handbook()[slug]
    sources = {row.source for row in plant.provenance}
    assert sources <= {"common practice", "from memory", "assumed"}
    assert len(plant.provenance) >= 15
    assert {caution.at for caution in plant.cautions}


@pytest.mark.parametrize("slug", sorted(handbook()))
def test_values_hang_together(slug: str) -> None:
    plant = handbook()[slug]
    for method in plant.methods:
        rooting = units_to_stage(method.rooting, plant.cardinals)
        assert response(method.rooting.at_c, plant.cardinals) > 0.3
        # Nobody is told to give up before half of those that will root have rooted.
        assert float(hope(rooting.median, take=method.take.mean, rooting=rooting)) > 0.3
    assert plant.frost_limit_c < plant.least_soil_c < plant.cardinals.t_opt


@pytest.mark.parametrize(
    ("broken", "line", "words"),
    [
        (TOMATO.replace("t_opt: {value: 25", "t_opt: {value: hot"), 8, "'hot' is not of type 'number'"),
        (
            TOMATO.replace("  t_max: {value: 36, unit: °C, source: from memory}\n", ""),
            6,
            "'t_max' is a required property",
        ),
        (TOMATO.replace("t_opt: {value: 25", "t_opt: {value: 45"), 6, "cardinal temperatures rise"),
        (
            TOMATO.replace("take: {value: 0.9, weight: 20, source: from memory}", "take: {value: 0.9, weight: 20}"),
            25,
            "'source' is a required",
        ),
        (
            TOMATO.replace("rooting: {early: 7, late: 14, at: 21", "rooting: {early: 7, late: 14, at: 41"),
            23,
            "no growth at 41",
        ),
        (TOMATO.replace("slug: tomato", "slug: potato", 1), 1, "is not the file's name"),
        (TOMATO.replace("name: Tomato", "name: [Tomato"), 3, "expected"),
    ],
)
def test_faults_name_file_and_line(tmp_path: Path, broken: str, line: int, words: str) -> None:
    path = tmp_path / "tomato.yaml"
    path.write_text(broken, encoding="utf-8")
    with pytest.raises(HandbookError) as fault:
        load_plant(path)
    assert str(fault.value).startswith(f"tomato.yaml:{line}: ")
    assert words in str(fault.value)


def test_unknown_method_is_an_error() -> None:
    with pytest.raises(KeyError):
        handbook()["tomato"].method("cloud")
