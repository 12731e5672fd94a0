"""Cases of the command line: JSON in, the core's objects, JSON out."""

from typing import Any

from bowcore.casefile import Case
from bowcore.measurement.bands import Band
from bowcore.mechanics import closed_form
from bowcore.mechanics.bundle import Bundle
from bowcore.mechanics.specification import BowSpec, Family, PartSpec
from bowcore.planning.problem import Option, Problem, School
from bowcore.planning.solver import solve
from bowcore.planning.words import say_effect, say_option, say_plan, say_why
from bowcore.quantities.catalogue import QUANTITIES, quantity
from bowcore.quantities.entries import read_entry


def entry(case: Case) -> dict[str, Any]:
    """`entry`: one typed reading -> its exact value, uncertainty and any doubt."""
    what = quantity(case.text("quantity", QUANTITIES))
    said = read_entry(what, case.text("text"), case.text("first_stop", default=""))
    return {
        "value": float(said.value), "unit": what.unit, "said": what.say(said.value),
        "sigma": said.sigma, "odd": said.odd,
    }  # fmt: skip


def bundle(case: Case) -> dict[str, Any]:
    """`bundle`: a twisted bundle -> strand length and what each half twist does."""
    rope = Bundle(
        case.number("length_in", 1, 150),
        case.whole("strands", 1, 60),
        case.number("twists", 0, 300),
    )
    steps = [n for n in range(-8, 9) if rope.twists + n / 2 >= 0]
    return {
        "strand_length_in": rope.strand_length_in,
        "effective_radius_in": rope.effective_radius_in,
        "shortening_in": {str(n): rope.shortening_in(n) for n in steps},
    }


def plan(case: Case) -> dict[str, Any]:
    """`plan`: a bow, its readings and bands -> what to turn, why, and what else would do."""
    spec = read_spec(case.child("book"))
    spent = {
        row.text("part"): row.whole("half_twists", -40, 40)
        for row in case.children("ledger", needed=False)
    }
    school = read_school(case)
    problem = Problem(
        {row.text("quantity", QUANTITIES): _reading(row) for row in case.children("readings")},
        {row.text("quantity", QUANTITIES): _band(row) for row in case.children("bands")},
        closed_form.response(spec, spent),
        spent,
        school=school,
    )
    answer = solve(problem)
    return {
        "kind": answer.kind.value,
        "sentence": say_plan(problem, answer),
        "why": say_why(problem, answer),
        "best": option_json(problem, answer.best),
        "alternatives": [option_json(problem, option) for option in answer.alternatives],
        "shortfall": answer.shortfall
        and {"part": answer.shortfall.adjuster, "short_by_in": answer.shortfall.off_in},
        "rests_on": problem.response.rests_on,
    }


def option_json(problem: Problem, option: Option) -> dict[str, Any]:
    """One option as JSON."""
    return {
        "sentence": say_option(problem, option),
        "effect": say_effect(problem, option),
        "steps": dict(option.steps),
        "predicted": {
            name: {"value": value, "sigma": sigma, "low90": value - 1.645 * sigma,
                   "high90": value + 1.645 * sigma}
            for name, (value, sigma) in option.predicted.items()
        },
        "chance": option.chance,
        "flips_stop": option.flips_stop,
    }  # fmt: skip


def read_spec(case: Case) -> BowSpec:
    """A book entry from JSON."""
    measured: dict[str, Any] = {
        name: case.number(name, 0.05, 3)
        for name in ("peg_radius_in", "take_up_radius_in", "let_out_radius_in")
        if case.has(name)
    }
    return BowSpec(
        case.text("name"), Family(case.text("family", [f.value for f in Family])),
        case.number("axle_to_axle_in", 20, 50), case.number("brace_height_in", 4, 10),
        case.number("draw_length_in", 18, 34), case.number("peak_weight_lbf", 10, 100),
        case.number("let_off", 0.3, 0.95),
        tuple(_part(row) for row in case.children("parts")), radii_measured=bool(measured), **measured,
    )  # fmt: skip


def read_school(case: Case) -> School:
    """The shop's choices from JSON; absent ones are the defaults."""
    if not case.has("school"):
        return School()
    chosen = case.child("school")
    return School(chosen.flag("half_twists", True), chosen.flag("shorten_only", False))


def _part(row: Case) -> PartSpec:
    return PartSpec(
        row.text("role"), row.text("label"), row.text("ends", default=""),
        row.number("length_in", 1, 150), row.whole("strands", 4, 60),
        row.number("twists_per_in", 0, 2),
    )  # fmt: skip


def _reading(row: Case) -> tuple[float, float]:
    tool = quantity(row.text("quantity")).tool
    return row.number("value", -1000, 1000), row.number("sigma", 0, 100, tool.sigma)


def _band(row: Case) -> Band:
    low, high = row.number("low", -1000, 1000), row.number("high", -1000, 1000)
    target = row.number("target", -1000, 1000, (low + high) / 2)
    return Band(low, high, target, row.text("source", default="book"))
