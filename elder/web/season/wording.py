"""Sentences for wants: answers, reasons, refusals. The engine says what; this says how."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from typing import TYPE_CHECKING, Any

from elder.engine.climate import MONTH_STARTS, YEAR_DAYS
from elder.engine.gate import PlantingWindow
from elder.engine.refusal import Refusal
from elder.engine.rounds import Task
from elder.engine.season import CutOption, SeasonPlan, Standing
from elder.engine.warmth import Place as EnginePlace
from elder.web.ui.units import shown_depth, temperature
from elder.web.ui.words import MONTHS, about, day_words, listed, odds, plural, span_words, sureness

if TYPE_CHECKING:
    from elder.web.season.reckoning import BatchReckoning, Reckoning

GROUND_DEPTH_M = 0.10


@dataclass(frozen=True)
class Headline:
    """The answer in one line: what to do in bold, then the rest."""

    strong: str
    rest: str

    @property
    def plain(self) -> str:
        """Both together."""
        return f"{self.strong} {self.rest}".strip()


@dataclass(frozen=True)
class Reason:
    """One thing an answer rests on: a word for it, and the sentence."""

    topic: str
    sentence: str


def headline(reckoning: Reckoning) -> Headline:
    """The answer to a want."""
    if reckoning.refusal:
        return Headline(refusal_words(reckoning.refusal, reckoning), "")
    if reckoning.batches:
        return _underway(reckoning)
    return _to_cut(reckoning)


def _to_cut(reckoning: Reckoning) -> Headline:
    plan, option, today = reckoning.plan, reckoning.option, reckoning.today
    assert isinstance(plan, SeasonPlan) and option is not None  # noqa: S101 - a refusal was answered above
    rest = f"{_gate_words(plan)} {_harvest_words(reckoning, option)}".strip()
    if plan.missed:
        rest = f"Too late this year: {_missed_words(plan, today)} {rest}"
    if option.standing is Standing.CLOSED:
        why = "the wood is not in season" if option.closed_by == "wood" else "too late to be ready in time"
        return Headline(f"{day_words(option.day, today)} is closed:", f"{why}. {rest}")
    count = plural(option.count, reckoning.plant.cutting_one, reckoning.plant.cutting_many)
    span = plan.comfortable
    if reckoning.chosen_day is None and span and span[0] < span[1] and option.standing is Standing.COMFORTABLE:
        first = "today" if span[0] == today else about(span[0], today)
        return Headline(f"Cut {count} between {first} and {about(span[1], today)}.", rest)
    when = "today" if option.day == today else f"on {day_words(option.day, today)}"
    return Headline(f"Cut {count} {when}.", rest)


def _gate_words(plan: SeasonPlan) -> str:
    if plan.window is None:
        ready = "Before the frost comes for the mother" if plan.want.purpose == "winter" else "Ready"
        return f"{ready} by {about(plan.target, plan.today)}."
    if plan.target == plan.window.opens:
        return f"The gate opens {about(plan.window.opens, plan.today)};"
    if plan.window.opens <= plan.today:
        return f"The gate is open; plant out {about(plan.target, plan.today)};"
    return f"The gate opens {about(plan.window.opens, plan.today)}; plant out {about(plan.target, plan.today)};"


def _harvest_words(reckoning: Reckoning, option: CutOption) -> str:
    if option.harvest[1] is None:
        return ""
    return f"{reckoning.plant.harvest_word} about {about(option.harvest[1], reckoning.today)}."


def _missed_words(plan: SeasonPlan, today: date) -> str:
    missed = plan.missed[-1]
    return f"none cut from today would be ready before the gate shuts on {about(missed.shuts, today)}. The next window:"


def _underway(reckoning: Reckoning) -> Headline:
    """How a want with batches stands."""
    said, chance, target = reckoning.standing_word, odds(reckoning.chance), reckoning.target
    day = about(target, reckoning.today) if target else ""
    if said == "done":
        return Headline(
            "Done:", f"{plural(reckoning.ready_now, 'plant', 'plants')} of {reckoning.row.wanted} wanted are out."
        )
    if said == "on-course":
        return Headline("On course:", f"{chance} that {reckoning.row.wanted} are ready by {day}.")
    more = reckoning.shortfall
    lead = "Tight:" if said == "tight" else "Short:"
    if more is None:
        return Headline(
            lead, f"{chance} that {reckoning.row.wanted} are ready by {day}, and no cut from today would be in time."
        )
    cut = plural(more.count, reckoning.plant.cutting_one, reckoning.plant.cutting_many)
    when = "now" if more.day == reckoning.today else f"on {about(more.day, reckoning.today)}"
    return Headline(
        lead,
        f"{chance} that {reckoning.row.wanted} are ready by {day}. Cut {cut} more {when}; it helps until {about(more.until, reckoning.today)}.",
    )


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
        return Headline("Done", f"{reckoning.ready_now} of {reckoning.row.wanted} out")
    if said == "on-course":
        return Headline("On course", f"{odds(reckoning.chance)} · {out}")
    more = reckoning.shortfall
    if more is None:
        return Headline(said.capitalize(), f"{odds(reckoning.chance)} · too late to cut more")
    return Headline(f"{said.capitalize()}: cut {more.count} more", f"by {about(more.until, today)} · {out}")


def _row_to_cut(reckoning: Reckoning, out: str) -> Headline:
    plan, option, today = reckoning.plan, reckoning.option, reckoning.today
    assert isinstance(plan, SeasonPlan) and option is not None  # noqa: S101 - a refusal was answered above
    if option.standing is Standing.CLOSED:
        return Headline("That day is closed", "choose another")
    span = plan.comfortable
    if reckoning.chosen_day or span is None or option.standing is not Standing.COMFORTABLE:
        strong = f"Cut {option.count} {'today' if option.day == today else 'on ' + about(option.day, today)}"
    elif span[0] == today:
        strong = f"Cut {option.count} by {about(span[1], today)}"
    else:
        strong = f"Cut {option.count}, {span_words(*span, today)}"
    harvest = option.harvest[1]
    fruit = f" · {reckoning.plant.harvest_word.split()[-1]} {about(harvest, today)}" if harvest else ""
    late = "too late this year · " if plan.missed else ""
    return Headline(strong, f"{late}{out}{fruit}")


def refusal_words(refusal: Refusal, reckoning: Reckoning) -> str:
    """Why a want cannot be had, and what could be instead."""
    return _REFUSALS[refusal.code](refusal.params, reckoning)


def _window_words(window: PlantingWindow | date | None, today: date) -> str:
    if isinstance(window, PlantingWindow):
        return f"{about(window.opens, today)} to {about(window.shuts, today)}"
    return about(window, today) if window else ""


def _gate_not_open(params: dict[str, Any], reckoning: Reckoning) -> str:
    window, today = params["after"], reckoning.today
    if not isinstance(window, PlantingWindow):
        return f"{about(params['by'], today)} lies outside the season: the next day is {_window_words(window, today)}."
    held = listed(
        {"frost": "the frost risk", "soil": "cold ground", "heat": "the heat"}.get(why, why) for why in window.opened_by
    )
    return (
        f"Not by {about(params['by'], today)}: {held or 'the season'} keeps the gate shut until "
        f"{about(window.opens, today)}. Choose a day from then to {about(window.shuts, today)}."
    )


def _gate_shut(params: dict[str, Any], reckoning: Reckoning) -> str:
    before, today = params["before"], reckoning.today
    shuts = before.shuts if isinstance(before, PlantingWindow) else before
    why = _shut_words(before, reckoning) if isinstance(before, PlantingWindow) else "the frost takes the mother plant"
    after = f" The next window is {_window_words(params['after'], today)}." if params["after"] else ""
    return f"Too late: after {about(shuts, today)} {why}.{after}"


def _shut_words(window: PlantingWindow, reckoning: Reckoning) -> str:
    words = {
        "crop": f"{reckoning.plant.name.lower()} would stand in frost before it gave its {reckoning.plant.harvest_word}",
        "frost": "frost would take young plants",
        "soil": "the ground is too cold for new roots",
        "heat": "it is too hot to plant",
    }
    return words.get(next(iter(window.shut_by), ""), "the season is over")


def _too_late(params: dict[str, Any], reckoning: Reckoning) -> str:
    by, soonest, today = params["by"], params["soonest"], reckoning.today
    if soonest is None:
        return f"Too late: nothing cut from today is ready by {about(by, today)}, nor later that season."
    return f"Too late for {about(by, today)}: cut from today, the soonest they can be ready is {about(soonest, today)}."


_REFUSALS = {
    "gate_not_open": _gate_not_open,
    "gate_shut": _gate_shut,
    "too_late": _too_late,
    "too_many": lambda params, _: (
        f"{params['wanted']} plants would want more than {params['most']} cuttings at that surety. Ask for fewer, or be less sure."
    ),
    "by_past": lambda params, r: f"{day_words(params['by'], r.today)} is not after today. Choose a later day.",
    "by_too_far": lambda params, r: (
        f"That is too far ahead to reckon. Choose a day up to {about(params['latest'], r.today)}."
    ),
    "no_window": lambda params, r: (
        f"{params['plant']} has no planting season here: the ground or the frost-free time falls short. Keep it in a pot under cover."
    ),
    "never_ready": lambda params, r: (
        f"Nothing cut in the next two years would be ready in time at the places chosen. Try a warmer place for {r.plant.name.lower()}."
    ),
}


def reasons(reckoning: Reckoning, place_names: tuple[str, str], units: str) -> list[Reason]:
    """What an answer rests on: frost, soil, roots in that place, losses, the plan's own edges."""
    plan, option = reckoning.plan, reckoning.option
    if not isinstance(plan, SeasonPlan) or option is None:
        return [*_gate_reasons(reckoning, reckoning.windows[0] if reckoning.windows else None, units)]
    return [
        *_gate_reasons(reckoning, plan.window, units),
        _roots_reason(reckoning, option, place_names, units),
        _losses_reason(reckoning, plan, option),
        *_edge_reason(plan),
    ]


