"""What is assumed of a bow's parameters when only the book is known.

Figures of plausible bows, worked out with a prototype of this model; none is a maker's. A caliper
or a force-draw curve replaces them. Uncertainties are used to draw ensembles of plausible bows.
"""

from dataclasses import dataclass
from math import radians

from bowcore.bow.specification import Family


@dataclass(frozen=True)
class Harmonic:
    """A track's shape relative to r0: a1 cos(phi - p1) + a2 cos(2 phi - p2). [in or share of r0]"""

    a1: float
    p1: float
    a2: float
    p2: float


@dataclass(frozen=True)
class Prior:
    """Assumed parameters of a family.

    Lengths in inches, angles in radians. `string` is a share of r0; `net` gives the take-up less
    let-out arm: its second harmonic, phase of the first, and its value at brace.
    """

    string: Harmonic
    net: Harmonic
    net_at_brace: float
    preload: float
    limb_radius: float = 9.0
    limb_angle: float = radians(62)
    let_out: float = 0.55
    rotation: float = radians(215)
    idler_radius: float = 1.3
    string_stiffness_lbf: float = 45_000.0
    cable_stiffness_lbf: float = 50_000.0


_TWO_CAMS = Prior(
    string=Harmonic(-0.5097, -0.1748, -0.1034, -0.1672),
    net=Harmonic(0.0, 2.924, 0.2008, 1.472),
    net_at_brace=1.693,
    preload=0.256,
)

PRIORS = {
    Family.BINARY: _TWO_CAMS,
    Family.HYBRID: _TWO_CAMS,
    Family.TWIN: _TWO_CAMS,
    Family.SINGLE: Prior(
        string=Harmonic(-0.4075, -0.119, -0.0585, -0.4955),
        net=Harmonic(0.0, 2.886, 0.1349, 1.637),
        net_at_brace=0.966,
        preload=0.2328,
    ),
}
"""By cam family."""
