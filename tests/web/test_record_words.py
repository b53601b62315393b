"""The record in words and cells: shares in tenths, between what they lie, and what a table may not reckon."""

from __future__ import annotations

import pytest

from elder.web.record.csv_views import plain
from elder.web.say.record import range_words, tenths


def test_a_cell_that_would_be_reckoned_is_shown() -> None:
    assert [plain(cell) for cell in ("=1+1", "@sum", "-3", "mint", 4)] == ["'=1+1", "'@sum", "-3", "mint", 4]


@pytest.mark.parametrize(
    ("share", "said"),
    [
        (0.98, "nearly all"),
        (0.02, "next to none"),
        (0.75, "7 or 8 in 10"),
        (0.8, "about 8 in 10"),
        (0.94, "about 19 in 20"),
    ],
)
def test_a_share_in_tenths(share: float, said: str) -> None:
    assert tenths(share) == said


def test_between_what_a_share_lies() -> None:
    assert [range_words(pair) for pair in ((0.62, 0.91), (0.88, 0.99), (0.41, 0.44))] == [
        "6 to 9 in 10", "9 in 10 to all", "4 in 10",
    ]  # fmt: skip
