"""What to buy, by when, in whole packs: enough nine times in ten for all the weeks in sight."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Final

import numpy as np

from elder.engine.shed.mix import WHOLE_SLACK, Packs, whole_packs
from elder.engine.shed.needs import Needed
from elder.engine.shed.uses import is_kept

WEEK: Final = 7


@dataclass(frozen=True)
class Stocked:
    """What there is of a thing, and the pack it is bought in: its size and price (``None`` for not said)."""

    there: float = 0.0
    pack: float = 1.0
    price: float | None = None


@dataclass(frozen=True)
class Buying:
    """One thing to buy: the day before the first week that runs short, how much is short nine times in ten and as
    expected, in how many packs, at what price in all."""

    what: str
    by: date
    short: float
    expected_short: float
    packs: Packs
    price: float | None


def to_buy(needed: Mapping[str, Needed], stock: Mapping[str, Stocked], monday: date, today: date) -> list[Buying]:
    """Everything that will run short, soonest first; ``monday`` begins the first of the weeks."""
    found = []
    for what, need in needed.items():
        have = stock.get(what, Stocked())
        short = need.sure - have.there
        weeks = np.flatnonzero(short > WHOLE_SLACK)
        if not len(weeks):
            continue
        by = max(monday + timedelta(days=WEEK * int(weeks[0]) - 1), today)
        lacking = float(short.max())
        packs = whole_packs(math.ceil(lacking - WHOLE_SLACK) if is_kept(what) else lacking, have.pack)
        price = None if have.price is None else packs.count * have.price
        expected = max(float((need.expected - have.there).max()), 0.0)
        found.append(Buying(what, by, lacking, expected, packs, price))
    return sorted(found, key=lambda one: (one.by, one.what))


def lasts_until(need: Needed, there: float, monday: date) -> date | None:
    """The last day on which what is there is enough nine times in ten; nothing where it lasts all the weeks in
    sight."""
    weeks = np.flatnonzero(need.sure - there > WHOLE_SLACK)
    return monday + timedelta(days=WEEK * int(weeks[0]) - 1) if len(weeks) else None
