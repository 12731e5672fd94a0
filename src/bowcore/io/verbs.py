"""The verbs of the command line: a case in, an answer out."""

from collections.abc import Callable, Sequence
from dataclasses import asdict, dataclass
from typing import Any

from pydantic import BaseModel

from bowcore.accessories.at_the_nock import gap_needed_in, nock_start, string_angles
from bowcore.accessories.learned_flight import learned_flight, moved_marks
from bowcore.accessories.peep import best_of_each_kind, plan_turn, share_from_top, transferred
from bowcore.accessories.rest_cord import Clamp, Driver, arm_up, best_clamp, cord_for, cord_run
from bowcore.accessories.sight import SightGeometry, SightMark
from bowcore.adjusters.registry import adjuster_to_json, adjusters_of
from bowcore.adjusters.steps import Steps
from bowcore.bow.bundle import Bundle
from bowcore.bow.lay import Lay
from bowcore.bow.lean import degrees_per_leg_step, lean_from_shaft
from bowcore.bow.outline import outline
from bowcore.bow.plausible import ensemble
from bowcore.bow.static_timing import GapEstimate, gap_from_rest, settle
from bowcore.bow.twin import Changes, Twin, build_twin, twin_from_json, twin_to_json
from bowcore.deciding.problem import problem_after, unread_leans
from bowcore.deciding.reasons import say_why
from bowcore.deciding.search import find_plan
from bowcore.deciding.words import say_plan
from bowcore.errors import BadInput
from bowcore.evidence.entry_check import outside_limits
from bowcore.io import cases, shot_cases, shot_verbs
from bowcore.io.stored_advice import AdviceAnswer, StoredProblem, answer_record, option_answer
from bowcore.learning.belief import Innovation
from bowcore.learning.history import HistoryEvent, Learned, Read, Replaced, Turned, learn
from bowcore.learning.pooling import pool
from bowcore.learning.prior import prior_of_twins
from bowcore.measurement.bands import Band
from bowcore.measurement.repeats import RepeatSummary, smaller_than_scatter, summarise
from bowcore.quantities.catalogue import QUANTITIES, quantity
from bowcore.quantities.entries import read_entry
from bowcore.quantities.precision import Precision
from bowcore.response.measured import fit_curve
from bowcore.response.sensitivity import twin_response
from bowcore.simulation.simulated_bow import Faults, simulated_bow
from bowcore.stages.back_to_spec.targets import Tolerances, book_bands


def answer_twin(case: cases.TwinCase) -> cases.TwinAnswer:
    """a book: its numbers, stability, and the twin itself to be kept"""
    bow = _twin(case)
    return cases.TwinAnswer(
        measures=bow.measures(),
        stored_energy_inlbf=bow.stored_energy_inlbf(),
        stable=bool(bow.stable),
        nock_travel_in=bow.nock_travel_in(),
        stops_open_at_full_draw_in=bow.gaps(bow.full_draw)[0].tolist(),
        outline_at_rest=outline(bow, bow.rest),
        outline_at_full_draw=outline(bow, bow.full_draw),
        twin=twin_to_json(bow),
    )


def answer_curve(case: cases.CurveCase) -> cases.CurveAnswer:
    """a book, or a measured curve to fit: the force-draw curve and what it says"""
    fitted: dict[str, Any] = {}
    if case.measured:
        fit = fit_curve(
            case.book.spec(),
            [row.draw_in for row in case.measured],
            [row.force_lbf for row in case.measured],
        )
        bow = fit.twin
        fitted = {
            "parameters": fit.parameters,
            "rms_before_lbf": fit.rms_before_lbf,
            "rms_after_lbf": fit.rms_after_lbf,
        }
    else:
        bow = _twin(case)
    xs, force_lbf = bow.curve(case.points)
    return cases.CurveAnswer(
        draw_in=xs.tolist(),
        force_lbf=force_lbf.tolist(),
        peak_lbf=float(force_lbf.max()),
        holding_lbf=bow.holding_weight_lbf,
        let_off=bow.let_off,
        stored_energy_inlbf=bow.stored_energy_inlbf(),
        valley_in=bow.valley_in(),
        nock_travel_in=bow.nock_travel_in(),
        **fitted,
    )


