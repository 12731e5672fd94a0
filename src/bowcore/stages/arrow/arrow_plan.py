"""What an arrow that is put together would be on this bow: mass, balance, spine, speed, may it be shot."""

from collections.abc import Sequence
from dataclasses import dataclass

from bowcore.accessories.arrow_build import (
    ArrowParts,
    SortedSet,
    SpineHint,
    spine_hint,
)
from bowcore.accessories.arrow_speed import energy_ft_lbf, momentum_lb_s
from bowcore.bow.twin import Twin
from bowcore.evidence.facts import Facts
from bowcore.quantities.inches import say_length
from bowcore.stages.fit.fit_needs import mass_too_light
from bowcore.stages.speed.speed_board import predicted_speed
from bowcore.stages.speed.speed_strings import SpeedShot

USUAL_INSERT_GR = 20.0
"""Charts of spine count points over an insert of about so much: our figure."""


@dataclass(frozen=True)
class ArrowPlan:
    """An arrow by its parts, said in sentences; `stop` is why it is not to be shot, "" if it may be."""

    parts: ArrowParts
    hint: SpineHint | None
    said: tuple[str, ...]
    stop: str


def read_value(facts: Facts, name: str) -> float | None:
    """A quantity as it was read last; None where it never was."""
    now = facts.current(name)
    return None if now is None or now.summary is None else now.summary.value


def plan_arrow(
    facts: Facts,
    parts: ArrowParts,
    spine: float | None = None,
    shots: Sequence[SpeedShot] = (),
    twin: Twin | None = None,
) -> ArrowPlan:
    """Everything that can be said of an arrow before it is made.

    Parameters
    ----------
    facts : Facts
        With peak weight and the speeds that were read.
    parts : ArrowParts
        What it is to be made of.
    spine : float, optional
        The class that was chosen.
    shots : sequence of SpeedShot
        Other arrows that were shot over the chronograph.
    twin : Twin, optional
        By which the stored energy is known.
    """
    peak = read_value(facts, "peak_weight")
    mass = parts.mass_gr
    said = [
        f"{mass:.0f} gr complete. Balance point {say_length(parts.balance_in, 16)} from the nock groove: FOC "
        f"{parts.forward_of_centre:.1%}, give or take {parts.balance_sigma_in / parts.length_in:.1%}."
    ]
    hint = None
    if peak is not None:
        point = parts.point_gr + max(parts.insert_gr - USUAL_INSERT_GR, 0.0)
        hint = spine_hint(peak, parts.length_in, point)
        bow = f"{peak:.1f} lbf, {say_length(parts.length_in, 16)} and {point:g} gr in front"
        said.append(_say_hint(hint, spine, bow))
    speed = predicted_speed(facts, mass, shots, twin)
    if speed is not None:
        energy, push = energy_ft_lbf(mass, speed[0]), momentum_lb_s(mass, speed[0])
        said.append(
            f"From this bow about {speed[0]:.0f} fps, give or take {max(speed[1], 1):.0f}: "
            f"{energy:.1f} ft lbf, momentum {push:.2f} lbf s."
        )
    return ArrowPlan(parts, hint, tuple(said), mass_too_light(facts, mass))


def _say_hint(hint: SpineHint, spine: float | None, bow: str) -> str:
    words = (
        f"Spine: a class of about {hint.spine:.0f}, between {hint.least:.0f} and {hint.most:.0f}, for {bow}. "
        "A hint; the arrow maker's chart outranks it."
    )
    if spine is None or hint.least <= spine <= hint.most:
        return words
    return f"{words} {spine:g} is {'stiffer' if spine < hint.least else 'softer'} than that."


def say_set(found: SortedSet) -> list[str]:
    """The chosen arrows and what is left, in sentences."""
    numbers = ", ".join(one.number for one in found.best)
    spine = f", {found.spine_spread:g} in spine" if found.spine_spread else ""
    said = [
        f"Shoot together: {numbers}. {found.mass_spread_gr:.1f} gr between the lightest and the "
        f"heaviest{spine}."
    ]
    if found.others:
        said.append(f"Not in the set: {', '.join(one.number for one in found.others)}.")
    if found.broken:
        broken = ", ".join(one.number for one in found.broken)
        said.append(f"Broken, do not shoot them, break them in two: {broken}.")
    return said
