"""How days, spans, chances and temperatures are said."""

from __future__ import annotations

from datetime import date

import pytest

from elder.web.say.plants import way_words
from elder.web.say.units import (
    length_in,
    read_length,
    read_lift,
    read_temperature,
    shown_fine_length,
    shown_lift,
    shown_small_volume,
    shown_small_weight,
    shown_temperature,
    shown_volume,
    shown_weight,
    temperature,
)
from elder.web.say.words import (
    counted,
    day_words,
    days_away,
    in_ten,
    listed,
    odds,
    of_one,
    of_them,
    plural,
    span_words,
    sureness,
)
from elder.web.ui.templatetags.elder import lengths

TODAY = date(2027, 4, 6)


@pytest.mark.parametrize(
    ("day", "said"),
    [(date(2027, 3, 9), "Tue 9 Mar"), (date(2028, 3, 9), "Thu 9 Mar 2028"), (date(2024, 2, 29), "Thu 29 Feb 2024")],
)
def test_days(day: date, said: str) -> None:
    assert day_words(day, TODAY) == said


@pytest.mark.parametrize(
    ("first", "last", "said"),
    [
        (date(2027, 5, 3), date(2027, 5, 9), "3–9 May"),
        (date(2027, 4, 28), date(2027, 5, 9), "28 Apr – 9 May"),
        (date(2027, 12, 30), date(2028, 1, 4), "30 Dec 2027 – 4 Jan 2028"),
        (date(2027, 5, 3), date(2027, 5, 3), "3 May"),
        (date(2028, 5, 3), date(2028, 5, 9), "3–9 May 2028"),
    ],
)
def test_spans(first: date, last: date, said: str) -> None:
    assert span_words(first, last, TODAY) == said


@pytest.mark.parametrize(
    ("chance", "said"),
    [
        (1.0, "nearly certain"), (0.975, "nearly certain"), (0.974, "about 19 in 20"), (0.925, "about 19 in 20"),
        (0.924, "about 9 in 10"), (0.95, "about 19 in 20"), (0.9, "about 9 in 10"), (0.68, "about 7 in 10"),
        (0.5, "an even chance"), (0.05, "about 1 in 20"), (0.001, "next to no chance"), (0.0, "next to no chance"),
    ],
)  # fmt: skip
def test_chances(chance: float, said: str) -> None:
    assert odds(chance) == said


@pytest.mark.parametrize(
    ("sure", "said"),
    [
        (0.9, "9 in 10"),
        (0.95, "19 in 20"),
        (0.75, "3 in 4"),
        (0.5, "1 in 2"),
        (0.93, "19 in 20"),
        (0.02, "1 in 50"),
        (0.88, "9 in 10"),
    ],
)
def test_sureness(sure: float, said: str) -> None:
    assert sureness(sure) == said


def test_small_words() -> None:
    assert [plural(n, "tip", "tips") for n in (1, 2)] == ["1 tip", "2 tips"]
    assert [listed(["a"]), listed(["a", "b"]), listed(["a", "b", "c"])] == ["a", "a and b", "a, b and c"]
    assert [days_away(date(2027, 4, d), TODAY) for d in (5, 6, 7, 9, 1)] == [
        "yesterday",
        "today",
        "tomorrow",
        "in 3 days",
        "5 days ago",
    ]


@pytest.mark.parametrize("celsius", [-40.0, 0.0, 21.5])
def test_temperatures_survive_the_edges(celsius: float) -> None:
    assert read_temperature(shown_temperature(celsius, "us"), "us") == pytest.approx(celsius)
    assert read_lift(shown_lift(celsius, "us"), "us") == pytest.approx(celsius)
    assert shown_lift(5, "us") == pytest.approx(9)


def test_temperatures_in_words() -> None:
    assert (temperature(-3, "metric"), temperature(20, "us")) == ("−3 °C", "68 °F")


@pytest.mark.parametrize(
    ("kg", "metric", "us"),
    # A pound is 0.45359237 kg exactly (international yard and pound agreement, 1959).
    [(1.31, "1.3 kg", "3 lb"), (12.64, "13 kg", "28 lb"), (0.45359237, "0.5 kg", "1 lb")],
)
def test_weights_in_words(kg: float, metric: str, us: str) -> None:
    assert (shown_weight(kg, "metric"), shown_weight(kg, "us")) == (metric, us)


