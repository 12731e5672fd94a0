"""A simulated archer's sight: where its marks truly are, shot in and read with scatter. Seeded."""

from dataclasses import dataclass, replace

import numpy as np

from bowcore.accessories.sight import Flight, MovedMark, SightGeometry, SightMark, pin_place_in

SHOT_IN_SIGMA_IN = 0.004
"""How far off a mark is that was shot in with a dozen arrows: our figure."""
READ_TO_IN = 0.005
USUAL_DRAG_PER_FT, DRAG_SPREAD = 0.00022, 0.25
"""By how much of itself a foot slows a usual arrow, and how arrows differ, as a share: our figures."""


@dataclass(frozen=True)
class SimulatedSight:
    """Hidden geometry and flight; what is written down of both is read from it."""

    geometry: SightGeometry
    flight: Flight

    def shot_in(self, yards: float, rng: np.random.Generator) -> SightMark:
        """A mark as the archer shot it in, as it is read from the bar."""
        place = pin_place_in(self.flight, self.geometry, yards)
        read = place + SHOT_IN_SIGMA_IN * rng.standard_normal()
        return SightMark(yards, round(read / READ_TO_IN) * READ_TO_IN)

    def at_speed(self, fps: float) -> "SimulatedSight":
        """The same archer after the bow shoots faster or slower."""
        return replace(self, flight=replace(self.flight, speed_fps=fps))

    def moved(self, fps: float, yards: float) -> MovedMark:
        """How far a mark truly moves when the speed has changed; nothing is unsure of it."""
        now = self.at_speed(fps)
        was, place = (pin_place_in(one.flight, self.geometry, yards) for one in (self, now))
        lower = 12 * (now.flight.drop_ft(3 * yards) - self.flight.drop_ft(3 * yards))
        return MovedMark(yards, place - was, 0.0, lower)


def simulated_sight(seed: int) -> SimulatedSight:
    """An archer's sight; the same seed, the same sight."""
    rng = np.random.default_rng(seed)
    geometry = SightGeometry(rng.uniform(29, 34), rng.uniform(3.5, 5))
    drag = USUAL_DRAG_PER_FT * float(np.exp(DRAG_SPREAD * rng.standard_normal()))
    return SimulatedSight(geometry, Flight(rng.uniform(255, 300), drag))
