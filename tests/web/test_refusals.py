"""A "no" has words: one sentence for each code there is, and none for a code there is not."""

from __future__ import annotations

from datetime import date
from typing import Any, get_args

import pytest

from elder.engine.handbook.loading import handbook
from elder.engine.plan.planting_windows import PlantingWindow
from elder.engine.refusal import Refusal, RefusalCode
from elder.web.say.refusals import WORDS, lead_and_rest, refusal_words

TODAY = date(2027, 3, 20)
WINDOW = PlantingWindow(date(2027, 5, 17), date(2027, 8, 20), ("frost", "soil"), ("crop",), None, None)
TOMATO = handbook()["tomato"]


def said(code: RefusalCode, **params: Any) -> str:
    return refusal_words(Refusal(code, "", params), TODAY, TOMATO)


def test_every_code_has_its_words_and_no_other_has() -> None:
    assert set(WORDS) == set(get_args(RefusalCode))


@pytest.mark.parametrize(
    ("code", "params", "words"),
    [
        ("by_past", {"by": TODAY}, "Sat 20 Mar is not after today. Choose a later day."),
        (
            "gate_not_open",
            {"by": date(2027, 4, 30), "before": None, "after": WINDOW},
            "Not by 30 Apr: the frost risk and cold ground keeps the gate shut until 17 May. Choose a day from then to "
            "20 Aug.",
        ),
        (
            "gate_not_open",
            {"by": date(2027, 4, 30), "before": None, "after": date(2027, 11, 8)},
            "30 Apr lies outside the season: the next day is 8 Nov.",
        ),
        (
            "gate_shut",
            {"before": WINDOW, "after": None},
            "Too late: after 20 Aug it would stand in frost before it gave its first fruit.",
        ),
        (
            "gate_shut",
            {"before": date(2027, 11, 8), "after": date(2028, 11, 7)},
            "Too late: after 8 Nov the frost takes the mother plant. The next window is 7 Nov 2028.",
        ),
        (
            "too_late",
            {"by": date(2027, 4, 1), "soonest": None},
            "Too late: nothing cut from today is ready by 1 Apr, nor later that season.",
        ),
        (
            "too_late",
            {"by": date(2027, 4, 1), "soonest": date(2027, 5, 2)},
            "Too late for 1 Apr: cut from today, the soonest they can be ready is 2 May.",
        ),
        (
            "not_even_one",
            {"cuttings": 1, "least": 3},
            "1 cutting does not make even one plant that sure; 3 would. Be less sure, or cut more.",
        ),
        (
            "too_cold_to_keep",
            {"least": -3.4, "keep": 4.6},
            "Too cold to keep tomato over winter where it grows on: nights there fall to -3 °C and it wants 5 °C. "
            "Choose a warmer place.",
        ),
        (
            "more_than_there",
            {"kind": "lost", "count": 4, "there": 2, "stage": "potted", "on": TODAY},
            "4 lost does not add up: on Sat 20 Mar only 2 were potted on.",
        ),
        (
            "more_than_there",
            {"kind": "planted", "count": 4, "there": 2, "stage": "hardening", "on": TODAY},
            "4 planted out does not add up: on Sat 20 Mar only 2 are rooted and not yet planted.",
        ),
        ("none_left_to_keep", {"grown": 0}, "None of this batch has rooted yet."),
        ("none_left_to_keep", {"grown": 1}, "The one that lives is a mother already."),
        ("none_left_to_keep", {"grown": 3}, "All 3 that live are mothers already."),
        ("too_long", {"lines": 2_000_001, "most": 2_000_000}, "2,000,001 lines is more than one station has. Send at "
         "most 2,000,000."),
        ("count_not_positive", {}, "How many? At least one."),
    ],
)  # fmt: skip
def test_what_is_said(code: RefusalCode, params: dict[str, Any], words: str) -> None:
    assert said(code, **params) == words


def test_a_windfall_is_refused_in_bold_and_then_the_rest() -> None:
    lead, rest = lead_and_rest(said("too_short", plant="Fig"))
    assert (lead, rest) == ("Too short.", "There is not one cutting of fig in that. Compost it.")
    assert lead_and_rest("Only one.") == ("Only one.", "")


def test_what_is_grafted_says_so() -> None:
    apple = handbook()["apple"]
    assert apple.instead is not None
    assert said("not_struck", plant="Apple", way="graft") == f"Graft instead. {apple.instead.text}"
