"""What may be behind a tear, how each suspect is cleared, and how likely each is after what was found.

Order and tests are common practice with no published source; the shares are our figures, to be replaced by
what the shop's own bows show. One suspect is taken to be behind a tear in one axis.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from bowcore.adjusters.rest_move import REST_OUT, REST_UP
from bowcore.quantities.catalogue import LEANS

NOCK_POINT = "nock_point"
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
MENDED_HELPS, HELPED_ANYWAY = 0.95, 0.05
"""Chance that the tear is gone once its cause was mended, and that it is gone though something else was: our
figures."""


PRIOR_BOWS = 10
"""How many bows our shares are worth against those of a model: our figure."""


@dataclass(frozen=True)
class TearSuspect:
    """One cause: how likely it is before anything is known, and the test that clears it.

    Attributes
    ----------
    key, name, axis : str
        Its identity, its name in the shop, the way in which it tears.
    prior : float
        Its share among the causes of tears in this axis.
    test : str
        What to do, in a sentence.
    minutes : float
        What that takes.
    finds, false_alarm : float
        Chance that the test finds it where it is, and that it finds something where it is not.
    readings : tuple of str
        The quantities whose being outside is the finding; empty where the archer or the shaft shows it.
    moves : tuple of str
        Levers that mend it, the first choice first; empty where it is mended otherwise.
    mend : str
        What to do about it, in a sentence.
    by_plan : bool
        Whether a reading that is outside is first brought back by the plan, whatever it does to the tear.
    """

    key: str
    name: str
    axis: Axis
    prior: float
    test: str
    minutes: float
    finds: float
    false_alarm: float
    readings: tuple[str, ...] = ()
    moves: tuple[str, ...] = ()
    mend: str = ""
    by_plan: bool = False


_CONTACT = (
    "Powder the rest, the cables and the fletching; shoot once; look where it is rubbed off.",
    "Turn the nock, set the arm's cord or move what it touches until nothing is rubbed off.",
)
_SPINE = (
    "Shoot the same bow with an arrow of the next stiffer or softer class.",
    "Another arrow: stiffer or softer, or its point or length changed.",
)
_ANOTHER_ARCHER = "Let another archer shoot the same bow."
SUSPECTS = (
    TearSuspect("contact_up", "Contact with rest or cables", Axis.UP, 0.16, _CONTACT[0], 2.0, 0.85, 0.05,
            mend=_CONTACT[1]),
    TearSuspect("timing", "Cam timing", Axis.UP, 0.20, "Read cam timing on the board.", 3.0, 0.93, 0.06,
            ("stop_gap",), mend="Bring the timing back inside first; then shoot again.",
            by_plan=True),
    TearSuspect("pinch", "Nock pinched between its ties", Axis.UP, 0.13,
            "Read the nock's play, with the archer's own nock.", 1.0, 0.9, 0.08, ("nock_gap",),
            mend="Tie one tie anew, farther from the nock."),
    TearSuspect("nock", "Nock point", Axis.UP, 0.20, "Read nock height and arrow level.", 2.0, 0.6, 0.1,
            ("nock_height", "arrow_level"), (NOCK_POINT,), "Move the nock point by a tap, then shoot two."),
    TearSuspect("rest_height", "Rest height or blade", Axis.UP, 0.13, "Read the arrow's level.", 1.0, 0.5,
            0.15, ("arrow_level",), (REST_UP,), "Move the rest by a tap, then shoot two."),
    TearSuspect("spine_up", "Spine", Axis.UP, 0.10, _SPINE[0], 4.0, 0.8, 0.1, mend=_SPINE[1]),
    TearSuspect("heel", "Heel of the hand", Axis.UP, 0.08, _ANOTHER_ARCHER, 3.0, 0.85, 0.08,
            mend="The grip, not the bow: lower or higher wrist; leave the bow as it is."),
    TearSuspect("contact_side", "Contact with rest or cables", Axis.SIDE, 0.14, _CONTACT[0], 2.0, 0.85, 0.05,
            mend=_CONTACT[1]),
    TearSuspect("hand", "Hand and face", Axis.SIDE, 0.22, _ANOTHER_ARCHER, 3.0, 0.85, 0.08,
            mend="The grip or the face, not the bow: leave the bow as it is."),
    TearSuspect("lean", "Cam lean", Axis.SIDE, 0.24, "Read the lean of both cams with a shaft.", 2.0, 0.9,
            0.08, LEANS, LEAN_LEVERS, "Balance the yoke legs or shim the cam; then shoot again.",
            by_plan=True),
    TearSuspect("rest_side", "Centre shot", Axis.SIDE, 0.18, "Read centre shot.", 1.0, 0.7, 0.1,
            ("centre_shot", "front_back"), (REST_OUT,), "Move the rest by a tap, then shoot two."),
    TearSuspect("spine_side", "Spine", Axis.SIDE, 0.14, _SPINE[0], 4.0, 0.8, 0.1, mend=_SPINE[1]),
    TearSuspect("point", "Point's mass or arrow's length", Axis.SIDE, 0.08,
            "Shoot the same shaft with a point 25 grains lighter and heavier.", 5.0, 0.75, 0.1,
            mend="Keep the point that tears least; check the least mass."),
)  # fmt: skip
"""In the order in which practice clears them: the nearer cause first."""
BY_KEY: Mapping[str, TearSuspect] = {one.key: one for one in SUSPECTS}


def suspects_of(axis: Axis) -> tuple[TearSuspect, ...]:
    """Those that tear in one axis, the nearer first."""
    return tuple(one for one in SUSPECTS if one.axis is axis)


@dataclass(frozen=True)
class LookedAt:
    """A suspect that somebody looked at and found, or did not; with `mended` it was mended then. `seq` places
    it among the changes of its job."""

    seq: int
    suspect: str
    found: bool
    mended: bool = False


@dataclass(frozen=True)
class Evidence:
    """What a suspect's test showed, in words: it was found, or it was not. With `mended` it was mended, and
    the tear went away, or it did not."""

    suspect: str
    found: bool
    words: str = ""
    mended: bool = False


@dataclass(frozen=True)
class Suspicion:
    """A suspect with its probability now, and what speaks for or against it."""

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
        found = [one.found for one in self.findings]
        if self.chance >= PROVEN_AT:
            return SuspectStanding.PROVEN
        return (
            SuspectStanding.CLEARED if self.chance <= CLEARED_AT and found else SuspectStanding.OPEN
        )


def suspicions(
    axis: Axis, findings: Iterable[Evidence], shares: Mapping[str, int] = {}
) -> list[Suspicion]:
    """How likely each suspect of an axis is, in the order of practice.

    Parameters
    ----------
    axis : Axis
        The way of the tear.
    findings : iterable of Evidence
        Results of tests; those of the other axis are passed over.
    shares : mapping of str to int
        How often each was behind such a tear on other bows of the model.

    Returns
    -------
    list of Suspicion
        Their chances add up to one: Bayes' rule for tests that err independently.
    """
    known, found = suspects_of(axis), list(findings)
    weights = [_prior(one, shares) * _likelihood(one, found, known) for one in known]
    total = sum(weights)
    return [
        Suspicion(one, weight / total, tuple(f for f in found if f.suspect == one.key))
        for one, weight in zip(known, weights, strict=True)
    ]


def _prior(one: TearSuspect, shares: Mapping[str, int]) -> float:
    """Our share, worth so many bows, and what the model's bows have shown (Dirichlet)."""
    return PRIOR_BOWS * one.prior + shares.get(one.key, 0)


