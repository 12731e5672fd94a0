"""Cases of the command line: JSON in, the core's objects, JSON out."""

from dataclasses import asdict
from typing import Any

from bowcore import reading_cases
from bowcore.book_case import read_spec
from bowcore.casefile import Case
from bowcore.errors import BadInput
from bowcore.measurement.bands import Band
from bowcore.mechanics import measured
from bowcore.mechanics.adjusters import handles
from bowcore.mechanics.bundle import Bundle
from bowcore.mechanics.lean import LegPlan, degrees_per_leg_step, lean_from_shaft, plan_legs
from bowcore.mechanics.outline import outline
from bowcore.mechanics.sensitivity import ensemble, twin_response
from bowcore.mechanics.static_timing import GapEstimate, gap_from_rest, settle
from bowcore.mechanics.twin import Twin, build_twin, from_json, to_json
from bowcore.mechanics.virtual import Faults, hidden_bow
from bowcore.planning.estimator import pool
from bowcore.planning.history import Event, Learned, Lesson, Read, Replaced, Turned, learn
from bowcore.planning.prior import prior_of
from bowcore.planning.problem import School
from bowcore.planning.reasons import say_why
from bowcore.planning.record import answer_record, option_json, problem_of
from bowcore.planning.solver import solve
from bowcore.planning.words import say_plan
from bowcore.quantities.catalogue import QUANTITIES, quantity
from bowcore.service.targets import Tolerances, book_bands

entry, bundle, readings = reading_cases.entry, reading_cases.bundle, reading_cases.readings


def twin(case: Case) -> dict[str, Any]:
    """`twin`: a book -> its numbers, stability, and the twin itself to be cached."""
    bow = _twin(case)
    return {
        "measures": bow.measures(),
        "stored_energy_inlbf": bow.stored_energy_inlbf(),
        "stable": bow.stable,
        "nock_travel_in": bow.nock_travel_in(),
        "stops_open_at_full_draw_in": bow.gaps(bow.full_draw)[0].tolist(),
        "outline_at_rest": outline(bow, bow.rest),
        "outline_at_full_draw": outline(bow, bow.full_draw),
        "twin": to_json(bow),
    }


def curve(case: Case) -> dict[str, Any]:
    """`curve`: a book, or a measured curve to fit -> force-draw curve and what it says."""
    spec = read_spec(case.child("book"))
    fitted: dict[str, Any] = {}
    if case.has("measured"):
        rows = case.children("measured")
        draw = [row.number("draw_in", 0, 40) for row in rows]
        force = [row.number("force_lbf", 0, 150) for row in rows]
        fit = measured.fit_curve(spec, draw, force)
        bow = fit.twin
        fitted = {"insides": fit.insides, "rms_before_lbf": fit.rms_before_lbf,
                  "rms_after_lbf": fit.rms_after_lbf}  # fmt: skip
    else:
        bow = _twin(case)
    xs, force_lbf = bow.curve(case.whole("points", 10, 400, 60))
    peak = float(force_lbf.max())
    return {
        "draw_in": xs.tolist(), "force_lbf": force_lbf.tolist(), "peak_lbf": peak,
        "holding_lbf": bow.holding_weight_lbf, "let_off": bow.let_off,
        "stored_energy_inlbf": bow.stored_energy_inlbf(),
        "valley_in": bow.valley_in(), "nock_travel_in": bow.nock_travel_in(), **fitted,
    }  # fmt: skip


def response(case: Case) -> dict[str, Any]:
    """`response`: a book -> what each step of each adjuster does, and how sure that is."""
    spec = read_spec(case.child("book"))
    found, _ = twin_response(_twin(case), handles(spec), ensemble(spec))
    return {
        "quantities": list(found.quantities),
        "adjusters": [asdict(a) for a in found.adjusters],
        "mean": found.mean.tolist(), "sigma": found.sigma.tolist(), "rests_on": found.rests_on,
    }  # fmt: skip


