"""Feed at part of its label's strength, for the can or the jar at hand. The label is the whole; never more."""

from __future__ import annotations

from typing import Final

from elder.engine.refusal import Refusal

# Shares of the label's dose that growers give: rooted cuttings, slow feeders, jars (common practice).
SHARES: Final[dict[str, float]] = {"tenth": 0.1, "quarter": 0.25, "half": 0.5, "whole": 1.0}


def feed_ml(dose_ml: float, per_litres: float, share: float, litres: float) -> float | Refusal:
    """Millilitres of feed for so many litres of water, at a share of the label's dose (``dose_ml`` to ``per_litres``).
    Refuses nothing or less, and more than the label."""
    for field, value in (("dose", dose_ml), ("per", per_litres), ("share", share), ("litres", litres)):
        if value <= 0:
            return Refusal("not_positive", field)
    if share > 1:
        return Refusal("more_than_all", "share")
    return dose_ml / per_litres * share * litres
