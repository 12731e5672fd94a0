"""From a job's facts to the planner's question and its answer in words."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from bowcore.adjusters.adjuster import Adjuster
from bowcore.adjusters.limb_bolt import LimbBolt
from bowcore.adjusters.steps import Steps
from bowcore.learning.belief import Belief
from bowcore.learning.history import (
    HistoryEvent,
    Learned,
    Lesson,
    OpenedAgain,
    Read,
    Replaced,
    Turned,
    learn,
)
from bowcore.learning.prior import prior_of_twins
from bowcore.measurement.bands import Band
from bowcore.measurement.freshness import stale_after
from bowcore.measurement.repeats import summarise
from bowcore.mechanics.plausible import ensemble
from bowcore.mechanics.specification import BowSpec
from bowcore.mechanics.twin import Twin, build_twin
from bowcore.planning.problem import Option, Plan, Problem, TuningPolicy, problem_after
from bowcore.planning.reasons import say_why
from bowcore.planning.search import find_plan
from bowcore.planning.words import say_effect, say_lesson, say_option, say_plan
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.response.closed_form import CLOSED_FORM_QUANTITIES, closed_form_response
from bowcore.response.measured import CurveFit, bows_like_curve
from bowcore.workflow.facts import Facts, LedgerEntry, Take
from bowcore.workflow.other_changes import OPENING
from bowcore.workflow.steps.back_to_spec import judged_by

PLAUSIBLE_BOWS = 16


@dataclass(frozen=True)
class ShownChange:
    """One change: what was turned, and per quantity what was expected and what was read."""

    change: str
    lines: tuple[tuple[str, str, str], ...]


@dataclass(frozen=True)
class Advice:
    """A plan with the question it answers and the sentences to say it with."""

    problem: Problem
    plan: Plan
    sentence: str
    effect: str
    why: tuple[str, ...]
    learned: str = ""
    """What the last change showed, predicted against measured; empty before the first."""
    shown: tuple[ShownChange, ...] = ()
    """Every change so far and what it showed, in words, the newest first."""

    def sentence_of(self, option: Option) -> str:
        """Any option of the plan as an instruction."""
        return say_option(self.problem, option)

    def effect_of(self, option: Option) -> str:
        """What an option moves by enough to be read."""
        return say_effect(self.problem, option)


def model_prior(spec: BowSpec, twin: Twin | None = None) -> Belief:
    """What is believed of a bow before it has shown anything: its twin and plausible bows beside.

    Takes a second or so; keep it with the book entry. Give the book's `twin` if it is there already.

    Raises
    ------
    NoModel
        The book's numbers do not make a bow.
    """
    return prior_of_twins(twin or build_twin(spec), ensemble(spec, count=PLAUSIBLE_BOWS))


def fitted_prior(spec: BowSpec, fitted: CurveFit) -> Belief:
    """What is believed of a bow once its own force-draw curve is known; takes some seconds.

    Raises
    ------
    NoModel
        With the parameters that the curve shows the book's numbers do not make a bow.
    """
    twin, others = bows_like_curve(spec, fitted, PLAUSIBLE_BOWS)
    return replace(prior_of_twins(twin, others), rests_on="its own force-draw curve")


def advise(
    spec: BowSpec,
    facts: Facts,
    bands: Mapping[str, Band],
    policy: TuningPolicy,
    prior: Belief | None = None,
) -> Advice:
    """What to turn on this bow now.

    Parameters
    ----------
    spec : BowSpec
        The book.
    facts : Facts
        Every planned quantity must be fresh.
    bands : mapping of str to Band
        Where the numbers should be.
    policy : TuningPolicy
        The shop's choices.
    prior : Belief or None
        The model's; without one the closed forms answer, which know binary cams only.

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
    known = None if prior is None else learn(prior, history(facts, prior.quantities))
    bands = {name: band for name, band in bands.items() if name in judged_by(facts)}
    problem = (
        _closed(spec, facts, bands, policy) if known is None else _open(known, facts, bands, policy)
    )
    problem = replace(problem, modules=spec.modules)
    plan = find_plan(problem)
    lesson = known.lessons[-1] if known and known.lessons else None
    return Advice(
        problem,
        plan,
        say_plan(problem, plan),
        say_effect(problem, plan.best),
        tuple(say_why(problem, plan)),
        _say_learned(problem, lesson),
        tuple(_shown(known.belief.adjusters, one) for one in reversed(known.lessons))
        if known
        else (),
    )


def history(facts: Facts, quantities: tuple[str, ...]) -> list[HistoryEvent]:
    """A job's facts as the estimator takes them: repeats summarised, one event per change."""
    events: list[HistoryEvent] = []
    takes = sorted((t for t in facts.takes if t.quantity in quantities), key=lambda t: t.seq)
    changes = sorted(facts.changes, key=lambda c: c.seq)
    for seq in sorted({change.seq for change in changes}):
        events += _readings([take for take in takes if take.seq < seq])
        takes = [take for take in takes if take.seq > seq]
        events += _turns([change for change in changes if change.seq == seq])
    return events + _readings(takes)


