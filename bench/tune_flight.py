"""A third world for shooting in: the arrow turns on its way to the paper, and its archer is never twice the
same.

It shares nothing with `tune_world.py` but what is read and how; nothing with the engine. An arrow leaves the
string at an angle (nock, rest, centre shot) and with a spin of its shaft (cams, lean, hand, spine); both
swing and fade until the paper, so that what a number does depends on the arrow. The archer's grip drifts from
shot to shot, contact comes at some shots and hides in the look of another, and eyes see what they saw before.
All figures are our own inventions.
"""

from dataclasses import dataclass, field
from math import cos, exp, pi, sin

import numpy as np

TO_PAPER_S = 0.034
"""From the string to three yards."""
ARROW_IN = 28.0
CENTRE_IN = 0.8125
TOOLS = {
    "stop_gap": (1 / 64, 0.012), "lean": (1 / 16, 0.04), "lean_bottom": (1 / 16, 0.04),
    "centre_shot": (1 / 32, 0.02), "nock_gap": (1 / 64, 0.008), "arrow_level": (1 / 16, 0.02),
}  # fmt: skip


@dataclass
class FlyingBow:
    """What is true, as nobody sees it. Lengths in inches, angles in radians, spins in radians a second."""

    rng: np.random.Generator
    numbers: dict[str, float]
    swing_hz: float
    fades: float
    spins: dict[str, float]
    hand: tuple[float, float] = (0.0, 0.0)
    contact: tuple[float, float] = (0.0, 0.0)
    pinched: float = 0.0
    soft: float = 0.0
    spine: float = 400.0
    scatter: float = 0.07
    other_hand: tuple[float, float] = (0.0, 0.0)
    drift: tuple[float, float] = (0.0, 0.0)
    eyes: dict[str, bool] = field(default_factory=dict)

    def _at_paper(self, angle: float, spin: float, softer: float) -> float:
        """The tear that an angle and a spin at the string make; a softer shaft swings slower. [in]"""
        rate = 2 * pi * self.swing_hz * (1 - 0.04 * (self.soft + softer))
        left = exp(-self.fades * TO_PAPER_S)
        return (
            ARROW_IN
            * left
            * (angle * cos(rate * TO_PAPER_S) + spin / rate * sin(rate * TO_PAPER_S))
        )

    def tear(self, other_archer: bool = False, softer: float = 0.0) -> tuple[float, float]:
        """Without scatter; contact as it is on the average."""
        n, s = self.numbers, self.spins
        across = (n["centre_shot"] - CENTRE_IN) / 7.0
        up = (n["nock"] - 0.8 * n["rest"]) / 7.0
        spin_x = s["lean"] * (n["lean"] + 0.5 * n["lean_bottom"]) + s["spine"] * (
            self.soft + softer
        )
        spin_y = s["gap"] * n["stop_gap"] + 0.3 * s["spine"] * (self.soft + softer)
        hand = self.other_hand if other_archer else self.hand
        x = self._at_paper(across, spin_x + hand[0], softer) + 0.6 * self.contact[0]
        y = (
            self._at_paper(up, spin_y + hand[1], softer)
            + 0.6 * self.contact[1]
            + 0.8 * self.pinched
        )
        return x, y

    def shot(self, other_archer: bool = False, softer: float = 0.0) -> tuple[float, float]:
        """One shot: the grip of this archer wanders, and contact comes and goes."""
        x, y = self.tear(other_archer, softer)
        self.drift = tuple(0.6 * one + 0.03 * self.rng.standard_normal() for one in self.drift)
        touched = (self.rng.random() < 0.6) - 0.6
        pinch = ((self.rng.random() < 0.8) - 0.8) * self.pinched
        dx, dy = self.scatter * self.rng.standard_t(5, 2)
        x, y = (
            x + touched * self.contact[0] + self.drift[0],
            y + touched * self.contact[1] + self.drift[1],
        )
        return float(x + dx), float(y + pinch + dy)

    def read(self, key: str) -> float:
        """A number as a tool shows it."""
        division, scatter = TOOLS[key]
        true = {
            "nock_gap": 0.01 if self.pinched else 0.045,
            "arrow_level": 1 / 16 + self.numbers["nock"] - self.numbers["rest"],
        }.get(key, self.numbers.get(key, 0.0))
        return round(float(true + scatter * self.rng.standard_normal()) / division) * division

    def looks_like(self, what: str, there: bool) -> bool:
        """The same eyes see the same again."""
        if what not in self.eyes:
            self.eyes[what] = bool(self.rng.random() < (0.8 if there else 0.1))
        return self.eyes[what]


