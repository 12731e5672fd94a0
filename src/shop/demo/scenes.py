"""The demo shop's jobs: every stage of the work, every family of cams."""

from collections.abc import Callable
from decimal import Decimal
from typing import Any

from bowcore.evidence.shots import ShotTest
from bowcore.stages.hand_over.blockers import blockers
from bowcore.stages.stabiliser.bars import Bars, PinFloat
from bowcore.work_order.services import SHOOT_IN
from shop.casework.readings.actions.leave_it import leave_it
from shop.demo.job_script import CABLE, JobScript
from shop.stages.back_to_spec.actions.choose_policy import choose_policy
from shop.stages.replace.actions.small_parts import put_in_tray

ALL_NEW = ["replace_cable_a", "replace_cable_b", "replace_string", "back_to_spec"]


def to_plan(script: JobScript) -> None:
    """Everything read after a cable: the plan waits on the screen."""
    script.check_in(CABLE)
    script.inspect()
    script.baseline()
    script.replace("cable_a", -0.045)
    script.read_asked()


def half_baseline(script: JobScript) -> None:
    script.check_in(["replace_cable_b", "back_to_spec"])
    script.inspect()
    script.read("axle_to_axle", "brace_height")


def arrived(script: JobScript) -> None:
    script.check_in(CABLE, tag="bow 4", note="School league bow")


def waits_for_set(script: JobScript) -> None:
    script.check_in(CABLE, waits=["set"])
    script.inspect(servings=("watch", "end serving worn"))
    script.baseline()


def cracked(script: JobScript) -> None:
    script.check_in(["back_to_spec"])
    script.inspect(limbs_bottom=("stop", "lower limb, at the pocket"))


def to_hand_over(script: JobScript) -> None:
    script.check_in(["back_to_spec"])
    script.inspect()
    script.came_in(cable_a=0.06)
    script.baseline()
    for _ in range(4):
        if _settled(script):
            return
        script.follow_plan()
        script.read_asked()


def press_open(script: JobScript) -> None:
    script.check_in(["replace_cable_b", "back_to_spec"])
    script.inspect()
    script.baseline()
    script.replace("cable_b", 0.03, gate=False)
    put_in_tray(script.job.pk, script.submission(), "string stop")


def to_read_again(script: JobScript) -> None:
    script.check_in(["replace_cable_b", "back_to_spec"])
    script.inspect()
    script.baseline()
    script.replace("cable_b", 0.04)
    script.read("axle_to_axle", "brace_height")


def hybrid_to_plan(script: JobScript) -> None:
    script.check_in(["replace_cable_b", "back_to_spec"], model="Pilot 33")
    script.inspect()
    script.baseline()
    script.replace("cable_b", 0.05)
    script.read_asked()


def unguided(script: JobScript) -> None:
    script.check_in(["back_to_spec"], model="Sarn 35")


def finished(script: JobScript) -> None:
    to_hand_over(script)
    leave_it(script.job.pk, script.submission(), ["nock_to_peep"], "the archer has set it")
    if _settled(script):
        script.hand_over()


STRING = ["replace_string", "back_to_spec"]
OWN_ARROW = {
    "name": "Own carbon, 340", "whose": "own", "mass_gr": "412", "length_in": "28 1/4", "shaft_in": "0.246",
    "nock": "press-fit", "nock_in": "0.25", "spine": "340", "point_gr": "100", "balance_in": "16",
}  # fmt: skip
DROP_AWAY = {
    "kind": "drop_cable", "driver": "cable_b", "clamp_in": "15", "set_screw": "in", "room_up_in": "3/16",
    "room_down_in": "3/16", "centre_by": "book",
}  # fmt: skip


def _new_string(script: JobScript, **more: Any) -> None:
    """A new string on, everything else as it was, back in its bands."""
    script.check_in(STRING, **more)
    script.inspect()
    script.new_string_sits(
        nock_height=0.125, arrow_level=0.125, centre_shot=0.1, nock_to_peep=-0.1875, peep_turn=-24,
        nock_gap=-0.02, cord_up=2.5, arrow_speed=-4,
    )  # fmt: skip
    script.baseline()
    script.read("arrow_speed")
    script.replace("string", 0.0)
    script.back_to_spec()


def at_fit(script: JobScript) -> None:
    """Back in its bands with a new string; its arrow is named, the first numbers of the fit are read."""
    _new_string(script)
    script.on_the_bow("arrow", **OWN_ARROW)
    script.on_the_bow("rest", **DROP_AWAY)
    script.on_the_bow("ties", school="both")
    script.on_the_bow(
        "sight", name="five pins", peep_to_pin_in="31 1/2", eye_above_arrow_in="4 1/4"
    )
    script.read("arrow_speed", "nock_to_peep", "nock_height", "arrow_level")


def without_an_arrow(script: JobScript) -> None:
    """Back in its bands; nobody has written the arrow down."""
    _new_string(script, model="Pilot 33", arrows="")


def clamp_without_place(script: JobScript) -> None:
    """Its rest's cord was clamped where the new serving leaves no room: it runs onto the cam."""
    _new_string(script, model="Quill 34")
    script.on_the_bow("arrow", **OWN_ARROW)
    script.on_the_bow("rest", **(DROP_AWAY | {"clamp_in": "1 1/2"}))


