"""Plants of a household's own: begun from a relative, changed with reasons, written out and read in. All invented."""

from __future__ import annotations

import pytest

from elder.engine.cut.feed import SHARES, feed_ml
from elder.engine.cut.steps import animal_use, is_quarantined, kitchen_use, sheet_steps
from elder.engine.handbook import loading
from elder.engine.handbook.loading import OWN, clonable, find_own_in, handbook, load_text, own_plant
from elder.engine.handbook.own import (
    NOT_TO_EAT,
    changed,
    copy_of,
    out_of_order,
    own_values,
    raw_of,
    relative_text,
    rows_of,
    value_at,
    written,
)
from elder.engine.handbook.tables import HandbookError
from elder.engine.refusal import Refusal
from elder.engine.round.potting import potting_of

SLUG = f"{OWN}0123456789ab"


def begun(relative: str, name: str = "Grandmother's") -> dict[str, object]:
    return copy_of(raw_of(relative_text(relative)), name, relative)


@pytest.mark.parametrize("slug", sorted(clonable()))
def test_a_copy_is_its_relative_but_for_what_is_eaten(slug: str) -> None:
    relative, made = handbook()[slug], load_text(written(begun(slug)), SLUG)
    assert (made.slug, made.name, made.kin, made.also) == (SLUG, "Grandmother's (yours)", slug, ())
    assert made.methods == relative.methods
    assert (made.cardinals, made.frost_limit_c, made.gives) == (
        relative.cardinals,
        relative.frost_limit_c,
        relative.gives,
    )
    assert not kitchen_use(made)
    assert not animal_use(made)
    assert is_quarantined(made) == is_quarantined(relative)
    kept = [caution for caution in relative.cautions if caution.at != "eat"]
    assert [caution.text for caution in made.cautions] == [
        *(f"{caution.text} (Of its relative, {relative.name.lower()}.)" for caution in kept),
        NOT_TO_EAT,
    ]
    for way in relative.ways:
        assert [step.key for step in sheet_steps(made, made.method(way.slug))] == [
            step.key for step in sheet_steps(relative, way)
        ]
        assert potting_of(made, way) == potting_of(relative, way)


def test_a_changed_value_says_why_and_stands_beside_the_handbooks() -> None:
    raw = begun("coleus")
    changed(raw, ("warmth", "t_opt", "value"), 26.0, "thrives in the lean-to")
    changed(raw, ("methods", 0, "rooting", "late"), 20.0, "slow on our sill")
    made = load_text(written(raw), SLUG)
    assert made.cardinals.t_opt == 26
    assert (made.methods[0].rooting.early, made.methods[0].rooting.late) == (6, 20)
    base = raw_of(relative_text("coleus"))
    assert [(row.name, mine, theirs, why) for row, mine, theirs, why in own_values(raw, base)] == [
        ("Roots fastest at", 26, 24, "thrives in the lean-to"),
        ("Roots, late", 20, 13, "slow on our sill"),
    ]
    assert ("warmth.t_opt", "26 °C", "ours: thrives in the lean-to") in made.provenance


@pytest.mark.parametrize(
    ("path", "value", "said"),
    [
        (("warmth", "t_opt", "value"), 9, "The best warmth lies above the least."),
        (("warmth", "t_opt", "value"), 36, "The best warmth lies below the greatest."),
        (("planting", "first_harvest", "late"), 20, "Late comes after early."),
        (("methods", 1, "rooting", "late"), 7, "Late comes after early."),
        (("methods", 1, "establish", "early"), 11, "Late comes after early."),
        (("warmth", "t_opt", "value"), 25, None),
    ],
)
def test_what_must_rise_is_told_where_it_does_not(path: tuple[object, ...], value: float, said: str | None) -> None:
    raw = begun("coleus")
    assert not list(out_of_order(raw))
    changed(raw, path, value, "to see")
    assert [words for _, words in out_of_order(raw)] == ([said] if said else [])