def answer_response(case: cases.TwinCase) -> cases.ResponseAnswer:
    """a book: what each step of each adjuster does, and how sure that is"""
    spec = case.book.spec()
    found, _ = twin_response(_twin(case), adjusters_of(spec), ensemble(spec))
    return cases.ResponseAnswer(
        quantities=found.quantities,
        adjusters=tuple(map(adjuster_to_json, found.adjusters)),
        mean=found.mean.tolist(),
        sigma=found.sigma.tolist(),
        rests_on=found.rests_on,
    )


def answer_plan(case: cases.PlanCase) -> cases.PlanAnswer:
    """a bow, its whole history and bands: what to turn, why, and what else would work"""
    known = _learned(case)
    bands = _bands(case)
    limits = _limits(case.limb_bolts) | unread_leans(known.belief.adjusters, bands, known.spent)
    problem = problem_after(known, bands, case.policy.policy(), limits, case.limit)
    answer = find_plan(problem)
    short = answer.shortfall
    return cases.PlanAnswer(
        kind=answer.kind.value,
        sentence=say_plan(problem, answer),
        why=tuple(say_why(problem, answer)),
        read_again=answer.read_again,
        best=option_answer(problem, answer.best),
        binding=problem.binding(answer.best),
        alternatives=tuple(option_answer(problem, option) for option in answer.alternatives),
        shortfall=None
        if short is None
        else cases.ShortfallAnswer(part=short.adjuster, short_by_in=short.off_in),
        odd=_innovations(known.odd),
        rests_on=problem.response.rests_on,
    )


def answer_advice(case: StoredProblem) -> AdviceAnswer:
    """a planner's question as a job kept it: the same answer again, to the byte"""
    problem = case.problem()
    return answer_record(problem, find_plan(problem))


def answer_learned(case: cases.LearnCase) -> cases.LearnAnswer:
    """a bow's history: predicted against measured, and the response it has shown"""
    known = _learned(case)
    found = known.belief.response()
    return cases.LearnAnswer(
        lessons=tuple(
            cases.LessonAnswer(
                steps=dict(one.steps), predicted_and_measured=_innovations(one.innovations)
            )
            for one in known.lessons
        ),
        odd=_innovations(known.odd),
        readings={
            name: cases.EstimateAnswer(value=value, sigma=sigma)
            for name, (value, sigma) in known.belief.readings().items()
        },
        mean=found.mean.tolist(),
        sigma=found.sigma.tolist(),
        rests_on=found.rests_on,
    )


def answer_timing(case: cases.TimingCase) -> cases.TimingAnswer:
    """a reading at rest, and a drawn one if there is: the gap to believe"""
    drawn = rest = None
    if case.drawn is not None:
        drawn = GapEstimate(case.drawn.gap_in, QUANTITIES["stop_gap"].precision.sigma, "drawn")
    if case.at_rest is not None:
        if case.book is None:
            raise BadInput("'book' is missing.", "book")
        bow = _twin(cases.TwinCase(book=case.book, twin=case.twin))
        at = case.at_rest
        rest = gap_from_rest(bow, at.method, at.difference_in, at.bolts_bottomed)
    return cases.TimingAnswer(
        believed=cases.GapAnswer(**asdict(settle(drawn, rest))),
        at_rest=None if rest is None else cases.GapAnswer(**asdict(rest)),
    )