def _readings(takes: list[Take]) -> list[HistoryEvent]:
    """One reading per quantity, of the points that were used last."""
    found: list[HistoryEvent] = []
    for name in dict.fromkeys(take.quantity for take in takes):
        mine = [take for take in takes if take.quantity == name]
        points = (mine[-1].start, mine[-1].end)
        values = [t.value for t in mine if t.value is not None and (t.start, t.end) == points]
        if values:
            summary = summarise(values, QUANTITIES[name].tool.sigma)
            found.append(Read(name, summary.value, summary.sigma, summary.takes))
    return found


def _turns(changes: list[LedgerEntry]) -> list[HistoryEvent]:
    found: list[HistoryEvent] = [Replaced(one.part) for one in changes if one.replaced]
    found += [
        OpenedAgain(one.change, stale_after(one.change)) for one in changes if one.change in OPENING
    ]
    steps = Steps({one.adjuster: one.steps for one in changes if one.steps})
    return [*found, Turned(steps)] if steps else found


def _open(known: Learned, facts: Facts, bands: Mapping[str, Band], policy: TuningPolicy) -> Problem:
    """The learned response, applied to the readings as they are on the sheet.

    The estimator's own values mix in what was expected; a technician plans on what was read, and
    the hand-over judges the same numbers.
    """
    problem = problem_after(known, bands, policy, limits_of(known, facts, bands))
    problem = replace(problem, spent=_totals(known, facts))
    assert problem.blocks is not None
    readings, blocks = dict(problem.readings), problem.blocks.copy()
    for row, name in enumerate(problem.response.quantities):
        current = facts.current(name)
        if name in problem.takes and current is not None and current.fresh and current.summary:
            readings[name] = (current.summary.value, current.summary.sigma)
            blocks[row, 0, :], blocks[row, :, 0] = 0.0, 0.0
            blocks[row, 0, 0] = current.summary.sigma**2
    return replace(problem, readings=readings, blocks=blocks)


def limits_of(
    known: Learned, facts: Facts, bands: Mapping[str, Band]
) -> dict[str, tuple[int, int]]:
    """Least and most steps in all, where the usual limits do not hold.

    What tilts a cam is left alone while its lean is not read; one limb bolt alone is turned only
    for a tiller that is off.
    """
    limits = {}
    for adjuster in known.belief.adjusters:
        allowed = adjuster.totals_allowed(facts)
        unread = adjuster.leans and adjuster.leans not in bands
        single_bolt = isinstance(adjuster, LimbBolt) and adjuster.alone
        if unread or (single_bolt and not _tiller_off(facts, bands)):
            allowed = (adjuster.total(facts), adjuster.total(facts))
        if allowed is not None:
            limits[adjuster.key] = allowed
    return limits


def _tiller_off(facts: Facts, bands: Mapping[str, Band]) -> bool:
    """Whether the tiller is nearer to an end of its band than to the middle, or outside."""
    now, band = facts.current("tiller"), bands.get("tiller")
    if band is None or now is None or not now.fresh or now.summary is None:
        return False
    return abs(now.summary.value - band.target) > band.half_width / 2


def _totals(known: Learned, facts: Facts) -> dict[str, int]:
    """Steps in every adjuster, counted from where it was when the bow came in."""
    found = dict(known.spent)
    for adjuster in known.belief.adjusters:
        if adjuster.start(facts):
            found[adjuster.key] = adjuster.total(facts)
    return found


def _closed(
    spec: BowSpec, facts: Facts, bands: Mapping[str, Band], policy: TuningPolicy
) -> Problem:
    spent = {role: facts.net_steps(role) for role in spec.roles}
    readings = {}
    for name in CLOSED_FORM_QUANTITIES:
        current = facts.current(name)
        if current is not None and current.fresh and current.summary is not None:
            readings[name] = (current.summary.value, current.summary.sigma)
    response = closed_form_response(spec, spent)
    return Problem(readings, bands, response, spent, facts.replaced, policy)


def _shown(adjusters: tuple[Adjuster, ...], lesson: Lesson) -> ShownChange:
    turned = [
        f"{one.label}: {one.say(lesson.steps[one.key])}"
        for one in adjusters
        if one.key in lesson.steps
    ]
    lines = [
        (q.name, f"{q.say(one.expected)}, give or take {q.say_size(one.sigma)}", q.say(one.value))
        for one in lesson.innovations
        if (q := QUANTITIES[one.quantity])
    ]
    return ShownChange("; ".join(turned), tuple(lines))


def _say_learned(problem: Problem, lesson: Lesson | None) -> str:
    return "" if lesson is None else say_lesson(problem, lesson.innovations)
