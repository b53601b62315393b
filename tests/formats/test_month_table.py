"""Climate tables as people paste them: every shape gives the same twelve months, worked out by hand."""

from __future__ import annotations

import pytest

from elder.engine.climate.normals import Normals
from elder.engine.refusal import Refusal
from elder.web.formats.month_table import read_months

LOWS = (1.2, 1.0, 2.9, 4.9, 7.8, 10.7, 12.9, 12.8, 10.6, 7.6, 4.1, 2.0)
HIGHS = (6.8, 7.6, 10.4, 13.6, 17.1, 20.0, 21.8, 21.4, 18.6, 14.5, 10.1, 7.5)
NAMES = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
WANTED = Normals(LOWS, HIGHS)


def _f(celsius: float) -> str:
    return f"{celsius * 1.8 + 32:.2f}"


def _down(mark: str, *, head: str = "") -> str:
    rows = [mark.join((name, str(high), str(low))) for name, high, low in zip(NAMES, HIGHS, LOWS, strict=True)]
    return "\n".join(([head] if head else []) + rows)


ENCYCLOPAEDIA = "\n".join(
    (
        "Month\t" + "\t".join(NAMES) + "\tYear",
        "Record high °C (°F)\t" + "\t".join("30.1 (86.2)" for _ in NAMES) + "\t30.1 (86.2)",
        "Mean daily maximum °C (°F)\t" + "\t".join(f"{h} ({_f(h)})" for h in HIGHS) + "\t14.1 (57.4)",
        "Daily mean °C (°F)\t" + "\t".join("9.9 (49.8)" for _ in NAMES) + "\t9.9 (49.8)",
        "Mean daily minimum °C (°F)\t" + "\t".join(f"{low} ({_f(low)})" for low in LOWS) + "\t6.5 (43.7)",
        "Average rainfall mm (inches)\t" + "\t".join("80.0 (3.15)" for _ in NAMES) + "\t960 (37.8)",
    )
)
SHAPES = {
    "months down, tabs": _down("\t", head="Month\tHigh\tLow"),
    "months down, no heading": _down("  "),
    "commas": _down(",", head="month,max,min"),
    "decimal commas, semicolons": _down(";", head="Monat;Max;Min").replace(".", ","),
    "long names, other columns": "Month | Rain mm | Tmin °C | Tmax °C\n"
    + "\n".join(f"{name}uary | 99 | {low} | {high}" for name, low, high in zip(NAMES, LOWS, HIGHS, strict=True)),
    "mean between": "\n".join(
        f"{name} {low} {(low + high) / 2:.2f} {high}" for name, low, high in zip(NAMES, LOWS, HIGHS, strict=True)
    ),
    "across": "Low " + " ".join(map(str, LOWS)) + "\nHigh " + " ".join(map(str, HIGHS)),
    "across, with the year": "Average low: " + " ".join(map(str, LOWS)) + " 6.5\nAverage high: "
    + " ".join(map(str, HIGHS)) + " 14.1",
    "twice twelve": " ".join(map(str, HIGHS)) + "\n" + " ".join(map(str, LOWS)),
    "an encyclopaedia's": ENCYCLOPAEDIA,
    "fahrenheit, said": "Low °F\t" + "\t".join(map(_f, LOWS)) + "\nHigh °F\t" + "\t".join(map(_f, HIGHS)),
}  # fmt: skip


@pytest.mark.parametrize("shape", SHAPES)
def test_every_shape_gives_the_same_months(shape: str) -> None:
    read = read_months(SHAPES[shape])
    assert isinstance(read, Normals), read
    assert read == WANTED


def test_figures_without_a_unit_are_as_the_person_reads() -> None:
    text = "low " + " ".join(map(_f, LOWS)) + "\nhigh " + " ".join(_f(h) for h in HIGHS)
    assert read_months(text, fahrenheit=True) == WANTED


def test_what_no_month_can_be_is_fahrenheit_whatever_is_read() -> None:
    text = "low\t" + "\t".join("40" for _ in NAMES) + "\nhigh\t" + "\t".join("59" for _ in NAMES)
    read = read_months(text)
    assert isinstance(read, Normals)
    assert (read.t_min, read.t_max) == ((4.4,) * 12, (15.0,) * 12)


def test_minus_signs_of_every_kind() -> None:
    lows, highs = ["−5.5", "–4.5", "-1"] + ["3"] * 9, ["1"] * 3 + ["9"] * 9
    read = read_months("low\t" + "\t".join(lows) + "\nhigh\t" + "\t".join(highs))
    assert isinstance(read, Normals)
    assert read.t_min[:3] == (-5.5, -4.5, -1.0)


@pytest.mark.parametrize(
    ("text", "code"),
    [
        ("", "no_months"),
        ("a wet year on the whole", "no_months"),
        ("\n".join(f"{name} 3 4" for name in NAMES[:11]), "no_months"),
        ("low " + " ".join(map(str, HIGHS)) + "\nhigh " + " ".join(map(str, LOWS)), "months_crossed"),
    ],
)
def test_what_cannot_be_read_says_so(text: str, code: str) -> None:
    read = read_months(text)
    assert isinstance(read, Refusal)
    assert read.code == code