def test_written_out_and_read_in_it_is_the_same() -> None:
    raw = begun("grapevine")
    changed(raw, ("stock", "gives", "value"), 12, "an old one")
    assert raw_of(written(raw)) == raw
    assert load_text(written(raw), SLUG) == load_text(written(raw_of(written(raw))), SLUG)


def test_every_row_of_a_form_is_a_value_of_the_file() -> None:
    raw = begun("tomato")
    rows = list(rows_of(raw))
    assert len({row.key for row in rows}) == len(rows)
    assert all(row.least <= value_at(raw, row.path) <= row.most for row in rows)
    ways = [row for row in rows if row.path[:2] == ("methods", 5)]
    assert [row.name for row in ways] == [
        "Roots, early", "Roots, late", "at", "Take, as a share of 1", "Hardened", "Dried first", "Cut to",
    ], "what is struck in the ground grows on in no pot"  # fmt: skip


@pytest.mark.parametrize("slug", sorted(handbook()))
def test_the_bounds_of_a_form_hold_all_that_ships(slug: str) -> None:
    raw = raw_of(relative_text(slug))
    for row in rows_of(raw):
        assert row.least <= value_at(raw, row.path) <= row.most, (slug, row.path)


@pytest.mark.parametrize(
    ("broken", "words"),
    [
        ("name: [", "plant.yaml:"),
        ("just words", "a plant is written as names with values"),
        ("name: Nothing\n", "required property"),
        (
            written(begun("mint")).replace("t_opt:\n    value: 23", "t_opt:\n    value: 45"),
            "cardinal temperatures rise",
        ),
    ],
)
def test_a_text_that_is_no_plant_says_where(broken: str, words: str) -> None:
    with pytest.raises(HandbookError) as fault:
        load_text(broken, SLUG)
    assert words in str(fault.value)
    assert len(str(fault.value)) < 4000


def test_a_books_own_plants_are_found_and_never_listed(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(loading, "_OWN_TEXTS", [])
    monkeypatch.setattr(loading, "_OWN_PLANTS", {})
    assert own_plant(SLUG) is None, "nobody has any"
    asked: list[str] = []

    def source(slug: str) -> str | None:
        asked.append(slug)
        return written(begun("mint")) if slug == SLUG else None

    find_own_in(source)
    assert handbook()[SLUG].name == "Grandmother's (yours)"
    assert clonable().get(SLUG) is handbook()[SLUG]
    assert SLUG in handbook()
    assert SLUG not in list(handbook())
    assert handbook().get(f"{OWN}ffffffffffff") is None
    assert asked == [SLUG, f"{OWN}ffffffffffff"], "read once"
    with pytest.raises(KeyError):
        handbook()["mint-that-is-not"]
    assert handbook().get("mint-that-is-not") is None


@pytest.mark.parametrize(
    ("dose", "per", "share", "litres", "ml"),
    [(5, 1, "half", 5, 12.5), (10, 4.5, "quarter", 9, 5.0), (5, 1, "tenth", 0.5, 0.25), (7, 1, "whole", 2, 14.0)],
)
def test_feed_for_this_can(dose: float, per: float, share: str, litres: float, ml: float) -> None:
    assert feed_ml(dose, per, SHARES[share], litres) == pytest.approx(ml)


@pytest.mark.parametrize(
    ("given", "code", "field"),
    [
        ((0, 1, 0.5, 5), "not_positive", "dose"),
        ((5, 0, 0.5, 5), "not_positive", "per"),
        ((5, 1, 0, 5), "not_positive", "share"),
        ((5, 1, 0.5, -1), "not_positive", "litres"),
        ((5, 1, 1.5, 5), "more_than_all", "share"),
    ],
)
def test_never_stronger_than_the_label(given: tuple[float, float, float, float], code: str, field: str) -> None:
    found = feed_ml(*given)
    assert isinstance(found, Refusal)
    assert (found.code, found.field) == (code, field)
