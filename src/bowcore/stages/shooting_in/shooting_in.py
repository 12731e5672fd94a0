"""Shooting in as a whole: paper by the shop's policy, then the test at the butt that ends it."""

from collections.abc import Mapping
from dataclasses import dataclass

from bowcore.deciding.act import Act
from bowcore.evidence.facts import Facts
from bowcore.evidence.shooting_policy import PAPER_POLICIES, PaperPolicy
from bowcore.evidence.shots import ShotTest, two_alike
from bowcore.measurement.bands import Band
from bowcore.stages.shooting_in.butt import BUTT_TESTS, butt_result
from bowcore.stages.shooting_in.next_act import ActKind, TuneAct
from bowcore.stages.shooting_in.tuning import paper_act, tune_of

SHOTS_DONE = (ActKind.DONE, ActKind.LEAVE)


@dataclass(frozen=True, kw_only=True)
class ShootingAct(Act):
    """What comes next: its words, the test at the butt, None on paper; whether it is done."""

    at_butt: ShotTest | None = None
    done: bool = False


def shooting_act(facts: Facts, bands: Mapping[str, Band]) -> ShootingAct:
    """The next act of shooting in.

    Parameters
    ----------
    facts : Facts
        With its shots and the shop's policy.
    bands : mapping of str to Band
        By which readings clear a suspect.
    """
    if not paper_is_done(facts, bands):
        return ShootingAct(paper_act(facts, bands).do)
    last = facts.shooting_policy.ends_with
    if last is None:
        return ShootingAct(paper_act(facts, bands).do, done=True)
    result = butt_result(last, facts, bands)
    asked = result.verdict if result.act is None else result.act.do
    return ShootingAct(
        f"{BUTT_TESTS[last]}: {asked[0].lower()}{asked[1:]}", at_butt=last, done=result.done
    )


def act_at_paper(facts: Facts, bands: Mapping[str, Band]) -> TuneAct:
    """The next act on the paper's own page: nothing more once paper has shown what this shop wants of it.

    Parameters
    ----------
    facts : Facts
        With its shots and the shop's policy.
    bands : mapping of str to Band
        By which readings clear a suspect.
    """
    act, shooting = paper_act(facts, bands), shooting_act(facts, bands)
    if shooting.at_butt is None or act.kind in SHOTS_DONE:
        return act
    said = PAPER_POLICIES[facts.shooting_policy.paper]
    return TuneAct(f"{shooting.do.rstrip('.')}.", f"Paper in this shop: {said}.", kind=ActKind.DONE)


def paper_is_done(facts: Facts, bands: Mapping[str, Band]) -> bool:
    """Whether paper has shown what the shop wants of it: clean, a first look, or nothing."""
    policy = facts.shooting_policy.paper
    if policy is PaperPolicy.NEVER:
        return True
    if paper_act(facts, bands).kind in SHOTS_DONE:
        return True
    tune = tune_of(facts, bands)
    looked = any(two_alike(group, tune.scatter_in) for group in tune.groups)
    return policy is PaperPolicy.FIRST_LOOK and looked
