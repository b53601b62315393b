"""The shipped handbook, and what is said of a file that does not fit."""

from __future__ import annotations

from pathlib import Path

import pytest

from elder.engine.chance.rooting_time import GIVE_UP_BELOW, hope, units_to_stage
from elder.engine.handbook.loading import clonable, handbook, load_plant
from elder.engine.handbook.tables import FOLDER, HandbookError
from elder.engine.place.warmth import response

TOMATO = (FOLDER / "plants" / "tomato.yaml").read_text(encoding="utf-8")


# The plants a kitchen gardener clones, and those that are asked for and are not struck from stems.
STRUCK = """tomato chilli basil mint rosemary sage thyme oregano lavender lemon-verbena lemon-balm perilla bay
sweet-potato perennial-kale watercress longevity-spinach bitter-leaf malabar-spinach lemongrass artichoke cassava
sugar-cane taro grapevine fig blackcurrant gooseberry elder mulberry citrus fuchsia passionfruit pineapple banana
dragon-fruit vanilla strawberry rose scented-pelargonium"""
NOT_STRUCK = {"lettuce": "sow", "chard": "sow", "parsley": "sow", "carrot": "sow", "apple": "graft"}


def test_the_plants_asked_for_are_there() -> None:
    assert set(STRUCK.split()) <= set(clonable())
    assert len(clonable()) >= 36
    for slug, way in NOT_STRUCK.items():
        plant = handbook()[slug]
        assert plant.ways == ()
        assert plant.instead is not None
        assert plant.instead.way == way


def test_every_form_is_there() -> None:
    forms = {method.form for plant in handbook().values() for method in plant.methods}
    assert forms >= {
        "softwood tip", "semi-ripe stem", "dormant stick", "side shoot", "slip", "crown top", "pup", "stem joint",
        "vine section", "leaf", "leaf with heel", "runner", "division",
    }  # fmt: skip
    media = {method.medium for plant in handbook().values() for method in plant.ways}
    assert media >= {"water", "mix", "plug", "clay", "growbed", "ground", "stick", "pot"}


def test_leaves_are_not_offered() -> None:
    for plant in handbook().values():
        for method in plant.methods:
            assert method.is_offered == (not method.form.startswith("leaf"))
            assert method.is_offered or method.caveat


@pytest.mark.parametrize("slug", sorted(clonable()))
def test_ways_are_whole(slug: str) -> None:
    plant = clonable()[slug]
    assert 1 <= len(plant.methods) <= 11
    assert len({method.slug for method in plant.methods}) == len(plant.methods)
    for method in plant.methods:
        assert method.effort_minutes(10, 14) > method.effort_minutes(5, 14) > 0
        assert method.direct == (method.container == "row")
        starts = [said.question for said in method.schools if said.start]
        assert len(starts) == len(set(starts))  # Elder starts in one place for each question


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
        assert float(hope(rooting.median, take=method.take.mean, rooting=rooting)) > GIVE_UP_BELOW
    assert plant.frost_limit_c < plant.least_soil_c < plant.cardinals.t_opt


@pytest.mark.parametrize(
    ("broken", "line", "words"),
    [
        (TOMATO.replace("t_opt: {value: 25", "t_opt: {value: hot"), 11, "'hot' is not of type 'number'"),
        (
            TOMATO.replace("  t_max: {value: 36, unit: °C, source: from memory}\n", ""),
            9,
            "'t_max' is a required property",
        ),
        (TOMATO.replace("t_opt: {value: 25", "t_opt: {value: 45"), 9, "cardinal temperatures rise"),
        (
            TOMATO.replace("take: {value: 0.9, weight: 20, source: from memory}", "take: {value: 0.9, weight: 20}"),
            40,
            "'source' is a required",
        ),
        (
            TOMATO.replace("rooting: {early: 7, late: 14, at: 21", "rooting: {early: 7, late: 14, at: 41"),
            38,
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


def test_a_green_shoot_of_what_gives_dormant_sticks_is_called_a_cutting() -> None:
    elder, tomato = handbook()["elder"], handbook()["tomato"]
    assert elder.grown_by(elder.method("mix")).cutting_many == "cuttings"
    assert elder.grown_by(elder.method("stick")).cutting_many == "dormant sticks"
    assert tomato.grown_by(tomato.method("jar")).cutting_many == "side shoots"
