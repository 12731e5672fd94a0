"""What measuring the cam by caliper would do for the plan; it takes a second plan to say."""

from bowcore.bow.cam_radii import CamRadii
from bowcore.errors import BowcoreError
from bowcore.stages.back_to_spec import by_caliper
from shop.casework.engine.priors import fingerprint
from shop.casework.state import JobState


def surer_key(state: JobState) -> str:
    """Alike while nothing has changed that the answer depends on."""
    job, shop = state.job, state.shop
    depends_on = (str(job.opened_at), shop.length_unit, repr(state.policy))
    return f"surer-{job.pk}-{job.version}-{fingerprint(state.spec, *depends_on)}"


def caliper_would_say(state: JobState) -> str:
    """What is known better then, in a sentence; "" where it is not worth it."""
    try:
        now = state.advice
        if not by_caliper.worth_measuring(state.spec, now):
            return ""
        then = state.advised_with(CamRadii.in_book(state.spec).on(state.spec))
    except BowcoreError:
        return ""  # the plan's own screen says what is wrong
    return by_caliper.say_surer(now, then)
