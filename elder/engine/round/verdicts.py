"""What the signs on a batch mean: a table of rules, read from the handbook, and the few lines that ask it.

Of rules about the same signs the one that knows most holds; a rule about several signs takes the place of
those about each of them alone; the graver comes first. There is a rule for every sign at every stage, so that
no look is left without an answer.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import date
from functools import lru_cache
from typing import Any, Final

from elder.engine.batch.forecast import BatchForecast
from elder.engine.batch.state import STAGES, BatchState
from elder.engine.batch.under_way import UnderWay
from elder.engine.climate.day_of_year import add_days
from elder.engine.handbook.tables import HandbookError, read_bench
from elder.engine.round.potting import ReadySign, ready_sign

FACTS: Final = (
    "new", "late", "hot", "sunny", "covered", "in_water", "again", "woody", "fleshy", "crown", "just_potted",
    "from_water",
    "tug_is_sign", "net_is_sign", "holes_are_sign", "long_enough", "too_short", "too_long",
)  # fmt: skip
URGENCIES: Final = ("now", "today", "week", "none")
NEW_DAYS: Final = 5  # the first days, in which a wilt is thirst (common practice; the number assumed)
LATE_SHARE: Final = 0.65  # of those that root, the share that would have by now: tomato's at ten units (assumed)
JUST_POTTED_DAYS: Final = 14  # one or two weeks of sulking after potting (common practice)
HOT_C: Final = 28.0  # above this cuttings suffer: swings between 13 and 28 °C slow them (common practice)
ROT_SIGNS: Final = frozenset({"slime", "black_base"})
TOO_LONG: Final = 3.0  # times the length at which a plant is potted (assumed)


@dataclass(frozen=True)
class Rule:
    """One line of the table. ``gravity`` 4 loses plants if left, 0 is good news; ``schools`` are (name, text)."""

    code: str
    signs: frozenset[str]
    stages: frozenset[str]
    facts: frozenset[str]
    without: frozenset[str]
    gravity: int
    urgency: str
    look_days: int
    cause: str
    deed: str
    why: str
    caution: str = ""
    discard: bool = False
    schools: tuple[tuple[str, str], ...] = ()

    def holds(self, signs: frozenset[str], stage: str, facts: frozenset[str]) -> bool:
        """Whether it speaks of these signs, at this stage, with these facts."""
        return self.may_hold(stage, facts) and self.signs <= signs and not self.without & signs

    def may_hold(self, stage: str, facts: frozenset[str]) -> bool:
        """Whether it could hold with some signs or other."""
        return stage in self.stages and self.facts <= facts

    @property
    def knows(self) -> tuple[int, int]:
        """How much it takes into account."""
        return len(self.signs), len(self.facts)


@dataclass(frozen=True)
class Verdict:
    """What a look comes to: the findings, graver first; never none."""

    findings: tuple[Rule, ...]
    look_on: date

    @property
    def gravity(self) -> int:
        """That of the gravest finding."""
        return max(rule.gravity for rule in self.findings)

    @property
    def urgency(self) -> str:
        """The most urgent one."""
        return min((rule.urgency for rule in self.findings), key=URGENCIES.index)


@dataclass(frozen=True)
class Table:
    """The signs in the order they are shown, as (key, name); the rules; what is said where all is well."""

    signs: tuple[tuple[str, str], ...]
    rules: tuple[Rule, ...]
    well: dict[str, Rule] = field(compare=False)

    @property
    def names(self) -> dict[str, str]:
        """The signs' names by key."""
        return dict(self.signs)


@lru_cache(maxsize=1)
def table() -> Table:
    """The shipped table. Raises HandbookError where a line names what there is not."""
    raw, where = read_bench("signs")
    signs = tuple((item["key"], item["name"]) for item in raw["signs"])
    known = {key for key, _ in signs}
    for i, item in enumerate(raw["rules"]):
        for name in ("all", "without"):
            if unknown := set(item.get(name, ())) - known:
                raise HandbookError(f"{where(['rules', i, name])}: there is no sign {', '.join(sorted(unknown))}")
        if item.get("discard") and len(item["all"]) < 2 and "again" not in item.get("facts", ()):
            raise HandbookError(f"{where(['rules', i, 'discard'])}: a plant would be thrown away on one weak sign")
    rules = tuple(_rule(item) for item in raw["rules"])
    calm = {"gravity": 0, "urgency": "none", "look_days": 0}
    well = {
        stage: _rule({"code": f"well_{stage}", "stages": [stage], **calm, **raw["well"][stage]}) for stage in STAGES
    }
    return Table(signs, rules, well)


