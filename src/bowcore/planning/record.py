"""A planner's question as plain values, from which the same answer comes again, to the byte."""

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

import numpy as np

from bowcore.errors import BadInput
from bowcore.measurement.bands import Band
from bowcore.mechanics.modules import Module
from bowcore.mechanics.response import Response, adjuster_of
from bowcore.planning.problem import Option, Plan, Problem, School
from bowcore.planning.reasons import say_why
from bowcore.planning.words import say_effect, say_option, say_plan


def problem_record(problem: Problem) -> dict[str, Any]:
    """Everything the answer depends on, as JSON keeps it."""
    response = problem.response
    return {
        "readings": {name: list(pair) for name, pair in problem.readings.items()},
        "bands": {name: asdict(band) for name, band in problem.bands.items()},
        "spent": dict(problem.spent),
        "suspects": list(problem.suspects),
        "school": asdict(problem.school),
        "limit": problem.limit,
        "limits": {key: list(pair) for key, pair in problem.limits.items()},
        "takes": dict(problem.takes),
        "process_share": problem.process_share,
        "doubted": dict(problem.doubted),
        "kinks": dict(problem.kinks),
        "modules": [asdict(module) for module in problem.modules],
        "quantities": list(response.quantities),
        "adjusters": [asdict(adjuster) for adjuster in response.adjusters],
        "response": response.mean.tolist(),
        "response_sigma": response.sigma.tolist(),
        "rests_on": response.rests_on,
        "blocks": None if problem.blocks is None else problem.blocks.tolist(),
    }


def problem_of(record: Mapping[str, Any]) -> Problem:
    """The question that a record was made of.

    Raises
    ------
    BadInput
        The record is not whole.
    """
    try:
        response = Response(
            tuple(record["quantities"]), tuple(adjuster_of(row) for row in record["adjusters"]),
            np.array(record["response"]), np.array(record["response_sigma"]), record["rests_on"],
        )  # fmt: skip
        school = dict(record["school"]) | {"leave": tuple(record["school"]["leave"])}
        return Problem(
            {name: (value, sigma) for name, (value, sigma) in record["readings"].items()},
            {name: Band(**band) for name, band in record["bands"].items()},
            response, dict(record["spent"]), tuple(record["suspects"]), School(**school),
            record["limit"], {key: (low, high) for key, (low, high) in record["limits"].items()},
            None if record.get("blocks") is None else np.array(record.get("blocks")),
            dict(record["takes"]), record["process_share"], dict(record["doubted"]),
            tuple(Module(**row) for row in record.get("modules", ())),
            dict(record.get("kinks", {})),
        )  # fmt: skip
    except (AttributeError, KeyError, TypeError, ValueError) as error:
        raise BadInput(f"The advice is not whole: {error}.", "record") from None


def answer_record(problem: Problem, plan: Plan) -> dict[str, Any]:
    """The answer to a question, in words and numbers, as JSON keeps it."""
    return {
        "kind": plan.kind.value,
        "sentence": say_plan(problem, plan),
        "why": say_why(problem, plan),
        "best": option_json(problem, plan.best),
        "alternatives": [option_json(problem, option) for option in plan.alternatives],
    }


def option_json(problem: Problem, option: Option) -> dict[str, Any]:
    """One option: what to turn, what it does, how sure that is."""
    return {
        "sentence": say_option(problem, option),
        "effect": say_effect(problem, option),
        "steps": dict(option.steps),
        "presses": option.presses,
        "predicted": {
            name: {"value": value, "sigma": sigma, "low90": value - 1.645 * sigma,
                   "high90": value + 1.645 * sigma}
            for name, (value, sigma) in option.predicted.items()
        },
        "chance": option.chance,
        "flips_stop": option.flips_stop,
    }  # fmt: skip
