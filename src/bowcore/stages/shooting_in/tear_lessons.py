"""What finished jobs teach about tears, for the next bow of the model."""

from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from math import hypot

from bowcore.evidence.facts import Facts
from bowcore.evidence.shots_between import boundaries
from bowcore.learning.one_rate import Rate, ShownStep, learned_rate
from bowcore.measurement.bands import Band
from bowcore.stages.shooting_in.drift import drift_trials
from bowcore.stages.shooting_in.shooting_in import SHOTS_DONE
from bowcore.stages.shooting_in.suspects import SUSPECTS
from bowcore.stages.shooting_in.tear_response import Lever, TriedStep
from bowcore.stages.shooting_in.tuning import paper_act, tune_of

OWN_SHARE = 0.5
"""Of our doubt of a rate, so much stays however many bows of the model have shown theirs: bows differ. Our
figure."""


@dataclass(frozen=True)
class TearLesson:
    """What one bow has shown: the suspect behind its tear, "" where nobody knows; its trials."""

    mended: str = ""
    trials: tuple[TriedStep, ...] = ()


@dataclass(frozen=True)
class ShownByModel:
    """How often each suspect was behind a tear, and what a unit of each lever has done. [in]"""

    shares: Mapping[str, int] = field(default_factory=dict)
    rates: Mapping[str, Rate] = field(default_factory=dict)


def tear_lesson(facts: Facts, bands: Mapping[str, Band]) -> TearLesson:
    """What a finished job has shown.

    The last thing that was mended or moved was behind the tear if it was there before and is gone since.

    Parameters
    ----------
    facts : Facts
        Of the job, with its shots.
    bands : mapping of str to Band
        By which readings clear a suspect.
    """
    tune = tune_of(facts, bands)
    trials = (*tune.trials, *drift_trials(facts))
    if len(tune.groups) < 2 or paper_act(facts, bands).kind not in SHOTS_DONE:
        return TearLesson(trials=trials)
    return TearLesson(_behind(facts, boundaries(facts)[-1], tune.levers), trials)


def _behind(facts: Facts, seq: int, levers: Iterable[Lever]) -> str:
    """The suspect that was mended or moved at a moment."""
    mended = next((one.suspect for one in facts.looked_at if one.mended and one.seq == seq), "")
    if mended:
        return mended
    turned = {one.adjuster for one in facts.changes if one.seq == seq and one.adjuster}
    moved = {lever.key for lever in levers if turned == set(lever.unit)}
    return next((one.key for one in SUSPECTS if moved & set(one.moves)), "")


def together(lessons: Iterable[TearLesson], levers: Iterable[Lever]) -> ShownByModel:
    """What several bows of a model say for the next one.

    Each bow's own rate is one sight of the model's, as far off as bows differ; some of our doubt stays.

    Parameters
    ----------
    lessons : iterable of TearLesson
        Of other bows of the model.
    levers : iterable of Lever
        With what is thought of them before.
    """
    every = list(lessons)
    shares = Counter(one.mended for one in every if one.mended)
    rates = {}
    for lever in levers:
        floor = OWN_SHARE * lever.first.sigma
        own = [
            lever.rate(one.trials)
            for one in every
            if any(trial.lever == lever.key for trial in one.trials)
        ]
        if own:
            shown = [ShownStep(1, rate.mean, hypot(rate.sigma, floor)) for rate in own]
            pooled = learned_rate(lever.first, shown)
            rates[lever.key] = Rate(pooled.mean, max(pooled.sigma, floor))
    return ShownByModel(dict(shares), rates)
