"""Looking a bow over: what is looked at, what each finding means for the job."""

from dataclasses import dataclass

from bowcore.errors import BadInput
from bowcore.service import cautions


@dataclass(frozen=True)
class Place:
    """Something to look at. `danger` is the hold that a stop-finding puts on the job, if any."""

    key: str
    name: str
    look_for: str
    bad_words: str
    danger: str = ""


PLACES = (
    Place("strands", "Strings and cables", "cut or broken strands, fuzz, dry wax", "Broken strand",
          "do_not_draw"),
    Place("servings", "Servings", "separated, slipped, worn through", "Serving open"),
    Place("limbs", "Limbs", "cracks, splinters, lifting edges", "Limb crack", "service"),
    Place("cams", "Cams and axles", "nicks, bent axle, cam rubbing", "Cam or axle damage", "service"),
    Place("clips", "Clips and set screws", "axle clips in, no screw loose", "Clip or screw missing",
          "do_not_draw"),
    Place("peep", "Peep and loop", "peep turning, loop worn", "Peep or loop worn"),
)  # fmt: skip

OUTCOMES = {"fine": "Fine", "watch": "Watch", "stop": "Stop"}


@dataclass(frozen=True)
class HoldKind:
    """Why a job waits. `stops` lists what may not be done: draw, press, replace, hand_over."""

    key: str
    name: str
    stops: tuple[str, ...]
    caution: str

    @property
    def danger(self) -> bool:
        """Whether it is about safety: a bow that is not to be drawn."""
        return "draw" in self.stops


HOLDS = {
    hold.key: hold
    for hold in (
        HoldKind("do_not_draw", "Do not draw", ("draw", "hand_over"), cautions.DO_NOT_DRAW),
        HoldKind(
            "service", "Maker's service", ("draw", "press", "hand_over"),
            f"{cautions.DO_NOT_DRAW} {cautions.SERVICE}",
        ),
        HoldKind("set", "Waits for its string set", ("replace",), "Lift it when the set is here."),
        HoldKind("arrows", "Waits for the arrows", (), ""),
        HoldKind("customer", "Waits for the customer", (), ""),
    )
}  # fmt: skip


def place(key: str) -> Place:
    """The place of that key; BadInput if there is none."""
    for candidate in PLACES:
        if candidate.key == key:
            return candidate
    raise BadInput(f"There is no place '{key}'.", "place", ", ".join(p.key for p in PLACES))


def hold_for(place_key: str, outcome: str) -> HoldKind | None:
    """The hold that a finding puts on the job, or None.

    Parameters
    ----------
    place_key : str
        Where it was seen.
    outcome : str
        "fine", "watch" or "stop".

    Returns
    -------
    HoldKind or None
        Only a stop-finding at a dangerous place holds the job.
    """
    if outcome not in OUTCOMES:
        raise BadInput(f"'{outcome}' is not an outcome.", "outcome", ", ".join(OUTCOMES))
    danger = place(place_key).danger
    return HOLDS[danger] if outcome == "stop" and danger else None


def stopped_by(holds: tuple[str, ...], act: str) -> HoldKind | None:
    """The first active hold that stops an act ("draw", "press", "hand_over"), or None."""
    for key in holds:
        if act in HOLDS[key].stops:
            return HOLDS[key]
    return None
