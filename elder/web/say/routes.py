"""Words for the routes by which a cutting becomes a plant: its stages, its moves, and what comes after the roots."""

from __future__ import annotations

from typing import Final

from elder.engine.handbook.model import Method
from elder.engine.handbook.routes import Route
from elder.web.say.words import plural

STAGE_WORDS: Final = {
    "waiting": "waiting",
    "rooted": "rooted",
    "potted": "potted on",
    "hardening": "hardening",
    "planted": "planted out",
}
# Where a route calls its stages otherwise.
OWN_WORDS: Final[dict[str, dict[str, str]]] = {
    "in place": {"planted": "rooted where they stand", "potted": "lifted and potted"},
    "lined out": {"planted": "rooted in the row", "potted": "lifted and potted"},
    "solution": {"potted": "in solution"},
    "with roots": {"waiting": "settling", "potted": "growing on"},
}
MOVE_WORDS: Final[dict[str, str]] = {
    "pot-on": "Pot on",
    "harden": "Start hardening",
    "plant-out": "Plant out",
    "lift": "Lift and pot",
    "give": "Give away or hand over",
}
SOLUTION_MOVE: Final = "Set into solution"


def stage_words(route: Route) -> dict[str, str]:
    """Each stage in a word or two, as it is on a route."""
    return {**STAGE_WORDS, **OWN_WORDS.get(route.key, {})}


def move_words(verb: str, route: Route) -> str:
    """What a move is called on a route."""
    return SOLUTION_MOVE if (verb, route.key) == ("pot-on", "solution") else MOVE_WORDS[verb]


def pot_on_words(route: Route, count: int) -> str:
    """Some that are to be moved into what they grow on in: "Pot on 5"."""
    return f"Set {count} into solution" if route.key == "solution" else f"Pot on {count}"


def onward_words(method: Method) -> str:
    """What comes once there are roots, in a sentence: for the sheet, and where ways stand side by side."""
    days = plural(method.harden_days, "day", "days")
    hardened = f"hardened {days}" if method.harden_days else "with no hardening"
    return {
        "potted": f"Then potted on ({method.ready_sign}), {hardened}, and set out.",
        "straight out": f"Then straight into the ground ({method.ready_sign}), {hardened} where it rooted: no pot. "
        "Some are lost in their first fortnight out there; that is not counted, so set one or two over.",
        "in place": "It stays where it was struck: no pot, no hardening.",
        "lined out": "It roots in the row and stands there a season; lifted when it next rests, and potted or moved.",
        "solution": f"Then into nutrient solution ({method.ready_sign}): there for good, or {hardened} and set out.",
        "with roots": f"It has roots of its own: a few days' wilting, then it grows on in its pot, {hardened}.",
    }[method.route.key]
