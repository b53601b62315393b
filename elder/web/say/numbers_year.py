"""The numbers behind the drawings of the year: the cold's reach, a line that widens, what stands where on a load."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

import numpy as np

from elder.drawing.cold_reach import Reach
from elder.drawing.widening import Rise
from elder.engine.year.load import Stowed
from elder.web.say.numbers import Numbers
from elder.web.say.units import length_in, length_sign, shown_temperature, temperature_sign
from elder.web.say.words import day_words

SHARES = (("One winter in ten", 0.1), ("One in two", 0.5), ("Nine in ten", 0.9))


def reach_numbers(shown: Reach, units: str) -> Numbers:
    """How low winters go, and where each plant's limit lies, the coldest first."""
    lows = [(f"{said}, at the lowest", float(np.quantile(shown.lows, share)), "") for said, share in SHARES]
    limits = [(one.name, one.at_c, "wants saving" if one.saved else "bears it") for one in shown.limits]
    rows = sorted([*lows, *limits], key=lambda row: row[1])
    sign = temperature_sign(units)
    heads = ("What", f"Night in the open, {sign}", "It")
    return Numbers("How far the cold reaches", heads, tuple((what, _degrees(at, units), it) for what, at, it in rows))


def _degrees(celsius: float, units: str) -> str:
    return f"{shown_temperature(celsius, units):.0f}".replace("-", "−")


def rise_numbers(rises: Sequence[Rise], today: date) -> Numbers:
    """How many stand on each day on which more come."""
    rows = tuple(
        (day_words(one.day, today), str(round(one.whole)), f"{round(one.low)} to {round(one.high)}") for one in rises
    )
    return Numbers("How many stand", ("From", "Expected", "8 times in 10"), rows)


def stowed_numbers(stowed: Sequence[Stowed], units: str) -> Numbers:
    """Where each thing of a load stands: from the front and from the left, and the floor it takes."""

    def said(cm: float) -> str:
        return f"{length_in(cm, units):.0f}"

    rows = tuple(
        (f"{n}. {one.thing.name}", said(one.x_cm), said(one.y_cm), f"{said(one.long_cm)} × {said(one.wide_cm)}")
        for n, one in enumerate(stowed, start=1)
    )
    sign = length_sign(units)
    return Numbers(
        "Where it stands", ("What", f"From the front, {sign}", f"From the left, {sign}", f"Floor, {sign}"), rows
    )
