"""From a job's facts to the planner's question and its answer in words."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from bowcore.adjusters.adjuster import MOST_HALF_TWISTS, Adjuster
from bowcore.adjusters.limb_bolt import LimbBolt
from bowcore.adjusters.registry import adjusters_of
from bowcore.adjusters.shim import Shim
from bowcore.adjusters.spacer import Spacer
from bowcore.adjusters.steps import NO_STEPS, Steps
from bowcore.adjusters.string_or_cable import StringOrCable
from bowcore.bow.plausible import ensemble
from bowcore.bow.specification import STRING, BowSpec, length_of
from bowcore.bow.twin import Twin, build_twin
from bowcore.deciding.problem import (
    Option,
    Plan,
    PlanKind,
    Problem,
    TuningPolicy,
    problem_after,
    unread_leans,
)
from bowcore.deciding.reasons import say_why
from bowcore.deciding.search import find_plan
from bowcore.deciding.weighing import weigh
from bowcore.deciding.words import (
    PlanLine,
    say_acts,
    say_chance,
    say_effect,
    say_heading,
    say_lesson,
    say_option,
    say_plan,
)
from bowcore.errors import NoModel
from bowcore.evidence.facts import Facts, LedgerEntry, Take, precision_of
from bowcore.learning.belief import Belief
from bowcore.learning.history import (
    Drawn,
    HistoryEvent,
    Learned,
    Lesson,
    OpenedAgain,
    Read,
    Replaced,
    Turned,
    learn,
)
from bowcore.learning.mislog import Mislog
from bowcore.learning.prior import prior_of_twins
from bowcore.measurement.bands import Band
from bowcore.measurement.freshness import stale_after
from bowcore.quantities.catalogue import LEANS, QUANTITIES, TIMED_AT_REST
from bowcore.quantities.changes import Change
from bowcore.response.measured import CurveFit, bows_like_curve
from bowcore.stages.back_to_spec.other_changes import OPENING
from bowcore.stages.back_to_spec.shims_by_tear import shims_by_tear
from bowcore.stages.back_to_spec.step import judged_by
from bowcore.stages.back_to_spec.timing_at_rest import (
    DRAWN_GAP,
    as_precision,
    gap_by,
    say_at_rest,
    stands_in,
)
from bowcore.work_order.needs import unknown_modules, unlike_modules
from bowcore.work_order.services import DRAW_LENGTH_SERVICE, DRAW_WEIGHT

PLAUSIBLE_BOWS = 16


@dataclass(frozen=True)
class ShownChange:
    """One change: what was turned, and per quantity what was expected and what was read."""

    change: str
    lines: tuple[tuple[str, str, str], ...]


@dataclass(frozen=True)
class DoubtedChange:
    """A change in words, a line for each part: as it was written down, and as the bow moved."""

    logged: tuple[str, ...]
    moved_as: tuple[str, ...]


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
    doubted: Mislog | None = None
    """The last change, if the bow moved as if another one had been made."""
    later: tuple[str, ...] = ()
    """Quantities that are outside and wait their turn: the lean of the other cam."""

    def say_settled(self) -> str:
        """How sure it is that this bow, left as it is, stays inside."""
        chance = say_chance(weigh(self.problem, NO_STEPS).chance)
        when = " once its new threads have settled" if self.problem.to_come else ""
        return f"Chance that every number is inside{when}: {chance}."

    def say_doubted(self) -> "DoubtedChange | None":
        """The last change as it was written down and as the bow moved; None if they agree."""
        if self.doubted is None:
            return None
        both = (self.doubted.logged, self.doubted.moved_as)
        return DoubtedChange(*(self._say_steps(steps) for steps in both))

    def say_correction(self, as_written: bool) -> str:
        """What is recorded when that question is answered."""
        assert self.doubted is not None
        if as_written:
            return "looked at the last change: as written"
        moved = " ".join(self._say_steps(self.doubted.moved_as))
        return f"corrected the last change to: {moved}"

    def _say_steps(self, steps: Steps) -> tuple[str, ...]:
        turned = self.problem.turned(steps)
        lines = tuple(f"{one.label}: {one.say(count)}." for one, count in turned)
        return lines or ("Nothing.",)

    @property
    def heading(self) -> str:
        """The sentence, or how many changes there are where they are listed one by one."""
        return say_heading(self.problem, self.plan)

    def sentence_of(self, option: Option) -> str:
        """Any option of the plan as an instruction."""
        return say_option(self.problem, option)

    def acts_of(self, option: Option) -> list[PlanLine]:
        """Everything that an option turns, one by one."""
        return say_acts(self.problem, option)

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
    limit: int = MOST_HALF_TWISTS,
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
        The model's; None where the book's numbers do not make a twin.
    limit : int
        Half twists that a part may take either way.

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
    if prior is None:
        raise NoModel(
            "This bow cannot be computed from its book. Turn by hand below, and read again after each change."
        )
    known = learn(prior, history(facts, prior))
    bands = {name: band for name, band in bands.items() if name in judged_by(facts)}
    waits = _second_cam(known.belief, bands)
    bands = {name: band for name, band in bands.items() if name not in waits}
    problem = replace(_open(known, facts, bands, policy, limit), modules=spec.modules)
    plan = find_plan(problem)
    lesson = known.lessons[-1] if known.lessons else None
    return Advice(
        problem,
        plan,
        say_plan(problem, plan),
        say_effect(problem, plan.best),
        (
            *_unlike(problem, facts),
            *filter(None, [say_at_rest(facts)]),
            *_by_bolts(problem, plan, facts),
            *say_why(problem, plan),
            *_by_tear(spec, facts),
            *_one_cam(waits),
            *_best_estimates_differ(problem, facts),
        ),
        _say_learned(problem, lesson),
        tuple(_shown(known.belief.adjusters, one) for one in reversed(known.lessons)),
        None if _looked_at(facts) else known.doubted,
        waits,
    )


def _second_cam(belief: Belief, bands: Mapping[str, Band]) -> tuple[str, ...]:
    """The lean that waits: shims are exchanged at one cam at a time, the top one first (common practice)."""
    shimmed = [one.leans for one in belief.adjusters if isinstance(one, Shim)]
    now = belief.readings()
    out = [
        name
        for name in LEANS
        if name in shimmed and name in bands and name in now
        if not bands[name].judge(now[name][0]).inside
    ]
    return tuple(out[1:])


def _by_tear(spec: BowSpec, facts: Facts) -> list[str]:
    """What a sideways tear asks of the shims."""
    found = shims_by_tear(facts, adjusters_of(spec))
    return [found.words] if found else []


def _one_cam(waits: tuple[str, ...]) -> list[str]:
    """What is said of the cam that waits."""
    return [
        f"One cam at a time: {QUANTITIES[name].name.lower()} comes after this one."
        for name in waits
    ]


def _unlike(problem: Problem, facts: Facts) -> list[str]:
    """Unlike modules, or unknown ones before anything was twisted, where the timing is off."""
    if "stop_gap" not in problem.planned:
        return []
    off = not problem.bands["stop_gap"].judge(problem.readings["stop_gap"][0]).inside
    asked = "" if facts.setup.one_cam or problem.answered else unknown_modules(facts)
    words = unlike_modules(facts) or asked if off else ""
    return [words] if words else []


def _by_bolts(problem: Problem, plan: Plan, facts: Facts) -> list[str]:
    """Why a wished weight is made by the bolts alone, and what there is beyond them."""
    name = "peak_weight"
    if not weight_by_bolts(facts) or name not in problem.planned:
        return []
    if problem.bands[name].judge(problem.readings[name][0]).inside:
        return []
    found = ["Limb bolts make the weight, equal turns, within the maker's limit. Twists do not."]
    if plan.kind is PlanKind.UNREACHABLE:
        found.append(
            "The bolts are at their end. What is missing is another module or other limbs, or it is out of "
            "this bow's reach: tell the customer."
        )
    return found


def _looked_at(facts: Facts) -> bool:
    """Whether the last change was looked at after it was doubted, and found as written."""
    turned = [one for one in facts.changes if one.adjuster and not one.replaced]
    last = max((one.seq for one in turned), default=0)
    return any(one.seq == last and not one.steps for one in turned)


def best_estimates(facts: Facts, prior: Belief) -> dict[str, float]:
    """What every number that was read since the last change is, by all readings together."""
    known = learn(prior, history(facts, prior))
    return {name: value for name, (value, _) in known.belief.readings().items()}


def history(facts: Facts, prior: Belief) -> list[HistoryEvent]:
    """A job's facts as the estimator takes them: repeats summarised, one event per change; what the prior
    knows nothing of is left out."""
    events: list[HistoryEvent] = []
    known = {"", *(one.key for one in prior.adjusters)}
    kinds = {*prior.quantities, stands_in(facts)}
    takes = sorted((t for t in facts.takes if t.quantity in kinds), key=lambda t: t.seq)
    changes = sorted(
        (c for c in facts.changes if c.replaced or c.adjuster in known), key=lambda c: c.seq
    )
    for seq in sorted({change.seq for change in changes}):
        events += _readings(facts, [take for take in takes if take.seq < seq])
        takes = [take for take in takes if take.seq > seq]
        events += _turns([change for change in changes if change.seq == seq])
    return events + _readings(facts, takes)


def _readings(facts: Facts, takes: list[Take]) -> list[HistoryEvent]:
    """One reading per quantity with all its takes, of the points that were used last."""
    found: list[HistoryEvent] = []
    for name in dict.fromkeys(take.quantity for take in takes):
        mine = [take for take in takes if take.quantity == name]
        points = (mine[-1].start, mine[-1].end)
        alike = [take for take in mine if (take.start, take.end) == points]
        values = [take.value for take in alike if take.value is not None]
        if values and name in TIMED_AT_REST:
            found += _at_rest(facts, name, values)
        elif values:
            precision = precision_of(facts.named(name), alike)
            usual = precision == QUANTITIES[name].precision
            found.append(Read(name, tuple(values), None if usual else precision))
    return found


def _at_rest(facts: Facts, name: str, values: list[float]) -> list[HistoryEvent]:
    """Timing at rest, as the gap that it means."""
    gap = gap_by(facts, name, sum(values) / len(values))
    return [] if gap is None else [Read(DRAWN_GAP, (gap.gap_in,), as_precision(gap))]


def _turns(changes: list[LedgerEntry]) -> list[HistoryEvent]:
    found: list[HistoryEvent] = [Replaced(length_of(one.part)) for one in changes if one.replaced]
    found += [Drawn(one.steps) for one in changes if one.change is Change.SHOTS and one.steps]
    found += [
        OpenedAgain(one.change, stale_after(one.change)) for one in changes if one.change in OPENING
    ]
    steps = NO_STEPS
    for one in changes:
        steps = steps + Steps({one.adjuster: one.steps} if one.adjuster else {})
    return [*found, Turned(steps)] if steps else found


def _open(
    known: Learned, facts: Facts, bands: Mapping[str, Band], policy: TuningPolicy, limit: int
) -> Problem:
    """What is known of the bow, and how far each adjuster is from where the bow came in with it."""
    problem = problem_after(known, bands, policy, limits_of(known, facts, bands), limit)
    return replace(problem, spent=_totals(known, facts))


def limits_of(
    known: Learned, facts: Facts, bands: Mapping[str, Band]
) -> dict[str, tuple[int, int]]:
    """Least and most steps in all, where the usual limits do not hold.

    What tilts a cam is left alone while its lean is not read; one limb bolt alone is turned only
    for a tiller that is off; a spacer goes in only where half a twist turns the first stop over; beside a
    module string and cables only do fine work.
    """
    flips, by_bolts = _half_twist_flips(known.belief, bands), weight_by_bolts(facts)
    limits, totals = {}, {one.key: one.total(facts) for one in known.belief.adjusters}
    for adjuster in known.belief.adjusters:
        allowed = adjuster.totals_allowed(facts)
        single_bolt = isinstance(adjuster, LimbBolt) and adjuster.alone
        if single_bolt and not _tiller_off(facts, bands):
            allowed = (totals[adjuster.key],) * 2
        if isinstance(adjuster, Spacer) and not flips:
            allowed = (totals[adjuster.key],) * 2
        if by_bolts and not isinstance(adjuster, LimbBolt) and not _timing_off(known.belief, bands):
            allowed = (totals[adjuster.key],) * 2
        if isinstance(adjuster, StringOrCable) and draw_by_module(facts):
            allowed = (-FINE_WORK, FINE_WORK)
        if allowed is not None:
            limits[adjuster.key] = allowed
    return limits | unread_leans(known.belief.adjusters, bands, totals)


def weight_by_bolts(facts: Facts) -> bool:
    """Whether the weight is one that the customer wishes: bolts make it, within the maker's limit; what they
    cannot give is another module or other limbs. Twists bring back the weight a bow had (common practice)."""
    return DRAW_WEIGHT in facts.services and facts.small


FINE_WORK = 4
"""Half twists of a string or cable that are fine work beside a module or stop position: our figure."""


def draw_by_module(facts: Facts) -> bool:
    """Whether the draw length is one that the customer wishes: a module or stop position makes it, string and
    cables only its last bit (common practice)."""
    return DRAW_LENGTH_SERVICE in facts.services and facts.small


def _timing_off(belief: Belief, bands: Mapping[str, Band]) -> bool:
    """Whether the timing itself is outside: then cables are turned for it."""
    band, reading = bands.get("stop_gap"), belief.readings().get("stop_gap")
    return band is not None and reading is not None and not band.judge(reading[0]).inside


def _half_twist_flips(belief: Belief, bands: Mapping[str, Band]) -> bool:
    """Whether the gap is outside and half a twist of any cable carries it to the other side (common
    practice: not before)."""
    band, reading = bands.get("stop_gap"), belief.readings().get("stop_gap")
    if band is None or reading is None or band.judge(reading[0]).inside:
        return False
    off, response = reading[0] - band.target, belief.response(bands)
    cables = [one.key for one in belief.adjusters if isinstance(one, StringOrCable)]
    steps = [abs(response.per_step("stop_gap", key)) for key in cables if key != STRING]
    return all(step > abs(off) for step in steps)


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


def _best_estimates_differ(problem: Problem, facts: Facts) -> list[str]:
    """Where all readings together say something else of a number than the last one does."""
    found = []
    for name in problem.planned:
        quantity, now = facts.named(name), facts.current(name)
        value = problem.readings[name][0]
        if now is None or not now.fresh or now.summary is None:
            continue
        band = problem.bands[name]
        read, best = quantity.say(now.summary.value), quantity.say(value)
        if read != best and band.judge(value).inside != band.judge(now.summary.value).inside:
            found.append(
                f"{quantity.name} reads {read}. The best estimate from all readings is {best}."
            )
    return found


def _say_learned(problem: Problem, lesson: Lesson | None) -> str:
    return "" if lesson is None else say_lesson(problem, lesson.innovations)
