"""Acts of the fit that are tied, clamped or pressed by hand: ties, loop, peep, kisser, cord; and what the
twin says about them."""

from collections.abc import Callable, Mapping
from math import sqrt

from bowcore.accessories.at_the_nock import gap_needed_in, nock_start, string_angles
from bowcore.accessories.on_the_bow import DROP_LIMB, REST, TIES
from bowcore.accessories.peep import (
    DEGREES_A_MINUTE,
    PeepTurn,
    best_of_each_kind,
    plan_turn,
    share_from_top,
    transferred,
)
from bowcore.accessories.rest_cord import (
    ANYWHERE,
    CLEAR_IN,
    DRIVERS,
    UP_WANTED_IN,
    Clamp,
    Driver,
    arm_up,
    best_clamp,
    clamp_points,
    cord_for,
    cord_run,
    holds_clamp,
    now_up_at,
    seconds_to_rest,
    spring_needed,
)
from bowcore.accessories.ties import THREAD_ABOVE_IN, CordCut, TieMethod, cord_cut, tie_plan
from bowcore.adjusters.peep_pair import PEEP_PAIR
from bowcore.adjusters.steps import Steps
from bowcore.bow.bundle import effective_radius_in
from bowcore.bow.lay import say_turning
from bowcore.bow.specification import STRING
from bowcore.bow.twin import Twin
from bowcore.deciding.act import Expected
from bowcore.errors import BadInput, NoModel, Refused
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.changes import Change
from bowcore.quantities.inches import say_length
from bowcore.stages.fit.fit_bow import FitAct, FitBow, say_off
from bowcore.stages.fit.fit_needs import FINISHED_LOOP_IN, fit_outside

SERVING_ADDS_IN = 0.03
"""What a centre serving adds to a string's thickness: our figure."""
BESIDE_A_STEP = ("brace_height", "draw_length", "stop_gap")
"""What a twist for the peep's sake moves."""
USUAL_PEEP_IN = 5.0
ANGLE_DOUBT_DEG = 1.0
"""How unsure the difference of two twins' string angles is: our figure."""
TURN_DOUBT = 0.1
"""Share of a turn that friction and settling may keep: our figure."""
LET_IT_SETTLE = "Leave the string as it is, and look again when it has settled."
NO_CHANGE_OF_LENGTH = "No length changes."


def retie(bow: FitBow) -> FitAct:
    """The nock's play: the tie that is wrong is tied anew, not both."""
    method = bow.facts.on_bow.tie_method or TieMethod.BOTH
    above = [one for one in tie_plan(method) if one.above]
    tie = (above or list(tie_plan(method)))[0]
    tight = bow.value("nock_gap") < bow.bands["nock_gap"].low
    wants = "farther from" if tight else "nearer to"
    return FitAct(
        f"Cut one tie and tie it anew {wants} the nock, with the nock on the string: {tie.words}.",
        f"{say_off(bow, 'nock_gap')} Play is set at one tie; the other keeps the height.",
        sets=("nock_gap",),
        change=Change.LOOP_OR_TIES,
        expect=(
            Expected(
                "nock_gap", bow.bands["nock_gap"].target, QUANTITIES["nock_gap"].precision.sigma
            ),
        ),
        sure="one wrap of thread is a fair gauge",
        others=("A thinner thread for the same tie gives a little more play.",) if tight else (),
    )


def new_loop(bow: FitBow) -> FitAct:
    """A loop of another length, or one that stands aside, is a new loop, never the old one turned."""
    outside = fit_outside(bow.facts, bow.bands)
    sets = tuple(key for key in ("loop_length", "loop_facing") if key in outside)
    return _tie_a_loop(bow, sets, " ".join(say_off(bow, key) for key in sets))


def asked_loop(bow: FitBow) -> FitAct:
    """The loop that the customer asked for, whatever the old one reads."""
    return _tie_a_loop(bow, ("loop_length",), "A new loop was asked for.")


