"""What the paper's screen shows."""

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import zip_longest
from typing import Any

from django.http import HttpRequest
from django.urls import reverse
from django.utils.safestring import SafeString

from bowcore.accessories.on_the_bow import ARROW
from bowcore.adjusters.registry import adjuster_in
from bowcore.adjusters.steps import Steps
from bowcore.evidence.shots import ShaftKind, ShotTest, group_of
from bowcore.evidence.shots_between import last_change, since_last_change
from bowcore.evidence.tears import say_tear
from bowcore.quantities.inches import say_bare, say_length
from bowcore.stages.fit.fit_needs import arrow_too_light
from bowcore.stages.shooting_in.butt import BUTT_TESTS, HOW_IT_IS_SHOT, butt_result, next_distance
from bowcore.stages.shooting_in.next_act import (
    ANOTHER_ARCHERS,
    ANOTHER_ARROWS,
    ActWay,
    Tune,
    TuneAct,
    expected_in,
)
from bowcore.stages.shooting_in.shooting_in import act_at_paper, shooting_act
from bowcore.stages.shooting_in.step import PaperStep
from bowcore.stages.shooting_in.suspects import BY_KEY, Axis, SuspectStanding, Suspicion
from bowcore.stages.shooting_in.tuning import (
    arrows_known,
    ladder,
    tune_of,
)
from bowcore.work_order import cautions
from bowcore.work_order.holds import ARROWS
from shop.casework.screens import Context, step_screen
from shop.casework.state import JobState
from shop.casework.turning import needs_press
from shop.drawings.butt_face import HALF_BUTT_IN, Impact, butt_face, impacts
from shop.drawings.chance_rule import chance_rule
from shop.drawings.paper_sheet import Hole, paper_sheet, photo_to_tap
from shop.schema.inspection.models import ON_BUTT, ON_PAPER, Photo
from shop.schema.tuning.models import FlatSheet
from shop.schema.tuning.selectors import flat_before, places_tapped, sheet_under, sheets_shot
from shop.stages.replace.screens import press_screen
from shop.stages.shooting_in.forms import PLACES_TAPPED, HolesForm
from shop.stages.shooting_in.pages import pages_of

STANDING_WORDS = {
    SuspectStanding.OPEN: "open", SuspectStanding.CLEARED: "cleared", SuspectStanding.PROVEN: "proven",
}  # fmt: skip


@dataclass(frozen=True)
class LadderRow:
    """One suspect of the ladder: how likely, why, and where its test is made."""

    suspicion: Suspicion
    now: bool
    tune: Tune
    expected: str = ""

    @property
    def reads(self) -> tuple[str, ...]:
        return self.tune.readings.get(self.suspicion.suspect.key, ())

    @property
    def words(self) -> str:
        return STANDING_WORDS[self.suspicion.standing]

    @property
    def evidence(self) -> str:
        return "; ".join(one.words for one in self.suspicion.findings if one.words)

    @property
    def rule(self) -> SafeString:
        return chance_rule(self.suspicion.chance)


@step_screen(PaperStep.key)
def paper_screen(request: HttpRequest, state: JobState) -> tuple[str, Context]:
    """The sheet, the next act, the ladder of suspects and the tears so far."""
    if state.press is not None:
        return press_screen(request, state)
    facts = state.judged
    act, tune = act_at_paper(facts, state.bands), tune_of(facts, state.bands)
    rows = [
        LadderRow(one, one.suspect.key == act.suspect, tune, _say_moved(tune, one))
        for one in ladder(facts, state.bands)
    ]
    shooting = shooting_act(facts, state.bands)
    under = sheet_under(state.job, ON_PAPER, last_change(facts))
    groups = [_hole(group) for group in tune.groups if group]
    no_arrow = next((hold for hold in state.holds if hold.kind == ARROWS), None)
    return "shooting_in/paper.html", {
        "sheet": paper_sheet(_address(under), groups, _leads_to(tune, act)),
        "under": under,
        "photographed": ON_PAPER,
        "holes": list(HolesForm.base_fields),
        "act": act,
        "bar": _bar(act.way, bool(under), bool(no_arrow)),
        "answers": answers_of(act),
        "taps": _say_steps(state, act.steps),
        "asks_archer": act.way is ActWay.OTHERS_SHOOT and act.suspect in ANOTHER_ARCHERS,
        "asks_arrow": act.way is ActWay.OTHERS_SHOOT and act.suspect in ANOTHER_ARROWS,
        "pressed": needs_press(state, act.steps),
        "then_at_butt": shooting.at_butt,
        "then": shooting.do if shooting.at_butt and shooting.do != act.do else "",
        "ladder": rows,
        "shots": [
            (say_tear(s.x_in, s.y_in, state.shop.tear_words), s.good, s.shooter, s.arrow)
            for s in reversed(facts.shots)
            if s.test is ShotTest.PAPER
        ],
        "photos": [_address(one) for one in sheets_shot(state.job)],
        "scatter": say_length(tune.scatter_in, 32),
        "expected": _say_expected(act),
        "arrow": state.on_bow.of(ARROW).get("name", ""),
        "known_arrows": arrows_known(facts),
        "stop": arrow_too_light(facts),
        "no_arrow": no_arrow,
        "caution": cautions.BEFORE_SHOOTING,
        "pages": pages_of(state),
    }