def at_paper(script: JobScript) -> None:
    """Back in its bands, and it tears high: the timing is cleared, the rest is looked at for contact."""
    _shot_in(script, arrows="own arrows, 412 gr")
    for x, y in ((0.06, 0.5), (0.0, 0.44), (-0.06, 0.47)):
        script.shot(x, y)
    script.looked_at("pinch", found=False)


def _shot_in(script: JobScript, **more: Any) -> None:
    """In its bands, with its arrow, to be shot in."""
    script.check_in([SHOOT_IN], **more)
    script.inspect()
    script.baseline()
    script.back_to_spec()
    script.on_the_bow("arrow", **OWN_ARROW)


OWN_DOZEN = (
    412.3, 411.8, 414.9, 412.1, 410.2, 412.4, 411.9, 415.6, 412.0, 409.4, 412.2, 413.1,
)  # fmt: skip


def at_walk_back(script: JobScript) -> None:
    """Clean through paper; the impacts drift to the right with the distance, and the string weights are being
    tried."""
    _shot_in(script, model="Pilot 33", arrows="own arrows, 412 gr")
    for x, y in ((0.03, 0.06), (-0.03, 0.05)):
        script.shot(x, y)
    for yards, x in ((20, 0.4), (25, 0.9), (30, 1.5), (35, 1.8)):
        script.shot_at(ShotTest.WALK_BACK, yards, x, 0.3)
    script.speeds("245", "246", "245")
    script.speeds("229", "228", "229", arrow="Heavy points", mass_gr=487)
    for place, speeds in ((1.0, "244 244 245"), (1.375, "246 246 247"), (1.75, "246 247 247")):
        script.speeds(*speeds.split(), weights_in=place)
    script.weighed("Own dozen", *OWN_DOZEN)
    script.held_with(Bars(10, 5, 8, 7), PinFloat.DIPS, 2)
    script.held_with(Bars(10, 5, 8, 8), PinFloat.DIPS, 3)


def hand_torque(script: JobScript) -> None:
    """It tears to the left for this archer and not for another one: the hand, not the bow."""
    _shot_in(script, model="Quill 34", arrows="own arrows, 412 gr")
    for x, y in ((-0.4, 0.05), (-0.44, 0.0), (-0.38, 0.06)):
        script.shot(x, y)
    for x, y in ((-0.06, 0.05), (0.03, 0.03)):
        script.shot(x, y, shooter="R. Aldane")


def in_contact(script: JobScript) -> None:
    """It tears high, and the powder is rubbed off the rest: the arrow touches it."""
    _shot_in(script, arrows="own arrows, 412 gr")
    for x, y in ((0.0, 0.5), (0.1, 0.6), (0.0, 0.4)):
        script.shot(x, y)
    script.looked_at("contact_up", found=True)


def _settled(script: JobScript) -> bool:
    state = script.state()
    return not blockers(state.judged, state.bands)


def twin_ordered(script: JobScript) -> None:
    script.check_in(ALL_NEW, model="Quill 34")
    script.inspect(string=("replace", "fuzzy at both cams"))
    script.baseline()
    script.order_set()


def hybrid_set_here(script: JobScript) -> None:
    script.check_in(["replace_string", *CABLE], model="Pilot 33")
    script.inspect()
    script.baseline()
    script.order_set()
    script.set_arrives()


def single_to_tug(script: JobScript) -> None:
    script.check_in(["replace_cable_b", "back_to_spec"], model="Sarn 35", fitted=["peep"])
    script.inspect()
    script.baseline()
    script.replace("cable_b", 0.05, judge=False)
    script.read("axle_to_axle", "brace_height", "stop_gap")


def beyond_parallel(script: JobScript) -> None:
    script.check_in(["replace_cable_b", "back_to_spec"], model="Heron 29", path="new_setup")
    script.inspect()
    script.baseline()


def wrong_part(script: JobScript) -> None:
    script.check_in(["replace_cable_b", "back_to_spec"])
    script.inspect()
    script.baseline()
    script.replace("cable_b", -0.4, judge=False)
    script.read("axle_to_axle", "brace_height")
    script.tugged("cable_b", "toward", Decimal("0.1875"))


def twin_to_plan(script: JobScript) -> None:
    script.check_in(["back_to_spec"], model="Quill 34")
    script.inspect()
    script.came_in(cable_a=0.02, cable_b=-0.03)
    script.baseline()


def leaning(script: JobScript) -> None:
    """Its top cam leans; this customer wants it upright."""
    script.check_in(["back_to_spec"], note="Wants the cams upright")
    script.inspect()
    script.came_in(cable_a=0.06, lean=0.3)
    script.baseline()
    script.read("lean", "lean_bottom")
    choose_policy(script.job.pk, script.submission(), {"upright": True})


SCENES: list[tuple[Callable[[JobScript], None], int]] = [
    (to_plan, 1), (half_baseline, 1), (waits_for_set, 2), (cracked, 3), (to_hand_over, 0),
    (to_read_again, 2), (press_open, 5), (arrived, 2), (unguided, 6), (finished, 1), (hybrid_to_plan, 3),
    (twin_ordered, 6), (hybrid_set_here, 2), (single_to_tug, 1), (beyond_parallel, 4), (wrong_part, 3),
    (twin_to_plan, 5), (leaning, 4), (at_fit, 1), (without_an_arrow, 2), (clamp_without_place, 4),
    (at_paper, 2), (at_walk_back, 3), (hand_torque, 4), (in_contact, 5),
]  # fmt: skip