def asked_peep(bow: FitBow) -> FitAct:
    """The peep goes where the archer's eye finds it."""
    return FitAct(
        "Put the peep where this archer's eye finds it: drawn with eyes shut, anchored, then opened.",
        "The peep was asked for. Split the strands alike; tie it for now, and for good once it has settled. "
        "Hands and blade away from the string's strands.",
        sets=("nock_to_peep",),
        change=Change.PEEP,
        sure="by the archer's eye",
        others=("Without the archer: back to the height that was read, by the same two points.",),
    )


def _tie_a_loop(bow: FitBow, sets: tuple[str, ...], why: str) -> FitAct:
    wanted = bow.bands["loop_length"].target if "loop_length" in bow.bands else FINISHED_LOOP_IN[1]
    cut = cord_cut(wanted, bow.loops)
    learned = (
        f"from {cut.learned_from} loops tied here"
        if cut.learned_from
        else "a usual figure; no loop tied here yet"
    )
    return FitAct(
        f"Tie a new loop: cut {say_length(cut.length_in, 8)} of cord for {say_length(wanted, 16)} finished.",
        f"{why} Knots on opposite sides, {_where_the_knots_go(bow, sets)}; ends melted away from the string.",
        sets=sets,
        change=Change.LOOP if bow.facts.on_bow.tied else Change.LOOP_OR_TIES,
        expect=tuple(
            Expected(key, bow.bands[key].target, _loop_sigma(key, cut)) for key in sets if key in bow.bands
        ),
        sure=f"cord give or take {say_length(cut.sigma_in, 8)}, {learned}",
        others=("Pulled tight with pliers first, a loop stretches by up to 1/16 in.",),
    )  # fmt: skip


def _where_the_knots_go(bow: FitBow, sets: tuple[str, ...]) -> str:
    if "loop_facing" not in sets:
        return "straight behind the peep"
    off = bow.value("loop_facing")
    way = "clockwise" if off > 0 else "counter-clockwise"
    return f"turned {QUANTITIES['loop_facing'].say_size(off)} {way} from where they are"


def _loop_sigma(key: str, cut: CordCut) -> float:
    return cut.sigma_in / 2 if key == "loop_length" else QUANTITIES[key].precision.sigma


def move_on_string(key: str) -> Callable[[FitBow], FitAct]:
    """Peep or kisser to its height."""

    def act(bow: FitBow) -> FitAct:
        what, off = QUANTITIES[key], bow.value(key) - bow.bands[key].target
        way = "down, toward the nock" if off > 0 else "up"
        name = "peep" if key == "nock_to_peep" else "kisser"
        return FitAct(
            f"Move the {name} {say_length(abs(off))} {way}.",
            say_off(bow, key),
            sets=(key,),
            change=Change.PEEP if name == "peep" else Change.LOOP_OR_TIES,
            expect=(Expected(key, bow.bands[key].target, what.precision.sigma),),
            sure="by the same two points as the baseline",
        )

    return act


def set_cord(bow: FitBow) -> FitAct:
    """A drop-away rest's cord takes its own length."""
    why = [say_off(bow, "cord_up")]
    found = figures_of_cord(bow)
    if found:
        why.append(found)
    by_limb = bow.facts.on_bow.of(REST).get("kind") == DROP_LIMB
    return FitAct(
        _by_a_limb() if by_limb else _clamp_first(bow) + _by_a_cable(),
        " ".join(why),
        sets=("cord_up",),
        change=Change.REST,
        expect=(Expected("cord_up", bow.bands["cord_up"].target, QUANTITIES["cord_up"].precision.sigma),),
        sure="the cord takes its own length",
        others=("Or move the clamp: toward the cam that takes the cable up, the arm comes later.",),
    )  # fmt: skip


