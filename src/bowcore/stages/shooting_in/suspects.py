"""What may be behind a tear, how each suspect is cleared, and how likely each is after what was found.

Order and tests are common practice with no published source; the shares are our figures, to be replaced by
what the shop's own bows show. One suspect is behind a tear in one axis, or two are.
"""

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property
from itertools import combinations
from math import exp

import numpy as np
from numpy.typing import NDArray

from bowcore.adjusters.rest_move import REST_OUT, REST_UP
from bowcore.quantities.catalogue import LEANS

NOCK_POINT = "nock_point"
TIMING_CABLE = "timing_cable"
LEAN_LEVERS = ("yoke_top", "yoke_bottom", "shim_top", "shim_bottom")
"""By which a lean is mended, the top cam first, where a bow has them."""


class Axis(StrEnum):
    """The way a tear goes."""

    UP = "up"
    SIDE = "side"


class SuspectStanding(StrEnum):
    """Where a suspect stands."""

    OPEN = "open"
    CLEARED = "cleared"
    PROVEN = "proven"


PROVEN_AT, CLEARED_AT = 0.9, 0.03
"""Probabilities at which a suspect is named and at which it is let go: our figures."""
TWO_AT_ONCE = 0.15
"""Share of tears with two causes in one way: our figure."""
SMALL_SUM, SMALL_SUM_IN, USUAL_TEAR_IN = 0.1, 0.15, 0.45
"""Share of tears with no single cause, how large those are, and how large a tear with a cause is, as standard
deviations: our figures. [in]"""
PRIOR_BOWS = 10
"""How many bows our shares are worth against those of a model: our figure."""


@dataclass(frozen=True)
class SuspectTest:
    """How a suspect is looked for.

    Attributes
    ----------
    ask : str
        In a dozen words at most, as the headline of the page.
    how : str
        In a sentence.
    minutes : float
        What it takes.
    finds, false_alarm : float
        Chance that it finds the suspect where it is, and that it finds something where it is not.
    answers : pair of str
        What it may show: that the suspect is behind the tear, and that it is not.
    """

    ask: str
    how: str
    minutes: float
    finds: float
    false_alarm: float
    answers: tuple[str, str] = ("Tear goes", "Same tear")


@dataclass(frozen=True)
class TearSuspect:
    """One cause: how likely it is before anything is known, the test that clears it, and what mends it.

    Attributes
    ----------
    key, name, axis : str
        Its identity, its name in the shop, the way in which it tears.
    prior : float
        Its share among the causes of tears in this axis.
    test : SuspectTest
        What clears it.
    mend : str
        What to do about it, in a sentence.
    readings : tuple of str
        The quantities whose being outside is the finding; empty where the archer or the shaft shows it.
    moves : tuple of str
        Levers that mend it, the first choice first; empty where it is mended otherwise.
    by_plan : bool
        Whether a reading that is outside is first brought back by the plan, whatever it does to the tear.
    mend_minutes : float
        What mending it takes, where no lever says so, without the shots after it. Our figure.
    """

    key: str
    name: str
    axis: Axis
    prior: float
    test: SuspectTest
    mend: str
    readings: tuple[str, ...] = ()
    moves: tuple[str, ...] = ()
    by_plan: bool = False
    mend_minutes: float = 4.0


_CONTACT = SuspectTest(
    "Powder it, shoot once: what touches?",
    "Powder the rest, the cables and the fletching; shoot once; look where it is rubbed off.",
    2.0, 0.85, 0.05, ("It touches", "Nothing touches"),
)  # fmt: skip
_NO_CONTACT = (
    "Turn the nock, set the arm's cord or move what it touches until nothing is rubbed off."
)
_PINCH = SuspectTest(
    "Is the archer's nock free between its ties?", "Read the nock's play, with the archer's own nock.",
    1.0, 0.9, 0.08, ("Pinched", "Free"),
)  # fmt: skip
_ANOTHER_ARROW = SuspectTest(
    "Shoot an arrow of the next class of spine.",
    "Shoot the same bow with an arrow of the next stiffer or softer class.", 4.0, 0.8, 0.1,
)  # fmt: skip
_OTHER_SPINE = "Another arrow: stiffer or softer, or its point or length changed."
_ANOTHER_ARCHER = SuspectTest(
    "Let another archer shoot the same bow.",
    "Let another archer shoot the same bow.",
    3.0,
    0.85,
    0.08,
)
_ANOTHER_POINT = SuspectTest(
    "Shoot a point 25 grains lighter, then heavier.",
    "Shoot the same shaft with a point 25 grains lighter and heavier.", 5.0, 0.75, 0.1,
)  # fmt: skip


