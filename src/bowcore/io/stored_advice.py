"""A planner's question and answer as plain values, from which the same answer comes again, to the byte."""

from dataclasses import asdict
from typing import Any

import numpy as np
from pydantic import Field

from bowcore.adjusters.registry import adjuster_from_json, adjuster_to_json
from bowcore.adjusters.steps import Steps
from bowcore.bow.modules import Module
from bowcore.deciding.problem import Option, Plan, Problem, TuningPolicy
from bowcore.deciding.reasons import say_why
from bowcore.deciding.words import say_effect, say_option, say_plan
from bowcore.errors import BadInput
from bowcore.io.edge import Edge, Flag, Number, Text, Whole, validated
from bowcore.learning.gap_bend import GapBend
from bowcore.measurement.bands import Band
from bowcore.measurement.normal import NINETY
from bowcore.response.matrix import Response

Pair = tuple[Number, Number]


class BandShape(Edge):
    """A band; its target is the middle if it is not given."""

    low: Number = Field(gt=-1000, lt=1000)
    high: Number = Field(gt=-1000, lt=1000)
    target: Number | None = Field(default=None, gt=-1000, lt=1000)
    source: Text = "book"
    because: Text = ""

    def band(self, path: str = "") -> Band:
        """As the core takes it.

        Raises
        ------
        BadInput
            The low end is above the high end.
        """
        if self.low > self.high:
            at = f"{path}.low" if path else "low"
            raise BadInput("The low end is above the high end.", at, f"up to {self.high:g}")
        target = (self.low + self.high) / 2 if self.target is None else self.target
        return Band(self.low, self.high, target, self.source, self.because)


class PolicyShape(Edge):
    """How the shop turns things; see `TuningPolicy`."""

    half_twists: Flag = True
    shorten_only: Flag = False
    keep_length: Flag = False
    leave: tuple[Text, ...] = ()
    top_first_in: Number = Field(default=0.0, ge=0, le=0.25)
    upright: Flag = False

    def policy(self) -> TuningPolicy:
        """As the core takes it."""
        return TuningPolicy(**self.model_dump())


class ModuleRow(Edge):
    """A module as it was stored."""

    name: Text
    low_in: Number
    high_in: Number


class BendShape(Edge):
    """How the gap answers along the way; see `GapBend`."""

    moves: tuple[Number, ...]
    after: tuple[Number, ...]
    factor: tuple[Number, ...]
    spread: tuple[Number, ...]

    def bend(self) -> GapBend:
        """As the core takes it."""
        return GapBend(*map(np.array, (self.moves, self.after, self.factor, self.spread)))


class StoredProblem(Edge):
    """Everything the answer depends on; see `Problem` and `Response`."""

    readings: dict[str, Pair]
    bands: dict[str, BandShape]
    spent: dict[str, Whole]
    suspects: tuple[Text, ...]
    policy: PolicyShape
    limit: Whole
    limits: dict[str, tuple[Whole, Whole]]
    takes: dict[str, Whole]
    process_share: Number
    unconfirmed: dict[str, Number]
    first_stop_effect: dict[str, Number] = {}
    left_out: dict[str, Pair] = {}
    bend: BendShape | None = None
    surprising: dict[str, Number] = {}
    to_come: dict[str, Pair] = {}
    answered: Flag = False
    tried: tuple[dict[str, Whole], ...] = ()
    on_tolerance: Flag = False
    modules: tuple[ModuleRow, ...] = ()
    quantities: tuple[Text, ...]
    adjusters: tuple[dict[str, Any], ...]
    response: tuple[tuple[Number, ...], ...]
    response_sigma: tuple[tuple[Number, ...], ...]
    rests_on: Text
    blocks: tuple[tuple[tuple[Number, ...], ...], ...] | None = None

    def problem(self) -> Problem:
        """The question.

        Raises
        ------
        BadInput
            Its arrays do not fit together, or a planned quantity has no reading.
        """
        try:
            response = Response(
                self.quantities,
                tuple(map(adjuster_from_json, self.adjusters)),
                np.array(self.response),
                np.array(self.response_sigma),
                self.rests_on,
            )
            blocks = None if self.blocks is None else np.array(self.blocks)
        except ValueError as error:
            raise BadInput(f"The advice is not whole: {error}.", "response") from None
        return Problem(
            self.readings,
            {name: shape.band(f"bands.{name}") for name, shape in self.bands.items()},
            response,
            self.spent,
            self.suspects,
            self.policy.policy(),
            self.limit,
            self.limits,
            blocks,
            self.takes,
            self.process_share,
            left_out=self.left_out,
            unconfirmed=self.unconfirmed,
            modules=tuple(Module(**row.model_dump()) for row in self.modules),
            first_stop_effect=self.first_stop_effect,
            bend=None if self.bend is None else self.bend.bend(),
            surprising=self.surprising,
            to_come=self.to_come,
            on_tolerance=self.on_tolerance,
            answered=self.answered,
            tried=tuple(map(Steps, self.tried)),
        )


