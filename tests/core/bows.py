"""Invented books for the tests of the twin, one per family, and their twins built once."""

from functools import cache

import numpy as np

from bowcore.adjusters.registry import adjusters_of
from bowcore.bow.kits import ShimKit
from bowcore.bow.plausible import ensemble
from bowcore.bow.specification import BowSpec, Family, PartSpec
from bowcore.bow.twin import build_twin
from bowcore.learning.history import Read
from bowcore.quantities.precision import Precision
from bowcore.response.sensitivity import twin_response

TWO_CAMS = (Family.BINARY, Family.HYBRID, Family.TWIN)


def parts(family):
    both = [
        PartSpec("cable_a", "Top cable", "", 36, 24, 0.6),
        PartSpec("cable_b", "Bottom cable", "", 36, 24, 0.6),
    ]
    string = PartSpec("string", "String", "", 58, 24, 0.4)
    return (*(both[1:] if family is Family.SINGLE else both), string)


KITS = (
    ShimKit(
        "thin", ((0.105, 0.145), (0.115, 0.135), (0.125, 0.125), (0.135, 0.115), (0.145, 0.105))
    ),
    ShimKit("thick", ((0.065, 0.185), (0.085, 0.165), (0.165, 0.085), (0.185, 0.065))),
)


def book(family, **more):
    numbers = {"axle_to_axle_in": 33, "brace_height_in": 6.5, "draw_length_in": 29,
               "peak_weight_lbf": 60, "let_off": 0.65 if family is Family.TWIN else 0.8}  # fmt: skip
    return BowSpec(
        f"An invented {family} bow", Family(family), **(numbers | more), parts=parts(family)
    )


def rng_of(seed):
    """A source of scatter, alike in every run."""
    return np.random.default_rng(seed)


@cache
def twin_of(family):
    return build_twin(book(family))


@cache
def answered(family):
    """Response with its uncertainty and the ensemble's own responses."""
    spec = book(family)
    return twin_response(twin_of(family), adjusters_of(spec), ensemble(spec, count=12))


def read(quantity, value, sigma, takes=1):
    """A quantity read once or several times alike, each with this uncertainty."""
    return Read(quantity, (value,) * takes, Precision(sigma))
