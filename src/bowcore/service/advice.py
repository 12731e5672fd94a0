"""From a job's facts to the planner's question and its answer in words."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from bowcore.measurement.bands import Band
from bowcore.measurement.freshness import TABLE
from bowcore.measurement.repeats import summarise
from bowcore.mechanics import closed_form
from bowcore.mechanics.adjusters import lean_of
from bowcore.mechanics.measured import CurveFit, bows_like
from bowcore.mechanics.sensitivity import ensemble
from bowcore.mechanics.specification import BowSpec
from bowcore.mechanics.twin import Twin, build_twin
from bowcore.planning.estimator import Belief
from bowcore.planning.history import (
    Changed,
    Event,
    Learned,
    Lesson,
    Read,
    Replaced,
    Turned,
    learn,
)
from bowcore.planning.prior import prior_of
from bowcore.planning.problem import BOLTS, Option, Plan, Problem, School
from bowcore.planning.reasons import say_why
from bowcore.planning.solver import solve
from bowcore.planning.words import (
    say_adjuster,
    say_effect,
    say_lesson,
    say_option,
    say_plan,
    say_steps,
)
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.service.facts import Change, Facts, Take
from bowcore.service.needs import SHIM_MARKS
from bowcore.service.other_changes import OPENING
from bowcore.service.steps import judged_by

PLAUSIBLE_BOWS = 16


@dataclass(frozen=True)
class Shown:
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
    shown: tuple[Shown, ...] = ()
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
    return prior_of(twin or build_twin(spec), ensemble(spec, count=PLAUSIBLE_BOWS))


def fitted_prior(spec: BowSpec, fitted: CurveFit) -> Belief:
    """What is believed of a bow once its own force-draw curve is known; takes some seconds.

    Raises
    ------
    NoModel
        With the insides that the curve shows the book's numbers make no bow.
    """
    twin, others = bows_like(spec, fitted, PLAUSIBLE_BOWS)
    return replace(prior_of(twin, others), rests_on="its own force-draw curve")


def advise(
    spec: BowSpec,
    facts: Facts,
    bands: Mapping[str, Band],
    school: School,
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
    school : School
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
        _closed(spec, facts, bands, school) if known is None else _open(known, facts, bands, school)
    )
    problem = replace(problem, modules=spec.modules)
    plan = solve(problem)
    lesson = known.lessons[-1] if known and known.lessons else None
    return Advice(
        problem, plan, say_plan(problem, plan), say_effect(problem, plan.best),
        tuple(say_why(problem, plan)), _say_learned(problem, lesson),
        tuple(_shown(spec, one) for one in reversed(known.lessons)) if known else (),
    )  # fmt: skip


def history(facts: Facts, quantities: tuple[str, ...]) -> list[Event]:
    """A job's facts as the estimator takes them: repeats summarised, one event per change."""
    events: list[Event] = []
    takes = sorted((t for t in facts.takes if t.quantity in quantities), key=lambda t: t.seq)
    changes = sorted(facts.changes, key=lambda c: c.seq)
    for seq in sorted({change.seq for change in changes}):
        events += _readings([take for take in takes if take.seq < seq])
        takes = [take for take in takes if take.seq > seq]
        events += _turns([change for change in changes if change.seq == seq])
    return events + _readings(takes)


def _readings(takes: list[Take]) -> list[Event]:
    """One reading per quantity, of the points that were used last."""
    found: list[Event] = []
    for name in dict.fromkeys(take.quantity for take in takes):
        mine = [take for take in takes if take.quantity == name]
        points = (mine[-1].start, mine[-1].end)
        values = [t.value for t in mine if t.value is not None and (t.start, t.end) == points]
        if values:
            summary = summarise(values, QUANTITIES[name].tool.sigma)
            found.append(Read(name, summary.value, summary.sigma, summary.takes))
    return found


def _turns(changes: list[Change]) -> list[Event]:
    replaced: list[Event] = [Replaced(change.part) for change in changes if change.replaced]
    opened: list[Event] = [
        Changed(c.change, TABLE[c.change]) for c in changes if c.change in OPENING
    ]
    steps = {change.part: change.half_twists for change in changes if change.half_twists}
    return [*replaced, *opened, *([Turned(steps)] if steps else [])]


def _open(known: Learned, facts: Facts, bands: Mapping[str, Band], school: School) -> Problem:
    """The learned response, applied to the readings as they stand on the sheet.

    The estimator's own values mix in what was expected; a technician plans on what was read, and
    the hand-over judges the same numbers.
    """
    problem = known.problem(bands, school, limits_of(known, facts, bands))
    problem = replace(problem, spent=_stands(known, facts))
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

    Limb bolts go from bottomed to the maker's limit, from where each stands; one alone only for a
    tiller that is off. What tilts a cam is left alone while its lean is not read, shims also
    while nobody has written down which are in.
    """
    limits = {key: facts.bolt_limits(key) for key in BOLTS}
    if not _tiller_off(facts, bands):
        limits |= {key: _stay(facts, key) for key in ("bolt_top", "bolt_bottom")}
    for key in (adjuster.key for adjuster in known.belief.adjusters):
        unread = lean_of(key) and lean_of(key) not in bands
        if unread or (key in SHIM_MARKS and facts.shims_at_first(key) is None):
            limits[key] = _stay(facts, key)
    return limits


def _stay(facts: Facts, key: str) -> tuple[int, int]:
    return facts.total(key), facts.total(key)


def _tiller_off(facts: Facts, bands: Mapping[str, Band]) -> bool:
    """Whether the tiller stands nearer to an end of its band than to the middle, or outside."""
    now, band = facts.current("tiller"), bands.get("tiller")
    if band is None or now is None or not now.fresh or now.summary is None:
        return False
    return abs(now.summary.value - band.target) > band.half_width / 2


def _stands(known: Learned, facts: Facts) -> dict[str, int]:
    """Where every adjuster stands; shims counted from nought, not from how the bow came."""
    found = dict(known.spent)
    for key in SHIM_MARKS:
        if facts.shims_at_first(key) is not None:
            found[key] = facts.total(key)
    return found


def _closed(spec: BowSpec, facts: Facts, bands: Mapping[str, Band], school: School) -> Problem:
    spent = {part.role: facts.half_twists(part.role) for part in spec.parts}
    readings = {}
    for name in closed_form.QUANTITIES:
        current = facts.current(name)
        if current is not None and current.fresh and current.summary is not None:
            readings[name] = (current.summary.value, current.summary.sigma)
    response = closed_form.response(spec, spent)
    return Problem(readings, bands, response, spent, facts.replaced, school)


def _shown(spec: BowSpec, lesson: Lesson) -> Shown:
    labels = {part.role: part.label for part in spec.parts}
    turned = [f"{say_adjuster(k, labels)}: {say_steps(k, n)}" for k, n in lesson.steps.items() if n]
    lines = [
        (q.name, f"{q.say(one.expected)}, give or take {q.say_size(one.sigma)}", q.say(one.value))
        for one in lesson.innovations
        if (q := QUANTITIES[one.quantity])
    ]
    return Shown("; ".join(turned), tuple(lines))


def _say_learned(problem: Problem, lesson: Lesson | None) -> str:
    return "" if lesson is None else say_lesson(problem, lesson.innovations)
