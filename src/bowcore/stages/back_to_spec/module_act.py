"""Another draw length by another module: which one gives it, and its neighbours (common practice).

The module or the stop's position comes first; timing and the last eighth come after it, in string and cables.
"""

from dataclasses import dataclass

from bowcore.adjusters.adjuster import written_down
from bowcore.bow.modules import Module
from bowcore.bow.specification import BowSpec
from bowcore.deciding.act import Act
from bowcore.evidence.facts import Facts
from bowcore.measurement.bands import Band, judge_as_shown
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.changes import Change
from bowcore.quantities.inches import say_length
from bowcore.work_order.needs import MODULE_MARKS

BY_STRING_IN = 1 / 4
"""So much of draw length string and cables give; what is further off is another module (common practice)."""
CLEARANCE_IN = 1 / 2
"""Least that an arrow reaches beyond the rest at full draw: our figure; a shop may want more."""
DRAW_OFFSET_IN = 1.75
"""From the throat to what draw length is measured to (the trade's own standard, from memory)."""


@dataclass(frozen=True, kw_only=True)
class ModuleAct(Act):
    """What to set the modules to; the caution is what the arrow's length says to the new draw length.

    Attributes
    ----------
    sets_to : str
        The module as it is written down afterwards; "" where the book lists none that comes near.
    neighbours : tuple of Module
        The next ones on either side.
    """

    sets_to: str = ""
    neighbours: tuple[Module, ...] = ()


def module_act(spec: BowSpec, facts: Facts, band: Band | None) -> ModuleAct | None:
    """Another module for the draw length that the customer wants; None where string and cables do it, or a
    module has been changed for it already.

    Parameters
    ----------
    spec : BowSpec
        With the model's modules, if its book lists them.
    facts : Facts
        With the draw length as it was read.
    band : Band or None
        Of the draw length.
    """
    now = facts.current("draw_length")
    if not facts.draw_asked or band is None or now is None or now.summary is None or not now.fresh:
        return None
    what = QUANTITIES["draw_length"]
    off = now.summary.value - band.target
    changed = any(one.change is Change.MODULE_OR_STOP for one in facts.changes)
    if changed or judge_as_shown(what, band, now.summary.value).inside:
        return None
    if abs(off) <= BY_STRING_IN:
        return None
    wanted, (caution, stop) = band.target, _shaft(facts, band.target)
    read = f"It draws {what.say(now.summary.value)} in; {what.say(wanted)} in is wanted."
    steps = sorted(spec.modules, key=lambda one: (one.off_in(wanted), one.low_in))
    if not steps:
        do = f"Change the module or move the stops, both cams alike, for {say_length(wanted, 8)}."
        why = f"{read} The model's list is not in the book."
        return ModuleAct(do, why, caution=caution, stop=stop)
    best = steps[0]
    nearly = (
        ""
        if best.off_in(wanted) == 0
        else f" It is the nearest: off by {say_length(best.off_in(wanted), 8)}."
    )
    do = f"Module {best.words()}: put it on {_both(spec)}."
    return ModuleAct(
        do,
        f"{read}{nearly}",
        caution=caution,
        sets_to=best.name,
        neighbours=_beside(spec, best),
        stop=stop,
    )


def _both(spec: BowSpec) -> str:
    return "the cam" if spec.one_cam else "both cams"


def _beside(spec: BowSpec, best: Module) -> tuple[Module, ...]:
    in_order = sorted(spec.modules, key=lambda one: one.low_in)
    at = in_order.index(best)
    return tuple(in_order[max(at - 1, 0) : at] + in_order[at + 1 : at + 2])


def _shaft(facts: Facts, draw_in: float) -> tuple[str, bool]:
    """Whether the arrow still reaches beyond the rest at the new draw length."""
    arrow = facts.on_bow.arrow
    if arrow is None:
        return "Check that the arrow is still long enough for the rest.", False
    beyond = arrow.length_in - (draw_in - DRAW_OFFSET_IN)
    if beyond <= 0:
        short = f"{say_length(-beyond, 8)} short of" if beyond < 0 else "no longer than"
        return (
            f"This arrow is too short for it: {short} the rest at full draw. Do not draw it with this arrow.",
            True,
        )
    if beyond < CLEARANCE_IN:
        return f"This arrow then reaches only {say_length(beyond, 8)} beyond the rest.", False
    return "", False


def module_now(facts: Facts) -> str:
    """The module that is written down, "" where nobody knows."""
    found = [written_down(facts, key) for key in MODULE_MARKS]
    return next((text for text in found if text), "")
