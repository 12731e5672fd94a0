"""Every kind of change that can make a reading stale.

A quantity lists the changes it depends on (`Quantity.stale_after`); an adjuster belongs to one of
them. The dependencies are common practice with no published source.
"""

from collections.abc import Collection
from enum import StrEnum


class Change(StrEnum):
    """A kind of change to a bow."""

    CABLE = "cable"
    YOKE_LEG = "yoke_leg"
    OPPOSITE_LEGS = "opposite_legs"
    """One leg in and the other out by as much: the cable is as long as before, only the cam tilts."""
    SPACER = "spacer"
    SHIM = "shim"
    STRING = "string"
    NEW_STRING = "new_string"
    LIMB_BOLT = "limb_bolt"
    MODULE_OR_STOP = "module_or_stop"
    PEEP = "peep"
    LOOP_OR_TIES = "loop_or_ties"
    LOOP = "loop"
    """A loop over ties that hold the nock by themselves: the nock stays where it is."""
    REST = "rest"
    ARROW_OR_NOCK = "arrow_or_nock"
    SHOTS = "shots_on_new_threads"


CABLE_CHANGES = frozenset({Change.CABLE, Change.YOKE_LEG, Change.SPACER, Change.SHIM, Change.SHOTS})
"""What changes the length or the pull of a cable; new threads settle with the first shots."""
LENGTH_CHANGES = CABLE_CHANGES | {Change.STRING}
"""What changes the length of any string or cable."""
ON_THE_STRING = frozenset({Change.NEW_STRING, Change.LOOP_OR_TIES, Change.SHOTS})
"""What moves a thing that sits on the string: nothing on the old string is true of a new one."""
DRAWN_CHANGES = LENGTH_CHANGES | {Change.LIMB_BOLT, Change.MODULE_OR_STOP}
"""What changes the bow at full draw: its force, its stops, its draw length."""
TIMING_CHANGES = DRAWN_CHANGES | {Change.OPPOSITE_LEGS}
"""What asks for a look at the timing: a tilted cam is checked, though its cable is as long as before."""
TEAR_CHANGES = TIMING_CHANGES | {Change.REST, Change.LOOP_OR_TIES, Change.ARROW_OR_NOCK}
"""What a shot through paper depends on."""


def kind_of_legs(steps: Collection[int]) -> Change:
    """What it is to a bow that the legs of one yoke were turned at one time by so many steps each."""
    return Change.OPPOSITE_LEGS if len(steps) > 1 and not sum(steps) else Change.YOKE_LEG