def hidden(cause: str, seed: int) -> FlyingBow:
    """A bow with one cause or two that tear by 1/4 to 3/4; the rest of it is as bows are."""
    rng = np.random.default_rng([seed, 77, *cause.encode()])
    normal = rng.standard_normal
    numbers = {
        "stop_gap": 0.012 * normal(), "lean": 0.05 * normal(), "lean_bottom": 0.05 * normal(),
        "nock": 0.01 * normal(), "rest": 0.01 * normal(), "centre_shot": CENTRE_IN + 0.015 * normal(),
    }  # fmt: skip
    spins = {
        "lean": 3.4 * exp(0.4 * normal()) * _sign(rng, 0.5), "spine": 0.7 * exp(0.4 * normal()),
        "gap": 9.0 * exp(0.4 * normal()) * _sign(rng, 0.8),
    }  # fmt: skip
    bow = FlyingBow(
        rng, {key: float(one) for key, one in numbers.items()}, float(rng.uniform(2.5, 6.5)),
        float(rng.uniform(2, 8)), spins, scatter=float(rng.uniform(0.05, 0.1)),
        other_hand=(0.2 * float(normal()), 0.2 * float(normal())),
        hand=(0.2 * float(normal()), 0.2 * float(normal())),
    )  # fmt: skip
    for one in cause.split(" and "):
        _break(bow, one, float(rng.uniform(0.25, 0.75)) * _sign(rng, 0.5))
    wanted = 400 * (28 / 28.25) ** 2 * exp(0.12 * normal())
    bow.spine = float(np.clip(round((wanted + 50 * bow.soft) / 10) * 10, 150, 900))
    return bow


def _sign(rng: np.random.Generator, plus: float) -> int:
    return 1 if rng.random() < plus else -1


def _break(bow: FlyingBow, cause: str, tear: float) -> None:
    """Whatever it takes of a cause to tear so, found by trying."""
    if cause == "pinch":
        bow.pinched = abs(tear)
    elif cause == "contact":
        bow.contact = (tear, 0.2 * tear) if bow.rng.random() < 0.5 else (0.2 * tear, tear)
    elif cause == "a little of everything":
        for one in ("lean", "centre shot", "hand", "nock", "timing", "heel"):
            _put(bow, one, tear / 3.5)
    elif cause == "rest height":
        _put(bow, "nock", tear / 2)
        _put(bow, "rest height", tear / 2)
    else:
        _put(bow, cause, tear)


_IS = {
    "timing": "stop_gap", "nock": "nock", "rest height": "rest", "lean": "lean", "centre shot": "centre_shot",
}  # fmt: skip
_MOST = {"stop_gap": 0.2, "nock": 0.25, "rest": 0.3, "lean": 0.6, "centre_shot": 0.25}


def _put(bow: FlyingBow, cause: str, tear: float) -> None:
    up = cause in ("timing", "nock", "rest height", "heel")
    before, key = bow.tear()[up], _IS.get(cause, "")
    if key:
        bow.numbers[key] += 0.01
        by = (bow.tear()[up] - before) / 0.01
        bow.numbers[key] += float(np.clip(tear / by, -_MOST[key], _MOST[key])) - 0.01
    elif cause == "spine":
        bow.soft = float(np.clip(tear / (_with_soft(bow, 1.0) - before), -4, 4))
    else:
        place = 1 if cause == "heel" else 0
        hand = list(bow.hand)
        hand[place] += 0.1
        bow.hand, was = (hand[0], hand[1]), bow.hand
        by = (bow.tear()[up] - before) / 0.1
        hand[place] = was[place] + tear / by
        bow.hand = (hand[0], hand[1])


def _with_soft(bow: FlyingBow, soft: float) -> float:
    bow.soft, was = soft, bow.soft
    x = bow.tear()[0]
    bow.soft = was
    return x