def _likelihood(
    cause: TearSuspect, findings: Sequence[Evidence], known: Sequence[TearSuspect]
) -> float:
    """Of everything that was found, if this were the cause."""
    keys = {one.key: one for one in known}
    likely = 1.0
    for finding in findings:
        tested = keys.get(finding.suspect)
        if tested is None:
            continue
        likely *= chance_of(finding, cause is tested)
    return likely


def chance_of(finding: Evidence, is_cause: bool) -> float:
    """How likely a finding is if its suspect is the cause, or is not."""
    tested = BY_KEY[finding.suspect]
    if finding.mended:
        shows = MENDED_HELPS if is_cause else HELPED_ANYWAY
    else:
        shows = tested.finds if is_cause else tested.false_alarm
    return shows if finding.found else 1 - shows


def learned_bits(known: Sequence[Suspicion], suspect: TearSuspect) -> float:
    """How much one more test of a suspect is expected to say: uncertainty now less uncertainty then.

    In bits.
    """
    now = np.array([one.chance for one in known])
    is_it = np.array([one.suspect is suspect for one in known])
    then = 0.0
    for found in (True, False):
        shows = [chance_of(Evidence(suspect.key, found), bool(cause)) for cause in is_it]
        weights = now * np.array(shows)
        then += float(weights.sum()) * _bits(weights / weights.sum())
    return _bits(now) - then


def _bits(chances: NDArray[np.float64]) -> float:
    some = chances[chances > 0]
    return float(-(some * np.log2(some)).sum())