class Prediction(Edge):
    """A number as it should be after a change, with its 90 % range."""

    value: Number
    sigma: Number
    low90: Number
    high90: Number


class OptionAnswer(Edge):
    """One option: what to turn, what it does, how sure that is."""

    sentence: Text
    effect: Text
    steps: dict[str, Whole]
    presses: Whole
    predicted: dict[str, Prediction]
    chance: Number
    flips_stop: Flag


class AdviceAnswer(Edge):
    """The answer to a stored question."""

    kind: Text
    sentence: Text
    why: tuple[Text, ...]
    best: OptionAnswer
    alternatives: tuple[OptionAnswer, ...]


def problem_record(problem: Problem) -> dict[str, Any]:
    """Everything the answer depends on, as JSON keeps it; `StoredProblem` reads it."""
    response = problem.response
    return {
        "readings": {n: [float(v), float(s)] for n, (v, s) in problem.readings.items()},
        "bands": {name: _band_row(band) for name, band in problem.bands.items()},
        "spent": dict(problem.spent),
        "suspects": list(problem.suspects),
        "policy": asdict(problem.policy)
        | {"leave": list(problem.policy.leave), "top_first_in": float(problem.policy.top_first_in)},
        "limit": problem.limit,
        "limits": {key: list(pair) for key, pair in problem.limits.items()},
        "takes": dict(problem.takes),
        "process_share": problem.process_share,
        "unconfirmed": {name: float(v) for name, v in problem.unconfirmed.items()},
        "first_stop_effect": {name: float(v) for name, v in problem.first_stop_effect.items()},
        "left_out": {name: list(pair) for name, pair in problem.left_out.items()},
        "bend": problem.bend and {name: row.tolist() for name, row in vars(problem.bend).items()},
        "surprising": {name: float(v) for name, v in problem.surprising.items()},
        "to_come": {name: list(pair) for name, pair in problem.to_come.items()},
        "answered": problem.answered,
        "on_tolerance": problem.on_tolerance,
        "tried": [dict(steps) for steps in problem.tried],
        "modules": [asdict(module) for module in problem.modules],
        "quantities": list(response.quantities),
        "adjusters": [adjuster_to_json(adjuster) for adjuster in response.adjusters],
        "response": response.mean.tolist(),
        "response_sigma": response.sigma.tolist(),
        "rests_on": response.rests_on,
        "blocks": None if problem.blocks is None else problem.blocks.tolist(),
    }


def _band_row(band: Band) -> dict[str, Any]:
    numbers = {name: float(getattr(band, name)) for name in ("low", "high", "target")}
    return numbers | {"source": band.source, "because": band.because}


def problem_from(record: Any) -> Problem:
    """The question that a record was made of.

    Raises
    ------
    BadInput
        Names what is missing or wrong in the record.
    """
    return validated(StoredProblem, record).problem()


def answer_record(problem: Problem, plan: Plan) -> AdviceAnswer:
    """The answer to a question, in words and numbers."""
    return AdviceAnswer(
        kind=plan.kind.value,
        sentence=say_plan(problem, plan),
        why=tuple(say_why(problem, plan)),
        best=option_answer(problem, plan.best),
        alternatives=tuple(option_answer(problem, option) for option in plan.alternatives),
    )


def option_answer(problem: Problem, option: Option) -> OptionAnswer:
    """One option: what to turn, what it does, how sure that is."""
    return OptionAnswer(
        sentence=say_option(problem, option),
        effect=say_effect(problem, option),
        steps=dict(option.steps),
        presses=option.presses,
        predicted={
            name: Prediction(
                value=value,
                sigma=sigma,
                low90=value - NINETY * sigma,
                high90=value + NINETY * sigma,
            )
            for name, (value, sigma) in option.predicted.items()
        },
        chance=option.chance,
        flips_stop=option.flips_stop,
    )