def _gate_reasons(reckoning: Reckoning, window: PlantingWindow | None, units: str) -> list[Reason]:
    if window is None:
        return []
    plant, today = reckoning.plant, reckoning.today
    limit = temperature(plant.frost_limit_c, units)
    spring = reckoning.climate.frost.spring
    found: list[Reason] = []
    if window.frost_safe:
        mean = f" The last frost averages {_doy_words(spring.mean_doy)}." if spring else ""
        risk = sureness(reckoning.want.accepted_risk)
        found.append(
            Reason("Frost", f"hurt at {limit}; the risk falls to {risk} on {about(window.frost_safe, today)}.{mean}")
        )
    elif spring is None:
        found.append(Reason("Frost", "none here."))
    depth = shown_depth(GROUND_DEPTH_M, units)
    least = temperature(plant.least_soil_c, units)
    if window.soil_warm:
        found.append(Reason("Soil", f"ground at {depth} reaches {least} on {about(window.soil_warm, today)}."))
    else:
        found.append(Reason("Soil", f"ground at {depth} stays above {least} all year."))
    if window.shut_by:
        found.append(Reason("Shuts", f"after {about(window.shuts, today)} {_shut_words(window, reckoning)}."))
    return found


def _doy_words(doy: float) -> str:
    day = round(doy) % YEAR_DAYS
    month = int((day >= MONTH_STARTS).sum()) - 1
    return f"{day - int(MONTH_STARTS[month]) + 1} {MONTHS[month]}"


