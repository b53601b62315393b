"""A trial as its page shows it: its arms, their curves, each pair judged, and what would settle it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from itertools import combinations
from typing import Final

from elder.drawing.record import ArmCurve, curves_scene
from elder.drawing.scene import Scene
from elder.engine.batch.history import retold
from elder.engine.batch.state import BatchState
from elder.engine.handbook.loading import handbook
from elder.engine.record.curves import Waited, rooted_curve, same_days
from elder.engine.record.trials import Compared, compare, to_find
from elder.web.read.histories import all_histories
from elder.web.record.models import Trial, TrialArm
from elder.web.say.record import verdict_words
from elder.web.say.words import about, day_words, odds, plural

DIFFERENCES: Final = (0.2, 0.3, 0.4, 0.5)


@dataclass(frozen=True)
class ArmLine:
    """One arm in counts: of how many, rooted, grown, lost, still waiting; the day by which half had rooted."""

    arm: TrialArm
    total: int
    rooted: int
    grown: int
    lost: int
    waiting: int
    left: int
    half_by: str
    state: BatchState | None

    @property
    def is_cut(self) -> bool:
        """Whether it has begun."""
        return self.total > 0


@dataclass(frozen=True)
class PairLine:
    """Two arms beside each other, in words and figures."""

    names: str
    said: str
    chance: str
    difference: str
    p: str
    days: str
    needed: str
    verdict: str


@dataclass(frozen=True)
class TrialPage:
    """A trial."""

    trial: Trial
    answer: str
    is_early: bool
    judged: str
    arms: list[ArmLine]
    pairs: list[PairLine]
    grown: list[PairLine]
    curves: Scene | None
    stems: list[tuple[int, str]]
    to_cut: list[ArmLine]
    can_count: bool
    can_split: int
    splits: list[Trial]


def arm_lines(trial: Trial) -> list[ArmLine]:
    """The arms with their counts."""
    arms = list(trial.arms.select_related("place", "batch"))
    if trial.stage == Trial.Stage.GROWN:
        return [
            ArmLine(arm, arm.begun, arm.grown, arm.grown, arm.failed, arm.begun - arm.grown - arm.failed, 0, "", None)
            for arm in arms
        ]
    histories, found = all_histories(trial.garden_id), []
    route = handbook()[trial.plant].method(trial.method).route
    for arm in arms:
        history = histories.get(arm.batch_id or 0)
        if history is None:
            found.append(ArmLine(arm, 0, 0, 0, 0, 0, 0, "", None))
            continue
        state = retold(history.entries, route)
        left = sum(gone.count for gone in state.losses if gone.stage == "waiting" and gone.why == "accident")
        left += sum(lot.count for lot in state.given_seen if not lot.grown)
        grown = state.count("hardening") + state.count("planted")
        grown += sum(lot.count for lot in state.given_seen if lot.grown)
        lost = sum(gone.count for gone in state.losses if gone.stage == "waiting" and gone.why != "accident")
        total, curve = state.taken - left, rooted_curve(waited(state))
        never = "not yet" if state.count("waiting") else "never"
        half = f"day {curve.median:.0f}" if curve and curve.median is not None else never
        found.append(ArmLine(arm, total, state.rooted_ever, grown, lost, state.count("waiting"), left, half, state))
    return found


def waited(state: BatchState) -> list[Waited]:
    """Days to the look that found roots, and for all others how long nothing had come of them: those still waiting, and
    those that were lost, which never will."""
    days = [Waited((lot.since - state.taken_on).days, lot.count, True) for lot in state.rooted_seen]
    last = max((state.last_entry_on - state.taken_on).days, 1)
    rest = state.taken - state.rooted_ever
    return [*days, Waited(max(last, *(one.days for one in days), 1), rest, False)] if rest else days


def trial_page(trial: Trial, today: date) -> TrialPage:
    """What a trial's page shows."""
    lines = arm_lines(trial)
    early = today < trial.judged_on
    begun = [line for line in lines if line.is_cut]
    pairs = [_pair(a, b, early, (a.rooted, b.rooted)) for a, b in combinations(begun, 2)]
    grown = []
    if trial.stage == Trial.Stage.ROOTED and any(line.grown for line in begun):
        grown = [_pair(a, b, early, (a.grown, b.grown)) for a, b in combinations(begun, 2)]
    return TrialPage(
        trial=trial,
        answer=_answer(trial, lines, pairs, early, today),
        is_early=early,
        judged=day_words(trial.judged_on, today),
        arms=lines,
        pairs=pairs,
        grown=grown,
        curves=_curves(begun),
        stems=list(enumerate(trial.draw, start=1)),
        to_cut=[line for line in lines if not line.is_cut and (not line.arm.cut_on or line.arm.cut_on <= today)],
        can_count=any(line.waiting for line in begun),
        can_split=sum(line.rooted for line in begun) if trial.stage == Trial.Stage.ROOTED else 0,
        splits=list(trial.split_into.all()),
    )


