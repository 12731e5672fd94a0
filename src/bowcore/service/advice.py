"""From a job's facts to the planner's question and its answer in words."""

from collections.abc import Mapping
from dataclasses import dataclass

from bowcore.measurement.bands import Band
from bowcore.mechanics import closed_form
from bowcore.mechanics.specification import BowSpec
from bowcore.planning.problem import Option, Plan, Problem, School
from bowcore.planning.solver import solve
from bowcore.planning.words import say_effect, say_option, say_plan, say_why
from bowcore.service.facts import Facts


@dataclass(frozen=True)
class Advice:
    """A plan with the question it answers and the sentences to say it with."""

    problem: Problem
    plan: Plan
    sentence: str
    effect: str
    why: tuple[str, ...]

    def sentence_of(self, option: Option) -> str:
        """Any option of the plan as an instruction."""
        return say_option(self.problem, option)

    def effect_of(self, option: Option) -> str:
        """What an option moves by enough to be read."""
        return say_effect(self.problem, option)


def advise(spec: BowSpec, facts: Facts, bands: Mapping[str, Band], school: School) -> Advice:
    """What to turn on this bow now.

    Parameters
    ----------
    spec : BowSpec
        The book.
    facts : Facts
        Every planned quantity must be fresh.
    bands : mapping of str to Band
        Where the numbers should be.
    school : School
        The shop's choices.

    Returns
    -------
    Advice
        Plan and words.

    Raises
    ------
    BadInput
        A planned quantity has not been read since the last change.
    NoModel
        No response can be computed for this bow.
    """
    spent = {part.role: facts.half_twists(part.role) for part in spec.parts}
    readings = {}
    for name in closed_form.QUANTITIES:
        current = facts.current(name)
        if current is not None and current.fresh and current.summary is not None:
            readings[name] = (current.summary.value, current.summary.sigma)
    problem = Problem(
        readings, bands, closed_form.response(spec, spent), spent, facts.replaced, school
    )
    plan = solve(problem)
    said = say_plan(problem, plan)
    return Advice(
        problem, plan, said, say_effect(problem, plan.best), tuple(say_why(problem, plan))
    )
