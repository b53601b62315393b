"""Metric inside, what the person reads at the edges. All conversions are pint's."""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    import pint

US = "us"


@lru_cache(maxsize=1)
def registry() -> pint.UnitRegistry[Any]:
    """The one registry; made on first use, since it reads its definitions from a file."""
    import pint  # a fifth of a second, for those who read in inches

    return pint.UnitRegistry(autoconvert_offset_to_baseunit=True)


def shown_temperature(celsius: float, units: str) -> float:
    """°C as the person reads it."""
    return convert(celsius, "degC", "degF") if units == US else celsius


def read_temperature(value: float, units: str) -> float:
    """What the person typed, in °C."""
    return convert(value, "degF", "degC") if units == US else value


def shown_lift(celsius: float, units: str) -> float:
    """A difference of °C as the person reads it."""
    return convert(celsius, "delta_degC", "delta_degF") if units == US else celsius


def read_lift(value: float, units: str) -> float:
    """A difference the person typed, in °C."""
    return convert(value, "delta_degF", "delta_degC") if units == US else value


def shown_depth(metres: float, units: str) -> str:
    """A shallow depth: "10 cm", "4 in"."""
    return f"{_tidy(convert(metres, 'm', 'inch'), 0)} in" if units == US else f"{_tidy(metres * 100, 0)} cm"


def read_length(value: float, units: str) -> float:
    """A length the person typed, in cm."""
    return convert(value, "inch", "cm") if units == US else value


def read_distance(value: float, units: str) -> float:
    """A distance the person typed, in metres: metres, or feet."""
    return convert(value, "foot", "m") if units == US else value


def distance_in(metres: float, units: str) -> float:
    """A distance as a number in the person's unit: metres, or feet."""
    return convert(metres, "m", "foot") if units == US else metres


def distance_sign(units: str) -> str:
    """The unit a distance is typed in: m or ft."""
    return "ft" if units == US else "m"


def shown_distance(metres: float, units: str) -> str:
    """A distance in words: "1.4 m", "4½ ft"."""
    if units == US:
        halves = round(2 * convert(metres, "m", "foot"))
        return f"{halves // 2 or ''}{'½' if halves % 2 else ''} ft" if halves else "0 ft"
    return f"{_tidy(metres, 1)} m"


def length_sign(units: str) -> str:
    """The unit a length is typed in: cm or inches."""
    return "in" if units == US else "cm"


def shown_length(cm: float, units: str) -> str:
    """A length in words: "25 cm", "10 in"."""
    return f"{_tidy(convert(cm, 'cm', 'inch'), 0)} in" if units == US else f"{_tidy(cm, 0)} cm"


def length_in(cm: float, units: str) -> float:
    """A length as a number in the person's unit: cm, or inches."""
    return convert(cm, "cm", "inch") if units == US else cm


def shown_fine_length(cm: float, units: str) -> str:
    """A small length to the half centimetre or the quarter inch: "6.5 cm", "2¾ in"."""
    if units != US:
        return f"{round(2 * cm) / 2:g} cm"
    whole, quarter = divmod(round(4 * convert(cm, "cm", "inch")), 4)
    part = ("", "¼", "½", "¾")[quarter]
    return f"{whole or ('' if part else 0)}{part} in"


def shown_small_volume(ml: float, units: str) -> str:
    """A small volume: "20 ml", "0.7 fl oz"."""
    if units == US:
        return f"{convert(ml, 'ml', 'fluid_ounce'):.2g} fl oz"
    return f"{ml:.3g} ml"


def shown_small_weight(grams: float, units: str) -> str:
    """A small weight: "1.1 g", "0.04 oz"."""
    if units == US:
        return f"{convert(grams, 'g', 'oz'):.1g} oz"
    return f"{grams:.2g} g"


def shown_rain(mm: float, units: str) -> str:
    """Rain as a number in the person's unit: millimetres, or inches to a tenth."""
    return f"{convert(mm, 'mm', 'inch'):.1f}" if units == US else f"{mm:.0f}"


def rain_sign(units: str) -> str:
    """The unit rain is told in."""
    return "in" if units == US else "mm"


def temperature_sign(units: str) -> str:
    """The sign that goes with ``shown_temperature``."""
    return "°F" if units == US else "°C"


def temperature(celsius: float, units: str, places: int = 0) -> str:
    """A temperature in words: "18 °C", "64 °F"."""
    return f"{_tidy(shown_temperature(celsius, units), places)} {temperature_sign(units)}"


def quarts_of(litres: float) -> float:
    """Litres as US liquid quarts."""
    return convert(litres, "litre", "quart")


def gallons_of(litres: float) -> float:
    """Litres as US gallons."""
    return convert(litres, "litre", "gallon")


def read_volume(value: float, units: str) -> float:
    """A volume the person typed, in litres: litres, or US quarts."""
    return convert(value, "quart", "litre") if units == US else value


def weight_in(kg: float, units: str) -> float:
    """A weight as a number in the person's unit: kg, or pounds."""
    return convert(kg, "kg", "lb") if units == US else kg


def read_weight(value: float, units: str) -> float:
    """A weight the person typed, in kg."""
    return convert(value, "lb", "kg") if units == US else value


def weight_sign(units: str) -> str:
    """The unit a weight is typed in: kg or lb."""
    return "lb" if units == US else "kg"


def shown_weight(kg: float, units: str) -> str:
    """A weight in words: "1.3 kg", "3 lb"."""
    if units == US:
        return f"{_tidy(convert(kg, 'kg', 'lb'), 0)} lb"
    return f"{_tidy(kg, 1 if kg < 10 else 0)} kg"


def shown_volume(litres: float, units: str) -> str:
    """A pot's size in words: "1 litre", "3.8 litres"; in US units gallons, or quarts for small ones."""
    if units == US:
        gallons = convert(litres, "litre", "gallon")
        if gallons < 0.9:
            return f"{convert(litres, 'litre', 'quart'):.1g} qt"
        return f"{gallons:.0f} gal"
    said = f"{litres:g}"
    return f"{said} litre" if litres == 1 else f"{said} litres"


def convert(value: float, here: str, there: str) -> float:
    """A value of one of pint's units in another of them."""
    return float(registry().Quantity(value, here).to(there).magnitude)


def _tidy(value: float, places: int) -> str:
    said = f"{round(value, places):.{places}f}" if places else str(round(value))
    return said.replace("-", "−")
