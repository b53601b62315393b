"""Sentences for what cannot be had, each with what could be instead."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from typing import TYPE_CHECKING, Any

from elder.engine.plan.planting_windows import PlantingWindow
from elder.engine.refusal import Refusal
from elder.web.say.words import about, day_words, listed

if TYPE_CHECKING:
    from elder.web.read.wants import Reckoning

KEEPS_SHUT = {"frost": "the frost risk", "soil": "cold ground", "heat": "the heat"}


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
    why = shut_words(before, reckoning) if isinstance(before, PlantingWindow) else "the frost takes the mother plant"
    after = f" The next window is {_window_words(params['after'], today)}." if params["after"] else ""
    return f"Too late: after {about(shuts, today)} {why}.{after}"


def shut_words(window: PlantingWindow, reckoning: Reckoning) -> str:
    words = {
        "crop": f"it would stand in frost before it gave its {reckoning.plant.harvest_word}",
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


_REFUSALS: dict[str, Callable[[dict[str, Any], Reckoning], str]] = {
    "gate_not_open": _gate_not_open,
    "gate_shut": _gate_shut,
    "too_late": _too_late,
    "too_many": lambda params, _: (
        f"{params['wanted']} plants would want more than {params['most']} cuttings at that surety. "
        "Ask for fewer, or be less sure."
    ),
    "by_past": lambda params, r: f"{day_words(params['by'], r.today)} is not after today. Choose a later day.",
    "by_too_far": lambda params, r: (
        f"That is too far ahead to reckon. Choose a day up to {about(params['latest'], r.today)}."
    ),
    "no_window": lambda params, r: (
        f"{params['plant']} has no planting season here: the ground or the frost-free time falls short. "
        "Keep it in a pot under cover."
    ),
    "rarely_a_plant": lambda params, _: f"Not offered: {params['caveat'] or 'it roots and hardly ever makes a plant'}.",
    "needs_ground": lambda params, _: (
        f"“{params['method']}” is struck where it is to stand: choose a place in the ground to root it."
    ),
    "too_cold_to_keep": lambda params, r: (
        f"Too cold to keep {r.plant.name.lower()} over winter where it grows on: nights there fall to "
        f"{params['least']:.0f} °C and it wants {params['keep']:.0f} °C. Choose a warmer place."
    ),
    "no_winter": lambda params, _: f"{params['plant']} need not be carried through: no frost takes it here.",
    "not_even_one": lambda params, _: (
        f"{params['cuttings']} {'cutting does' if params['cuttings'] == 1 else 'cuttings do'} not make even one plant "
        f"that sure; {params['least']} would. Be less sure, or cut more."
    ),
    "more_lots_than_plants": lambda params, _: f"{params['lots']} lots of {params['wanted']}: each lot wants a plant.",
    "never_ready": lambda params, r: (
        "Nothing cut in the next two years would be ready in time at the places chosen. "
        f"Try a warmer place for {r.plant.name.lower()}."
    ),
}
