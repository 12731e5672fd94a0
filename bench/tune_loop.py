"""From the first tear to a clean one, on simulated archers with one hidden cause each: shots, changes, and
whether the cause was named.

    python bench/tune_loop.py [cases a cause] [other] [two]

Beside the engine: the trade's ladder, every suspect in its order, two shots after each, and a habit, the rest
first. "other" takes a second simulator with other insides, "two" gives every archer two causes in one way.
Figures are counts in one run.
"""

import statistics
import sys
from collections.abc import Callable
from dataclasses import dataclass, field
from itertools import combinations
from math import hypot
from pathlib import Path

import numpy as np

ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT / "src")]

from bowcore.adjusters.steps import Steps  # noqa: E402
from bowcore.evidence.shots import Group, Shot, group_of, two_alike  # noqa: E402
from bowcore.evidence.tears import CLEAN_IN  # noqa: E402
from bowcore.simulation.simulated_archer import (  # noqa: E402
    OTHER_WORLD,
    SimulatedArcher,
    World,
    simulated_archer,
)
from bowcore.stages.shooting_in.next_act import (  # noqa: E402
    MENDED_TOGETHER,
    ActKind,
    Tune,
    TuneAct,
    next_act,
    off_in,
    sigma_in,
)
from bowcore.stages.shooting_in.suspects import (  # noqa: E402
    BY_KEY,
    SUSPECTS,
    Axis,
    Evidence,
    mending,
    suspects_of,
)
from bowcore.stages.shooting_in.tear_response import (  # noqa: E402
    TriedStep,
    tap_lever,
    tap_levers,
    timing_lever,
    yoke_lever,
)

MOST_ACTS = 60
BY_TWIST = (-2, -1, 1, 2)
LEVERS = (
    *tap_levers(), yoke_lever("yoke_top", "cable_a.left", "cable_a.right", BY_TWIST),
    timing_lever("cable_b", -0.04, BY_TWIST),
)  # fmt: skip


@dataclass
class Session:
    """One archer being tuned, and everything that was seen and done."""

    archer: SimulatedArcher
    groups: list[list[Shot]] = field(default_factory=lambda: [[]])
    findings: list[Evidence] = field(default_factory=list)
    trials: list[TriedStep] = field(default_factory=list)
    named: list[str] = field(default_factory=list)
    stated: list[tuple[float, bool]] = field(default_factory=list)
    shots: int = 0
    changes: int = 0
    minutes: float = 0.0

    def shoot(self) -> Shot:
        self.shots += 1
        self.minutes += 1
        self.groups[-1].append(self.archer.shoots())
        return self.groups[-1][-1]

    def shoot_two_alike(self) -> None:
        self.shoot()
        self.shoot()
        while not two_alike(self.groups[-1], 0.08) and len(self.groups[-1]) < 6:
            self.shoot()

    def test(self, suspect: str) -> bool:
        self.minutes += BY_KEY[suspect].test.minutes
        found = self.archer.tested(suspect)
        self.findings.append(Evidence(suspect, found))
        return found

    def changed(self) -> None:
        self.changes += 1
        self.groups.append([])

    def mend(self, suspect: str) -> None:
        self.named.append(suspect)
        self.minutes += 5
        self.archer.mends(suspect)
        self.changed()

    def tap(self, steps: Steps, suspect: str) -> None:
        self.named.append(suspect)
        self.minutes += 3
        self.archer.turns(steps)
        self.changed()

    @property
    def tear(self) -> tuple[float, float]:
        group = group_of(self.groups[-1])
        return group.x_in, group.y_in

    @property
    def named_right(self) -> bool:
        """Whether every cause was named; a nock that is off is mended at the rest as well, and back."""
        mended = {key for one in self.named for key in MENDED_TOGETHER.get(one, (one,))}
        return bool(self.archer.causes <= mended)

    @property
    def clean(self) -> bool:
        return hypot(*self.tear) < CLEAN_IN


def by_engine(session: Session) -> None:
    """What the engine says, one act at a time."""
    made: TuneAct | None = None
    before: Group | None = None
    for _ in range(MOST_ACTS):
        act = next_act(Tune(session.groups, session.findings, session.trials, LEVERS))
        if act.kind in (ActKind.DONE, ActKind.LEAVE):
            return
        if act.kind is ActKind.SHOOT:
            session.shoot()
            continue
        if made is not None and before is not None:
            _learn(session, made, before)
            made = None
            continue
        if act.kind is ActKind.TEST:
            session.test(act.suspect)
            continue
        before, made = group_of(session.groups[-1]), act
        session.stated.append((act.chance, act.suspect in session.archer.causes))
        if act.kind is ActKind.TAP:
            session.tap(act.steps, act.suspect)
        else:
            session.mend(act.suspect)


