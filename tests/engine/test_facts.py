"""What a look is judged by, fact by fact at its edges; and the table of signs beside its own file, read plainly."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta
from typing import Any

import pytest
import yaml

from elder.engine.batch.forecast import forecast
from elder.engine.batch.state import STAGES, BatchState
from elder.engine.batch.under_way import UnderWay
from elder.engine.handbook.tables import FOLDER
from elder.engine.round.verdicts import FACTS, facts_of, findings, stage_of, table, verdict
from elder.engine.setting import Setting
from tests.engine.test_care import SILL, STUCK, Bench


@pytest.fixture
def of(north: Any) -> Any:
    return lambda *given: Bench(north, *given)


def under_way(batch: Bench, day: int) -> UnderWay:
    today, state = STUCK + timedelta(days=day), batch.state(day)
    standing = forecast(state, Setting(batch.plant, batch.method, batch.climate, SILL, SILL, today))
    return UnderWay(state, standing, batch.plant, batch.method, today)


def facts(batch: Bench, day: int, stage: str = "waiting", **asked: Any) -> set[str]:
    return set(facts_of(under_way(batch, day), stage, **asked))


LASTING = {
    "covered",
    "in_water",
    "from_water",
    "woody",
    "fleshy",
    "crown",
    "tug_is_sign",
    "net_is_sign",
    "holes_are_sign",
}


@pytest.mark.parametrize(
    ("plant", "way", "wanted"),
    [
        ("tomato", "jar", {"in_water", "from_water"}),
        ("basil", "mix", {"covered", "tug_is_sign"}),
        ("basil", "plug", {"covered", "holes_are_sign"}),
        ("bay", "dome", {"covered", "woody", "holes_are_sign"}),
        ("blackcurrant", "stick", {"woody"}),
        ("pineapple", "peeled", {"fleshy", "crown", "net_is_sign"}),
        ("pineapple", "jar", {"fleshy", "crown", "net_is_sign", "in_water", "from_water"}),
        ("dragon-fruit", "ground", {"fleshy"}),
        ("strawberry", "ground", set()),
    ],
)
def test_what_a_ways_own_page_makes_true(of: Any, plant: str, way: str, wanted: set[str]) -> None:
    assert facts(of(plant, way), 7) & LASTING == wanted


def test_a_grow_bed_is_water_too(of: Any) -> None:
    bed = of("tomato", "clay")
    assert not {"in_water", "from_water"} & facts(bed, 7)
    bed.method = replace(bed.method, medium="growbed")
    assert {"in_water", "from_water"} <= facts(bed, 7)


@pytest.mark.parametrize(("day", "new"), [(0, True), (4, True), (5, False)])
def test_new_for_five_days(of: Any, day: int, new: bool) -> None:
    assert ("new" in facts(of("blackcurrant", "stick"), day)) is new
    assert "new" not in facts(of("blackcurrant", "stick"), day, stage="rooted")


@pytest.mark.parametrize(("share", "new", "late"), [(0.49, True, False), (0.5, False, False), (0.65, False, True)])
def test_new_no_longer_once_half_would_have_roots_and_late_at_two_thirds(
    of: Any, share: float, new: bool, late: bool
) -> None:
    batch = under_way(of(), 3)
    curve = batch.forecast.rooted_by * 0 + share
    found = facts_of(replace(batch, forecast=replace(batch.forecast, rooted_by=curve)), "waiting")
    assert ("new" in found, "late" in found) == (new, late)


@pytest.mark.parametrize(("day", "potted"), [(11, None), (12, True), (34, True), (35, False)])
def test_just_potted_for_a_fortnight_from_the_last_lot(of: Any, day: int, potted: bool | None) -> None:
    pots = of().did("rooted", 9, 8)
    if potted is not None:
        pots.did("potted", 12, 3)
        if day > 20:
            pots.did("potted", 20, 3)
    assert ("just_potted" in facts(pots, day, "rooted")) is bool(potted)


def test_seen_again_is_rot_seen_on_another_day(of: Any) -> None:
    jar = of().did("looked", 4, signs=("slime",))
    assert "again" not in facts(jar, 4)
    assert "again" in facts(jar, 5)
    assert "again" not in facts(of().did("looked", 4, signs=("wilted",)), 5)


# A tomato in a jar is potted at roots of 1 cm; a basil at 2; sticks of blackcurrant at shoots of 15. Longer than need
# be is three times the root, and at least 6 cm.
@pytest.mark.parametrize(
    ("plant", "way", "cm", "said"),
    [
        ("tomato", "jar", 0, set()),
        ("tomato", "jar", 0.5, {"too_short"}),
        ("tomato", "jar", 1, {"long_enough"}),
        ("tomato", "jar", 6, {"long_enough"}),
        ("tomato", "jar", 6.1, {"long_enough", "too_long"}),
        ("basil", "jar", 1.9, {"too_short"}),
        ("basil", "jar", 2, {"long_enough"}),
        ("basil", "jar", 6.1, {"long_enough", "too_long"}),
        ("blackcurrant", "stick", 14, {"too_short"}),
        ("blackcurrant", "stick", 15, {"long_enough"}),
        ("blackcurrant", "stick", 59, {"long_enough"}),
        ("basil", "mix", 3, set()),
        ("basil", "mix", 6, set()),
        ("basil", "mix", 7, {"too_long"}),
    ],
)
def test_a_length_at_its_edges(of: Any, plant: str, way: str, cm: float, said: set[str]) -> None:
    assert facts(of(plant, way), 7, root_cm=cm) & {"too_short", "long_enough", "too_long"} == said


def test_three_times_a_longer_root(of: Any) -> None:
    batch = of("basil", "jar")
    batch.method = replace(batch.method, ready_sign="roots of 4 cm")
    assert "too_long" not in facts(batch, 7, root_cm=12)
    assert "too_long" in facts(batch, 7, root_cm=12.1)


def test_nothing_measured_and_nothing_hot_unless_it_is_said(of: Any) -> None:
    assert not {"hot", "too_short", "long_enough", "too_long"} & facts(of(), 7)
    assert "hot" in facts(of(), 7, hot=True)


def test_every_fact_has_been_asked_for() -> None:
    asked = LASTING | {"new", "late", "hot", "sunny", "again", "just_potted", "too_short", "long_enough", "too_long"}
    assert asked == set(FACTS)


def test_a_batch_that_is_over_is_looked_at_as_planted() -> None:
    assert stage_of(BatchState(1, STUCK, {})) == "planted"


def test_the_table_is_its_file() -> None:
    raw = yaml.safe_load((FOLDER / "bench" / "signs.yaml").read_text(encoding="utf-8"))
    assert [list(pair) for pair in table().signs] == [[one["key"], one["name"]] for one in raw["signs"]]
    for rule, line in zip(table().rules, raw["rules"], strict=True):
        assert (rule.code, rule.gravity, rule.urgency, rule.look_days) == tuple(
            line[key] for key in ("code", "gravity", "urgency", "look_days")
        )
        assert (rule.cause, rule.deed, rule.why) == (line["cause"], line["do"], line["why"])
        for name, key in (("signs", "all"), ("stages", "stages"), ("facts", "facts"), ("without", "without")):
            assert sorted(getattr(rule, name)) == sorted(line.get(key, []))
        assert (rule.caution, rule.discard) == (line.get("caution", ""), line.get("discard", False))
        assert [list(school) for school in rule.schools] == [[s["name"], s["text"]] for s in line.get("schools", [])]
    for stage in STAGES:
        rule, line = table().well[stage], raw["well"][stage]
        assert (rule.code, rule.stages, rule.gravity, rule.urgency, rule.look_days) == (
            f"well_{stage}", {stage}, 0, "none", 0,
        )  # fmt: skip
        assert (rule.cause, rule.deed, rule.why) == (line["cause"], line["do"], line["why"])


# Good news keeps the day of the forecast; trouble is looked at again as soon as its rule says, or by the forecast if
# that is sooner.
@pytest.mark.parametrize(
    ("signs", "next_look", "look_on"),
    [
        ([], 12, 12),
        ([], 10, 17),  # a look that is due today is this one: the next in a week
        ([], 9, 17),
        ([], None, 17),
        (["wilted"], 12, 11),
        (["wilted"], None, 11),
        (["yellow", "moss"], 11, 11),
    ],
)
def test_when_to_look_again(of: Any, signs: list[str], next_look: int | None, look_on: int) -> None:
    today = STUCK + timedelta(days=10)
    due: date | None = None if next_look is None else STUCK + timedelta(days=next_look)
    expected = replace(under_way(of("blackcurrant", "stick"), 10).forecast, next_look=due)
    found = verdict(signs, "waiting", frozenset(), expected, today=today)
    assert found.look_on == STUCK + timedelta(days=look_on)
    assert found.findings == findings(signs, "waiting", frozenset())


def test_good_news_that_wants_a_look_soon_waits_for_the_forecast(of: Any) -> None:
    good = [rule for rule in table().rules if rule.gravity == 0 and rule.look_days]
    today = STUCK + timedelta(days=10)
    expected = replace(under_way(of(), 10).forecast, next_look=today + timedelta(days=9))
    asked = 0
    for rule in good:
        stage = min(rule.stages)
        found = verdict(rule.signs, stage, rule.facts, expected, today=today)
        if all(one.gravity == 0 for one in found.findings):
            assert found.look_on == today + timedelta(days=9)
            asked += 1
    assert asked >= 10, "most of the good news stands alone"