def _clamp_first(bow: FitBow) -> str:
    """Where the clamp goes before its cord is set: it sits on bare threads; "" where it sits well."""
    clamp, now, on_bow = bow.facts.on_bow.clamp, bow.twin_now, bow.facts.on_bow
    if clamp is None or now is None or holds_clamp(clamp.place_in, on_bow.served):
        return ""
    try:
        place = best_clamp(now, clamp.driver, UP_WANTED_IN, on_bow.lift_in, on_bow.served).place_in
    except (Refused, BadInput):
        return "Serve the cable longer under the clamp. "
    return f"Move the clamp to {say_length(place)} from the lower cam, onto the serving. "


def _by_a_cable() -> str:
    before = say_length(UP_WANTED_IN)
    return (
        f"Loosen the cord's knot by half, draw slowly twice on the board, stop {before} before full draw "
        "with the arm up, tighten it there."
    )


def _by_a_limb() -> str:
    return (
        "Bow at rest, arm all the way down: tie the cord just taut. Draw slowly on the board: the arm has to "
        "be up before the last inch."
    )


def turn_peep(bow: FitBow) -> FitAct:
    """Which end of the string turns the peep, which way, and what that moves."""
    if bow.lay is None:
        return _look_at_the_threads(bow)
    wanted = bow.value("peep_turn") * DEGREES_A_MINUTE
    share = _peep_share(bow)
    choices = best_of_each_kind(plan_turn(share, wanted, bow.lay))
    best = choices[0]
    sigma = (
        QUANTITIES["peep_turn"].precision.sigma
        + TURN_DOUBT * abs(best.turned_deg) / DEGREES_A_MINUTE
    )
    left = best.left_deg / DEGREES_A_MINUTE
    why = [say_off(bow, "peep_turn")]
    if not best.hands:
        why.append(
            "Leave it: a twist that turns the peep further would disturb brace and timing too much."
        )
    return FitAct(
        _say_turn(best),
        " ".join((*why, say_turning({"string": bow.lay}))),
        steps_of(best),
        sets=("peep_turn",),
        expect=(Expected("peep_turn", left, sigma),),
        sure=f"the peep sits at {share:.0%} of the string from its top. {_moves_beside(bow, best)[:-1]}",
        others=tuple(f"{_say_turn(one)} {_moves_beside(bow, one)}" for one in choices[1:] if one.hands),
        left_because="looked at again when the string has settled",
    )  # fmt: skip


def _look_at_the_threads(bow: FitBow) -> FitAct:
    """Which way a twist turns the peep depends on the lay of the string that is on now."""
    return FitAct(
        "Look how the string's threads run.",
        f"{say_off(bow, 'peep_turn')} Which end turns it toward the eye depends on the lay.",
        sets=("peep_turn",),
        sure="nobody has written this string's lay down",
        asks=f"lay_{STRING}",
    )


def steps_of(turn: PeepTurn) -> Steps:
    """Half twists at both ends as the ledger keeps them: the string's at its bottom end, pairs beside."""
    return Steps({STRING: turn.net, PEEP_PAIR: -turn.top})


def _say_turn(turn: PeepTurn) -> str:
    ends = ((turn.bottom, "bottom"), (turn.top, "top"))
    halves = {1: "half a twist", 2: "one twist", 3: "one and a half twists"}
    words = [
        f"{halves[abs(n)]} {'in' if n > 0 else 'out'} at the {end} end" for n, end in ends if n
    ]
    return f"String: {' and '.join(words)}." if words else LET_IT_SETTLE


def _moves_beside(bow: FitBow, turn: PeepTurn) -> str:
    """What a turn does to brace, draw length and timing."""
    if not turn.net:
        return NO_CHANGE_OF_LENGTH
    response = bow.response()
    if response is None:
        return "Brace, draw length and timing move: read them again."
    moved = []
    for name in BESIDE_A_STEP:
        if name in response.quantities:
            by = turn.net * response.per_step(name, STRING)
            what = bow.facts.named(name)
            if what.shows(by):
                moved.append(f"{what.name.lower()} {'+' if by > 0 else '-'}{what.say_size(by)}")
    return f"It moves {', '.join(moved)}." if moved else "No length changes by as much as is read."