def answer_lean(case: cases.LeanCase) -> cases.LeanAnswer:
    """a laid shaft or laser: the angle, and what half a twist in a yoke leg does to it"""
    seen = lean_from_shaft(case.off_in, case.over_in)
    leg = Bundle(5, case.leg_strands, case.leg_twists)
    tension = float(_twin(case).full_draw.tension[0, -1])
    return cases.LeanAnswer(
        lean=cases.LeanShape(**asdict(seen)),
        degrees_per_half_twist=degrees_per_leg_step(tension, leg),
    )


def answer_readings(case: cases.ReadingsCase) -> cases.ReadingsAnswer:
    """several takes: value, spread, outliers, verdict, whether a change is real"""
    what = quantity(case.quantity)
    summary = summarise(case.takes, what.precision)
    return cases.ReadingsAnswer(
        value=summary.value,
        words=what.say(summary.value),
        spread=summary.spread,
        sigma=summary.sigma,
        outliers=summary.outliers,
        verdict=_verdict(case, summary),
        change=_change(case, summary),
    )


def answer_virtual(case: cases.VirtualCase) -> cases.VirtualAnswer:
    """a simulated bow, what is done to it in order: exactly what the tools read"""
    faults = Faults(**case.faults.model_dump())
    bow = simulated_bow(case.book.spec(), case.seed, faults, case.spread)
    answers = []
    for act in case.acts:
        if act.turn is not None:
            bow.turn(Steps(act.turn))
        if act.shoot is not None:
            bow.shoot(act.shoot)
        if act.read is not None:
            takes = tuple(bow.take(act.read) for _ in range(act.takes))
            answers.append(cases.TakesAnswer(quantity=act.read, takes=takes))
    return cases.VirtualAnswer(answers=tuple(answers))


def answer_entry(case: cases.EntryCase) -> cases.EntryAnswer:
    """one typed reading: its exact value, its uncertainty, and whether it is plausible"""
    what = quantity(case.quantity)
    found = read_entry(what, case.text, case.direction)
    return cases.EntryAnswer(
        value=float(found.value),
        unit=what.unit,
        words=what.say(found.value),
        sigma=found.sigma,
        implausible=outside_limits(what, float(found.value)),
    )


def answer_bundle(case: cases.BundleCase) -> cases.BundleAnswer:
    """a twisted bundle: strand length and what each half twist does"""
    rope = Bundle(case.length_in, case.strands, case.twists, case.served_in)
    steps = [count for count in range(-8, 9) if rope.twists + count / 2 >= 0]
    return cases.BundleAnswer(
        strand_length_in=rope.strand_length_in,
        effective_radius_in=rope.effective_radius_in,
        shortening_in={str(count): rope.shortening_in(count) for count in steps},
    )


def answer_fit(case: cases.NockCase) -> cases.NockAnswer:
    """a book: the string's angle at full draw, the play that its nock wants, where the nock starts"""
    bow = _twin(case)
    angles, start = string_angles(bow), nock_start(bow)
    return cases.NockAnswer(
        string_angle_deg=angles.included_deg,
        play_wanted_in=gap_needed_in(angles, case.served_in, case.tie_in),
        nock_above_rest_in=start.above_rest_in,
        nock_travel_in=start.travel_in,
    )


def answer_peep(case: cases.PeepCase) -> cases.PeepAnswer:
    """a peep: which end of the string turns it, and its height on another bow"""
    bow = _twin(case)
    share = share_from_top(bow, case.nock_to_peep_in)
    before = bow if case.from_book is None else build_twin(case.from_book.spec())
    sigma = QUANTITIES["nock_to_peep"].precision.sigma
    height = transferred(case.nock_to_peep_in, string_angles(before), string_angles(bow), sigma)
    turns = best_of_each_kind(plan_turn(share, case.turn_deg, Lay(case.lay)))
    return cases.PeepAnswer(
        share_from_top=share,
        turns=tuple(
            cases.PeepTurnAnswer(
                bottom=one.bottom,
                top=one.top,
                shorter_half_twists=one.net,
                turned_deg=one.turned_deg,
                left_deg=one.left_deg,
            )
            for one in turns
        ),
        nock_to_peep_in=height.nock_to_peep_in,
        sigma_in=height.sigma_in,
    )


