"""Every kind of change that can make a reading stale.

A quantity lists the changes it depends on (`Quantity.stale_after`); an adjuster belongs to one of
them. The dependencies are common practice with no published source.
"""

from enum import StrEnum


class Change(StrEnum):
    """A kind of change to a bow."""

    CABLE = "cable"
    YOKE_LEG = "yoke_leg"
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
