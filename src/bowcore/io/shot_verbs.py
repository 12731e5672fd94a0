"""The verbs about shots: a case in, an answer out."""

from bowcore.diagnosis.lines import line_through, rest_shift_in
from bowcore.diagnosis.next_act import Tune, next_act, worst_axis
from bowcore.diagnosis.shots import Shot, ShotTest, group_of, pooled_scatter, shots_to_tell
from bowcore.diagnosis.suspects import BY_KEY, Evidence, Suspicion, suspicions
from bowcore.diagnosis.tear_response import tap_levers
from bowcore.diagnosis.tears import PAPER_YD, Holes, TearWords, say_tear
from bowcore.errors import BadInput
from bowcore.io import shot_cases as cases


def answer_tear(case: cases.HolesCase) -> cases.HolesAnswer:
    """two holes on a sheet: the tear, and how it is said"""
    tear = Holes(*case.point, *case.nock).tear
    return cases.HolesAnswer(
        x_in=tear[0], y_in=tear[1], words=say_tear(*tear, TearWords(case.words))
    )


def answer_groups(case: cases.GroupCase) -> cases.GroupAnswer:
    """shots of one kind: centre, scatter, flyers, and how many shots a change takes to be seen"""
    shots = _through_paper(case.shots)
    group, scatter = group_of(shots, case.usual_in), pooled_scatter([shots], case.usual_in)
    needed = None if case.change_in is None else shots_to_tell(case.change_in, scatter)
    return cases.GroupAnswer(
        x_in=group.x_in,
        y_in=group.y_in,
        sigma_x=group.sigma_x,
        sigma_y=group.sigma_y,
        scatter_in=scatter,
        flyers=group.flyers,
        shots_needed=needed,
    )


def answer_line(case: cases.LineCase) -> cases.LineAnswer:
    """a walk-back: the line through the impacts, its doubt, and where the rest would go"""
    line = line_through([s.distance_yd for s in case.shots], [s.x_in for s in case.shots])
    return cases.LineAnswer(
        at_zero_in=line.at_zero,
        slope_in_per_yd=line.slope,
        slope_sigma=line.slope_sigma,
        slopes=line.slopes,
        bends=line.bends,
        rest_right_in=rest_shift_in(line.slope),
    )


def answer_next(case: cases.NextCase) -> cases.NextAnswer:
    """tears and what was looked at: who is likely behind them, and what to do next"""
    evidence = [Evidence(_known(one.suspect), one.found, "", one.mended) for one in case.evidence]
    shots = _through_paper(case.shots)
    act = next_act(Tune([shots], evidence, levers=tap_levers(case.left_handed)))
    return cases.NextAnswer(
        kind=act.kind.value,
        do=act.do,
        why=act.why,
        suspect=act.suspect,
        steps=dict(act.steps),
        suspects=tuple(_answered(one) for one in _ladder(shots, evidence)),
    )


def _through_paper(shots: tuple[cases.ShotShape, ...]) -> list[Shot]:
    return [
        Shot(seq, ShotTest.PAPER, PAPER_YD, one.x_in, one.y_in, good=one.good)
        for seq, one in enumerate(shots, 1)
    ]


def _ladder(shots: list[Shot], evidence: list[Evidence]) -> list[Suspicion]:
    good = [one for one in shots if one.good]
    return suspicions(worst_axis(group_of(good)), evidence) if good else []


def _answered(one: Suspicion) -> cases.SuspicionAnswer:
    return cases.SuspicionAnswer(
        suspect=one.suspect.key, chance=one.chance, standing=one.standing.value
    )


def _known(suspect: str) -> str:
    if suspect not in BY_KEY:
        raise BadInput(f"There is no suspect '{suspect}'.", "evidence", ", ".join(BY_KEY))
    return suspect