def _peep_share(bow: FitBow) -> float:
    now = bow.facts.current("nock_to_peep") or bow.facts.baseline("nock_to_peep")
    height = now.summary.value if now and now.summary else USUAL_PEEP_IN
    return (
        0.5 - height / bow.spec.part(STRING).length_in
        if bow.twin is None
        else share_from_top(bow.twin, height)
    )


def figures_of_cord(bow: FitBow) -> str:
    """What the twin says of the cord: when the arm comes up with everything turned since, or where the clamp
    has to be; "" where the clamp was not written down or the book does not make a twin."""
    clamp, now = bow.facts.on_bow.clamp, bow.twin_now
    if clamp is None or now is None:
        return ""
    name = DRIVERS[clamp.driver].lower()
    bare = _say_bare_threads(bow, clamp, now)
    try:
        run = cord_run(now, clamp, bow.twin)
        cord = cord_for(run, UP_WANTED_IN, bow.facts.on_bow.lift_in)
        up = arm_up(run, cord, bow.facts.on_bow.lift_in)
    except (Refused, BadInput) as error:
        return f"{bare} {error} {_other_place(bow, now, clamp.driver)}".strip()
    begins = (
        "" if up.begins_in is None else f", begins to rise {say_length(up.begins_in, 8)} before"
    )
    comes = say_length(up.before_full_draw_in or 0, 8)
    found = f"By the twin, on {name}: up {comes} before full draw{begins}.{_say_falling(bow, now)}"
    return f"{bare} {found}".strip()


def _say_bare_threads(bow: FitBow, clamp: Clamp, twin: Twin) -> str:
    """That the clamp does not sit on serving, and where it would; or that the new cable's serving has to be
    looked at; "" where it sits well."""
    on_bow = bow.facts.on_bow
    if clamp.driver.is_limb:
        return ""
    if on_bow.served == ANYWHERE:
        new = clamp.driver.value in bow.facts.replaced
        return "The cable is new: look where its serving ends, and write it down." if new else ""
    if holds_clamp(clamp.place_in, on_bow.served):
        return ""
    place = say_length(clamp.place_in)
    other = _other_place(bow, twin, clamp.driver)
    return f"At {place} the clamp sits on bare threads. {other} Or serve the cable longer."


def _other_place(bow: FitBow, twin: Twin, driver: Driver) -> str:
    """Where a clamp on the same cable or limb would do; "" if nowhere."""
    on_bow = bow.facts.on_bow
    try:
        place = best_clamp(twin, driver, UP_WANTED_IN, on_bow.lift_in, on_bow.served).place_in
    except (Refused, BadInput):
        return "No served place on it brings the arm up in time."
    served = "" if on_bow.served != ANYWHERE else ", if the serving holds a clamp there"
    return f"By the twin {say_length(place)} would do{served}."


def _say_falling(bow: FitBow, twin: Twin) -> str:
    """What the arm's spring has to do before the fletching comes; "" while the arrow's speed is not known."""
    speed = bow.facts.current("arrow_speed")
    least, most = QUANTITIES["arrow_speed"].limits
    if speed is None or speed.summary is None or not least <= speed.summary.value <= most:
        return ""
    seconds = seconds_to_rest(twin, UP_WANTED_IN, speed.summary.value)
    spring = spring_needed(seconds, CLEAR_IN)
    return (
        f" The fletching passes the rest {1000 * seconds:.0f} ms later. To drop {say_length(CLEAR_IN)} by "
        f"then the arm needs a spring force of {spring:.0f} times its weight."
    )


def clamp_at_full_draw(bow: FitBow) -> list[float] | None:
    """Where the rest's cord is clamped at full draw, x and y [in]; None where that is not known."""
    clamp, now = bow.facts.on_bow.clamp, bow.twin_now
    if clamp is None or now is None:
        return None
    try:
        return clamp_points(now, now.full_draw, clamp, bow.twin)[0].tolist()  # type: ignore[no-any-return]
    except BadInput:
        return None