def _roots_reason(reckoning: Reckoning, option: CutOption, names: tuple[str, str], units: str) -> Reason:
    today = reckoning.today
    where = f"{names[0]} ({warmth_words(reckoning.rooting, units)})"
    if option.rooted[0] is None:
        return Reason("Roots", f"none to be expected within a year at {where}.")
    rooted = span_words(option.rooted[0], option.rooted[2] or option.rooted[0] + timedelta(days=120), today)
    if option.ready[0] is None:
        return Reason("Roots", f"likely {rooted} at {where}.")
    ready = span_words(option.ready[0], option.ready[2] or option.ready[0] + timedelta(days=120), today)
    held = f", then about {plural(option.held_days, 'day', 'days')} in the pot" if option.held_days > 1 else ""
    grown = f", grown on at {names[1]}" if names[1] != names[0] else ""
    return Reason("Roots", f"likely {rooted} at {where}; ready {ready}{grown}{held}.")


def warmth_words(place: EnginePlace, units: str) -> str:
    """How warm a place is, shortly."""
    if place.standing == "room":
        return f"{temperature(place.day_c, units)} by day, {temperature(place.night_c, units)} by night"
    floor = f", never under {temperature(place.floor_c, units)}" if place.floor_c is not None else ""
    base = "open ground" if place.standing == "ground" else "outdoor air"
    return f"{base}{', under cover' if place.lift_day_c else ''}{floor}"


