"""Texts of households' own plants that come from elsewhere: what is not read at all, what no plant has, what was
changed. All invented."""

from __future__ import annotations

import copy
from typing import Any

import pytest

from elder.engine.handbook.own import (
    MOST_DEEP,
    changed,
    copy_of,
    out_of_bounds,
    own_values,
    raw_of,
    relative_text,
    rows_of,
    unsafe,
    value_at,
    written,
)

NO_ANCHORS = "A plant says everything where it stands: no anchors."
TOO_DEEP = "It is nested deeper than any plant."
NO_NUMBER = "A number in it is none that a plant has."


def mint() -> dict[str, Any]:
    return raw_of(relative_text("mint"))


def nested(depth: int) -> str:
    return "".join(f"{' ' * level}a:\n" for level in range(depth - 1)) + f"{' ' * (depth - 1)}a: 1\n"


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("", ""),
        ("name: Plum\nlist: [1, 2]\n", ""),
        ("a: &one 1\nb: *one\n", NO_ANCHORS),
        ("a: &one 1\n", NO_ANCHORS),
        ("a: *one\n", NO_ANCHORS),
        (nested(MOST_DEEP), ""),
        (nested(MOST_DEEP + 1), TOO_DEEP),
        (f"a: {'[' * (MOST_DEEP - 1)}{']' * (MOST_DEEP - 1)}\n", ""),
        (f"a: {'[' * MOST_DEEP}{']' * MOST_DEEP}\n", TOO_DEEP),
        (f"a: {'{b: ' * MOST_DEEP}1{'}' * MOST_DEEP}\n", TOO_DEEP),
        ("a: [[1]]\n" * 1 + "".join(f"b{i}: [[{i}], {{c: {i}}}]\n" for i in range(30)), ""),  # wide, not deep
        ("a: 999999\nb: -999999\n", ""),
        ("a: 1000000\n", NO_NUMBER),
        ("a: {b: [1, -1000000]}\n", NO_NUMBER),
        ("a: .inf\n", NO_NUMBER),
        ("a: [{b: .nan}]\n", NO_NUMBER),
        ("a: 2027-02-31\n", NO_NUMBER),  # a day that no calendar has
        (f"a: {'9' * 5000}\n", NO_NUMBER),
        ("a: [1\n", ""),  # what is wrong with it is said when it is read, by its line
        ("a: true\nb: word\nc:\n", ""),
        ("5\n", ""),
        ("5000000\n", NO_NUMBER),
    ],
)
def test_what_is_not_to_be_read_at_all(text: str, why: str) -> None:
    assert unsafe(text) == why


def test_every_shipped_plant_may_be_read() -> None:
    assert [unsafe(relative_text(slug)) for slug in ("mint", "pineapple", "tomato", "grapevine")] == [""] * 4


def test_what_no_plant_has_is_said_in_a_sentence_each() -> None:
    raw = mint()
    assert list(out_of_bounds(raw)) == []
    raw["warmth"]["t_min"]["value"] = -5
    raw["warmth"]["t_max"]["value"] = 55
    raw["methods"][0]["take"]["value"] = 0.02
    assert list(out_of_bounds(raw)) == []
    raw["warmth"]["t_min"]["value"] = -5.5
    raw["warmth"]["t_max"]["value"] = 56
    raw["methods"][0]["take"]["value"] = 0.99
    raw["methods"][1]["slug"] = raw["methods"][0]["slug"]
    assert list(out_of_bounds(raw)) == [
        "No roots below: between -5 and 30 °C.",
        "No roots above: between 10 and 55 °C.",
        "Take, as a share of 1: between 0.02 and 0.98.",
        "Two of its ways have one name.",
    ]


def test_the_values_of_a_way_say_their_unit() -> None:
    rows = {row.path: row for row in rows_of(mint())}
    late, take = rows["methods", 0, "rooting", "late"], rows["methods", 0, "take", "value"]
    assert (late.name, late.unit, late.least, late.most, late.key) == (
        *("Roots, late", "days", 2, 900, "methods-0-rooting-late"),
    )
    assert (take.unit, take.least, take.most) == ("", 0.02, 0.98)
    assert ("methods", len(mint()["methods"]), "take", "value") not in rows


def test_a_value_is_found_by_its_path() -> None:
    raw = {"a": [{"b": 1}, {"b": 2}]}
    assert [value_at(raw, ("a", at, "b")) for at in (0, 1, 2, "b")] == [1, 2, None, None]
    assert value_at(raw, ("a", 0, "b", "c")) is None
    assert value_at(raw, ()) is raw


def test_a_changed_value_is_whole_where_it_is() -> None:
    raw = mint()
    changed(raw, ("stock", "gives", "value"), 7.0, "counted")
    changed(raw, ("warmth", "t_min", "value"), 4.5, "seen")
    assert (raw["stock"]["gives"]["value"], type(raw["stock"]["gives"]["value"])) == (7, int)
    assert (raw["warmth"]["t_min"]["value"], raw["warmth"]["t_min"]["source"]) == (4.5, "ours: seen")


def test_what_a_household_changed_stands_beside_its_relatives() -> None:
    base = mint()
    raw = copy_of(base, "Grandmother’s", "mint")
    assert own_values(raw, base) == []
    changed(raw, ("stock", "gives", "value"), base["stock"]["gives"]["value"], "the same")  # no other value: not told
    changed(raw, ("warmth", "t_min", "value"), 4.5, "seen")
    changed(raw, ("methods", 1, "length", "value"), 9, "shorter")
    raw["methods"].reverse()  # its ways are told by their names, whatever order they stand in
    gone = copy.deepcopy(base)
    at = len(raw["methods"]) - 2
    told = [(row.path, mine, theirs, why) for row, mine, theirs, why in own_values(raw, base)]
    assert told == [
        (("warmth", "t_min", "value"), 4.5, base["warmth"]["t_min"]["value"], "seen"),
        (("methods", at, "length", "value"), 9, base["methods"][1]["length"]["value"], "shorter"),
    ]
    del gone["methods"][1]  # a way of its own, that the relative has not
    assert own_values(raw, gone)[1][1:] == (9, None, "shorter")
    del raw["warmth"]["t_min"]["source"]
    assert len(own_values(raw, base)) == 1, "what says no source was not changed here"


def test_it_is_written_as_the_handbook_is() -> None:
    raw = {"name": "Lòn’s", "b": {"value": 8, "unit": "°C"}, "a": [1], "long": "word " * 23 + "end"}
    raw["again"] = raw["b"]
    assert written(raw) == (
        "name: Lòn’s\nb:\n  value: 8\n  unit: °C\na:\n- 1\n"
        f"long: {'word ' * 22}word\n  end\n"
        "again:\n  value: 8\n  unit: °C\n"
    )
    assert raw_of(written(raw)) == raw


def test_a_copy_is_of_its_own() -> None:
    base = mint()
    made = copy_of(base, "Grandmother’s", "mint")
    changed(made, ("warmth", "t_min", "value"), 1.5, "seen")
    assert base["warmth"]["t_min"]["value"] != 1.5
    assert made["cautions"][-1] == {
        "at": "eat",
        "text": "Nothing is known of eating it, or of feeding it: do not, unless you know.",
        "source": "assumed",
    }
    spaced = {**base, "cautions": [{"at": "plant", "text": " It runs. ", "source": "x"}]}
    assert copy_of(spaced, "Plum", "mint")["cautions"][0]["text"] == " It runs. (Of its relative, mint.)"