def _reading(what: str, minutes: float, finds: float, false_alarm: float) -> SuspectTest:
    """A test that reads one or two numbers."""
    return SuspectTest(what, what, minutes, finds, false_alarm, ("Off", "As it should be"))


_TAP_REST = "Move the rest by a tap, then shoot two."
SUSPECTS = (
    TearSuspect("contact_up", "Contact with rest or cables", Axis.UP, 0.16, _CONTACT, _NO_CONTACT,
                mend_minutes=5.0),
    TearSuspect("timing", "Cam timing", Axis.UP, 0.20,
                _reading("Read cam timing on the board.", 3.0, 0.93, 0.06),
                "Bring the timing back inside first; then shoot again.", ("stop_gap",), (TIMING_CABLE,),
                by_plan=True, mend_minutes=15.0),
    TearSuspect("pinch", "Nock pinched between its ties", Axis.UP, 0.13, _PINCH,
                "Tie one tie anew, farther from the nock.", ("nock_gap",), mend_minutes=5.0),
    TearSuspect("nock", "Nock point", Axis.UP, 0.20,
                _reading("Read nock height and arrow level.", 2.0, 0.6, 0.1),
                "Move the nock point by a tap, then shoot two.", ("nock_height", "arrow_level"),
                (NOCK_POINT,)),
    TearSuspect("rest_height", "Rest height or blade", Axis.UP, 0.13,
                _reading("Read the arrow's level.", 1.0, 0.5, 0.15), _TAP_REST, ("arrow_level",),
                (REST_UP,)),
    TearSuspect("spine_up", "Spine", Axis.UP, 0.10, _ANOTHER_ARROW, _OTHER_SPINE, mend_minutes=10.0),
    TearSuspect("heel", "Heel of the hand", Axis.UP, 0.08, _ANOTHER_ARCHER,
                "The grip, not the bow: lower or higher wrist; leave the bow as it is."),
    TearSuspect("contact_side", "Contact with rest or cables", Axis.SIDE, 0.14, _CONTACT, _NO_CONTACT,
                mend_minutes=5.0),
    TearSuspect("hand", "Hand and face", Axis.SIDE, 0.22, _ANOTHER_ARCHER,
                "The grip or the face, not the bow: leave the bow as it is."),
    TearSuspect("lean", "Cam lean", Axis.SIDE, 0.24,
                _reading("Read the lean of both cams with a shaft.", 2.0, 0.9, 0.08),
                "Balance the yoke legs or shim the cam; then shoot again.", LEANS, LEAN_LEVERS,
                by_plan=True, mend_minutes=15.0),
    TearSuspect("rest_side", "Centre shot", Axis.SIDE, 0.18, _reading("Read centre shot.", 1.0, 0.7, 0.1),
                _TAP_REST, ("centre_shot", "front_back"), (REST_OUT,)),
    TearSuspect("spine_side", "Spine", Axis.SIDE, 0.14, _ANOTHER_ARROW, _OTHER_SPINE, mend_minutes=10.0),
    TearSuspect("point", "Point's mass or arrow's length", Axis.SIDE, 0.08, _ANOTHER_POINT,
                "Keep the point that tears least; check the least mass.", mend_minutes=5.0),
)  # fmt: skip
"""In the order in which practice clears them: the nearer cause first."""
BY_KEY: Mapping[str, TearSuspect] = {one.key: one for one in SUSPECTS}


def suspects_of(axis: Axis) -> tuple[TearSuspect, ...]:
    """Those that tear in one axis, the nearer first."""
    return tuple(one for one in SUSPECTS if one.axis is axis)