def answers_of(act: TuneAct) -> tuple[str, str]:
    """What the act's test may show, in words: that its suspect is behind the tear, and that it is not."""
    return BY_KEY[act.suspect].test.answers if act.suspect else ("", "")


def _bar(way: ActWay, under_photo: bool, no_arrow: bool) -> str:
    """The template of the bar: how the next act is done; with a photo under the grid the shot comes first."""
    if no_arrow:
        return "shooting_in/bars/no_arrow.html"
    shown = ActWay.SHOOT if under_photo else way
    return f"shooting_in/bars/{shown}.html"


def _leads_to(tune: Tune, act: TuneAct) -> Hole | None:
    """Where the next act should bring the tear, where it says so."""
    if act.remains is None:
        return None
    group = group_of(tune.now, tune.scatter_in)
    up = BY_KEY[act.suspect].axis is Axis.UP
    return Hole(group.x_in, act.remains.value) if up else Hole(act.remains.value, group.y_in)


USUAL_SHEET_IN = (8.5, 11.0)
"""A letter sheet: wide and high."""
SECOND_KIND = {ShotTest.BARE_SHAFT: ShaftKind.BARE, ShotTest.BROADHEAD: ShaftKind.BROADHEAD}


def butt_context(state: JobState, opened: str, typed: Mapping[str, Any]) -> Context:
    """A butt to tap an impact on, what the shots of the chosen test say, and every one of them."""
    known = {one.value: one for one in BUTT_TESTS}
    test, facts = known.get(opened, ShotTest.BARE_SHAFT), state.judged
    shots = [one for one in since_last_change(facts) if one.test is test]
    kinds = [ShaftKind.FLETCHED, *([SECOND_KIND[test]] if test in SECOND_KIND else [])]
    under = sheet_under(state.job, ON_BUTT, last_change(facts))
    result = butt_result(test, facts, state.bands)
    seen = [Impact(s.distance_yd, s.x_in, s.y_in, s.kind.value, s.good) for s in shots]
    return {
        "tests": [(one.value, words, one is test) for one, words in BUTT_TESTS.items()],
        "test": test.value,
        "how": HOW_IT_IS_SHOT[test],
        "result": result,
        "butt_steps": _say_steps(state, result.steps),
        "answers": answers_of(result.act) if result.act else ("", ""),
        "pressed": needs_press(state, result.steps),
        "butt": butt_face(_address(under)),
        "under": under,
        "photographed": ON_BUTT,
        "yards_now": typed.get("distance") or next_distance(test, shots),
        "kinds": [one.value for one in kinds],
        "kind_now": typed.get("kind") or kinds[len(shots) % len(kinds)].value,
        "plotted": impacts(seen),
        "caution": cautions.BEFORE_SHOOTING,
        "stop": arrow_too_light(facts),
        "pages": pages_of(state),
    }


def corners_context(state: JobState, photo: Photo, typed: Mapping[str, Any]) -> Context:
    """A photo in which four corners and the middle are to be tapped."""
    on_paper = photo.about == ON_PAPER
    before = flat_before(state.job, photo.about)
    usual = USUAL_SHEET_IN if on_paper else (2 * HALF_BUTT_IN, 2 * HALF_BUTT_IN)
    wide, high = usual if before is None else (before.wide_in, before.high_in)
    same = before is not None and before.photo_id == photo.pk
    tapped = places_tapped(before) if before is not None and same else []
    places = dict(zip_longest(PLACES_TAPPED, tapped[: len(PLACES_TAPPED)]))
    return {
        "photo": photo,
        "picture": photo_to_tap(
            reverse("photo", args=[state.job.pk, photo.pk]), photo.width, photo.height, places
        ),
        "places": [(name, at[0], -at[1]) if at else (name, "", "") for name, at in places.items()],
        "wide": typed.get("wide", say_bare(wide, 8)),
        "high": typed.get("high", say_bare(high, 8)),
        "on_paper": on_paper,
        "pages": pages_of(state),
    }


def _say_moved(tune: Tune, one: Suspicion) -> str:
    """What would be left of the tear if this suspect's first move were made; "" where none is."""
    group = group_of(tune.now, tune.scatter_in)
    left = expected_in(tune, group, one)
    if left is None:
        return ""
    after, doubt = (say_length(abs(value), 32) for value in left)
    spine = tune.spine(one.suspect.key)
    move = "its move" if spine is None or spine.best is None else f"spine about {spine.best:.0f}"
    return f"{move} would leave about {after}, give or take {doubt}"


def _address(sheet: FlatSheet | None) -> str:
    return "" if sheet is None else reverse("flat_sheet", args=[sheet.job_id, sheet.pk])


def _say_expected(act: TuneAct) -> str:
    """What is left of the tear after the taps, in a sentence; "" where nothing is tapped."""
    if act.remains is None:
        return ""
    left, doubt = (say_length(abs(value), 32) for value in act.remains[1:])
    return f"Then about {left} is left, give or take {doubt}."


def _hole(group: object) -> list[Hole]:
    return [Hole(one.x_in, one.y_in, one.good) for one in group]  # type: ignore[attr-defined]


def _say_steps(state: JobState, steps: Steps) -> str:
    """What is to be tapped or turned, in words; "" where nothing is."""
    return " ".join(
        f"{one.label}: {one.say(count)}."
        for key, count in steps.items()
        for one in [adjuster_in(state.adjusters, key)]
    )
