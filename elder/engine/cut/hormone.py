"""Rooting hormone by its numbers: percent, parts per million, mg per gram; how to thin it, how much to tip out.

All by weight; in water a millilitre weighs a gram, so parts per million are milligrams a litre. What may be used, and
how, is for the product's label to say. The strengths are what growers start from (Hartmann & Kester, "Plant
Propagation": softwood 500 to 1,250 ppm, hardwood to 3,000 and above, in a quick dip; powders of 0.1, 0.3 and 0.8 %;
from memory).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final, Literal

from elder.engine.refusal import Refusal

Unit = Literal["percent", "ppm", "mg_g", "mg_l"]

PPM_PER: Final[dict[Unit, float]] = {"percent": 10_000.0, "ppm": 1.0, "mg_g": 1_000.0, "mg_l": 1.0}
MOST_PPM: Final = 1_000_000.0
# For powder or gel, in ppm, by what is cut.
POWDER_PPM: Final[dict[str, tuple[float, float]]] = {
    "softwood tip": (500, 1_000), "side shoot": (500, 1_000), "slip": (500, 1_000), "vine section": (1_000, 3_000),
    "semi-ripe stem": (1_000, 3_000), "dormant stick": (3_000, 8_000), "stem joint": (1_000, 3_000),
    "node section": (1_000, 3_000), "leaf": (500, 1_000), "leaf with heel": (500, 1_000),
}  # fmt: skip
EASY_PPM: Final = (0.0, 1_000.0)  # easy rooters: none, or the lightest powder (common practice)
EASY_TAKE: Final = 0.85  # of which so many take without it (assumed)


@dataclass(frozen=True)
class Dilution:
    """So much of the strong one and so much water, ml, for a volume of the wanted strength."""

    stock_ml: float
    water_ml: float


def to_ppm(value: float, unit: Unit) -> float:
    """A strength in parts per million by weight."""
    return value * PPM_PER[unit]


def from_ppm(ppm: float, unit: Unit) -> float:
    """Parts per million in another unit."""
    return ppm / PPM_PER[unit]


def dilute(stock_ppm: float, wanted_ppm: float, volume_ml: float) -> Dilution | Refusal:
    """C1 V1 = C2 V2. Refuses nothing or less, more than all, and a thinning that would have to make it stronger."""
    for field, value in (("stock", stock_ppm), ("wanted", wanted_ppm), ("volume", volume_ml)):
        if value <= 0:
            return Refusal("not_positive", field)
    if stock_ppm > MOST_PPM:
        return Refusal("more_than_all", "stock")
    if wanted_ppm > stock_ppm:
        return Refusal("cannot_strengthen", "wanted", {"stock": stock_ppm, "wanted": wanted_ppm})
    stock_ml = wanted_ppm * volume_ml / stock_ppm
    return Dilution(stock_ml, volume_ml - stock_ml)


def usual_ppm(form: str, take: float = 0.0) -> tuple[float, float] | None:
    """The strengths growers start from, for what is cut: from none to a light powder where so many take anyway;
    ``None`` where none is used."""
    return EASY_PPM if form in POWDER_PPM and take >= EASY_TAKE else POWDER_PPM.get(form)