class Mending(StrEnum):
    """What became of a tear when one suspect was mended."""

    GONE = "gone"
    PARTLY = "partly"
    IN_VAIN = "in_vain"


MENDING_SHOWS: Mapping[str, Mapping[Mending, float]] = {
    "alone": {Mending.GONE: 0.85, Mending.PARTLY: 0.10, Mending.IN_VAIN: 0.05},
    "with another": {Mending.GONE: 0.05, Mending.PARTLY: 0.85, Mending.IN_VAIN: 0.10},
    "not behind it": {Mending.GONE: 0.03, Mending.PARTLY: 0.05, Mending.IN_VAIN: 0.92},
}
"""How likely each is where the suspect that was mended was behind the tear alone, or with another one, or was
not: our figures."""
MOVED_IN, MOVED_SIGMAS = 1 / 8, 2.0
"""A tear has changed when it is farther from where it was than an eighth and than two of its errors. [in]"""


def mending(was_in: float, now_in: float, sigma_in: float) -> Mending:
    """What became of a tear when one suspect was mended.

    Parameters
    ----------
    was_in : float
        The tear in one axis before. [in]
    now_in : float
        After. [in]
    sigma_in : float
        Doubt of the difference. [in]
    """
    if abs(now_in - was_in) < max(MOVED_IN, MOVED_SIGMAS * sigma_in):
        return Mending.IN_VAIN
    return Mending.GONE if abs(now_in) < max(MOVED_IN, abs(was_in) / 4) else Mending.PARTLY


@dataclass(frozen=True)
class Evidence:
    """What a suspect's test showed, in words: it was found, or it was not; or what mending it did.

    `likely` are the chances of what was seen where the suspect is behind the tear alone, where it is with
    another one, and where it is not, up to a common factor; None where the suspect's own figures say it.
    `beside` says that the suspect itself was not tested: that is still to be done.
    """

    suspect: str
    found: bool = False
    words: str = ""
    mended: Mending | None = None
    likely: tuple[float, float, float] | None = None
    beside: bool = False


@dataclass(frozen=True)
class Suspicion:
    """A suspect with the chance that it is still behind the tear, and what speaks for or against it."""

    suspect: TearSuspect
    chance: float
    findings: tuple[Evidence, ...] = ()

    @property
    def found_once(self) -> bool:
        """Whether a test found it and nothing was mended since."""
        last_mended = max((at for at, one in enumerate(self.findings) if one.mended), default=-1)
        return any(one.found for one in self.findings[last_mended + 1 :])

    @property
    def standing(self) -> SuspectStanding:
        if self.chance >= PROVEN_AT:
            return SuspectStanding.PROVEN
        known = bool(self.findings)
        return (
            SuspectStanding.CLEARED if self.chance <= CLEARED_AT and known else SuspectStanding.OPEN
        )


@dataclass(frozen=True)
class Causes:
    """Everything that may be behind a tear in one axis, one suspect or two, with the chance of each.

    `behind` are the sets of suspects that may still be behind it; `chances` add up to one.
    """

    axis: Axis
    behind: tuple[frozenset[str], ...]
    chances: NDArray[np.float64]
    findings: tuple[Evidence, ...] = ()

    def chance(self, key: str) -> float:
        """That a suspect is still behind it, alone or with another one."""
        return float(self.chances[self._with(key)].sum())

    def chance_of_any(self, keys: Collection[str]) -> float:
        """That at least one of several suspects is behind it, or no single one."""
        return float(
            self.chances[[not one or any(key in one for key in keys) for one in self.behind]].sum()
        )

    def _with(self, key: str) -> NDArray[np.bool_]:
        return np.array([key in one for one in self.behind])

    @cached_property
    def suspicions(self) -> list[Suspicion]:
        """Every suspect of the axis in the order of practice; with two at once chances exceed one."""
        return [
            Suspicion(one, self.chance(one.key), tuple(f for f in self.findings if f.suspect == one.key))
            for one in suspects_of(self.axis)
        ]  # fmt: skip

    def chance_of(self, finding: Evidence) -> float:
        """How likely a finding is, as far as is known now."""
        return float(self.chances @ self._shows(finding))

    def after(self, finding: Evidence) -> "Causes":
        """What may be behind it once that has been found."""
        weights = self.chances * self._shows(finding)
        left = tuple(_left_after(one, finding) for one in self.behind)
        return Causes(self.axis, left, weights / weights.sum(), (*self.findings, finding))

    def _shows(self, finding: Evidence) -> NDArray[np.float64]:
        return np.array([_shows(one, finding) for one in self.behind])