def _learn(session: Session, act: TuneAct, before: Group) -> None:
    """What a change has shown: the suspect was behind it or not, and what a tap does."""
    after, axis = group_of(session.groups[-1]), BY_KEY[act.suspect].axis
    was, now = off_in(before, axis), off_in(after, axis)
    if act.steps:
        lever = next(one for one in LEVERS if one.units_in(act.steps))
        sigma = hypot(before.sigma_x, after.sigma_x)
        session.trials.append(TriedStep(lever.key, lever.units_in(act.steps), was, now, sigma))
    else:
        sigma = hypot(sigma_in(before, axis), sigma_in(after, axis))
        session.findings.append(Evidence(act.suspect, mended=mending(was, now, sigma)))


def by_ladder(session: Session) -> None:
    """Every suspect in the order of practice; two alike after each."""
    session.shoot_two_alike()
    for _ in range(3):
        if session.clean:
            return
        x, y = session.tear
        axis = Axis.UP if abs(y) >= abs(x) else Axis.SIDE
        for suspect in suspects_of(axis):
            if session.test(suspect.key):
                session.mend(suspect.key)
                session.shoot_two_alike()
            if not session.clean and suspect.moves and not suspect.by_plan:
                _tap_until_clean(session, suspect.moves[0], suspect.key, axis)
            if session.clean:
                return
            session.shoot_two_alike()


def by_rest_first(session: Session) -> None:
    """The rest is moved until the paper is clean, whatever is behind it."""
    session.shoot_two_alike()
    for _ in range(8):
        if session.clean:
            return
        x, y = session.tear
        key, suspect = ("rest_up", "rest_height") if abs(y) >= abs(x) else ("rest_out", "rest_side")
        session.tap(_half(key, y if key == "rest_up" else x), suspect)
        session.shoot_two_alike()


def _tap_until_clean(session: Session, key: str, suspect: str, axis: Axis) -> None:
    for _ in range(2):
        before = abs(session.tear[1] if axis is Axis.UP else session.tear[0])
        steps = _half(key, session.tear[1] if axis is Axis.UP else session.tear[0])
        session.tap(steps, suspect)
        session.shoot_two_alike()
        after = abs(session.tear[1] if axis is Axis.UP else session.tear[0])
        if after > before:
            session.tap(-steps, suspect)
            session.shoot_two_alike()
            return
        if session.clean:
            return


def _half(key: str, tear_in: float) -> Steps:
    lever = tap_lever(key)
    taps = lever.count_for(tear_in, lever.first)
    return Steps({key: taps // 2 or taps or 1})


WAYS: dict[str, Callable[[Session], None]] = {
    "engine": by_engine, "ladder": by_ladder, "rest first": by_rest_first,
}  # fmt: skip


def main() -> int:
    cases = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    world = OTHER_WORLD if "other" in sys.argv else World()
    counts = "shots, median / 90th | changes | minutes"
    print(f"| who | {counts} | truly clean | cause named | hidden | lean hidden | stated / right |")
    print("|" + " --- |" * 9)
    for who, way in WAYS.items():
        done = []
        for causes in hidden_causes("two" in sys.argv):
            for seed in range(cases):
                session = Session(simulated_archer(causes, seed, world))
                way(session)
                done.append(session)
        print(f"| {who} | {' | '.join(_figures(done))} |", flush=True)
    return 0


def hidden_causes(two: bool) -> list[tuple[str, ...]]:
    """Every suspect alone, or each two that tear the same way."""
    if not two:
        return [(one.key,) for one in SUSPECTS]
    return [pair for axis in Axis for pair in combinations([s.key for s in suspects_of(axis)], 2)]


def _figures(done: list[Session]) -> list[str]:
    pairs = [[getattr(one, name) for one in done] for name in ("shots", "changes", "minutes")]
    counts = [f"{statistics.median(x):g} / {np.percentile(x, 90):g}" for x in pairs]
    clean = sum(one.archer.truly_clean for one in done) / len(done)
    named = sum(one.named_right for one in done) / len(done)
    hidden = sum(one.archer.hides_its_cause for one in done) / len(done)
    named_so = [one for session in done for one in session.stated]
    stated = (
        "/".join(f"{np.mean([one[n] for one in named_so]):.0%}" for n in (0, 1))
        if named_so
        else "-"
    )
    leaning = [one for one in done if "lean" in one.archer.causes]
    by_rest = sum(one.archer.hides_its_cause for one in leaning) / len(leaning)
    shares = [f"{share:.0%}" for share in (clean, named, hidden, by_rest)]
    return [*counts, *shares, stated]


if __name__ == "__main__":
    sys.exit(main())