def _losses_reason(reckoning: Reckoning, plan: SeasonPlan, option: CutOption) -> Reason:
    take = (
        sureness(round(plan.take.mean, 1))
        if abs(plan.take.mean * 10 % 1) < 1e-6
        else f"{round(100 * plan.take.mean)} in 100"
    )
    wanted = reckoning.row.wanted
    if not option.count:
        return Reason("Losses", f"{take} take; even {plan.ladder.most} cuttings would not do that day.")
    more = "" if option.count == plan.ladder.least else f" {plan.ladder.least} would do with more time."
    return Reason(
        "Losses", f"{take} take; {option.count} cut gives {wanted} with a chance of {odds(option.chance)}.{more}"
    )


def _edge_reason(plan: SeasonPlan) -> list[Reason]:
    span = plan.comfortable
    if span is None:
        return [Reason("Days", "no comfortable day is left; every day later costs more cuttings.")]
    left = {
        "patience": f"earlier, they would stand over {plan.plant.patience_days} days in their pots",
        "wood": "earlier, the wood is not in season",
        "time": "earlier days are no better",
        "today": "",
    }[plan.edges[0]]
    right = (
        "later, more cuttings must make up for the days"
        if plan.edges[1] == "time"
        else "later, the wood is out of season"
    )
    last = f"until {about(plan.open_until, plan.today)}, then it is too late" if plan.open_until > span[1] else ""
    sentence = "; ".join(part for part in (left, f"{right} {last}".strip()) if part)
    return [Reason("Days", f"{sentence}.")]


def curve_words(plan: SeasonPlan, option: CutOption) -> str:
    """The curve for those who cannot see it."""
    span = plan.comfortable
    comfort = (
        f"Comfortable {span_words(*span, plan.today)} with {plan.ladder.least}." if span else "No comfortable day."
    )
    return f"How many to cut against the day. {comfort} Open until {about(plan.open_until, plan.today)}. Chosen: {chosen_words(option, plan.today)}"


def chosen_words(option: CutOption, today: date) -> str:
    """A chosen day and what it means, as a slider says it."""
    if option.standing is Standing.CLOSED:
        return f"{day_words(option.day, today)}, closed"
    return f"{day_words(option.day, today)}, cut {option.count}, {option.standing.name.lower()}"


@dataclass(frozen=True)
class Due:
    """One line of today's list."""

    when: str
    overdue: bool
    now: bool
    deed: str
    about: str
    url: str
    due: date
    pressing: int

    @property
    def order(self) -> tuple[object, ...]:
        """What is due now first, the costliest to leave in front; then the week in its order."""
        return (0, self.pressing, self.due) if self.now else (1, self.due, self.pressing)


# In the order in which waiting costs most: a day lost before the cut cannot be bought back.
DEEDS = {
    "cut": "Cut",
    "pot_on": "Pot on",
    "plant_out": "Plant out",
    "harden": "Start hardening",
    "first_look": "First look",
    "next_look": "Look again",
    "give_up": "Go on or give up",
    "harvest": "Look for a first harvest",
}
PRESSING = {verb: i for i, verb in enumerate(DEEDS)}


def task_words(task: Task, batch: BatchReckoning) -> tuple[str, str]:
    """A task as a deed and what it is about."""
    plant = plant_words(batch.plant.name, batch.row.variety)
    counted = {
        "first_look": f"{task.count} waiting, 1 in 10 likely rooted by then",
        "next_look": f"{task.count} waiting, another tenth likely rooted",
        "give_up": f"{task.count} still waiting, with little hope left",
        "pot_on": f"{task.count} rooted: {batch.method.ready_sign}",
        "harden": f"{task.count} for {batch.method.harden_days} days",
        "plant_out": f"{task.count} hardened",
        "harvest": f"{task.count} in the ground",
    }
    return f"{DEEDS[task.verb]}", f"{plant} · {counted[task.verb]}"


def plant_words(name: str, variety: str) -> str:
    """A plant and its variety."""
    return f"{name} ‘{variety}’" if variety else name
