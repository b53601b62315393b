"""Checks against values from outside the project; each names its source (and in the JSON beside it)."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from scipy import stats

from elder.engine.chance.counting import Take, chance_at_least, cuttings_needed
from elder.engine.chance.rooting_time import Lognormal
from elder.engine.place.warmth import DAY_S, YEAR_S, beta_response, damping_depth_m
from elder.web.say.units import registry

CHECKS: dict[str, Any] = json.loads(Path(__file__).with_name("outside_checks.json").read_text(encoding="utf-8"))
SURE_TAKE = Take(1.0, 1.0)


def binomial_cases() -> list[tuple[float, int, float, int]]:
    """(p, wanted, confidence, n) from scipy 1.17.1: k + nbinom.ppf(c, k, p), cross-checked with binom.sf."""
    check = CHECKS["counts"]
    rows = zip(check["inputs"], check["expected"], strict=True)
    return [
        (p, wanted, given["c"], table[i][j])
        for given, table in rows
        for i, p in enumerate(given["p_rows"])
        for j, wanted in enumerate(given["k_cols"])
    ]


@pytest.mark.parametrize(("p", "wanted", "confidence", "expected"), binomial_cases())
def test_least_cuttings_when_the_take_is_known(p: float, wanted: int, confidence: float, expected: int) -> None:
    known_take = cuttings_needed(wanted, chance_ready=1.0, take=Take(p, math.inf), confidence=confidence)
    known_readiness = cuttings_needed(wanted, chance_ready=p, take=SURE_TAKE, confidence=confidence)
    assert (known_take, known_readiness) == (expected, expected)


@pytest.mark.parametrize(("chance", "confidence", "row"), [(0.05, 0.95, 0), (0.1, 0.9, 1)])
def test_wilks_numbers(chance: float, confidence: float, row: int) -> None:
    # Wilks' distribution-free tolerance numbers, 95/95: 59, 93, 124; 90/90: 22, 38, 52 (from memory, high).
    found = [cuttings_needed(k, chance_ready=chance, take=SURE_TAKE, confidence=confidence) for k in (1, 2, 3)]
    assert found == CHECKS["published"]["expected"][0][row]


@pytest.mark.parametrize(("confidence", "row"), [(0.95, 0), (0.99, 1)])
def test_plants_for_a_quarter_class(confidence: float, row: int) -> None:
    # Sedcole 1977, Crop Science 17: 667 (from memory, k = 1 high, the rest medium); scipy 1.17.1.
    found = [cuttings_needed(k, chance_ready=0.25, take=SURE_TAKE, confidence=confidence) for k in range(1, 7)]
    assert found == CHECKS["published"]["expected"][1][row]


@pytest.mark.parametrize("weight", [0.5, 2, 20, 1_000, 1e6])
@pytest.mark.parametrize("mean", [0.1, 0.5, 0.9, 0.99])
@pytest.mark.parametrize(("wanted", "count"), [(1, 1), (8, 11), (40, 90), (300, 400)])
def test_chances_are_beta_binomial(wanted: int, count: int, mean: float, weight: float) -> None:
    # scipy.stats.betabinom, a closed form that shares no code with the quadrature.
    expected = stats.betabinom.sf(wanted - 1, count, mean * weight, (1 - mean) * weight)
    found = chance_at_least(wanted, count, chance_ready=1.0, take=Take(mean, weight))
    assert found == pytest.approx(expected, abs=1e-8)


def test_chance_when_some_are_late() -> None:
    # scipy.integrate.quad over the belief, adaptive, for a chance of being ready below one.
    from scipy.integrate import quad

    expected, _ = quad(lambda s: stats.binom.sf(7, 14, s * 0.8249) * stats.beta.pdf(s, 18, 2), 0, 1)
    found = chance_at_least(8, 14, chance_ready=0.8249, take=Take(0.9, 20))
    assert found == pytest.approx(expected, abs=1e-8)


def test_lognormal_quantiles() -> None:
    # scipy 1.17.1 stats.lognorm, median 21 d, sigma 0.35: q10, q50, q90, q95 and P(T <= 28).
    given, expected = CHECKS["lognormal"]["inputs"], CHECKS["lognormal"]["expected"]
    law = Lognormal(given["median"], given["sigma"])
    assert law.cdf(np.array(expected[:4])) == pytest.approx([0.1, 0.5, 0.9, 0.95], abs=1e-6)
    assert float(law.cdf(28)) == pytest.approx(expected[5], abs=1e-4)


def test_yan_and_hunt() -> None:
    # Yan & Hunt 1999, Annals of Botany 84: 607–614, by scipy 1.17.1 as a ratio of beta densities.
    check = CHECKS["yan_hunt"]
    given = check["inputs"]
    cardinals = {"t_min": given["tmin"], "t_opt": given["topt"], "t_max": given["tmax"]}
    found = beta_response(np.array(given["T"], dtype=float), **cardinals)
    assert found == pytest.approx(check["expected"], abs=check["tolerance"])
    assert [beta_response(float(t), **cardinals) for t in (-1, 0, 28, 40, 41)] == [0, 0, 1, 0, 0]


def test_soil_wave() -> None:
    # Closed form for a half-space; a Crank–Nicolson solution with scipy gave 0.4262 at 10 cm.
    expected = CHECKS["soil_wave"]["expected"]
    found = [damping_depth_m(DAY_S), damping_depth_m(YEAR_S), math.exp(-0.10 / damping_depth_m(DAY_S))]
    assert found == pytest.approx(expected[:3], abs=1e-4)


def test_exact_units() -> None:
    # pint 0.25.3 against the exact definitions: 86 °F, a difference of 9 °F, an inch, a US gallon.
    unit = registry()
    found = [
        unit.Quantity(86, "degF").to("degC").magnitude,
        unit.Quantity(9, "delta_degF").to("delta_degC").magnitude,
        unit.Quantity(1, "inch").to("cm").magnitude,
        unit.Quantity(1, "gallon").to("litre").magnitude,
    ]
    assert found == pytest.approx([30.0, 5.0, 2.54, 3.785411784], rel=1e-9)
