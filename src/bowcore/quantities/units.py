"""The one place where units are converted. The core works in inches and pounds-force; lengths are said,
and read where no unit is written, in the unit that is in use."""

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from enum import StrEnum
from fractions import Fraction

MM_PER_INCH_EXACT = Fraction(254, 10)  # international yard and pound agreement, 1959
KG_PER_LB_EXACT = Fraction(45359237, 100000000)  # same agreement
MM_PER_INCH = float(MM_PER_INCH_EXACT)
KG_PER_LB = float(KG_PER_LB_EXACT)
STANDARD_GRAVITY_M_S2 = 9.80665  # exact by definition; 3rd CGPM, 1901
GRAIN_MG = 64.79891  # exact; 1/7000 lb
FOOT_M = 0.3048  # exact; same agreement as the inch
INCHES_PER_FOOT = 12
NEWTON_PER_LBF = KG_PER_LB * STANDARD_GRAVITY_M_S2


class LengthUnit(StrEnum):
    """In what lengths are said. Files and the core's own values are always in inches."""

    INCHES = "inches"
    MILLIMETRES = "millimetres"

    @property
    def sign(self) -> str:
        """Its sign: `in` or `mm`."""
        return "mm" if self is LengthUnit.MILLIMETRES else "in"


_IN_USE: ContextVar[LengthUnit] = ContextVar("length_unit", default=LengthUnit.INCHES)


def length_unit() -> LengthUnit:
    """The unit in use."""
    return _IN_USE.get()


@contextmanager
def lengths_in(unit: LengthUnit) -> Iterator[None]:
    """Say and read lengths in a unit as long as the block runs."""
    token = _IN_USE.set(unit)
    try:
        yield
    finally:
        _IN_USE.reset(token)