def possible_causes(
    axis: Axis, findings: Iterable[Evidence], shares: Mapping[str, int] = {}, tear_in: float = 0.0
) -> Causes:
    """What may be behind a tear, and how likely that is.

    Parameters
    ----------
    axis : Axis
        The way of the tear.
    findings : iterable of Evidence
        Results of tests and of mending, in their order; those of the other axis are passed over.
    shares : mapping of str to int
        How often each was behind such a tear on other bows of the model.
    tear_in : float
        The tear: a small one may be a sum of small things, of which none is to blame. [in]

    Returns
    -------
    Causes
        By Bayes' rule for tests that err independently.
    """
    known = suspects_of(axis)
    behind, weights = zip(*_beforehand(known, shares, tear_in), strict=True)
    chances = np.array(weights)
    causes = Causes(axis, behind, chances / chances.sum())
    keys = {one.key for one in known}
    for finding in findings:
        if finding.suspect in keys:
            causes = causes.after(finding)
    return causes


def suspicions(
    axis: Axis, findings: Iterable[Evidence], shares: Mapping[str, int] = {}, tear_in: float = 0.0
) -> list[Suspicion]:
    """How likely each suspect of an axis is, in the order of practice; see `possible_causes`."""
    return possible_causes(axis, findings, shares, tear_in).suspicions


def _beforehand(
    known: Sequence[TearSuspect], shares: Mapping[str, int], tear_in: float
) -> Iterable[tuple[frozenset[str], float]]:
    """No suspect, each alone, and each two together as often as their shares say."""
    small, large = (_of_size(tear_in, spread) for spread in (SMALL_SUM_IN, USUAL_TEAR_IN))
    yield frozenset(), SMALL_SUM * small / large
    weights = np.array([PRIOR_BOWS * one.prior + shares.get(one.key, 0) for one in known])
    share = weights / weights.sum()
    for one, alone in zip(known, share, strict=True):
        yield frozenset({one.key}), (1 - TWO_AT_ONCE) * float(alone)
    together = 1 - float((share**2).sum())
    for (a, first), (b, second) in combinations(zip(known, share, strict=True), 2):
        yield frozenset({a.key, b.key}), TWO_AT_ONCE * 2 * float(first * second) / together


def _shows(behind: frozenset[str], finding: Evidence) -> float:
    """How likely a finding is if these are behind the tear."""
    is_cause = finding.suspect in behind
    if finding.likely is not None:
        return finding.likely[(0 if len(behind) == 1 else 1) if is_cause else 2]
    if finding.mended is None:
        return chance_found(finding, is_cause)
    alone = "alone" if len(behind) == 1 else "with another"
    return MENDING_SHOWS[alone if is_cause else "not behind it"][finding.mended]


def _left_after(behind: frozenset[str], finding: Evidence) -> frozenset[str]:
    """What is left once one of two was mended with effect; one alone that was is still there in part."""
    effect = finding.mended in (Mending.GONE, Mending.PARTLY)
    return behind - {finding.suspect} if effect and len(behind) > 1 else behind


def chance_found(finding: Evidence, is_cause: bool) -> float:
    """How likely the result of a test is if its suspect is behind the tear, or is not."""
    tested = BY_KEY[finding.suspect]
    shows = tested.test.finds if is_cause else tested.test.false_alarm
    return shows if finding.found else 1 - shows


def _of_size(tear_in: float, spread_in: float) -> float:
    """Density of a tear among tears that spread so."""
    return exp(-((tear_in / spread_in) ** 2) / 2) / spread_in
