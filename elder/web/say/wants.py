"""Sentences for wants: answers, reasons, refusals. The engine says what; this says how."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import TYPE_CHECKING, Final

from elder.engine.chance.counting import Take
from elder.engine.plan.condition import Condition, costs
from elder.engine.plan.curve import CutDay
from elder.engine.plan.season_plan import CutOption, SeasonPlan
from elder.engine.refusal import Refusal
from elder.web.say.more import does_until
from elder.web.say.refusals import refusal_words
from elder.web.say.seasons import season_words, time_words
from elder.web.say.words import (
    about,
    day_words,
    listed,
    looks_words,
    month_words,
    odds,
    plural,
    share_words,
    so_many_are,
    span_words,
    sureness,
    years_words,
)

if TYPE_CHECKING:
    from elder.web.season.models import Want
from elder.web.read.wants import Reckoning
from elder.web.say.plants import FAR_HARVEST_DAYS, harvest_words, plant_words

WORTH_A_WORD = 0.25  # a chance of this year's season that is still said before next year's (assumed)


@dataclass(frozen=True)
class Headline:
    """The answer in one line: what to do in bold, then the rest."""

    strong: str
    rest: str

    @property
    def plain(self) -> str:
        """Both together."""
        return f"{self.strong} {self.rest}".strip()


def headline(reckoning: Reckoning, *, way_out: bool = True) -> Headline:
    """The answer to a want. ``way_out``: with what to cut for a shortfall, where that does not stand beside it."""
    if reckoning.refusal:
        return Headline(refusal_words(reckoning.refusal, reckoning.today, reckoning.plant), "")
    if reckoning.batches:
        return _underway(reckoning, way_out=way_out)
    return _to_cut(reckoning)


def _to_cut(reckoning: Reckoning) -> Headline:
    said = _cut_words(reckoning)
    plan, _ = reckoning.planned()
    if not plan.missed or reckoning.want.by:
        return said
    # What is true comes first: what the cut is for, then why not sooner.
    strong = f"For {time_words(plan.target, reckoning.climate)}: {lowercase_first(said.strong)}"
    return Headline(strong, f"{said.rest} {_missed_words(plan, reckoning.today)}")


def _cut_words(reckoning: Reckoning) -> Headline:
    """How many to cut by when, and what follows from it."""
    (plan, option), today = reckoning.planned(), reckoning.today
    rest = f"{_gate_words(plan)} {_harvest_words(reckoning, option)}".strip()
    if option.standing is CutDay.CLOSED:
        return Headline(f"{day_words(option.day, today)} is closed:", f"{closed_words(reckoning, option)}. {rest}")
    count = plural(reckoning.to_cut, reckoning.plant.cutting_one, reckoning.plant.cutting_many)
    if reckoning.row.cuttings:
        come = plural(reckoning.needed, "plant comes", "plants come")
        rest = f"{sureness(reckoning.want.confidence)} that {come} of them. {rest}"
    span = plan.comfortable
    if reckoning.chosen_day is None and span and span[0] < span[1] and option.standing is CutDay.COMFORTABLE:
        last, most = _same_count_until(plan, option), int(plan.counts[plan.index(span[1])])
        more = f"{most} will do until {about(span[1], today)}. " if most > option.count else ""
        same_year = today if span[0].year != last.year else None  # then the year is said once, at the end
        first = "today" if span[0] == today else about(span[0], same_year)
        if span[0] < last:
            return Headline(f"Cut {count} between {first} and {about(last, today)}.", more + rest)
        return Headline(f"Cut {count} {'today' if last == today else f'on {day_words(last, today)}'}.", more + rest)
    when = "today" if option.day == today else f"on {day_words(option.day, today)}"
    return Headline(f"Cut {count} {when}.", rest)


def _same_count_until(plan: SeasonPlan, option: CutOption) -> date:
    """The last comfortable day on which the count of the chosen one still does."""
    days = [day for day in plan.days_of(CutDay.COMFORTABLE) if plan.counts[plan.index(day)] <= option.count]
    return max([*days, option.day])


def under_words(reckoning: Reckoning) -> str:
    """What a chance is counted over, once beside it."""
    plan, assumed = reckoning.plan, reckoning.setting.assumptions
    looked = f"looked at {looks_words(assumed.look_every_days)}"
    if reckoning.batches:
        return f"Counted from what was seen, {looked} from here on."
    if isinstance(plan, Refusal):
        return ""
    season = season_words(plan.target, reckoning.climate)
    return f"Counted in {assumed.years} possible {season}s, {looked}."


def exchange_words(reckoning: Reckoning) -> list[str]:
    """What sooner and later days would cost: "5 for 28 Jul"; the one chosen says so."""
    plan = reckoning.plan
    if isinstance(plan, Refusal) or reckoning.batches:
        return []
    return [
        f"{row.count} for {about(row.day, plan.today)}{', as planned' if row.day == plan.target else ''}"
        for row in plan.exchange
    ]


CONDITIONS: Final = {
    "out_of_season": "the wood is out of season",
    "flowering": "the mother is in flower",
    "wilted": "it has wilted",
}


def lowercase_first(words: str) -> str:
    """Words as they stand inside a sentence."""
    return words[:1].lower() + words[1:]


def condition_words(condition: Condition, take: Take, count: int) -> str:
    """What it costs to cut as things are; nothing where it costs nothing."""
    if not condition.reasons:
        return ""
    why = listed(CONDITIONS.get(name) or lowercase_first(costs()[name].words) for name in condition.reasons)
    left = condition.lowers(take).mean
    come = f"; of {count} cut expect about {round(count * left)}" if count > 1 else ""
    tenths = round(10 * (condition.days - 1))
    longer = f"; its days to roots run about {tenths} in 10 longer" if tenths else ""
    after = round(10 * (condition.after - 1))
    kind = "longer" if after > 0 else "shorter"
    longer += f"; days from roots to a plant about {abs(after)} in 10 {kind} (assumed)" if after else ""
    return f"{why[0].upper()}{why[1:]}: {share_words(left)} take instead of {share_words(take.mean)}{come}{longer}."


def nights_to_accept(held: Refusal | CutOption | None) -> int | None:
    """Nights to carry pots in that stand in the way and nothing else does, to be accepted in one press."""
    if isinstance(held, Refusal):
        is_cold = held.code == "too_cold" and not held.params["killed"]
        return int(held.params["nights"]) if is_cold else None
    return round(held.nights) if held and held.closed_by == "cold" else None


def closed_words(reckoning: Reckoning, option: CutOption) -> str:
    """Why a cut day is closed, and what it would take."""
    if option.closed_by == "cold":
        nights = plural(round(option.nights), "night", "nights")
        return f"{nights} to carry the pots in; you said {reckoning.setting.assumptions.carry_nights}"
    if option.closed_by == "heat":
        return "high summer: too hot there for unrooted stems, unless in shade and misted"
    if option.closed_by == "killed":
        return f"frost kills it in the ground {years_words(option.killed)}"
    return "the wood is not in season" if option.closed_by == "wood" else "too late to be ready in time"


def _gate_words(plan: SeasonPlan) -> str:
    if plan.window is None:
        ready = "Before the frost comes for the mother" if plan.want.purpose == "winter" else "Ready"
        end = ";" if plan.want.purpose == "pot" else "."
        return f"{ready} by {about(plan.target, plan.today)}{end}"
    if plan.target == plan.window.opens:
        return f"The gate opens {about(plan.window.opens, plan.today)};"
    if plan.window.opens <= plan.today:
        return f"The gate is open; plant out {about(plan.target, plan.today)};"
    return f"The gate opens {about(plan.window.opens, plan.today)}; plant out {about(plan.target, plan.today)};"


def _harvest_words(reckoning: Reckoning, option: CutOption) -> str:
    if option.harvest[1] is None:
        return ""
    return harvest_words(reckoning.plant, option, reckoning.today)


def plural_cut(reckoning: Reckoning, option: CutOption) -> str:
    """So many of what is cut: "11 side shoots"."""
    return plural(option.count, reckoning.plant.cutting_one, reckoning.plant.cutting_many)


def _missed_words(plan: SeasonPlan, today: date) -> str:
    missed = plan.missed[-1]
    shuts = about(missed.window.shuts, today)
    last = f"; the last cut that makes it was {about(missed.last_cut, today)}" if missed.last_cut else ""
    if missed.window.shuts < today:
        return f"Sooner is too late: the gate shut on {shuts}{last}."
    if missed.only_early:
        return f"Before the gate shuts on {shuts} only plants long held in their pots would be ready."
    if missed.chance >= WORTH_A_WORD:
        return f"Before the gate shuts on {shuts} it would be {odds(missed.chance)} at best, with {missed.count}."
    return f"Nothing cut from today would be ready before the gate shuts on {shuts}{last}."


def _underway(reckoning: Reckoning, *, way_out: bool) -> Headline:
    """How a want with batches stands."""
    said, chance, target = reckoning.standing_word, odds(reckoning.chance), reckoning.target
    day = about(target, reckoning.today) if target else ""
    them = so_many_are(reckoning.needed)
    if said == "done":
        return Headline(
            "Done:",
            f"{plural(reckoning.ready_now, 'plant', 'plants')} of {reckoning.needed} wanted are out.",
        )
    if said == "on-course":
        return Headline("On course:", f"{chance} that {them} ready by {day}.")
    more = reckoning.shortfall
    lead = "Tight:" if said == "tight" else "Short:"
    if more is None:
        return Headline(lead, f"{chance} that {them} ready by {day}, and no cut from today would be in time.")
    stands = f"{chance} that {them} ready by {day}."
    if not way_out:
        return Headline(lead, stands)
    cut = plural(more.count, reckoning.plant.cutting_one, reckoning.plant.cutting_many)
    when = "now" if more.day == reckoning.today else f"on {about(more.day, reckoning.today)}"
    return Headline(lead, f"{stands} Cut {cut} more {when}; {does_until(more, reckoning.today)}.")


def row_words(reckoning: Reckoning) -> Headline:
    """The answer as a row of the season has room for."""
    said, today, target = reckoning.standing_word, reckoning.today, reckoning.target
    out = f"out {about(target, today)}" if target and reckoning.want.purpose == "bed" else ""
    if target and not out:
        out = f"ready {about(target, today)}"
    if said == "refused":
        return Headline("Not as asked", "open it for the reason")
    if said == "to-cut":
        return _row_to_cut(reckoning, out)
    if said == "done":
        return Headline(f"Done: {reckoning.ready_now} of {reckoning.needed} out", "")
    if said == "on-course":
        return Headline("On course", f"{odds(reckoning.chance)} · {out}")
    more = reckoning.shortfall
    if more is None:
        return Headline(said.capitalize(), f"{odds(reckoning.chance)} · too late to cut more")
    return Headline(f"{said.capitalize()}: cut {more.count} more", f"by {about(more.lasts, today)} · {out}")


def _row_to_cut(reckoning: Reckoning, out: str) -> Headline:
    (plan, option), today = reckoning.planned(), reckoning.today
    if option.standing is CutDay.CLOSED:
        return Headline("That day is closed", "choose another")
    span = plan.comfortable
    if reckoning.chosen_day or span is None or option.standing is not CutDay.COMFORTABLE:
        strong = f"Cut {reckoning.to_cut} {'today' if option.day == today else 'on ' + about(option.day, today)}"
    elif span[0] == today:
        strong = f"Cut {reckoning.to_cut} by {about(_same_count_until(plan, option), today)}"
    else:
        strong = f"Cut {reckoning.to_cut}, {span_words(span[0], _same_count_until(plan, option), today)}"
    harvest = option.harvest[1]
    fruit = ""
    if harvest:
        is_far = reckoning.plant.harvest_late_days > FAR_HARVEST_DAYS
        when = month_words(harvest) if is_far else about(harvest, today)
        fruit = f" · {reckoning.plant.harvest_word.split()[-1]} {when}"
    late = "too late this year · " if plan.missed else ""
    return Headline(strong, f"{late}{out}{fruit}")


def curve_words(plan: SeasonPlan, option: CutOption) -> str:
    """The curve for those who cannot see it."""
    span = plan.comfortable
    comfort = f"Comfortable {span_words(*span, plan.today)} with {plan.fewest}" if span else "No comfortable day"
    until, chosen = about(plan.open_until, plan.today), chosen_words(option, plan.today)
    return f"How many to cut against the day. {comfort}. Open until {until}. Chosen: {chosen}"


def chosen_words(option: CutOption, today: date) -> str:
    """A chosen day and what it means, as a slider says it."""
    if option.standing is CutDay.CLOSED:
        return f"{day_words(option.day, today)}, closed"
    ready = f", ready about {about(option.ready[1], today)}" if option.ready[1] else ""
    return f"{day_words(option.day, today)}, cut {option.count}, {option.standing.name.lower()}{ready}"


def want_words(row: Want, name: str) -> str:
    """A want as its row names it: "8 Tomato ‘Ferry Lamp’, plus 2, lot 2 of 3"."""
    more = [f"plus {row.spares}"] if row.spares else []
    if row.settled_count:
        more = [f"settled for {row.settled_count}"]
    if row.lots > 1:
        kept = row.purpose == row.Purpose.WINTER or row.stock == row.Stock.INDOORS
        more.append(f"{'step' if kept and row.lots == 2 else 'lot'} {row.lot} of {row.lots}")
    return ", ".join([f"{row.wanted} {plant_words(name, row.variety)}", *more])
