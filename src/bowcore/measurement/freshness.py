"""What a change makes stale. A reading is true until something it depends on has moved.

The table is common practice with no published source. `TABLE[change]` lists the quantities that
must be read again after that kind of change; everything else stays good.
"""

from collections.abc import Iterable
from dataclasses import dataclass

from bowcore.quantities.catalogue import AT_REST, LEANS

_TEARS = ("tear_vertical", "tear_lateral")
_FROM_LENGTHS = (
    "axle_to_axle", "brace_height", "peak_weight", "holding_weight", "draw_length", "cam_rotation",
    *AT_REST, "stop_gap", "rest_cord_timing", *_TEARS, "arrow_speed", "force_early",
    "force_late",
)  # fmt: skip

TABLE: dict[str, tuple[str, ...]] = {
    "cable": (*_FROM_LENGTHS, *LEANS),
    "yoke_leg": (*_FROM_LENGTHS, *LEANS),
    "spacer": (*_FROM_LENGTHS, *LEANS),
    "shim": (*_FROM_LENGTHS, *LEANS),
    "string": (*_FROM_LENGTHS, "peep_angle", "nock_height"),
    "limb_bolt": (
        "peak_weight", "holding_weight", "axle_to_axle", "brace_height", "tiller", *AT_REST,
        "bow_level", "nock_height", *_TEARS, "arrow_speed", "sight", "force_early", "force_late",
    ),
    "module_or_stop": (
        "draw_length", "let_off", "holding_weight", "stop_gap", "rest_cord_timing", "peep_height",
        "arrow_fit", "force_early", "force_late",
    ),
    "peep": ("peep_angle", "loop_angle", "nock_to_peep", "sight"),
    "loop_or_ties": (
        "nock_height", "nock_fit", "nock_to_peep", "nock_to_kisser", "loop_length", "arrow_level",
        "tear_vertical",
    ),
    "rest": ("centre_shot", "arrow_level", "rest_cord_timing", *_TEARS, "sight"),
    "arrow_or_nock": ("nock_fit", "nock_height", *_TEARS, "arrow_speed", "minimum_mass"),
    "shots_on_new_threads": (
        *_FROM_LENGTHS, *LEANS, "peep_angle", "nock_height", "nock_to_peep", "nock_to_kisser",
    ),
}  # fmt: skip
"""Kind of change -> quantities that it makes stale."""


@dataclass(frozen=True)
class Event:
    """Something that happened to a bow, in the order of the job's facts."""

    seq: int
    change: str


def stale_since(quantity: str, read_at: int, changes: Iterable[Event]) -> Event | None:
    """The first change after a reading that made it stale, or None while it is still true.

    Parameters
    ----------
    quantity : str
        Its key in the catalogue.
    read_at : int
        Place of the reading in the order of the job's facts.
    changes : iterable of Event
        What was changed on the bow.

    Returns
    -------
    Event or None
        The change to blame.
    """
    later = [e for e in changes if e.seq > read_at and quantity in TABLE[e.change]]
    return min(later, key=lambda event: event.seq, default=None)
