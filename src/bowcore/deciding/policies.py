"""What good technicians differ in when they turn things: the shop chooses, a job may differ."""

from collections.abc import Mapping
from dataclasses import dataclass

from bowcore.bow.specification import CABLE_B
from bowcore.deciding.problem import TuningPolicy
from bowcore.errors import BadInput

TOP_FIRST_IN = 3 / 32
"""How much the top stop leads where the book does not say: 1/16 to 1/8 in (common practice)."""


@dataclass(frozen=True)
class PolicyChoice:
    """One question of the policy, with what is said for either answer and why a shop says yes."""

    key: str
    yes: str
    no: str
    why: str
    usual: bool = False

    def words(self, chosen: bool) -> str:
        """The answer in words."""
        return self.yes if chosen else self.no


CHOICES = {
    one.key: one
    for one in (
        PolicyChoice("half_twists", "half twists too", "whole twists only",
                     "A half can open the serving at the end loop; some shops turn only whole twists.",
                     True),
        PolicyChoice("shorten_only", "only ever in", "in and out",
                     "Only shorten what has stretched."),
        PolicyChoice("keep_length", "keep axle to axle", "axle to axle may move",
                     "As much as one cable gets shorter, the other gets longer."),
        PolicyChoice("leave_buss", "leave the bottom cam's cable", "any cable",
                     "A served buss cable is not touched after it is set."),
        PolicyChoice("top_first", "top stop a little first", "both stops together",
                     "Some find the hold firmer; by the book's figure, or 1/16 to 1/8 in where it has none."),
        PolicyChoice("top_open", "if one is open, rather the top", "neither stop preferred",
                     "On binaries some shops leave the top stop a hair open, never the bottom one."),
        PolicyChoice("gap_as_was", "stop gap as it came in", "stop gap by the shop's target",
                     "What is put back for the same archer keeps the feel at the stops that it had."),
        PolicyChoice("trial_first", "one trial step first", "the whole computed step",
                     "On a bow that has not answered yet: half a twist, look, then the rest."),
        PolicyChoice("upright", "cams upright at full draw", "lean left as it came in",
                     "Measured on the draw board. Without it a bow leans afterwards as it came in."),
    )
}  # fmt: skip


def policy_choice(key: str) -> PolicyChoice:
    """The question of that key; BadInput if it does not exist."""
    if key not in CHOICES:
        raise BadInput(f"There is no policy '{key}'.", "policy", ", ".join(CHOICES))
    return CHOICES[key]


def tuning_policy(chosen: Mapping[str, bool], book_top_first_in: float = 0.0) -> TuningPolicy:
    """The planner's policy from the answers.

    Parameters
    ----------
    chosen : mapping of str to bool
        The answer to every choice.
    book_top_first_in : float
        How much the top stop leads by the book; 0 if it does not say. [in]

    Returns
    -------
    TuningPolicy
        As the planner takes it.
    """
    leads = (book_top_first_in or TOP_FIRST_IN) if chosen["top_first"] else 0.0
    return TuningPolicy(
        chosen["half_twists"],
        chosen["shorten_only"],
        chosen["keep_length"],
        (CABLE_B,) if chosen["leave_buss"] else (),
        leads,
        chosen["upright"],
        chosen["trial_first"],
        chosen["top_open"],
        chosen["gap_as_was"],
    )
