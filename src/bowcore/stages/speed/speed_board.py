"""What the chronograph says of a job: strings before and after, energy, other arrows, string weights."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import hypot

from bowcore.accessories.arrow import least_mass_gr
from bowcore.accessories.arrow_speed import Shooting, energy_ft_lbf, momentum_lb_s
from bowcore.accessories.on_the_bow import ARROW
from bowcore.accessories.sight import INCHES_A_FOOT
from bowcore.bow.twin import Twin
from bowcore.deciding.act import Act
from bowcore.evidence.facts import Facts
from bowcore.quantities.catalogue import quantity
from bowcore.quantities.changes import Change
from bowcore.stages.speed.speed_strings import (
    LEAST_SHOTS,
    SpeedShot,
    SpeedString,
    bow_by_arrows,
    compared,
    strings_of,
)
from bowcore.stages.speed.string_weights import USUAL_START_IN, WeightsAct, next_place

SPEED = "arrow_speed"
SPEEDS_FOR_ARROW = (300.0, 350.0, 400.0, 450.0, 500.0)
"""Masses for which a speed is predicted where unlike arrows were shot. [gr]"""
BY_TWIN_SHARE = 0.05
"""How far off a speed by the twin's energy is, as a share of the difference in mass: our figure."""


@dataclass(frozen=True)
class SpeedBoard:
    """The strings since the last change and those before it, what they say, and what to shoot next.

    `weights` is the next act of the experiment with string weights; None until one is begun.
    """

    now: tuple[SpeedString, ...]
    earlier: tuple[SpeedString, ...]
    next_shot: str
    said: tuple[str, ...]
    predicted: tuple[tuple[float, float, float], ...] = ()
    """Mass [gr], speed and its standard uncertainty [ft/s], by the arrows shot."""
    weights: WeightsAct | None = None

    @property
    def act(self) -> Act:
        """What to do now at the chronograph."""
        return self.weights or Act(self.next_shot)


def speed_board(
    facts: Facts,
    shots: Sequence[SpeedShot],
    twin: Twin | None = None,
    weights_at_in: float | None = None,
) -> SpeedBoard:
    """Everything that was shot over the chronograph on a job.

    Parameters
    ----------
    facts : Facts
        With the readings of the job's own arrow and with what was changed.
    shots : sequence of SpeedShot
        Other arrows, and shots with string weights.
    twin : Twin, optional
        By which the stored energy is known.
    weights_at_in : float, optional
        Where the string weights sit. [in]
    """
    now = _since_last_change(facts, shots)
    every = strings_of([*own_shots(facts), *shots], _changed_at(facts))
    earlier = tuple(one for one in every if one not in now)
    plain = [one for one in now if one.weights_in is None]
    tried = [one for one in now if one.weights_in is not None]
    bow = bow_by_arrows([one for one in plain if one.finished])
    said = [*_before_and_after(plain, earlier), *_energy(facts, plain, twin)]
    predicted: list[tuple[float, float, float]] = []
    if bow is not None and bow.clear:
        said.append(
            f"By {bow.arrows} arrows, {bow.mass_gr:.0f} gr of the bow move with the arrow, give or take "
            f"{bow.mass_sigma:.0f}."
        )
        predicted = [(mass, *bow.speed_of(mass)) for mass in SPEEDS_FOR_ARROW]
    elif bow is not None and not bow.agree:
        said.append(
            f"The {bow.arrows} arrows do not go together by their masses and speeds: weigh them again, and "
            "look for one that is drawn or released in another way."
        )
    elif bow is not None:
        said.append(
            f"{bow.arrows} arrows were shot, but their speeds are too alike to say what moves with them: "
            "take arrows farther apart in mass."
        )
    start = USUAL_START_IN if weights_at_in is None else weights_at_in
    weights = next_place(tried, start) if tried else None
    return SpeedBoard(
        now, earlier, _next_shot(plain, tried), tuple(said), tuple(predicted), weights
    )


def own_shots(facts: Facts) -> list[SpeedShot]:
    """Readings of the arrow that the bow is set up for, as shots; none while its mass is not known."""
    arrow, name = facts.on_bow.arrow, str(facts.on_bow.of(ARROW).get("name", ""))
    if arrow is None:
        return []
    low, high = quantity(SPEED).limits
    return [
        SpeedShot(take.seq, take.value, arrow.mass_gr, name)
        for take in facts.takes
        if take.quantity == SPEED and take.value is not None and low <= take.value <= high
    ]


def say_speeds(facts: Facts, shots: Sequence[SpeedShot] = ()) -> list[str]:
    """Every arrow's speed since the last change, in sentences for the customer."""
    return [
        f"{_named(one)}, {one.mass_gr:g} gr: {one.mean:.0f} fps, {len(one.shots)} shots."
        for one in _since_last_change(facts, shots)
        if one.weights_in is None
    ]


def predicted_speed(
    facts: Facts, mass_gr: float, shots: Sequence[SpeedShot] = (), twin: Twin | None = None
) -> tuple[float, float] | None:
    """How fast an arrow of some mass would fly and the standard uncertainty of that. [ft/s]

    By the arrows that were shot since the last change; else by the job's own arrow and the energy that the
    twin stores. None where neither is known.

    Parameters
    ----------
    facts : Facts
        With the speed of the job's own arrow.
    mass_gr : float
        The other arrow. [gr]
    shots : sequence of SpeedShot
        Other arrows over the chronograph.
    twin : Twin, optional
        By which the stored energy is known.
    """
    plain = [one for one in _since_last_change(facts, shots) if one.weights_in is None]
    bow = bow_by_arrows([one for one in plain if one.finished])
    if bow is not None and bow.clear:
        return bow.speed_of(mass_gr)
    if twin is None or not plain:
        return None
    own = plain[0]
    shooting = shooting_now(facts, twin, own.mass_gr, own.mean)
    if shooting.doubt:
        return None
    doubt = BY_TWIN_SHARE * abs(mass_gr - own.mass_gr) / own.mass_gr * own.mean
    return shooting.speed_of(mass_gr), hypot(own.sigma, doubt)


