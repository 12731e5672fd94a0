"""The demo shop's jobs: every stage of the work, every family of cams."""

from collections.abc import Callable
from decimal import Decimal

from bowcore.quantities.catalogue import REQUIRED
from bowcore.service.handover import blockers
from shop.bench.actions.choose_timing import choose_timing
from shop.demo.living import CABLE, Bench

ALL_NEW = ["replace_cable_a", "replace_cable_b", "replace_string", "back_to_spec"]


def to_plan(bench: Bench) -> None:
    """Everything read after a cable: the plan waits on the screen."""
    bench.check_in(CABLE)
    bench.look_over()
    bench.baseline()
    bench.replace("cable_a", -0.045)
    bench.read(*REQUIRED)


def half_baseline(bench: Bench) -> None:
    bench.check_in(["replace_cable_b", "back_to_spec"])
    bench.look_over()
    bench.read("axle_to_axle", "brace_height")


def arrived(bench: Bench) -> None:
    bench.check_in(CABLE, tag="bow 4", note="School league bow")


def waits_for_set(bench: Bench) -> None:
    bench.check_in(CABLE, waits=["set"])
    bench.look_over(servings=("watch", "end serving worn"))
    bench.baseline()


def cracked(bench: Bench) -> None:
    bench.check_in(["back_to_spec"])
    bench.look_over(limbs_bottom=("stop", "lower limb, at the pocket"))


def to_hand_over(bench: Bench) -> None:
    bench.check_in(["back_to_spec"])
    bench.look_over()
    bench.off(cable_a=0.03)
    bench.baseline()
    for _ in range(4):
        view_ready = _settled(bench)
        if view_ready:
            return
        bench.follow()
        bench.read_asked()


def press_open(bench: Bench) -> None:
    bench.check_in(["replace_cable_b", "back_to_spec"])
    bench.look_over()
    bench.baseline()
    bench.replace("cable_b", 0.03, gate=False)


def to_read_again(bench: Bench) -> None:
    bench.check_in(["replace_cable_b", "back_to_spec"])
    bench.look_over()
    bench.baseline()
    bench.replace("cable_b", 0.04)
    bench.read("axle_to_axle", "brace_height")


def hybrid_to_plan(bench: Bench) -> None:
    bench.check_in(["replace_cable_b", "back_to_spec"], model="Pilot 33")
    bench.look_over()
    bench.baseline()
    bench.replace("cable_b", 0.05)
    bench.read(*REQUIRED)


def unguided(bench: Bench) -> None:
    bench.check_in(["back_to_spec"], model="Sarn 35")


def finished(bench: Bench) -> None:
    to_hand_over(bench)
    if _settled(bench):
        bench.hand_over()


def _settled(bench: Bench) -> bool:
    view = bench.view()
    return not blockers(view.facts, view.bands)


def twin_ordered(bench: Bench) -> None:
    bench.check_in(ALL_NEW, model="Quill 34")
    bench.look_over(string=("replace", "fuzzy at both cams"))
    bench.baseline()
    bench.order_set()


def hybrid_set_here(bench: Bench) -> None:
    bench.check_in(["replace_string", *CABLE], model="Pilot 33")
    bench.look_over()
    bench.baseline()
    bench.order_set()
    bench.set_arrives()


def single_to_tug(bench: Bench) -> None:
    bench.check_in(["replace_cable_b", "back_to_spec"], model="Sarn 35", fitted=["peep"])
    bench.look_over()
    bench.baseline()
    bench.replace("cable_b", 0.05, judge=False)
    bench.read("axle_to_axle", "brace_height", "stop_gap")


def beyond_parallel(bench: Bench) -> None:
    bench.check_in(["replace_cable_b", "back_to_spec"], model="Heron 29", path="new_setup")
    bench.look_over()
    bench.baseline()


def wrong_part(bench: Bench) -> None:
    bench.check_in(["replace_cable_b", "back_to_spec"])
    bench.look_over()
    bench.baseline()
    bench.replace("cable_b", -0.4, judge=False)
    bench.read("axle_to_axle", "brace_height")
    bench.tugged("cable_b", "away", Decimal("0.4375"))


def twin_to_plan(bench: Bench) -> None:
    bench.check_in(["back_to_spec"], model="Quill 34")
    bench.look_over()
    bench.off(cable_a=0.02, cable_b=-0.03)
    bench.baseline()


def leaning(bench: Bench) -> None:
    """Its top cam leans; this customer wants it upright."""
    bench.check_in(["back_to_spec"], note="Wants the cams upright")
    bench.look_over()
    bench.off(cable_a=0.06, lean=0.1)
    bench.baseline()
    bench.read("lean", "lean_bottom")
    choose_timing(bench.job.pk, {"upright": True}, bench.stamp())


SCENES: list[tuple[Callable[[Bench], None], int]] = [
    (to_plan, 1), (half_baseline, 1), (waits_for_set, 2), (cracked, 3), (to_hand_over, 0),
    (to_read_again, 2), (press_open, 5), (arrived, 2), (unguided, 6), (finished, 1), (hybrid_to_plan, 3),
    (twin_ordered, 6), (hybrid_set_here, 2), (single_to_tug, 1), (beyond_parallel, 4), (wrong_part, 3),
    (twin_to_plan, 5), (leaning, 4),
]  # fmt: skip
