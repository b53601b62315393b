"""What the record says, in words: no share without its count, and below eight cuttings words alone."""

from __future__ import annotations

import math
from typing import Final

from elder.engine.chance.counting import Take
from elder.engine.record.knowing import ENOUGH, OwnWay, PlanBy
from elder.engine.record.looks import Tally
from elder.engine.record.scoring import Kept
from elder.engine.record.standing import AfterRoots
from elder.engine.record.trials import Compared
from elder.web.say.words import counted, in_ten, plural

SHARES: Final = (
    (0.9, "nearly all of that is the handbook still"),
    (0.7, "three quarters of that is the handbook still"),
    (0.58, "two thirds of that is the handbook still"),
    (0.42, "half of that is the handbook still"),
    (0.29, "a third of that is the handbook still"),
    (0.17, "a quarter of that is the handbook still"),
    (0.07, "a tenth of that is the handbook still"),
    (0.0, "hardly any of that is the handbook still"),
)
BY_WORDS: Final[dict[PlanBy, str]] = {
    "handbook": "by the handbook alone",
    "mine": "by your own batches alone",
    "both": "by your own batches and the handbook",
}


def tenths(share: float) -> str:
    """A share in tenths, between two of them where it lies between: "7 or 8 in 10", "about 8 in 10"."""
    if share >= 0.96:
        return "nearly all"
    if share < 0.04:
        return "next to none"
    low, high = math.floor(10 * share + 0.25), math.ceil(10 * share - 0.25)
    if low == high or not low or high > 9:
        return f"about {in_ten(share)}"
    return f"{low} or {high} in 10"


def range_words(interval: tuple[float, float]) -> str:
    """Between what a share likely lies: "6 to 9 in 10"."""
    low, high = round(10 * interval[0]), round(10 * interval[1])
    ends = "all" if high == 10 else str(high)
    if low == high:
        return f"{low} in 10"
    return f"{low} in 10 to all" if ends == "all" else f"{low} to {ends} in 10"


def tally_words(tally: Tally) -> str:
    """What stands behind it: "18 of 24 took in three batches"."""
    batches = "one batch" if tally.batches == 1 else f"{counted(tally.batches)} batches"
    if not tally.settled:
        return f"{plural(tally.cut, 'cutting', 'cuttings')} in {batches}, none of which has told yet"
    return f"{tally.rooted} of {tally.settled} took in {batches}"


def left_words(tally: Tally) -> str:
    """Of how many nothing is known: still waiting, or gone without a word."""
    parts = []
    if tally.gave_up:
        parts.append(f"{counted(tally.gave_up)} given up on: they waited so long in vain, and count for that")
    if tally.waiting:
        parts.append(f"{counted(tally.waiting)} still waiting")
    if tally.left:
        parts.append(f"{counted(tally.left)} given away or lost by accident, which say nothing")
    return "; ".join(parts)


def still_handbook(own: OwnWay) -> str:
    """How much of the take is the handbook's still."""
    share = 1 - own.learned.yours
    return next(words for least, words in SHARES if share >= least)


def take_words(own: OwnWay) -> str:
    """A way's take, with what stands behind it; below eight that have told, the counts alone."""
    tally = own.tally
    if tally.settled < ENOUGH:
        return f"{tally_words(tally)}: too few to go by"
    learned = own.learned
    return (
        f"{tally_words(tally)}: {tenths(learned.mean_take.mean)}, "
        f"likely {range_words(learned.take_interval)}; {still_handbook(own)}"
    )


def days_words_of(mine: float, book: float, where: str) -> str:
    """How long they take to root beside the handbook: "Roots in 12 days on Kitchen sill, not 16"."""
    own, usual = round(mine), round(book)
    if own == usual:
        return f"Roots in {plural(own, 'day', 'days')} {where}, as the handbook has it"
    return f"Roots in {plural(own, 'day', 'days')} {where}, not {usual}"


def by_words(plan_by: PlanBy, own: OwnWay | None) -> str:
    """By what an answer was planned: the sentence that stands beside it."""
    if plan_by == "handbook":
        return "Planned by the handbook alone, as you chose."
    if own is None or not own.tells:
        few = own.tally.settled if own else 0
        some = f"only {counted(few)} of your own {'has' if few == 1 else 'have'} told"
        return f"Planned by the handbook: {some if few else 'none of your own has told yet'}."
    how = BY_WORDS[plan_by]
    return f"Planned {how}: {take_words(own)}."


def after_roots_words(take: Take, seen: AfterRoots) -> str:
    """How many of the rooted come to stand ready, with the count behind it."""
    if not seen.stood + seen.lost:
        return (
            f"Of those with roots {in_ten(take.mean)} are taken to come to stand: none of yours has been settled yet."
        )
    return (
        f"Once they have roots, {seen.stood} of {seen.stood + seen.lost} came to stand ready; with what is assumed "
        f"beside them plans go by {in_ten(take.mean)}. That stands in every forecast."
    )


def kept_words(found: Kept, promises: str) -> str:
    """How many of some promises came true, beside how many were to."""
    if not found.of:
        return "Nothing has fallen due yet."
    verdict = {
        "right": "as many as chance leaves room for",
        "hopeful": "fewer than chance explains: Elder is too hopeful here",
        "timid": "more than chance explains: Elder is too timid here",
    }[found.word]
    lead = f"Of {plural(found.of, promises, promises + 's')} {found.came} came true"
    return f"{lead} ({found.expected:.1f} expected): {verdict}."


def verdict_words(found: Compared, names: tuple[str, str], *, early: bool) -> str:
    """Two arms judged, in words: too few to tell, leaning, or clear; with the counts, and what would settle it."""
    (one, other), (of_one, of_other) = found.rooted, found.total
    counts = f"{names[0]} {one} of {of_one}, {names[1]} {other} of {of_other}"
    better = names[0] if found.chance_a_better >= 0.5 else names[1]
    verdict = found.verdict(early=early)
    if verdict == "clear":
        return f"Clear: {better} did better ({counts})."
    more = f"; about {found.needed_each} of each would settle it" if found.needed_each else ""
    if verdict == "leaning":
        return f"Leaning to {better} ({counts}), and not settled{more}."
    return f"Too few to tell ({counts}){more}."