def shooting_now(facts: Facts, twin: Twin, mass_gr: float, fps: float) -> Shooting:
    """What the bow does with an arrow: the twin's stored energy, at the peak weight that was read.

    Parameters
    ----------
    facts : Facts
        With the peak weight, if it has been read.
    twin : Twin
        The bow as it is turned now.
    mass_gr : float
        The arrow. [gr]
    fps : float
        Its speed. [ft/s]
    """
    read = facts.current("peak_weight")
    share = read.summary.value / twin.peak_weight_lbf if read and read.summary else 1.0
    return Shooting(share * twin.stored_energy_inlbf() / INCHES_A_FOOT, mass_gr, fps)


def why_speed_doubted(
    facts: Facts, twin: Twin | None, fps: float, mass_gr: float | None = None
) -> str:
    """Why a speed does not go with the arrow's mass and the bow's weight, in a sentence; "" if it does, or if
    they are not known. `mass_gr` is another arrow than the job's own. [ft/s, gr]"""
    own = facts.on_bow.arrow
    mass = mass_gr or (own.mass_gr if own else None)
    if twin is None or mass is None:
        return ""
    return shooting_now(facts, twin, mass, fps).doubt


def say_least_mass(facts: Facts) -> str:
    """The least that an arrow may weigh at the weight that was read; "" while it was not."""
    read = facts.current("peak_weight")
    if read is None or read.summary is None:
        return ""
    least = least_mass_gr(read.summary.value)
    return f"Least mass at {read.summary.value:.1f} lbf: {least:.0f} gr; the maker may want more."


def _since_last_change(facts: Facts, shots: Sequence[SpeedShot]) -> tuple[SpeedString, ...]:
    changed = _changed_at(facts)
    strings = strings_of([*own_shots(facts), *shots], changed)
    last = changed[-1] if changed else 0
    return tuple(one for one in strings if one.shots[0].seq >= last)


def _changed_at(facts: Facts) -> list[int]:
    stale_after = quantity(SPEED).stale_after - {Change.SHOTS}
    return sorted(one.seq for one in facts.changes if one.change in stale_after)


def _before_and_after(now: Sequence[SpeedString], earlier: Sequence[SpeedString]) -> list[str]:
    """The newest string of each arrow against the first one of the same arrow."""
    said = []
    for string in now:
        first = next((one for one in earlier if _same_arrow(one, string)), None)
        if first is None:
            continue
        change = compared(first, string)
        way = "faster" if change.faster_fps > 0 else "slower"
        size = f"{abs(change.faster_fps):.1f} fps {way}"
        sure = (
            "more than the doubt of the two strings"
            if change.clear
            else "no more than the doubt of the two strings"
        )
        said.append(
            f"{_named(string)}: {size} than before the work, give or take {change.sigma:.1f}; {sure}."
        )
    return said


def _same_arrow(one: SpeedString, other: SpeedString) -> bool:
    return (one.arrow, one.mass_gr, one.weights_in) == (
        other.arrow,
        other.mass_gr,
        other.weights_in,
    )


def _energy(facts: Facts, strings: Sequence[SpeedString], twin: Twin | None) -> list[str]:
    """Energy and momentum of every arrow, and what share of the stored energy goes with it."""
    said = []
    for one in strings:
        energy, push = energy_ft_lbf(one.mass_gr, one.mean), momentum_lb_s(one.mass_gr, one.mean)
        words = f"{_named(one)}, {one.mass_gr:g} gr: {energy:.1f} ft lbf, momentum {push:.2f} lbf s"
        shooting = None if twin is None else shooting_now(facts, twin, one.mass_gr, one.mean)
        if shooting is not None and shooting.doubt:
            said.append(f"{words}. {shooting.doubt}")
        elif shooting is not None:
            said.append(f"{words}, {shooting.efficiency:.0%} of what the bow stores by the twin.")
        else:
            said.append(f"{words}.")
    return said


def _next_shot(plain: Sequence[SpeedString], tried: Sequence[SpeedString]) -> str:
    """What to shoot next, in a sentence."""
    if not plain and not tried:
        return f"Shoot {LEAST_SHOTS} of the archer's own arrow."
    unfinished = next((one for one in reversed(plain) if not one.finished), None)
    scattered = next((one for one in reversed(plain) if not one.agrees), None)
    if unfinished is None and scattered is not None:
        shots = f"{len(scattered.shots)} shots of {_named(scattered)}"
        return (
            f"{shots} are {scattered.spread:.0f} fps apart. Look at battery, light and distance, then at the "
            "draw; shoot it again, or go on."
        )
    if unfinished is None:
        return "That is a good string. Shoot another arrow, or go on."
    missing = max(LEAST_SHOTS - len(unfinished.shots), 1)
    return f"Shoot {missing} more of {_named(unfinished)}: three within 2 fps are a string."


def _named(one: SpeedString) -> str:
    return one.arrow or f"the arrow of {one.mass_gr:g} gr"
