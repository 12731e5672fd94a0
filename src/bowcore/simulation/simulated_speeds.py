"""A simulated bow over a simulated chronograph: energy, moving mass and best place are hidden. Seeded."""

from dataclasses import dataclass, field

import numpy as np

from bowcore.accessories.arrow_speed import speed_fps
from bowcore.stages.speed.speed_strings import SpeedShot, SpeedString, strings_of
from bowcore.stages.speed.string_weights import WeightsAct, WeightsActKind, next_place


@dataclass
class SimulatedSpeeds:
    """What one bow shoots; everything but the shots is hidden.

    `best_in` is where its string weights make it fastest, `lost_per_in2` the share of speed lost an inch off,
    squared. `scatter_fps` is archer and chronograph together; a share `flyers` of shots is slow by
    `flyer_fps`, as where a vane touches.
    """

    rng: np.random.Generator
    energy_ft_lbf: float = 80.0
    moving_gr: float = 110.0
    best_in: float = 1.75
    lost_per_in2: float = 0.006
    scatter_fps: float = 0.7
    flyers: float = 0.0
    flyer_fps: float = 8.0
    shots: list[SpeedShot] = field(default_factory=list)

    def true_fps(self, mass_gr: float, weights_in: float | None = None) -> float:
        """How fast an arrow flies on the average. [ft/s]"""
        speed = speed_fps(self.energy_ft_lbf, mass_gr + self.moving_gr)
        off = 0.0 if weights_in is None else weights_in - self.best_in
        return speed * (1 - self.lost_per_in2 * off**2)

    def shoot(self, mass_gr: float, weights_in: float | None = None) -> SpeedShot:
        """One shot, as the chronograph shows it: whole feet a second."""
        slow = self.flyer_fps if self.rng.random() < self.flyers else 0.0
        shown = self.true_fps(mass_gr, weights_in) - slow + self.rng.normal(0, self.scatter_fps)
        shot = SpeedShot(len(self.shots) + 1, float(round(shown)), mass_gr, "", weights_in)
        self.shots.append(shot)
        return shot

    def string(self, mass_gr: float, shots: int = 3) -> SpeedString:
        """Some shots of one arrow."""
        return SpeedString(tuple(self.shoot(mass_gr) for _ in range(shots)))


def find_best_place(bow: SimulatedSpeeds, mass_gr: float, start_in: float = 1.0) -> WeightsAct:
    """Follow the experiment with the string weights to its end."""
    while True:
        act = next_place(strings_of(bow.shots), start_in)
        if act.kind is WeightsActKind.STOP:
            return act
        bow.shoot(mass_gr, act.place_in)
