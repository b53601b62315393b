"""What was done, in words, for every care that can be written down."""

from typing import Final

DEED_PAST: Final = {
    "water": "water changed", "top_up": "topped up", "mist": "misted", "moisten": "moistened", "air": "aired",
    "uncover": "uncovered a step", "feed": "fed", "feed_water": "fed in the water", "soak": "kept very wet",
    "water_pots": "watered", "water_in": "watered in", "pests": "looked for pests", "light": "moved to more light",
    "stake": "supported", "pinch": "pinched", "harden_step": "a step of hardening", "shade": "shaded",
    "carry_in": "carried in or covered", "stick": "stuck",
}  # fmt: skip
