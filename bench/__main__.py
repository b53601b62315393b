"""`make bench`: everything that is measured, each beside another way of doing it."""

from __future__ import annotations

from bench.curve import compare_curves
from bench.pages import season_times
from bench.records import import_times
from bench.rounds import round_times
from bench.space import fit_times
from bench.stems import layout_times

if __name__ == "__main__":
    compare_curves()
    import_times()
    fit_times()
    season_times()
    round_times()
    layout_times()