def plan(case: Case) -> dict[str, Any]:
    """`plan`: a bow, its whole history and bands -> what to turn, why, and what else would do."""
    bands, school, limits = _bands(case), read_school(case), _limits(case)
    most = case.whole("limit", 1, 40, 8)
    known = _learned(case)
    problem = known.problem(bands, school, limits, most)
    answer = solve(problem)
    short = answer.shortfall
    return {
        "kind": answer.kind.value,
        "sentence": say_plan(problem, answer),
        "why": say_why(problem, answer),
        "read_again": answer.read_again,
        "best": option_json(problem, answer.best),
        "binding": list(problem.binding(answer.best)),
        "alternatives": [option_json(problem, option) for option in answer.alternatives],
        "shortfall": short and {"part": short.adjuster, "short_by_in": short.off_in},
        "absurd": [_innovation(told) for told in known.absurd],
        "rests_on": problem.response.rests_on,
    }


def advice(case: Case) -> dict[str, Any]:
    """`advice`: a planner's question as a job kept it -> the same answer again, to the byte."""
    problem = problem_of({name: case.raw(name) for name in case.names() if case.has(name)})
    return answer_record(problem, solve(problem))


def learned(case: Case) -> dict[str, Any]:
    """`learn`: a bow's history -> predicted against measured, and the response it has shown."""
    known = _learned(case)
    found = known.belief.response()
    return {
        "lessons": [_lesson(lesson) for lesson in known.lessons],
        "absurd": [_innovation(told) for told in known.absurd],
        "readings": {k: {"value": v, "sigma": s} for k, (v, s) in known.belief.readings().items()},
        "mean": found.mean.tolist(), "sigma": found.sigma.tolist(), "rests_on": found.rests_on,
    }  # fmt: skip


def timing(case: Case) -> dict[str, Any]:
    """`timing`: a reading at rest, and a drawn one if there is -> the gap to believe."""
    drawn = None
    if case.has("drawn"):
        said = case.child("drawn")
        sigma = QUANTITIES["stop_gap"].tool.sigma
        drawn = GapEstimate(said.number("gap_in", -1.5, 1.5), sigma, "drawn")
    rest = None
    if case.has("at_rest"):
        at = case.child("at_rest")
        rest = gap_from_rest(
            _twin(case), at.text("method"), at.number("difference_in", -2, 2),
            at.flag("bolts_bottomed", False),
        )  # fmt: skip
    chosen = settle(drawn, rest)
    return {"believed": asdict(chosen), "at_rest": rest and asdict(rest)}


def lean(case: Case) -> dict[str, Any]:
    """`lean`: a laid shaft or laser on both faces -> angle, and which yoke legs to turn."""
    faces = case.raw("off_in")
    if not isinstance(faces, list) or not all(isinstance(f, int | float) for f in faces):
        raise BadInput("One or two numbers are expected.", case.at("off_in"), "[left, right]")
    seen = lean_from_shaft([float(f) for f in faces], case.number("over_in", 4, 60, 24))
    bow = _twin(case)
    leg = Bundle(5, case.whole("leg_strands", 4, 60, 16), case.number("leg_twists", 0, 10, 3))
    per_step = degrees_per_leg_step(float(bow.full_draw.tension[0, -1]), leg)
    legs = plan_legs(seen, per_step, case.number("target_deg", -5, 5, 0.0))
    return {"lean": asdict(seen), "degrees_per_half_twist": per_step, "plan": _legs(legs)}


def virtual(case: Case) -> dict[str, Any]:
    """`virtual`: a hidden bow, what is done to it in order -> exactly what the tools read."""
    spec, wrong = read_spec(case.child("book")), Case({})
    if case.has("faults"):
        wrong = case.child("faults")
    shorter = {}
    if wrong.has("shorter"):
        lengths = wrong.child("shorter")
        shorter = {role: lengths.number(role, -1, 1) for role in lengths.names()}
    faults = Faults(
        shorter, wrong.number("limb_uneven", -0.2, 0.2, 0.0), wrong.number("noise", 0, 10, 1.0),
        leans_in=wrong.number("leans_in", -6, 6, 0.0),
        leans_bottom_in=wrong.number("leans_bottom_in", -6, 6, 0.0),
    )  # fmt: skip
    bow = hidden_bow(spec, case.whole("seed", 0, 2**31, 1), faults, case.number("wide", 0, 3, 1.0))
    answers = []
    for act in case.children("acts"):
        if act.has("turn"):
            steps = act.child("turn")
            bow.turn({key: steps.whole(key, -40, 40) for key in steps.names()})
        elif act.has("shoot"):
            bow.shoot(act.whole("shoot", 0, 10_000))
        else:
            name = act.text("read", QUANTITIES)
            takes = [bow.read(name) for _ in range(act.whole("takes", 1, 20, 1))]
            answers.append({"quantity": name, "takes": takes})
    return {"answers": answers}


