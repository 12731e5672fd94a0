"""Conversions against Pint's registry and SciPy's constants."""

import pint
import pytest
from scipy import constants

from bowcore.quantities import units
from bowcore.quantities.weights import parse_weight

U = pint.UnitRegistry()


def test_constants_against_scipy():
    assert pytest.approx(constants.inch * 1000, rel=1e-15) == units.MM_PER_INCH
    assert pytest.approx(constants.lb, rel=1e-15) == units.KG_PER_LB
    assert pytest.approx(constants.grain * 1e6, rel=1e-12) == units.GRAIN_MG
    assert constants.g == units.STANDARD_GRAVITY_M_S2
    assert pytest.approx(constants.foot, rel=1e-15) == units.FOOT_M


def test_a_scale_in_kilograms_is_read_as_pounds():
    against_pint = (24.5 * U.kgf).to("lbf").magnitude
    assert float(parse_weight("24.5 kg").value) == pytest.approx(against_pint, rel=1e-9)
    assert float(parse_weight("54,1").value) == 54.1
