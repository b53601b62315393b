"""What was done, in words, for every care that can be written down."""

from __future__ import annotations

from typing import Final

from elder.engine.round.hardening import HardeningDay
from elder.web.say.words import plural

DEED_PAST: Final = {
    "water": "water changed", "top_up": "topped up", "mist": "misted", "moisten": "moistened", "air": "aired",
    "uncover": "uncovered a step", "feed": "fed", "feed_water": "fed in the water", "soak": "kept very wet",
    "water_pots": "watered", "water_in": "watered in", "pests": "looked for pests", "light": "moved to more light",
    "stake": "supported", "pinch": "pinched", "harden_step": "a step of hardening", "shade": "shaded",
    "carry_in": "carried in or covered", "stick": "stuck",
    "solution": "solution made anew", "fill_up": "filled up round the stem", "recut": "recut",
    "carry_out": "carried out again",
}  # fmt: skip


CAUTIONS: Final = {
    "pests": "Spray as little as can be; before any spray read its label.",
    "feed": "Feed by its label; wash your hands before you eat.",
    "pot_on": "Wet dry mix before you pour it and do not breathe its dust; wash your hands.",
    "lift": "A spade cuts boots as well; look for cables and pipes. A root ball is heavy: two people.",
    "solution": "Feed by its label; wash your hands before you eat.",
    "pot_up": "A full pot is heavy: slide it, split it, or lift it together.",
    "stake": "Cap the canes: eyes.",
}


def rung_words(rung: HardeningDay, days: int) -> str:
    """One day of the hardening ladder."""
    light = "sun" if rung.sun else "shade"
    out = "out day and night" if rung.night else f"out for {plural(rung.hours, 'hour', 'hours')}, in for the night"
    return f"Day {rung.day} of {days}: {out}, in {light} and out of the wind."
