"""How long more cuttings help, in words."""

from __future__ import annotations

from datetime import date

import pytest

from elder.engine.batch.remedies import TopUp
from elder.web.say.more import does_until

TODAY = date(2027, 4, 1)


def april(day: int) -> date:
    return date(2027, 4, day)


@pytest.mark.parametrize(
    ("count", "lasts", "until", "most", "said"),
    [
        (7, 20, 28, 21, "they are enough until 20 Apr, 21 until 28 Apr"),
        (1, 20, 28, 3, "it is enough until 20 Apr, 3 until 28 Apr"),
        (7, 28, 28, 21, "they are enough until 28 Apr"),
        (7, 14, 28, 21, "later it takes more: 21 are enough until 28 Apr"),
        (479, 14, 15, 500, "later it takes more: 500 are enough until 15 Apr"),
        (7, 14, 14, 21, "later is too late"),
    ],
)
def test_how_long_so_many_are_enough(count: int, lasts: int, until: int, most: int, said: str) -> None:
    assert does_until(TopUp(count, april(14), april(lasts), april(until), most), TODAY) == said