def answer_rest(case: cases.RestCase) -> cases.RestAnswer:
    """a drop-away rest: where its cord is clamped, when its arm comes up, and when after twists since"""
    bow, driver = _twin(case), Driver(case.driver)
    if case.clamp_in is None:
        clamp = best_clamp(bow, driver, case.up_in, case.lift_in)
    else:
        clamp = Clamp(driver, case.clamp_in)
    run = cord_run(bow, clamp)
    cord = cord_for(run, case.up_in, case.lift_in)
    up = arm_up(run, cord, case.lift_in)
    spec = case.book.spec()
    shorter = {r: spec.part(r).bundle().shortening_in(n) for r, n in case.twisted_since.items()}
    now = cord_run(bow.changed(Changes(shorter)), clamp, bow)
    return cases.RestAnswer(
        clamp_in=clamp.place_in,
        cord_in=cord,
        up_in=up.before_full_draw_in,
        begins_in=up.begins_in,
        up_now_in=arm_up(now, cord, case.lift_in).before_full_draw_in,
    )


def answer_sight(case: cases.SightCase) -> cases.SightAnswer:
    """speeds before and after: where each sight mark goes"""
    sight = SightGeometry(case.peep_to_pin_in, case.eye_above_arrow_in)
    shot = [SightMark(one.distance_yd, one.place_in) for one in case.marks]
    flown = learned_flight((case.speed_fps, case.speed_sigma_fps), sight, shot)
    change = (case.now_fps - case.speed_fps, case.speed_sigma_fps)
    moved = moved_marks(flown, change, case.distances_yd)
    return cases.SightAnswer(
        drag_per_ft=flown.flight.drag_per_ft,
        doubt=flown.doubt,
        marks=tuple(cases.MovedMarkAnswer(**asdict(one)) for one in moved),
    )


@dataclass(frozen=True)
class Verb:
    """A verb: the shapes of its case and its answer, and the function between them."""

    case: type[BaseModel]
    answer: type[BaseModel]
    function: Callable[[Any], BaseModel]

    @property
    def words(self) -> str:
        """What it does, in a line."""
        return (self.function.__doc__ or "").strip()


VERBS = {
    "twin": Verb(cases.TwinCase, cases.TwinAnswer, answer_twin),
    "curve": Verb(cases.CurveCase, cases.CurveAnswer, answer_curve),
    "response": Verb(cases.TwinCase, cases.ResponseAnswer, answer_response),
    "plan": Verb(cases.PlanCase, cases.PlanAnswer, answer_plan),
    "advice": Verb(StoredProblem, AdviceAnswer, answer_advice),
    "learn": Verb(cases.LearnCase, cases.LearnAnswer, answer_learned),
    "timing": Verb(cases.TimingCase, cases.TimingAnswer, answer_timing),
    "lean": Verb(cases.LeanCase, cases.LeanAnswer, answer_lean),
    "virtual": Verb(cases.VirtualCase, cases.VirtualAnswer, answer_virtual),
    "readings": Verb(cases.ReadingsCase, cases.ReadingsAnswer, answer_readings),
    "entry": Verb(cases.EntryCase, cases.EntryAnswer, answer_entry),
    "fit": Verb(cases.NockCase, cases.NockAnswer, answer_fit),
    "peep": Verb(cases.PeepCase, cases.PeepAnswer, answer_peep),
    "rest": Verb(cases.RestCase, cases.RestAnswer, answer_rest),
    "sight": Verb(cases.SightCase, cases.SightAnswer, answer_sight),
    "tear": Verb(shot_cases.HolesCase, shot_cases.HolesAnswer, shot_verbs.answer_tear),
    "groups": Verb(shot_cases.GroupCase, shot_cases.GroupAnswer, shot_verbs.answer_groups),
    "line": Verb(shot_cases.LineCase, shot_cases.LineAnswer, shot_verbs.answer_line),
    "speed": Verb(shot_cases.SpeedCase, shot_cases.SpeedAnswer, shot_verbs.answer_speed),
    "arrow": Verb(shot_cases.ArrowCase, shot_cases.ArrowAnswer, shot_verbs.answer_arrow),
    "next": Verb(shot_cases.NextCase, shot_cases.NextAnswer, shot_verbs.answer_next),
    "bundle": Verb(cases.BundleCase, cases.BundleAnswer, answer_bundle),
}


