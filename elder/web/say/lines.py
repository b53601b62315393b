"""A line that is multiplied, in words."""

from __future__ import annotations

from datetime import date
from typing import Final

from elder.engine.year.line import CutLot
from elder.engine.year.multiply import Multiplication
from elder.web.read.lines import LineToday
from elder.web.say.plants import plant_words
from elder.web.say.words import about, counted, day_words, listed, odds, plural, span_words, sureness

# The share left uncut, as a form offers it.
KEPT: Final = {0.25: "a quarter", 0.34: "a third", 0.5: "half"}


def generation_words(generation: int, mothers: int, *, tuber: bool = False) -> str:
    """Who is cut: "the mother", "her clones", "clones of those", "generation 4"."""
    if generation == 0:
        first = "tuber" if tuber else "mother"
        return f"the {first}" if mothers == 1 else f"the {first}s"
    if generation == 1:
        return "her clones" if mothers == 1 else "their clones"
    return "clones of those" if generation == 2 else f"generation {counted(generation)}"


def line_title(found: LineToday) -> str:
    """What is multiplied."""
    return plant_words(found.plant.name, found.row.variety)


def line_headline(found: LineToday) -> tuple[str, str]:
    """What a line comes to, in a line; and what to do for it next."""
    row, today = found.row, found.wanted.today
    by = about(row.by, today)
    if found.row.by <= today:
        return f"{found.stands_now} stand.", "Its day has come."
    if found.plan is None:
        return f"Not {row.wanted} by {by}.", what_can(found)
    plan = found.plan
    lots = f", in {plural(len(plan.lots), 'lot', 'lots')}" if plan.lots else ""
    return f"{row.wanted} by {by}: {odds(plan.chance)}{lots}.", next_words(found)


def next_words(found: LineToday) -> str:
    """The next cut of a line, and how long it may wait."""
    today, plan = found.wanted.today, found.shown
    if not plan.lots:
        return "Nothing more need be cut: what stands and roots will do."
    lot = plan.lots[0]
    cut = plural(max(lot.count, 1), found.plant.cutting_one, found.plant.cutting_many)
    day = "today" if lot.day == today else day_words(lot.day, today)
    start = found.whole.latest_start
    keeps = not found.row.mother_takes  # a tuber sprouts when it does
    waits = f" It may wait until {about(start, today)}." if start and start > lot.day and keeps else ""
    if start and start <= lot.day and found.plan:
        waits = " Later is too late to be sure of them."
    return f"Cut {cut} {day}.{waits}"


def what_can(found: LineToday) -> str:
    """What can be had where what was asked cannot."""
    row, today, whole = found.row, found.wanted.today, found.whole
    said = [f"{sureness(row.confidence).capitalize()} for {whole.sure}" if whole.sure else "Hardly one is sure"]
    said[0] += " by then, with everything cut that can be."
    instead = []
    if found.instead_by:
        instead.append(f"by {about(found.instead_by, today)} with the mothers there are")
    if found.mothers_for:
        instead.append(f"by {about(row.by, today)} with {plural(found.mothers_for, 'mother', 'mothers')} like these")
    if instead:
        said.append(f"All {row.wanted}: {', or '.join(instead)}.")
    return " ".join(said)


def lot_words(lot: CutLot, mothers: int, *, tuber: bool = False) -> str:
    """From whom a lot is cut: "6 from the mother, 12 from her clones"."""
    whole = [(generation, round(count)) for generation, count in lot.by_generation if round(count)]
    if len(whole) == 1:
        return f"from {generation_words(whole[0][0], mothers, tuber=tuber)}"
    return listed(f"{count} from {generation_words(generation, mothers, tuber=tuber)}" for generation, count in whole)


def more_lines(found: LineToday) -> list[str]:
    """What one more mother, and a month more, would give; what is kept back; what is stuck where it is to stand."""
    row, today, whole = found.row, found.wanted.today, found.whole
    sure = sureness(row.confidence)
    said = [f"Everything cut that can be: {about_count(whole)}, {sure} for {whole.sure}."]
    said.append(f"With one more mother: {sure} for {found.another_mother.sure}.")
    said.append(f"With a month more: {sure} for {found.month_more.sure}.")
    if found.last_cut:
        said.append(f"The last cut that still counts: {about(found.last_cut, today)}.")
    if row.keep_uncut:
        said.append(
            f"Of those that come to their last cut {KEPT[row.keep_uncut]} is left, so that the end stands strong."
        )
    over = found.overstuck
    if over:
        each = f"{counted(over.each)} to a station" if over.each > 1 else "one to a station"
        gaps = f"about {counted(round(over.gaps))} stay empty" if over.gaps >= 0.5 else "hardly one stays empty"
        said.append(
            f"Straight into the ground: stick {over.cuttings} for {row.wanted} stations, {each} at most; {gaps} and are"
            " filled from the doubles."
        )
    return said


def about_count(found: Multiplication) -> str:
    """How many are expected."""
    return f"about {round(found.expected)}"


def shut_lines(found: LineToday) -> list[str]:
    """When nothing is cut until the day, and why."""
    why = {"wood": f"no {found.method.wood} wood", "cold": "too cold where they root"}
    if found.method.wood == "growing":
        why["wood"] = "nothing in growth to cut"
    if found.method.wood == "any":
        why["wood"] = "nothing to cut"
    return [f"{span}: {why[reason]}." for reason, span in _spans(found)]


def _spans(found: LineToday) -> list[tuple[str, str]]:
    return [(why, span_words(first, last, found.wanted.today)) for first, last, why in shut_spans(found)]


def shut_spans(found: LineToday) -> list[tuple[date, date, str]]:
    """The stretches in which nothing is cut, with their reasons."""
    spans: list[tuple[date, date, str]] = []
    for day in sorted(found.shut):
        why = found.shut[day]
        if spans and spans[-1][2] == why and (day - spans[-1][1]).days == 1:
            spans[-1] = (spans[-1][0], day, why)
        else:
            spans.append((day, day, why))
    return spans