def cord_up_now(bow: FitBow) -> float | None:
    """When a cord that nobody has touched brings the arm up, after what was turned since it was read, in
    inches before full draw; None where the twin cannot say."""
    read, clamp = bow.facts.current("cord_up"), bow.facts.on_bow.clamp
    if read is None or read.summary is None or clamp is None or bow.twin is None:
        return None
    before, now = bow.twin_at(read.seq), bow.twin_now
    if before is None or now is None:
        return None
    try:
        runs = [cord_run(one, clamp, bow.twin) for one in (before, now)]
    except (Refused, BadInput, NoModel):
        return None
    return now_up_at(runs[0], runs[1], read.summary.value)


def twin_figures(bow: FitBow) -> dict[str, str]:
    """What the twin says beside the numbers of the fit, by quantity, in words; none without a twin."""
    now = bow.twin_now
    if now is None:
        return {}
    found = {
        "nock_to_peep": _say_peep_elsewhere(bow, now),
        "arrow_level": _say_start(now),
        "nock_gap": _say_pinch(bow, now),
        "cord_up": figures_of_cord(bow),
    }
    return {key: words for key, words in found.items() if words}


def _say_peep_elsewhere(bow: FitBow, twin: Twin) -> str:
    """Where the peep of this archer's other bow would sit on this one; "" where there is no other."""
    there = bow.peep_elsewhere
    low, high = QUANTITIES["nock_to_peep"].limits
    if there is None or not low <= there.nock_to_peep_in <= high:
        return ""
    sigma = QUANTITIES["nock_to_peep"].precision.sigma
    before, now = string_angles(there.twin), string_angles(twin)
    here = transferred(there.nock_to_peep_in, before, now, sigma, ANGLE_DOUBT_DEG)
    was, wants = say_length(there.nock_to_peep_in), say_length(here.nock_to_peep_in)
    return (
        f"On {there.bow} it is {was}, {there.points}. At this bow's string angle the same eye wants {wants}, "
        f"give or take {say_length(here.sigma_in, 32)}."
    )


def _say_start(twin: Twin) -> str:
    start = nock_start(twin)
    if not QUANTITIES["arrow_level"].shows(start.travel_in):
        return "By the twin the nock stays level with the rest along the draw."
    way = "above" if start.above_rest_in >= 0 else "below"
    by = QUANTITIES["arrow_level"].say_size(start.above_rest_in)
    travel = QUANTITIES["arrow_level"].say_size(start.travel_in)
    return f"By the twin the nock travels {travel} off level; it starts {by} {way} the rest."


def _say_pinch(bow: FitBow, twin: Twin) -> str:
    angles = string_angles(twin)
    tie = float(bow.facts.on_bow.of(TIES).get("above_in", THREAD_ABOVE_IN))
    needed = gap_needed_in(angles, _served_in(bow), tie)
    return (
        f"At full draw the string stands at {angles.included_deg:.0f} degrees; nock and ties want about "
        f"{say_length(needed, 64)} of play there."
    )


def _served_in(bow: FitBow) -> float:
    """Thickness of the served string, measured, else by its strands. [in]"""
    measured = bow.facts.on_bow.of(TIES).get("serving_in")
    if measured is not None:
        return float(measured)
    return 2 * sqrt(2) * effective_radius_in(bow.spec.part(STRING).strands) + SERVING_ADDS_IN


BY_HAND: Mapping[str, Callable[[FitBow], FitAct]] = {
    "nock_gap": retie, "loop_length": new_loop, "loop_facing": new_loop,
    "nock_to_peep": move_on_string("nock_to_peep"),
    "nock_to_kisser": move_on_string("nock_to_kisser"), "cord_up": set_cord, "peep_turn": turn_peep,
}  # fmt: skip
"""What is done by hand or in the press about each quantity."""
ASKED_TO_TIE: Mapping[Change, Callable[[FitBow], FitAct]] = {
    Change.LOOP_OR_TIES: asked_loop, Change.PEEP: asked_peep,
}  # fmt: skip
"""What is tied or moved because it was asked for, by the change that it is."""
