"""The verbs about shots: a case in, an answer out."""

from bowcore.accessories.arrow import least_mass_gr
from bowcore.accessories.arrow_build import ArrowParts, cut_to_in, spine_hint
from bowcore.accessories.arrow_speed import energy_ft_lbf, momentum_lb_s
from bowcore.errors import BadInput
from bowcore.evidence.shots import Shot, ShotTest, group_of, pooled_scatter, shots_to_tell
from bowcore.evidence.tears import PAPER_YD, Holes, TearWords, say_tear
from bowcore.io import shot_cases as cases
from bowcore.measurement.lines import line_through, rest_shift_in
from bowcore.stages.shooting_in.drift import LEAST_SCATTER
from bowcore.stages.shooting_in.next_act import Tune, next_act, off_in, worst_axis
from bowcore.stages.shooting_in.suspects import BY_KEY, Evidence, Suspicion, suspicions
from bowcore.stages.shooting_in.tear_response import tap_levers
from bowcore.stages.speed.speed_strings import SpeedShot, SpeedString, bow_by_arrows
from bowcore.stages.speed.string_weights import USUAL_START_IN, WeightsActKind, next_place


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
    yards = [s.distance_yd for s in case.shots]
    line = line_through(
        yards, [s.x_in for s in case.shots], yards, scaled=True, least=LEAST_SCATTER
    )
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
    evidence = [
        Evidence(_known(one.suspect), one.found, mended=one.mended) for one in case.evidence
    ]
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


def answer_speed(case: cases.SpeedCase) -> cases.SpeedAnswer:
    """strings over the chronograph: mean, energy, what moves with the arrow, other arrows, string weights"""
    strings = [
        SpeedString(
            tuple(SpeedShot(seq, fps, one.mass_gr, "", one.weights_in) for fps in one.speeds_fps)
        )
        for seq, one in enumerate(case.strings, 1)
    ]
    plain = [one for one in strings if one.weights_in is None]
    tried = [one for one in strings if one.weights_in is not None]
    bow = bow_by_arrows(plain)
    act = next_place(tried, tried[0].weights_in or USUAL_START_IN) if tried else None
    return cases.SpeedAnswer(
        strings=tuple(map(_answered_string, strings)),
        moving_gr=None if bow is None else bow.mass_gr,
        moving_sigma_gr=None if bow is None else bow.mass_sigma,
        predicted=tuple(
            cases.PredictedSpeed(mass_gr=mass, fps=fps, sigma_fps=sigma)
            for mass in (case.predict_gr if bow is not None else ())
            for fps, sigma in [bow.speed_of(mass)]  # type: ignore[union-attr]
        ),
        weights_next_in=None if act is None else act.place_in,
        weights_done=act is not None and act.kind is WeightsActKind.STOP,
    )


def _answered_string(one: SpeedString) -> cases.SpeedStringAnswer:
    return cases.SpeedStringAnswer(
        mean_fps=one.mean,
        sigma_fps=one.sigma,
        spread_fps=one.spread,
        energy_ft_lbf=energy_ft_lbf(one.mass_gr, one.mean),
        momentum_lb_s=momentum_lb_s(one.mass_gr, one.mean),
        finished=one.finished,
    )


def answer_arrow(case: cases.ArrowCase) -> cases.ArrowAnswer:
    """an arrow by its parts: cut, mass, balance, least mass, and a hint at its class of spine"""
    length = case.length_in
    if length is None:
        if case.draw_length_in is None:
            raise BadInput("How long is it?", "length_in", "length_in or draw_length_in")
        length = cut_to_in(case.draw_length_in, case.rest_ahead_in, case.clearance_in)
    parts = ArrowParts(
        length, case.shaft_gr_per_in, case.point_gr, case.insert_gr, case.nock_gr, case.fletching_gr,
        case.wrap_gr,
    )  # fmt: skip
    hint = spine_hint(case.peak_lbf, length, case.point_gr)
    least = least_mass_gr(case.peak_lbf)
    return cases.ArrowAnswer(
        length_in=length,
        mass_gr=parts.mass_gr,
        balance_in=parts.balance_in,
        balance_sigma_in=parts.balance_sigma_in,
        forward_of_centre=parts.forward_of_centre,
        least_mass_gr=least,
        too_light=parts.mass_gr < least,
        spine=hint.spine,
        spine_least=hint.least,
        spine_most=hint.most,
    )


def _through_paper(shots: tuple[cases.ShotShape, ...]) -> list[Shot]:
    return [
        Shot(seq, ShotTest.PAPER, PAPER_YD, one.x_in, one.y_in, good=one.good)
        for seq, one in enumerate(shots, 1)
    ]


def _ladder(shots: list[Shot], evidence: list[Evidence]) -> list[Suspicion]:
    good = [one for one in shots if one.good]
    if not good:
        return []
    group = group_of(good)
    axis = worst_axis(group)
    return suspicions(axis, evidence, tear_in=off_in(group, axis))


def _answered(one: Suspicion) -> cases.SuspicionAnswer:
    return cases.SuspicionAnswer(
        suspect=one.suspect.key, chance=one.chance, standing=one.standing.value
    )


def _known(suspect: str) -> str:
    if suspect not in BY_KEY:
        raise BadInput(f"There is no suspect '{suspect}'.", "evidence", ", ".join(BY_KEY))
    return suspect