def read_school(case: Case) -> School:
    """The shop's choices from JSON; absent ones are the defaults."""
    if not case.has("school"):
        return School()
    chosen = case.child("school")
    leave = chosen.raw("leave") if chosen.has("leave") else []
    if not isinstance(leave, list) or not all(isinstance(role, str) for role in leave):
        raise BadInput("A list of parts is expected.", chosen.at("leave"), "cable_b, string")
    return School(
        chosen.flag("half_twists", True), chosen.flag("shorten_only", False),
        chosen.flag("keep_length", False), tuple(leave),
        chosen.number("top_first_in", 0, 0.25, 0.0), chosen.flag("upright", False),
    )  # fmt: skip


def _twin(case: Case) -> Twin:
    """The twin of the case's book: the cached one if it comes along, else built."""
    spec = read_spec(case.child("book"))
    return from_json(spec, case.raw("twin")) if case.has("twin") else build_twin(spec)


def _learned(case: Case) -> Learned:
    """The bow's belief after its history, starting from the model's prior."""
    spec, events = read_spec(case.child("book")), _events(case)
    finished = [_events(job) for job in case.children("finished", needed=False)]
    prior = prior_of(_twin(case), ensemble(spec))
    if finished:
        prior = pool(prior, [learn(prior, job).taught for job in finished]).belief
    return learn(prior, events)


def _events(case: Case) -> list[Event]:
    return [_event(row) for row in case.children("events")]


def _event(row: Case) -> Event:
    kind = row.text("kind", ("read", "turned", "replaced"))
    if kind == "turned":
        steps = row.child("steps")
        return Turned({key: steps.whole(key, -40, 40) for key in steps.names()})
    if kind == "replaced":
        return Replaced(row.text("part"))
    if row.has("takes"):
        summary = reading_cases.summary_of(row)
        return Read(row.text("quantity"), summary.value, summary.sigma, summary.takes)
    tool = quantity(row.text("quantity", QUANTITIES)).tool
    sigma = row.number("sigma", 1e-6, 100, tool.sigma)
    return Read(row.text("quantity"), row.number("value", -1000, 1000), sigma)


def _bands(case: Case) -> dict[str, Band]:
    if not case.has("bands"):
        allowed = Tolerances(top_first_in=read_school(case).top_first_in)
        return book_bands(read_spec(case.child("book")), allowed)
    return {
        row.text("quantity", QUANTITIES): reading_cases.read_band(row)
        for row in case.children("bands")
    }


def _limits(case: Case) -> dict[str, tuple[int, int]]:
    """Totals in steps: limb bolts from bottomed, in half turns, never past the maker's limit."""
    bolts = Case({})
    if case.has("limb_bolts"):
        bolts = case.child("limb_bolts")
    out = bolts.number("turns_out", 0, 30, 0.0)
    most = bolts.number("most_turns_out", 0, 30, 0.0)
    if out > most:
        raise BadInput("The bolts are out further than the maker allows.", "limb_bolts.turns_out")
    return {"limb_bolts": (-int(2 * out), int(2 * (most - out)))}


def _legs(legs: LegPlan) -> dict[str, Any]:
    return asdict(legs) | {"moves_timing": legs.moves_timing}


def _lesson(lesson: Lesson) -> dict[str, Any]:
    return {
        "steps": dict(lesson.steps),
        "predicted_and_measured": [_innovation(told) for told in lesson.innovations],
    }


def _innovation(told: Any) -> dict[str, Any]:
    return asdict(told) | {"off_sigmas": told.off_sigmas}