def _twin(case: cases.TwinCase) -> Twin:
    """The twin of the case's book: the kept one if it comes along, else built."""
    spec = case.book.spec()
    return build_twin(spec) if case.twin is None else twin_from_json(spec, case.twin)


def _learned(case: cases.LearnCase) -> Learned:
    """The bow's belief after its history, starting from the model's prior."""
    prior = prior_of_twins(_twin(case), ensemble(case.book.spec()))
    if case.finished:
        learned_by = [learn(prior, _events(job.events)).belief for job in case.finished]
        prior = pool(prior, learned_by).belief
    return learn(prior, _events(case.events))


def _events(rows: Sequence[cases.EventShape]) -> list[HistoryEvent]:
    return [_event(row, f"events[{at}]") for at, row in enumerate(rows)]


def _event(row: cases.EventShape, path: str) -> HistoryEvent:
    if isinstance(row, cases.TurnedEvent):
        return Turned(Steps(row.steps))
    if isinstance(row, cases.ReplacedEvent):
        return Replaced(row.part)
    quantity(row.quantity)
    precision = None if row.sigma is None else Precision(row.sigma)
    if row.takes is not None:
        return Read(row.quantity, tuple(row.takes), precision)
    if row.value is None:
        raise BadInput("'value' is missing.", f"{path}.value")
    return Read(row.quantity, (row.value,), precision)


def _bands(case: cases.PlanCase) -> dict[str, Band]:
    if case.bands is None:
        allowed = Tolerances(top_first_in=case.policy.top_first_in)
        return book_bands(case.book.spec(), allowed)
    return {row.quantity: row.band(f"bands[{at}]") for at, row in enumerate(case.bands)}


def _limits(bolts: cases.BoltShape) -> dict[str, tuple[int, int]]:
    """Totals in steps: limb bolts from bottomed, in half turns, never past the maker's limit."""
    out, most = bolts.turns_out, bolts.most_turns_out
    if out > most:
        raise BadInput("The bolts are out further than the maker allows.", "limb_bolts.turns_out")
    return {"limb_bolts": (-int(2 * out), int(2 * (most - out)))}


def _verdict(case: cases.ReadingsCase, summary: RepeatSummary) -> cases.VerdictAnswer | None:
    if case.band is None:
        return None
    band = case.band.band("band")
    verdict = band.judge(summary.value)
    chance = band.chance_inside(summary.value, summary.sigma)
    return cases.VerdictAnswer(side=verdict.side.value, by=verdict.by, chance_inside=chance)


def _change(case: cases.ReadingsCase, summary: RepeatSummary) -> cases.ChangeAnswer | None:
    if case.before is None:
        return None
    before = summarise(case.before.takes, quantity(case.quantity).precision)
    return cases.ChangeAnswer(
        by=summary.value - before.value,
        scatter=(before.sigma**2 + summary.sigma**2) ** 0.5,
        smaller_than_scatter=smaller_than_scatter(before, summary),
    )


def _innovations(found: Sequence[Innovation]) -> tuple[cases.InnovationAnswer, ...]:
    return tuple(cases.InnovationAnswer(**asdict(one), off_sigmas=one.off_sigmas) for one in found)
