"""Every value of every plant's file, read a second time by its path and set beside what the handbook made of it."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
import yaml

from elder.engine.chance.counting import Take
from elder.engine.chance.rooting_time import DaysAt
from elder.engine.handbook import loading
from elder.engine.handbook.loading import OWN, Book, clonable, handbook, load_plant, load_text
from elder.engine.handbook.model import Caution, Instead, Method, Plant, PupRule, School, Seed
from elder.engine.handbook.provenance import Provenance, provenance_of
from elder.engine.handbook.routes import ROUTES
from elder.engine.handbook.tables import FOLDER, HandbookError

FILES = sorted((FOLDER / "plants").glob("*.yaml"))
NOWHERE = object()
# Of each attribute the path it stands at in the file, and what is taken where it does not stand there.
PLANT_AT: dict[str, tuple[str, Any]] = {
    "slug": ("slug", NOWHERE),
    "relative": ("relative", ""),
    "name": ("name", NOWHERE),
    "latin": ("latin", NOWHERE),
    "group": ("group", NOWHERE),
    "cutting_one": ("cutting.one", NOWHERE),
    "cutting_many": ("cutting.many", NOWHERE),
    "harvest_word": ("harvest", NOWHERE),
    "leaves": ("leaves.value", NOWHERE),
    "light": ("light.value", NOWHERE),
    "frost_limit_c": ("planting.frost_limit.value", NOWHERE),
    "least_soil_c": ("planting.least_soil.value", NOWHERE),
    "heat_limit_c": ("planting.heat_limit.value", None),
    "patience_days": ("planting.patience_in_pot.value", 0),
    "crops_before_frost": ("planting.crops_before_frost.value", NOWHERE),
    "harvest_early_days": ("planting.first_harvest.early", NOWHERE),
    "harvest_late_days": ("planting.first_harvest.late", NOWHERE),
    "stock_indoors": ("stock.indoors.value", NOWHERE),
    "gives": ("stock.gives.value", NOWHERE),
    "again_days": ("stock.again.value", NOWHERE),
    "keep_above_c": ("stock.keep_above.value", None),
    "rest_limit_c": ("stock.rest_limit.value", None),
    "spreads": ("spreads.value", NOWHERE),
    "spreads_note": ("spreads.note", ""),
}
WAY_AT: dict[str, tuple[str, Any]] = {
    "slug": ("slug", NOWHERE),
    "name": ("name", NOWHERE),
    "medium": ("medium", NOWHERE),
    "container": ("container", NOWHERE),
    "form": ("form", NOWHERE),
    "wood": ("wood.value", NOWHERE),
    "length_cm": ("length.value", NOWHERE),
    "dry_days": ("dry.value", NOWHERE),
    "makes_plant": ("makes_plant.value", 1.0),
    "caveat": ("makes_plant.note", ""),
    "harden_days": ("harden.value", NOWHERE),
    "ready_sign": ("ready_sign.value", NOWHERE),
    "minutes_each": ("effort.value", NOWHERE),
    "visits_a_week": ("effort.visits", NOWHERE),
    "cover": ("needs.cover", NOWHERE),
    "hormone": ("needs.hormone", NOWHERE),
    "risk": ("risk.value", ""),
}
SCHOOLS = {one["key"]: one for one in yaml.safe_load((FOLDER / "schools.yaml").read_text("utf-8"))["schools"]}


def standing(raw: dict[str, Any], path: str, otherwise: Any) -> Any:
    """What stands at a path of a file."""
    found: Any = raw
    for step in path.split("."):
        if step not in found:
            assert otherwise is not NOWHERE, path
            return otherwise
        found = found[step]
    return found


def days(raw: dict[str, Any] | None) -> DaysAt | None:
    return DaysAt(raw["early"], raw["late"], raw["at"]) if raw else None


def pair(raw: dict[str, Any] | None) -> tuple[int, int] | None:
    return (raw["early"], raw["late"]) if raw else None


@pytest.mark.parametrize("file", FILES, ids=lambda file: file.stem)
def test_a_plant_is_what_its_file_says(file: Path) -> None:
    raw = yaml.safe_load(file.read_text("utf-8"))
    plant = load_plant(file)
    for name, (path, otherwise) in PLANT_AT.items():
        assert getattr(plant, name) == standing(raw, path, otherwise), name
    warmth = [raw["warmth"][key]["value"] for key in ("t_min", "t_opt", "t_max")]
    assert [plant.cardinals.t_min, plant.cardinals.t_opt, plant.cardinals.t_max] == warmth
    assert plant.also == tuple(raw.get("also", []))
    assert plant.crop_season == pair(raw["planting"].get("crop_season"))
    pups, seed, instead = raw["stock"].get("pups"), raw.get("seed"), raw.get("instead")
    assert plant.pups == (PupRule(pups["value"], pups["keep"]) if pups else None)
    true = seed and seed["comes_true"]
    assert plant.seed == (Seed(true["value"], true.get("note", ""), days(seed["ready"])) if seed else None)
    assert plant.instead == (Instead(instead["way"], instead["text"]) if instead else None)
    assert plant.cautions == tuple(Caution(one["at"], one["text"]) for one in raw["cautions"])


@pytest.mark.parametrize("file", FILES, ids=lambda file: file.stem)
def test_a_way_is_what_its_file_says(file: Path) -> None:
    raw = yaml.safe_load(file.read_text("utf-8"))
    ways = load_plant(file).methods
    for way, one in zip(ways, raw["methods"], strict=False):
        for name, (path, otherwise) in WAY_AT.items():
            assert getattr(way, name) == standing(one, path, otherwise), (way.slug, name)
        assert (way.rooting, way.establish) == (days(one["rooting"]), days(one.get("establish"))), way.slug
        assert way.take == Take(one["take"]["value"], one["take"]["weight"])
        assert way.route is ROUTES[one.get("route", {"value": "potted"})["value"]]
        assert way.harvest_days == pair(one.get("first_harvest"))
        told = [(SCHOOLS[taken["use"]], taken["start"]) for taken in one.get("schools", [])]
        assert way.schools == tuple(School(it["question"], it["school"], it["text"], start) for it, start in told)
    assert [way.slug for way in ways[len(raw["methods"]) :]] == [
        f"{one['slug']}-{route.replace(' ', '-')}"
        for one in raw["methods"]
        for route in one.get("also_by", {"value": []})["value"]
    ]


def also_by(route: str) -> list[tuple[Plant, Method, Method]]:
    """Every way that goes that route as well, with how it is written."""
    return [
        (plant, plant.method(way.slug.removesuffix(f"-{route.replace(' ', '-')}")), way)
        for plant in map(load_plant, FILES)
        for way in plant.methods
        if way.slug.endswith(f"-{route.replace(' ', '-')}")
    ]


def test_a_way_straight_out_crops_later_by_what_it_takes_in_a_pot() -> None:
    found = also_by("straight out")
    assert len(found) >= 5
    for plant, written, way in found:
        early, late = written.harvest_days or (plant.harvest_early_days, plant.harvest_late_days)
        grown = written.establish
        assert grown is not None
        assert way.harvest_days == (round(early + grown.early), round(late + grown.late)), (plant.slug, way.slug)
        assert (way.name, way.route) == (f"{written.name}, straight out", ROUTES["straight out"])
        assert (way.take, way.rooting, way.length_cm) == (written.take, written.rooting, written.length_cm)


def test_a_way_on_in_solution_crops_when_it_does() -> None:
    found = also_by("solution")
    assert found
    for plant, written, way in found:
        assert way.route is ROUTES["solution"]
        assert way.name == f"{written.name}, then nutrient solution"
        stays = ROUTES["solution"].stays
        early, late = written.harvest_days or (plant.harvest_early_days, plant.harvest_late_days)
        grown = written.establish
        later = (round(early + grown.early), round(late + grown.late)) if stays and grown else written.harvest_days
        assert way.harvest_days == later, (plant.slug, way.slug)


def test_a_slug_that_is_not_the_file_s_name_is_told_by_its_line(tmp_path: Path) -> None:
    file = tmp_path / "plum.yaml"
    file.write_text((FOLDER / "plants" / "mint.yaml").read_text("utf-8"), "utf-8")
    with pytest.raises(HandbookError, match=r"plum\.yaml:\d+.*: slug 'mint' is not the file's name"):
        load_plant(file)


def test_a_school_that_nobody_keeps_is_told_by_its_line() -> None:
    text = (FOLDER / "plants" / "pineapple.yaml").read_text("utf-8").replace("use: firming-firm", "use: firming-not")
    line = next(i for i, written in enumerate(text.splitlines(), 1) if "firming-not" in written)
    with pytest.raises(HandbookError, match=rf"plant\.yaml:{line}.*: no school 'firming-not'"):
        load_text(text, f"{OWN}1")


@pytest.mark.parametrize(
    ("there", "instead", "said"),
    [
        ("t_opt: {value: 28,", "t_opt: {value: 12,", "warmth"),
        ("rooting: {early: 40, late: 80,", "rooting: {early: 40, late: 40,", "rooting"),
        ("establish: {early: 30, late: 55, at: 25,", "establish: {early: 30, late: 55, at: 5,", "establish"),
    ],
)
def test_a_value_that_cannot_be_is_told_by_its_line(there: str, instead: str, said: str) -> None:
    text = (FOLDER / "plants" / "pineapple.yaml").read_text("utf-8").replace(there, instead, 1)
    lines = [
        i for i, written in enumerate(text.splitlines(), 1) if instead in written or written.startswith(f"{said}:")
    ]
    with pytest.raises(HandbookError) as told:
        load_text(text, f"{OWN}2")
    assert any(f"plant.yaml:{line}" in str(told.value) for line in lines), told.value


def test_seed_that_cannot_be_is_told_by_its_line() -> None:
    text = (FOLDER / "plants" / "tomato.yaml").read_text("utf-8")
    begins = text.index("seed:")
    written = text[begins:].splitlines()
    ready = next(one for one in written if "ready:" in one)
    early = ready.split("late: ")[0].split("early: ")[1].strip(", ")
    worse = ready.replace(f"late: {ready.split('late: ')[1].split(',')[0]}", f"late: {early}")
    assert worse != ready
    text = text.replace(ready, worse)
    line = next(i for i, one in enumerate(text.splitlines(), 1) if one == worse)
    with pytest.raises(HandbookError, match=rf"plant\.yaml:{line}\b"):
        load_text(text, f"{OWN}3")


def test_older_plants_of_households_stand_in_full_sun() -> None:
    text = (FOLDER / "plants" / "mint.yaml").read_text("utf-8")
    assert load_text(text, f"{OWN}4").light == handbook()["mint"].light == "part sun"
    without = "\n".join(line for line in text.splitlines() if not line.startswith("light:"))
    made = load_text(without, f"{OWN}4")
    assert (made.light, made.slug, made.name) == ("full sun", f"{OWN}4", "Mint (yours)")


def test_a_book_knows_its_own_and_those_of_households(monkeypatch: pytest.MonkeyPatch) -> None:
    text = (FOLDER / "plants" / "mint.yaml").read_text("utf-8")
    monkeypatch.setattr(loading, "_OWN_PLANTS", {})
    monkeypatch.setattr(loading, "_OWN_TEXTS", [{f"{OWN}5": text}.get])
    book = Book({"basil": handbook()["basil"]})
    assert f"{OWN}5" in book
    assert ("basil" in book, "mint" in book, 5 in book, f"{OWN}6" in book) == (True, False, False, False)
    assert book[f"{OWN}5"] is book.get(f"{OWN}5") is loading.own_plant(f"{OWN}5")
    assert book.get("basil") is handbook()["basil"]
    assert (book.get("mint"), book.get("mint", handbook()["mint"])) == (None, handbook()["mint"])
    for slug in ("mint", f"{OWN}6"):
        with pytest.raises(KeyError, match=f"^'{slug}'$"):
            book[slug]
    assert list(book) == ["basil"], "what a household has is never listed"


def test_minutes_of_hands() -> None:
    """Eight minutes each and two visits a week of two minutes: ten pieces in three weeks are 80 and 12."""
    peeled = handbook()["pineapple"].method("peeled")
    assert (peeled.minutes_each, peeled.visits_a_week) == (8, 2)
    assert peeled.effort_minutes(10, 21) == pytest.approx(92)


@pytest.mark.parametrize(
    ("slug", "way", "one", "many"),
    [
        ("pineapple", "pup", "pup", "pups"),
        ("pineapple", "peeled", "top", "tops"),
        ("mint", "jar", "tip", "tips"),
        ("grapevine", "stick", "dormant stick", "dormant sticks"),
    ],
)
def test_a_piece_is_called_by_what_it_is(slug: str, way: str, one: str, many: str) -> None:
    plant = handbook()[slug]
    grown = plant.grown_by(plant.method(way))
    assert (grown.cutting_one, grown.cutting_many) == (one, many)


def test_a_way_that_says_nothing_of_its_own_grows_the_plant_itself() -> None:
    """Mint is cut as tips and called tips, and crops when mint does; a pup of a pineapple sooner than a top."""
    mint, pineapple = handbook()["mint"], handbook()["pineapple"]
    assert mint.grown_by(mint.method("jar")) is mint
    pup = pineapple.grown_by(pineapple.method("pup"))
    assert (pup.harvest_early_days, pup.harvest_late_days) == pineapple.method("pup").harvest_days
    with pytest.raises(KeyError, match=r"^'stool'$"):
        mint.method("stool")


def test_a_green_shoot_of_what_gives_sticks_is_a_cutting() -> None:
    for plant in clonable().values():
        for way in plant.methods:
            called = plant.grown_by(way).cutting_one
            if plant.cutting_one == "dormant stick":
                assert called == ("dormant stick" if way.form == "dormant stick" else "cutting"), (plant.slug, way.slug)


def test_where_each_value_comes_from() -> None:
    node = {
        "warmth": {"t_min": {"value": 8, "unit": "°C", "source": "a"}},
        "indoors": {"value": True, "source": "b"},
        "spreads": {"value": False, "source": "c"},
        "methods": [
            {
                "slug": "jar",
                "rooting": {"early": 5, "late": 9, "at": 21, "unit": "days", "source": "d"},
                "take": {"value": 0.9, "weight": 6, "source": "e"},
                "effort": {"value": 8, "visits": 2, "unit": "minutes each", "source": "f"},
                "needs": {"cover": "open", "hormone": "none", "source": "g"},
                "also_by": {"value": ["straight out", "solution"], "source": "h"},
            },
            {"slug": "mix", "harvest": {"early": 60, "late": 90, "source": "i"}},
        ],
        "pups": {"value": "clump", "keep": 3, "source": "j"},
        "cautions": [{"at": "eat", "text": "Not raw.", "source": "k"}, "plain"],
        "instead": {"way": "graft", "text": "On a stock.", "source": "l"},
        "school": {"question": "Firming", "school": "firm", "text": "Press.", "source": "m"},
    }
    assert provenance_of(node) == [
        Provenance("warmth.t_min", "8 °C", "a"),
        Provenance("indoors", "yes", "b"),
        Provenance("spreads", "no", "c"),
        Provenance("methods.jar.rooting", "5–9 days at 21 °C", "d"),
        Provenance("methods.jar.take", "0.9, worth 6 cuttings", "e"),
        Provenance("methods.jar.effort", "8 minutes each, 2 visits a week", "f"),
        Provenance("methods.jar.needs", "cover open, hormone none", "g"),
        Provenance("methods.jar.also_by", "straight out, solution", "h"),
        Provenance("methods.mix.harvest", "60–90 ", "i"),
        Provenance("pups", "clump, 3 kept", "j"),
        Provenance("cautions.0", "Not raw.", "k"),
        Provenance("instead", "graft: On a stock.", "l"),
        Provenance("school", "Firming · firm: Press.", "m"),
    ]
