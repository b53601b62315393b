"""Hormone by its numbers, against pint and against the weight of what is in the bottle."""

from __future__ import annotations

import pint
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elder.engine.cut.hormone import PPM_PER, Dilution, dilute, from_ppm, to_ppm, usual_ppm
from elder.engine.handbook.loading import handbook
from elder.engine.refusal import Refusal
from elder.engine.shed.uses import gel_ml, powder_g

PINT = pint.UnitRegistry()
# Our units as pint 0.25.3 writes them: by weight, and in water a litre is a kilogram.
AS_PINT = {"percent": "percent", "ppm": "ppm", "mg_g": "mg/g", "mg_l": "mg/kg"}


@pytest.mark.parametrize("unit", list(PPM_PER))
@given(st.floats(0.001, 100))
def test_strengths_agree_with_pint(unit: str, value: float) -> None:
    assert to_ppm(value, unit) == pytest.approx(PINT.Quantity(value, AS_PINT[unit]).to("ppm").magnitude)
    assert from_ppm(to_ppm(value, unit), unit) == pytest.approx(value)


def test_a_label_in_every_unit() -> None:
    """0.8 %, 8,000 ppm and 8 mg/g are one powder: by the definitions of percent and parts per million."""
    assert to_ppm(0.8, "percent") == to_ppm(8, "mg_g") == to_ppm(8000, "ppm") == to_ppm(8000, "mg_l") == 8000


@pytest.mark.parametrize(
    ("stock", "wanted", "volume", "stock_ml"),
    [
        # C1 V1 = C2 V2 done by hand: 5,000 ppm to 100 ml of 1,000 ppm is 1 in 5.
        (5_000, 1_000, 100, 20),
        # 1 % (10,000 ppm) to a litre of 500 ppm.
        (10_000, 500, 1_000, 50),
        (3_000, 3_000, 50, 50),
    ],
)
def test_thinned_by_hand(stock: float, wanted: float, volume: float, stock_ml: float) -> None:
    assert dilute(stock, wanted, volume) == Dilution(pytest.approx(stock_ml), pytest.approx(volume - stock_ml))


@given(st.floats(1, 1e6), st.floats(0.001, 1), st.floats(0.1, 1e4))
def test_what_is_dissolved_stays_as_much(stock: float, share: float, volume: float) -> None:
    """The weight of hormone drawn from the bottle is the weight in the thinned, reckoned by pint."""
    found = dilute(stock, stock * share, volume)
    assert isinstance(found, Dilution)
    drawn = PINT.Quantity(found.stock_ml, "ml") * PINT.Quantity(stock, "mg/l")
    made = PINT.Quantity(found.stock_ml + found.water_ml, "ml") * PINT.Quantity(stock * share, "mg/l")
    assert drawn.to("mg").magnitude == pytest.approx(made.to("mg").magnitude)
    assert found.water_ml >= -1e-9


@pytest.mark.parametrize(
    ("given_", "code", "field"),
    [
        ((0, 100, 100), "not_positive", "stock"),
        ((100, -1, 100), "not_positive", "wanted"),
        ((100, 50, 0), "not_positive", "volume"),
        ((2_000_000, 50, 10), "more_than_all", "stock"),
        ((1_000, 3_000, 100), "cannot_strengthen", "wanted"),
    ],
)
def test_what_cannot_be_thinned(given_: tuple[float, float, float], code: str, field: str) -> None:
    found = dilute(*given_)
    assert isinstance(found, Refusal)
    assert (found.code, found.field) == (code, field)


def test_every_way_on_which_hormone_is_offered_has_its_strength() -> None:
    forms = {way.form for plant in handbook().values() for way in plant.methods if way.hormone == "optional"}
    missing = {form for form in forms if usual_ppm(form) is None} - {"crown top", "runner"}
    assert not missing
    assert all(low < high for form in forms if (usual := usual_ppm(form)) for low, high in [usual])


def test_harder_wood_wants_more() -> None:
    """Softwood weakest, hardwood strongest (Hartmann & Kester, Plant Propagation; from memory)."""
    soft, ripe, bare = (usual_ppm(form) for form in ("softwood tip", "semi-ripe stem", "dormant stick"))
    assert soft
    assert ripe
    assert bare
    assert soft[1] <= ripe[0] < bare[0] < bare[1]


def test_tipped_out_is_by_the_cutting() -> None:
    assert powder_g(20) == pytest.approx(2 * powder_g(10))
    assert gel_ml(20) == pytest.approx(2 * gel_ml(10))
