"""Back to spec and the fit planned together: of the changes that bring the bow home, the one after which the
fewest minutes are left, nock and rest counted in."""

from dataclasses import dataclass, replace

from bowcore.adjusters.adjuster import Adjuster
from bowcore.adjusters.registry import adjuster_in
from bowcore.adjusters.steps import Steps
from bowcore.bow.machine import YN
from bowcore.deciding.problem import Option, Plan, PlanKind
from bowcore.evidence.facts import Facts, LedgerEntry
from bowcore.stages.fit.fit_advice import AT_THE_NOCK, fit_acts
from bowcore.stages.fit.fit_bow import FitAct, FitBow

WORTH_SAYING_MIN = 2.0
"""A plan of another kind is put first only where that saves so much: our figure."""


@dataclass(frozen=True)
class FitAfter:
    """What is left of the fit after a change, in the order of work, its minutes, and how far that change
    raises the nock against the rest. [in]"""

    acts: tuple[FitAct, ...]
    minutes: float
    raised_in: float = 0.0


@dataclass(frozen=True)
class JointPlan:
    """The option to take, the others, the fit after it, and the minutes that it saves against the shortest
    change by itself; 0 where that is the same one."""

    best: Option
    others: tuple[Option, ...]
    after: FitAfter
    saves_min: float = 0.0

    @property
    def why(self) -> str:
        """Why another change than the shortest is taken, in a sentence; "" where it is the same."""
        if not self.saves_min:
            return ""
        return (
            f"Chosen to save work in the fit: about {self.saves_min:.0f} minutes less at nock and rest than "
            "the shortest change leaves."
        )


def joint_plan(plan: Plan, bow: FitBow) -> JointPlan:
    """The plan back to spec with the fit that follows it.

    Parameters
    ----------
    plan : Plan
        Its best option and those of another kind.
    bow : FitBow
        As it is now; what of the fit has been read is counted, the rest is not known yet.

    Returns
    -------
    JointPlan
        The plan's own best option where nothing of the fit is outside, or the change is a trial.
    """
    options = (plan.best, *plan.alternatives)
    firm = plan.kind is PlanKind.CHANGE and not (plan.to_try or plan.part_way or plan.trial)
    after = [fit_after(bow, one.steps) for one in (options if firm else options[:1])]
    total = [option.minutes + fit.minutes for option, fit in zip(options, after, strict=False)]
    reaching = [at for at in range(len(total)) if options[at].reaches or at == 0]
    chosen = min(reaching, key=lambda at: total[at])
    saves = total[0] - total[chosen]
    if saves < WORTH_SAYING_MIN:
        chosen, saves = 0, 0.0
    others = tuple(one for at, one in enumerate(options) if at != chosen)
    return JointPlan(options[chosen], others, after[chosen], saves)


def fit_after(bow: FitBow, steps: Steps) -> FitAfter:
    """What is left of the fit once these steps have been turned, by what was read and the twin's nock."""
    raised = _raised_in(bow, steps)
    moved = {name: bow.best(name) + raised for name in AT_THE_NOCK if _is_read(bow.facts, name)}
    then = replace(bow, facts=replace(bow.facts, estimates={**bow.facts.estimates, **moved}))
    acts = fit_acts(then)
    return FitAfter(acts, sum(act.minutes for act in acts), raised)


def _is_read(facts: Facts, name: str) -> bool:
    now = facts.current(name)
    return now is not None and now.fresh and now.summary is not None


def _raised_in(bow: FitBow, steps: Steps) -> float:
    """How far a change raises the nock against riser and rest, by the twin; 0 without one. [in]"""
    now = bow.twin_now
    if not steps or now is None:
        return 0.0
    seq = max((one.seq for one in bow.facts.changes), default=0) + 1
    made = [
        _entry(seq, adjuster_in(bow.every_adjuster, key), count) for key, count in steps.items()
    ]
    later = replace(bow, facts=replace(bow.facts, changes=(*bow.facts.changes, *made)))
    then = later.twin_now
    if then is None:
        return 0.0
    return float(then.rest.q[0, YN] - now.rest.q[0, YN])


def _entry(seq: int, adjuster: Adjuster, count: int) -> LedgerEntry:
    return LedgerEntry(seq, adjuster.change, adjuster.key, adjuster.part, count)


NOTHING_AFTER = FitAfter((), 0.0)
"""Where a job has no fit."""


def alone(plan: Plan) -> JointPlan:
    """The plan back to spec of a job without a fit."""
    return JointPlan(plan.best, plan.alternatives, NOTHING_AFTER)