@pytest.mark.parametrize(
    ("litres", "metric", "us"),
    # A US gallon is 231 cubic inches, 3.785411784 litres exactly; a quart is a quarter of it.
    [(1.0, "1 litre", "1 qt"), (0.5, "0.5 litres", "0.5 qt"), (3.8, "3.8 litres", "1 gal"), (22, "22 litres", "6 gal")],
)
def test_pots_in_words(litres: float, metric: str, us: str) -> None:
    assert (shown_volume(litres, "metric"), shown_volume(litres, "us")) == (metric, us)


def test_small_counts_are_words() -> None:
    assert [counted(n) for n in (0, 1, 12, 13)] == ["no", "one", "twelve", "13"]


@pytest.mark.parametrize(
    ("cm", "metric", "us"),
    # The inch is 2.54 cm exactly (international yard and pound agreement, 1959; as pint 0.25.3 has it).
    [
        (2.54, "2.5 cm", "1 in"),
        (6.35, "6.5 cm", "2½ in"),
        (0.635, "0.5 cm", "¼ in"),
        (1.905, "2 cm", "¾ in"),
        (0, "0 cm", "0 in"),
        (30.48, "30.5 cm", "12 in"),
    ],
)
def test_small_lengths_to_the_half_centimetre_or_quarter_inch(cm: float, metric: str, us: str) -> None:
    assert shown_fine_length(cm, "metric") == metric
    assert shown_fine_length(cm, "us") == us
    assert length_in(cm, "us") == pytest.approx(cm / 2.54)
    assert length_in(cm, "metric") == cm
    assert read_length(length_in(cm, "us"), "us") == pytest.approx(cm)


def test_small_measures_of_hormone() -> None:
    """A US fluid ounce is 29.5735 ml, an avoirdupois ounce 28.3495 g (exact definitions, rounded)."""
    assert shown_small_volume(29.5735, "us") == "1 fl oz"
    assert shown_small_weight(28.3495, "us") == "1 oz"
    assert shown_small_volume(12.5, "metric") == "12.5 ml"
    assert shown_small_weight(0.8, "metric") == "0.8 g"


@pytest.mark.parametrize(
    ("share", "said"),
    [
        (1.0, "nearly all"), (0.975, "nearly all"), (0.97, "19 in 20"), (0.925, "19 in 20"), (0.92, "9 in 10"),
        (0.85, "9 in 10"), (0.849, "8 in 10"), (0.45, "5 in 10"), (0.08, "1 in 10"), (0.07, "1 in 20"),
    ],
)  # fmt: skip
def test_a_share_in_a_table(share: float, said: str) -> None:
    assert in_ten(share) == said


def test_lengths_in_a_sentence_are_the_persons() -> None:
    assert lengths("roots of 2 cm or more; shoots of 15 cm", "us") == "roots of ¾ in or more; shoots of 6 in"
    assert lengths("roots of 2 cm or more", "metric") == "roots of 2 cm or more"


@pytest.mark.parametrize(
    ("count", "share", "said"),
    [
        (8, 0.7, "about 7 in 10"),
        (7, 0.9, "six or seven"),  # 6.3 of 7
        (7, 0.86, "about six"),  # 6.02
        (7, 0.97, "six or seven"),  # 6.79: all of them only eight times in ten
        (2, 0.9, "one or two"),  # 1.8
        (7, 0.98, "all"),
        (2, 0.7, "one or two"),  # 1.4
        (3, 0.35, "about one"),  # 1.05
        (2, 0.3, "perhaps one"),  # 0.6
        (2, 0.1, "hardly any"),  # 0.2
        (4, 0.5, "about two"),
        (5, 0.5, "two or three"),
    ],
)
def test_a_share_of_a_few_is_said_as_how_many(count: int, share: float, said: str) -> None:
    assert of_them(count, share) == said


def test_what_becomes_of_the_only_one() -> None:
    said = [of_one(chance) for chance in (0.99, 0.8, 0.5, 0.2, 0.05)]
    assert said == ["will nearly certainly", "will likely", "is as likely as not to", "may still", "will hardly"]


@pytest.mark.parametrize(
    ("form", "name", "said"),
    [
        ("softwood tip", "jar of water", "softwood tip, jar of water"),
        ("crown top", "top, peeled and potted dry-ish", "crown top, peeled and potted dry-ish"),
        ("pup", "pup, potted", "pup, potted"),
        ("dormant stick", "sticks lined out in open ground", "dormant sticks lined out in open ground"),
        ("dormant stick", "ten sticks to a deep pot", "ten sticks to a deep pot"),
    ],
)
def test_a_way_does_not_name_its_piece_twice(form: str, name: str, said: str) -> None:
    assert way_words(form, name) == said