def _pair(a: ArmLine, b: ArmLine, early: bool, counts: tuple[int, int]) -> PairLine:
    found = compare(counts[0], a.total, counts[1], b.total)
    names = f"{a.arm.name} beside {b.arm.name}"
    days = (
        same_days(waited(a.state), waited(b.state)) if a.state and b.state and counts == (a.rooted, b.rooted) else None
    )
    low, high = found.interval
    return PairLine(
        names=names,
        said=verdict_words(found, (a.arm.name, b.arm.name), early=early),
        chance=odds(found.chance_a_better),
        difference=f"{found.difference:+.2f} ({low:+.2f} to {high:+.2f})".replace("-", "−"),
        p=f"{found.p:.3f} ({found.fisher:.3f})",
        days=f"{days:.3f}" if days is not None else "",
        needed=_needed(found),
        verdict=found.verdict(early=early),
    )


def _needed(found: Compared) -> str:
    if found.needed_each is None:
        return "more than 500" if found.difference else "none: they are alike"
    return str(found.needed_each)


def _answer(trial: Trial, lines: list[ArmLine], pairs: list[PairLine], early: bool, today: date) -> str:
    if not any(line.is_cut for line in lines):
        return f"Nothing is cut yet: {plural(trial.each, 'stem', 'stems')} to each of {len(lines)} arms, by lot."
    if not pairs:
        line = next(line for line in lines if line.is_cut)
        later = [one for one in lines if not one.is_cut and one.arm.cut_on]
        when = (
            f"; {later[0].arm.name} is cut on {about(later[0].arm.cut_on, today)}"
            if later and later[0].arm.cut_on
            else ""
        )
        return f"{line.arm.name}: {line.rooted} of {line.total} rooted so far{when}."
    lead = f"Looked at early: it is judged on {about(trial.judged_on, today)}. " if early else ""
    best = next((pair for word in ("clear", "leaning") for pair in pairs if pair.verdict == word), pairs[0])
    return f"{lead}{best.said}"


def _curves(begun: list[ArmLine]) -> Scene | None:
    drawn = []
    for line in begun:
        if line.state is None:
            continue
        curve = rooted_curve(waited(line.state))
        last = max((line.state.last_entry_on - line.state.taken_on).days, 1)
        days = tuple(map(float, curve.days)) if curve else ()
        shares = tuple(map(float, curve.share)) if curve else ()
        drawn.append(ArmCurve(f"{line.arm.letter} {line.arm.name}", days, shares, float(max(last, *days, 1))))
    if not drawn:
        return None
    words = "; ".join(f"{line.arm.name}: {line.rooted} of {line.total} rooted" for line in begun)
    return curves_scene(drawn, f"Share rooted by each day. {words}.")


def sizes_words(take: float) -> list[str]:
    """How many each arm wants for the difference one cares about, about a way's own take."""
    found = []
    for difference in DIFFERENCES:
        each = to_find(difference, take)
        tenths = round(10 * difference)
        found.append(f"{tenths} in 10 apart: {each} each" if each else f"{tenths} in 10 apart: more than 500 each")
    return found