def _rule(raw: dict[str, Any]) -> Rule:
    return Rule(
        code=raw["code"],
        signs=frozenset(raw.get("all", ())),
        stages=frozenset(raw["stages"]),
        facts=frozenset(raw.get("facts", ())),
        without=frozenset(raw.get("without", ())),
        gravity=raw["gravity"],
        urgency=raw["urgency"],
        look_days=raw["look_days"],
        cause=raw["cause"],
        deed=raw["do"],
        why=raw["why"],
        caution=raw.get("caution", ""),
        discard=raw.get("discard", False),
        schools=tuple((school["name"], school["text"]) for school in raw.get("schools", ())),
    )


def findings(signs: Iterable[str], stage: str, facts: frozenset[str]) -> tuple[Rule, ...]:
    """The rules that hold, graver first; where no sign was seen, the one that says all is well."""
    seen = frozenset(signs)
    holding = [rule for rule in table().rules if rule.holds(seen, stage, facts)]
    kept: list[Rule] = []
    for rule in sorted(holding, key=lambda rule: rule.knows, reverse=True):
        if not any(rule.signs <= other.signs for other in kept):
            kept.append(rule)
    if not kept:
        return (table().well[stage],)
    return tuple(sorted(kept, key=lambda rule: (-rule.gravity, URGENCIES.index(rule.urgency))))


def stage_of(state: BatchState) -> str:
    """The stage a look is about where nobody says: the earliest at which any stand."""
    return next((stage for stage in STAGES if state.count(stage)), "planted")


def too_long_cm(sign: ReadySign) -> float:
    """Past this roots are longer than they need be; shoots never are."""
    return TOO_LONG * max(sign.root_cm or 1.0, 2.0) if sign.kind != "shoot" else float("inf")


def facts_of(
    batch: UnderWay,
    stage: str,
    *,
    root_cm: float = 0.0,
    hot: bool = False,
    sunny: bool = False,
) -> frozenset[str]:
    """What is known about a batch besides the signs. ``hot``: its place is above 28 °C today; ``sunny``: it stands in
    more strong sun than it bears."""
    state, method, today = batch.state, batch.method, batch.today
    age = (today - state.taken_on).days
    share = float(batch.forecast.rooted_by[batch.forecast.index(today)])
    potted = state.since("potted")
    sign = ready_sign(method)
    earlier = {sign for seen in state.seen if seen.on < today for sign in seen.signs}
    measured = sign.kind in ("length", "shoot")
    is_water = method.medium in ("water", "growbed")
    true = {
        "new": stage == "waiting" and age < NEW_DAYS and share < 0.5,
        "late": stage == "waiting" and share >= LATE_SHARE,
        "hot": hot,
        "sunny": sunny,
        "covered": method.cover != "none",
        "in_water": is_water,
        "from_water": is_water,
        "again": bool(earlier & ROT_SIGNS),
        "woody": method.form in ("dormant stick", "semi-ripe stem"),
        "fleshy": method.form in ("stem joint", "crown top"),
        "crown": method.form == "crown top",
        "just_potted": potted is not None and (today - state.lots["potted"][-1].since).days <= JUST_POTTED_DAYS,
        "tug_is_sign": sign.kind == "tug",
        "net_is_sign": sign.kind == "net",
        "holes_are_sign": sign.kind == "holes",
        "long_enough": measured and root_cm >= sign.cm,
        "too_short": measured and 0 < root_cm < sign.cm,
        "too_long": root_cm > too_long_cm(sign),
    }
    return frozenset(name for name in FACTS if true[name])


def verdict(
    signs: Iterable[str], stage: str, facts: frozenset[str], forecast: BatchForecast, *, today: date
) -> Verdict:
    """What a look comes to, and when to look again: as soon as any finding wants it, else by the forecast."""
    found = findings(signs, stage, facts)
    days = [rule.look_days for rule in found if rule.look_days]
    usual = forecast.next_look if forecast.next_look and forecast.next_look > today else add_days(today, 7)
    soonest = add_days(today, min(days)) if days else usual
    return Verdict(found, min(soonest, usual) if any(rule.gravity for rule in found) else usual)
