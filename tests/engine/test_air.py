"""The air about a cutting: against FAO-56 and psychrolib."""

from __future__ import annotations

import psychrolib
import pytest

from elder.engine.place.air import (
    Air,
    advice,
    outdoor_humidity,
    saturation_kpa,
    under_cover,
    vapour_pressure_deficit_kpa,
)
from tests.engine.test_outside import CHECKS

psychrolib.SetUnitSystem(psychrolib.SI)


def test_deficits_of_the_grid() -> None:
    # pyet 1.5.0 calc_e0 (FAO-56 eq. 11).
    check = CHECKS["deficit"]
    found = [vapour_pressure_deficit_kpa(*case) for case in check["inputs"]["T_rh"]]
    assert found == pytest.approx(check["expected"], abs=check["tolerance"])


@pytest.mark.parametrize("celsius", [5.0, 13.0, 21.0, 28.0, 36.0])
@pytest.mark.parametrize("humidity", [0.3, 0.6, 0.9])
def test_deficits_against_ashrae(celsius: float, humidity: float) -> None:
    # psychrolib 2.5.0: the two formulae for saturation differ by up to 0.11%.
    other = psychrolib.GetVaporPressureDeficit(
        celsius, psychrolib.GetHumRatioFromRelHum(celsius, humidity, 101325), 101325
    )
    assert vapour_pressure_deficit_kpa(celsius, humidity) == pytest.approx(other / 1000, rel=3e-3)


def test_saturation_as_published() -> None:
    # FAO-56 table 2.3 (from memory): 3.075 kPa at 24.5 °C, 1.705 at 15.
    assert [round(saturation_kpa(at), 3) for at in (24.5, 15.0)] == [3.075, 1.705]


def test_a_leaf_in_the_sun_loses_more() -> None:
    assert vapour_pressure_deficit_kpa(20, 0.8, leaf_c=25) == pytest.approx(3.1678 - 0.8 * 2.3383, abs=1e-3)
    assert vapour_pressure_deficit_kpa(20, 0.9, leaf_c=15) < 0
    with pytest.raises(ValueError, match="share"):
        vapour_pressure_deficit_kpa(20, 80)


def test_outdoor_air_by_the_night() -> None:
    # FAO-56 eq. 48: e°(10) / e°(20) = 1.2280 / 2.3383.
    assert outdoor_humidity(20, 10) == pytest.approx(0.5252, abs=1e-4)
    assert outdoor_humidity(5, 8) == 1.0


def test_under_a_cover() -> None:
    room = Air(21.0, 0.5)
    assert under_cover("none", room) == room
    assert under_cover("closed", room).humidity == 0.95
    assert under_cover("loose", Air(21.0, 0.9)).humidity == 0.9  # never drier than the air about it


@pytest.mark.parametrize(
    ("celsius", "humidity", "stage", "cover", "standing", "open_cap", "mistings"),
    [
        (20, 0.95, "unrooted", "closed", "close", True, 0),  # 0.117 kPa
        (20, 0.82, "unrooted", "loose", "right", False, 0),  # 0.421
        (30, 0.60, "unrooted", "none", "dry", False, 3),  # 1.697: three wettings a day in heat
        (40, 0.20, "unrooted", "none", "dry", False, 6),  # 5.9: more would be a job for a cover
        (20, 0.50, "rooted", "none", "dry", False, 0),  # 1.169: what has roots drinks
        (20, 0.50, "hardening", "none", "right", False, 0),
        (10, 0.80, "rooted", "none", "close", False, 0),  # 0.246: no cap to open
    ],
)
def test_what_the_air_asks_for(
    celsius: float, humidity: float, stage: str, cover: str, standing: str, open_cap: bool, mistings: int
) -> None:
    found = advice(Air(celsius, humidity), stage, cover)
    assert (found.standing, found.open_cap, found.mistings) == (standing, open_cap, mistings)
