"""Interfaces of outside devices and services. A driver is anything that has these methods."""

from dataclasses import dataclass
from datetime import date
from typing import Any, Protocol

from bowcore.bow.cam_radii import CamRadii
from bowcore.measurement.curve_file import CurvePoint
from shop.casework.state import JobState


class Bench(Protocol):
    """The tools that are plugged in."""

    def has(self, state: JobState, device: str) -> bool:
        """Whether a device is plugged in where this job's bow is."""

    def samples(self, state: JobState, device: str, quantity: str) -> list[float]:
        """The last readings, newest last, in the quantity's unit; empty when the tool is silent."""

    def draw_curve(self, state: JobState) -> list[CurvePoint]:
        """The bow pulled on the draw board: draw length and force, on the way up."""

    def cam_radii(self, state: JobState) -> CamRadii | None:
        """What the caliper reads on the bow's cams at full draw; None where there is nothing to read."""


@dataclass(frozen=True)
class Confirmation:
    """A string maker's answer to an order."""

    reference: str
    ships_on: date


@dataclass(frozen=True)
class Delivered:
    """A component as it is in the bag. [in]"""

    role: str
    length_in: float
    strands: int
    served_top_in: float
    served_bottom_in: float
    clipped: bool


class StringMaker(Protocol):
    """Where an order of a set goes."""

    def confirm(self, order: dict[str, Any], today: date) -> Confirmation:
        """Take an order in, and say when it ships."""

    def deliver(self, order: dict[str, Any]) -> list[Delivered]:
        """What has come for an order, as a tape reads it; empty where nobody can say."""
