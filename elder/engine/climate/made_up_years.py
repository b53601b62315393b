"""Made-up years around a garden's normals: the recipe for one night and one day, before frosts are fitted to it.

A noise with memory on the smooth curve: of days, of weeks, and a little that a whole season shares; winters remember
longer. Cold nights are drawn in, for real lows have a shorter tail than a normal law. The constants were fitted on
daily series of ten climates, each left out in turn (our own fit; no publication). Days run from midwinter, 0 … 364.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

import numpy as np

from elder.engine.arrays import Floats
from elder.engine.climate.day_of_year import YEAR_DAYS
from elder.engine.climate.normals import Normals, daily_normals, midwinter
from elder.engine.keeping import kept

SEED: Final = 1958  # any will do; a frozen stream, so that a garden's years stay the same
WARM_UP_DAYS: Final = 1500
CHAINS: Final = (0.59, 0.80, 0.995)  # memory of each part of the noise, from one day to the next
SEASON_SHARE: Final = 0.056  # of the noise: what a whole season shares
LEAST_ABOVE_NIGHT_C: Final = 0.5  # a day is at least so much warmer than its night


@dataclass(frozen=True, eq=False)
class WeatherLaw:
    """What a climate's normals give the recipe, by days from midwinter; each of shape (365,)."""

    low: Floats
    high: Floats
    spread_low: Floats
    spread_high: Floats
    together: Floats
    quick: Floats
    slow: Floats
    drawn_in: Floats


@kept
def recipe_of(normals: Normals) -> WeatherLaw:
    """The recipe's values for a climate."""
    low, high = (np.roll(curve, -midwinter(normals)) for curve in daily_normals(normals))
    mean = (low + high) / 2
    half = max(0.5, float(mean.max() - mean.min()) / 2)
    warmth = (mean - (mean.max() + mean.min()) / 2) / half  # −1 at midwinter, 1 at midsummer
    rising = (np.roll(warmth, -15) - np.roll(warmth, 15)) / 2 * YEAR_DAYS / (2 * math.pi * 15)  # 1 in mid spring
    inland = (2 * half - 18) / 10
    spread_low = np.exp(1.134 + 0.361 * inland - 0.248 * warmth - 0.154 * inland * warmth)
    spread_high = np.exp(1.323 + 0.423 * inland - 0.091 * warmth - 0.253 * inland * warmth + 0.062 * rising)
    quick = np.clip(0.05 - 0.30 * warmth, 0.02, 0.5)
    return WeatherLaw(
        low=low,
        high=high,
        spread_low=np.clip(spread_low, 0.8, 9.0),
        spread_high=np.clip(spread_high, 0.8, 10.0),
        together=np.clip(0.864 - 0.0278 * (high - low), 0.2, 0.9),
        quick=1 - quick - SEASON_SHARE,
        slow=quick,
        drawn_in=np.clip(0.80 - 0.08 * rising, 0.5, 1.0),
    )


@kept
def _chains(count: int) -> Floats:
    """Unit noises with memory: night and day, three parts each; shape (2, 3, count, 365).

    The second half of the years is the first turned about, so that every day's mean stays what it is.
    """
    from scipy.signal import lfilter  # it takes half a second to come, and few pages ask

    half = (count + 1) // 2
    draws = np.random.RandomState(SEED).standard_normal((len(CHAINS), 2, WARM_UP_DAYS + half * YEAR_DAYS))
    parts = [
        lfilter([math.sqrt(1 - memory**2)], [1, -memory], drawn, axis=-1)
        for memory, drawn in zip(CHAINS, draws, strict=True)
    ]
    noise = np.stack(parts, axis=1)[..., WARM_UP_DAYS:].reshape(2, len(CHAINS), half, YEAR_DAYS)
    both = np.concatenate((noise, -noise), axis=2)[:, :, :count]
    both.setflags(write=False)
    return np.asarray(both)


def noise(recipe: WeatherLaw, count: int, which: int) -> Floats:
    """The noise of nights (0) or days (1), of unit spread; shape (count, 365)."""
    quick, slow, season = _chains(count)[which]
    return np.asarray(np.sqrt(recipe.quick) * quick + np.sqrt(recipe.slow) * slow + math.sqrt(SEASON_SHARE) * season)


def nights(recipe: WeatherLaw, noise: Floats, widen: Floats | float, shift_c: Floats | float) -> Floats:
    """Minima, °C: the curve moved by ``shift_c``, its spread times e to ``widen``; shape of ``noise``."""
    middle, spread = recipe.low + shift_c, recipe.spread_low * np.exp(widen)
    night = middle + spread * noise
    cold = np.minimum(0.0, middle - 1.25 * spread)
    return np.where(night < cold, cold + recipe.drawn_in * (night - cold), night)


def days(recipe: WeatherLaw, night: Floats, by_night: Floats, by_day: Floats, widen: Floats | float) -> Floats:
    """Maxima, °C, to go with minima made of ``by_night``; shape (count, 365)."""
    joint = recipe.together * by_night + np.sqrt(1 - recipe.together**2) * by_day
    warmest = recipe.high + recipe.spread_high * np.exp(np.asarray(widen) / 2) * joint
    return np.asarray(np.maximum(warmest, night + LEAST_ABOVE_NIGHT_C))
