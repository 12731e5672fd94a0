"""Speed, energy, momentum, and how fast another arrow flies.

1 lbf of weight is 7000 grains; standard gravity 32.174 ft/s² (both exact by definition).
"""

from dataclasses import dataclass
from math import sqrt

from bowcore.accessories.sight import GRAVITY_FPS2

GRAINS_A_POUND = 7000.0


def energy_ft_lbf(mass_gr: float, fps: float) -> float:
    """Kinetic energy of an arrow; 493 gr at 284 ft/s is 88.3 ft lbf (common practice). [ft lbf]"""
    return mass_gr / GRAINS_A_POUND / GRAVITY_FPS2 * fps**2 / 2


def speed_fps(energy_ft_lbf: float, mass_gr: float) -> float:
    """Speed of an arrow that carries an energy. [ft/s]"""
    return sqrt(2 * energy_ft_lbf * GRAINS_A_POUND * GRAVITY_FPS2 / mass_gr)


def momentum_lb_s(mass_gr: float, fps: float) -> float:
    """Momentum of an arrow, as slug feet a second. [lbf s]"""
    return mass_gr / GRAINS_A_POUND / GRAVITY_FPS2 * fps


MOST_SHARE = 0.90
"""Share of its stored energy that no compound bow gives its arrow; 78 to 86 % are usual (common practice,
no published source)."""


@dataclass(frozen=True)
class Shooting:
    """What a bow does with an arrow: its stored energy [ft lbf], the arrow's mass [gr] and speed [ft/s]."""

    stored_ft_lbf: float
    mass_gr: float
    fps: float

    @property
    def efficiency(self) -> float:
        """Share of the stored energy that the arrow takes along."""
        return energy_ft_lbf(self.mass_gr, self.fps) / self.stored_ft_lbf

    @property
    def doubt(self) -> str:
        """Why mass, speed and weight do not go together, in a sentence; "" if they do."""
        if self.efficiency <= MOST_SHARE:
            return ""
        return (
            f"{self.mass_gr:g} gr at {self.fps:.0f} fps is {self.efficiency:.0%} of what the bow stores; no "
            f"bow gives more than {MOST_SHARE:.0%}. Look at the arrow's mass, the speed and the weight."
        )

    @property
    def bow_mass_gr(self) -> float:
        """What of the bow moves with the arrow, if nothing were lost to friction. [gr]"""
        return self.mass_gr * (1 / self.efficiency - 1)

    def speed_of(self, mass_gr: float) -> float:
        """How fast an arrow of another mass flies from this bow. [ft/s]"""
        return self.fps * sqrt((self.mass_gr + self.bow_mass_gr) / (mass_gr + self.bow_mass_gr))
