"""`make bench`: the cut-day curve beside a Monte Carlo of the same model, and the Season page's time."""

from __future__ import annotations

from bench.curve import compare_curves
from bench.pages import season_times

if __name__ == "__main__":
    compare_curves()
    season_times()
