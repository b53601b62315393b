"""Towns and plants by what was typed, beside looking at every name one after the other."""

from __future__ import annotations

from bench.table import Line as Row
from bench.table import timed
from elder.engine.handbook.finding import find_plants
from elder.engine.handbook.loading import named
from elder.web.garden import towns


def every_line(typed: str) -> list[towns.Town]:
    """Towns that begin so by looking at each of them, the largest first."""
    found = [towns._town(line) for line in towns._lines() if line.startswith(typed)]
    found.sort(key=lambda town: (towns.folded(town.name) != typed, -town.people))
    return found[: towns.SHOWN]


def lines() -> list[Row]:
    """A town by its beginning and with a letter wrong; a plant by name and with a letter wrong."""
    towns.towns_like("york")  # unpacked once a process
    near_s, near = timed(lambda: towns.towns_like("york"), 20)
    scan_s, scanned = timed(lambda: every_line("york"), 3)
    if [town.where for town in near] != [town.where for town in scanned]:
        raise ArithmeticError("the two do not find the same towns")
    slip_s, slips = timed(lambda: towns.towns_like("porthmadoc"), 5)
    name_s, _ = timed(lambda: find_plants("tomatoes"), 10)
    wrong_s, wrong = timed(lambda: find_plants("rosmary"), 10)
    return [
        Row("finding", "a town by its beginning", near_s, "every line", scan_s, f"{len(near)} of 182,854 names"),
        Row("finding", "a town with a letter wrong", slip_s, "by its beginning", near_s, slips[0].name),
        Row("finding", "a plant with a letter wrong", wrong_s, "by its name", name_s, wrong[0].plant.name),
        Row("finding", "a plant by its name", name_s, f"{len(named())} plants", name_s, "tomatoes"),
    ]
