"""Shooting in, on a second simulator that shares no code and no figures with the engine: what is wrong is
wrong with the bow's numbers, its contact, its archer or its arrow, and is read, seen and shot through facts.

    python bench/tune_world.py [cases a cause] [--by-cause] [--flight]

Played by the engine (`paper_act`, from a job's facts) and by a technician's plain ladder; with --flight in
the third world, that of `tune_flight.py`. All figures are our own inventions; every count is of one run.
"""

import argparse
import statistics
import sys
from collections.abc import Callable
from copy import deepcopy
from dataclasses import dataclass, field, replace
from math import hypot
from pathlib import Path
from typing import Any

import numpy as np

ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT / "src"), str(ROOT)]

from bench import tune_flight  # noqa: E402

from bowcore.accessories.arrow_build import spine_hint  # noqa: E402
from bowcore.accessories.on_the_bow import OnTheBow, thing  # noqa: E402
from bowcore.adjusters.registry import adjusters_of  # noqa: E402
from bowcore.bow.specification import BowSpec, Family, PartSpec  # noqa: E402
from bowcore.evidence.facts import Facts, LedgerEntry, Take  # noqa: E402
from bowcore.evidence.looked_at import LookedAt  # noqa: E402
from bowcore.evidence.shots import Shot, ShotTest  # noqa: E402
from bowcore.measurement.bands import Band, around  # noqa: E402
from bowcore.quantities.changes import Change  # noqa: E402
from bowcore.stages.shooting_in.next_act import ActKind, TuneAct  # noqa: E402
from bowcore.stages.shooting_in.suspects import BY_KEY, Axis  # noqa: E402
from bowcore.stages.shooting_in.tuning import paper_act  # noqa: E402
from bowcore.work_order.services import SHOOT_IN  # noqa: E402

MOST_ACTS = 70
TAP_IN = 1 / 32
CAUSES = (
    "timing", "nock", "rest height", "pinch", "contact", "heel", "lean", "centre shot", "hand", "spine",
    "a little of everything", "timing and hand", "lean and spine",
)  # fmt: skip
NAMES = {
    "timing": {"timing"}, "nock": {"nock", "rest_height"}, "rest height": {"nock", "rest_height"},
    "pinch": {"pinch"}, "contact": {"contact_up", "contact_side"}, "heel": {"heel"}, "lean": {"lean"},
    "centre shot": {"rest_side"}, "hand": {"hand"}, "spine": {"spine_up", "spine_side", "point"},
}  # fmt: skip
"""By which suspects each cause is named."""
BANDS: dict[str, Band] = {
    "stop_gap": around(0, 1 / 32, "policy", ""), "lean": around(0, 1 / 8, "policy", ""),
    "lean_bottom": around(0, 1 / 8, "policy", ""), "centre_shot": around(0.8125, 1 / 16, "book", ""),
    "nock_gap": Band(0.02, 0.07, 1 / 32, "policy", ""), "arrow_level": Band(0, 1 / 8, 1 / 16, "policy", ""),
}  # fmt: skip
TOOLS = {
    "stop_gap": (1 / 64, 0.010), "lean": (1 / 16, 0.03), "lean_bottom": (1 / 16, 0.03),
    "centre_shot": (1 / 32, 0.015), "nock_gap": (1 / 64, 0.006), "arrow_level": (1 / 32, 0.015),
}  # fmt: skip
"""Division and scatter of what each is read with. [in]"""
MINUTES = {"press": 15.0, "arrow": 4.0, "ties": 5.0, "tap": 1.5, "talk": 4.0, "look": 2.0}


@dataclass
class BowAndArcher:
    """What is true, as nobody sees it. [in]"""

    rng: np.random.Generator
    numbers: dict[str, float]
    gains: dict[str, float]
    hand: tuple[float, float] = (0.0, 0.0)
    contact: tuple[float, float] = (0.0, 0.0)
    pinched: float = 0.0
    soft: float = 0.0
    scatter: float = 0.08
    spine: float = 400.0
    eyes: dict[str, bool] = field(default_factory=dict)

    def tear(self, other_archer: bool = False, softer: float = 0.0) -> tuple[float, float]:
        """What it tears without scatter, contact as it is on the average."""
        n, g = self.numbers, self.gains
        x = g["lean"] * (n["lean"] + 0.6 * n["lean_bottom"]) + g["centre"] * (
            n["centre_shot"] - 0.8125
        )
        y = g["gap"] * n["stop_gap"] + g["nock"] * n["nock"] - g["rest"] * n["rest"]
        x, y = x + g["spine"] * (self.soft + softer), y + 0.25 * g["spine"] * (self.soft + softer)
        x, y = x + 0.7 * self.contact[0], y + 0.7 * self.contact[1] + self.pinched
        hand = (0.03, -0.02) if other_archer else self.hand
        return x + hand[0], y + hand[1]

    def shot(self, other_archer: bool = False, softer: float = 0.0) -> tuple[float, float]:
        x, y = self.tear(other_archer, softer)
        touched = (self.rng.random() < 0.7) - 0.7  # it touches at most shots, not at all
        x, y = x + touched * self.contact[0], y + touched * self.contact[1]
        wide = self.scatter * (5 if self.rng.random() < 0.05 else 1)
        dx, dy = wide * self.rng.standard_normal(2)
        return float(x + dx), float(y + dy)

    def read(self, key: str) -> float:
        division, scatter = TOOLS[key]
        true = {
            "nock_gap": 0.0 if self.pinched else 0.04,
            "arrow_level": 1 / 16 + self.numbers["nock"] - self.numbers["rest"],
        }.get(key, self.numbers.get(key, 0.0))
        return round(float(true + scatter * self.rng.standard_normal()) / division) * division

    def looks_like(self, what: str, there: bool) -> bool:
        """A look misses or imagines things, and the same eyes see the same again."""
        if what not in self.eyes:
            self.eyes[what] = bool(self.rng.random() < (0.85 if there else 0.08))
        return self.eyes[what]


def hidden(cause: str, seed: int) -> BowAndArcher:
    """A bow with one cause or two; the rest of it is as bows are, not perfect."""
    rng = np.random.default_rng([seed, CAUSES.index(cause)])
    many = lambda middle, spread: middle * float(np.exp(spread * rng.standard_normal()))  # noqa: E731
    gains = {
        "lean": many(0.9, 0.35), "centre": many(3.2, 0.35) * (1 if rng.random() < 0.9 else -1),
        "gap": many(3.0, 0.4) * (1 if rng.random() < 0.8 else -1), "nock": many(3.4, 0.3),
        "rest": many(1.2, 0.3), "spine": many(0.16, 0.3),
    }  # fmt: skip
    small = {"stop_gap": 0.01, "lean": 0.04, "lean_bottom": 0.04, "nock": 0.008, "rest": 0.008}
    numbers = {key: float(s * rng.standard_normal()) for key, s in small.items()}
    numbers["centre_shot"] = 0.8125 + 0.012 * float(rng.standard_normal())
    bow = BowAndArcher(rng, numbers, gains, tuple(0.03 * rng.standard_normal(2)))
    for one in cause.split(" and "):
        _break(bow, one, float(rng.uniform(0.3, 0.7)) * (1 if rng.random() < 0.5 else -1))
    # the chart knows which class the bow wants to a tenth or so
    wanted = spine_hint(60.0, 28.25, 100.0).spine * float(np.exp(0.1 * rng.standard_normal()))
    bow.spine = float(np.clip(round((wanted + 50 * bow.soft) / 10) * 10, 150, 900))
    return bow


def _break(bow: BowAndArcher, cause: str, tear: float) -> None:
    n, g = bow.numbers, bow.gains
    if cause == "timing":
        n["stop_gap"] = tear / g["gap"]
    elif cause == "nock":
        n["nock"] = tear / g["nock"]
    elif cause == "rest height":
        n["rest"] = -tear / g["rest"] / 2
        n["nock"] = tear / g["nock"] / 2
    elif cause == "pinch":
        bow.pinched = abs(tear)
    elif cause == "contact":
        bow.contact = (tear, 0.3 * tear) if bow.rng.random() < 0.5 else (0.3 * tear, tear)
    elif cause == "heel":
        bow.hand = (bow.hand[0], tear)
    elif cause == "hand":
        bow.hand = (tear, bow.hand[1])
    elif cause == "lean":
        n["lean"] = tear / g["lean"]
    elif cause == "centre shot":
        n["centre_shot"] = 0.8125 + tear / g["centre"]
    elif cause == "spine":
        bow.soft = tear / g["spine"]
    else:  # a little of everything, all one way
        part = tear / 4
        n["lean"], n["centre_shot"] = part / g["lean"], 0.8125 + part / g["centre"]
        bow.hand, bow.soft = (part, part), part / g["spine"]
        n["nock"], n["stop_gap"] = part / g["nock"], part / g["gap"]


def _book(yokes: bool) -> BowSpec:
    family = Family.TWIN if yokes else Family.BINARY
    parts = tuple(
        PartSpec(role, role, "", length, 24, 0.5)
        for role, length in (("cable_a", 36.0), ("cable_b", 36.0), ("string", 58.0))
    )
    return BowSpec("An invented bow", family, 33, 6.5, 29, 60, 0.75, parts,
                   yokes=("cable_a", "cable_b") if yokes else ())  # fmt: skip


ARROW = {"name": "own", "mass_gr": "412", "length_in": "28 1/4", "shaft_in": ".246", "spine": "350"}


@dataclass
class Bench:
    """One bow being shot in: its facts as the program keeps them, and what it has cost."""

    bow: Any
    facts: Facts
    shots: int = 0
    minutes: float = 0.0
    named: list[str] = field(default_factory=list)
    stated: list[tuple[float, bool]] = field(default_factory=list)
    seq: int = 100
    tests: int = 0

    @classmethod
    def of(cls, cause: str, seed: int, make: Callable[[str, int], Any] = hidden) -> "Bench":
        spec, bow = _book(seed % 2 == 0), make(cause, seed)
        takes = tuple(Take(n, key, bow.read(key)) for n, key in enumerate(BANDS, 1))
        takes = (*takes, Take(len(takes) + 1, "peak_weight", 60.0))
        arrow = thing("arrow").read(ARROW | {"spine": f"{bow.spine:g}"})
        facts = Facts(
            spec.family, (SHOOT_IN,), inspected=True, takes=takes, fitted=("rest", "peep", "loop"),
            adjusters=adjusters_of(spec), on_bow=OnTheBow({"arrow": arrow}),
            cable_moves={"cable_b": {"stop_gap": 0.04}},
        )  # fmt: skip
        return cls(bow, facts)

    def next(self) -> int:
        self.seq += 1
        return self.seq

    def shoot(self, shooter: str = "", arrow: str = "", spine: float = 0.0) -> Shot:
        self.shots, self.minutes = self.shots + 1, self.minutes + 1
        softer = (spine - self.bow.spine) / 50 if arrow else 0.0
        place = self.bow.shot(bool(shooter), softer)
        shot = Shot(
            self.next(), ShotTest.PAPER, 3, *place, arrow=arrow, shooter=shooter, spine=spine
        )
        self.facts = replace(self.facts, shots=(*self.facts.shots, shot))
        return shot

    def take(self, key: str) -> float:
        value = self.bow.read(key)
        self.facts = replace(self.facts, takes=(*self.facts.takes, Take(self.next(), key, value)))
        return value

    def log(self, change: Change, adjuster: str = "", steps: int = 0, part: str = "") -> None:
        made = LedgerEntry(self.next(), change, adjuster, part, steps)
        self.facts = replace(self.facts, changes=(*self.facts.changes, made))

    def look(self, suspect: str, found: bool, mended: bool = False) -> None:
        one = LookedAt(self.next(), suspect, found, mended)
        self.facts = replace(self.facts, looked_at=(*self.facts.looked_at, one))

    def turn(self, key: str, steps: int) -> None:
        """One adjuster turned, in the bow and in the ledger."""
        n = self.bow.numbers
        if key == "nock_point":
            n["nock"] += steps * TAP_IN
            self.log(Change.LOOP_OR_TIES, key, steps)
        elif key == "rest_up":
            n["rest"] += steps * TAP_IN
            self.log(Change.REST, key, steps)
        elif key == "rest_out":
            n["centre_shot"] += steps * TAP_IN
            self.log(Change.REST, key, steps)
        elif key.startswith("cable") and "." not in key:
            n["stop_gap"] += 0.04 * steps * (1 if key == "cable_b" else -1)
            self.log(Change.CABLE, key, steps, key)
        else:
            role, side = key.split(".")
            lean = "lean" if role == "cable_b" else "lean_bottom"
            n[lean] += 0.09 * steps * (1 if side == "left" else -1) / 2
            self.log(Change.YOKE_LEG, key, steps, role)

    def press(self, *names: str) -> None:
        """Timing or lean brought back by the plan, as well as it can be set."""
        self.minutes += MINUTES["press"]
        for name in names:
            spread = 0.012 if name == "stop_gap" else 0.05
            self.bow.numbers[name] = float(spread * self.bow.rng.standard_normal())
        self.log(Change.CABLE, "cable_b", 1, "cable_b")
        for name in ("stop_gap", "lean", "lean_bottom"):
            self.take(name)

    def test(self, suspect: str) -> bool:
        again = self.facts.shots and suspect in ("heel", "hand", "spine_up", "spine_side")
        last = self.facts.shots[-1] if again else None
        if last is None or not (last.shooter or last.arrow):
            self.minutes += BY_KEY[suspect].test.minutes
        self.tests += 1
        keys = [key for key in BY_KEY[suspect].readings if key in BANDS]
        if keys:
            return any(not BANDS[key].judge(self.take(key)).inside for key in keys)
        if suspect in ("heel", "hand"):
            return all(hypot(*_at(self.shoot("Ode"))) < 0.2 for _ in range(2))
        if suspect in ("spine_up", "spine_side"):
            spine = self.bow.spine + (50 if self.bow.soft <= 0 else -50)
            return all(hypot(*_at(self.shoot("", "next class", spine))) < 0.2 for _ in range(2))
        what = suspect.split("_")[0]
        there = {"contact": self.bow.contact[0], "pinch": self.bow.pinched, "point": self.bow.soft}[
            what
        ]
        found = self.bow.looks_like(what, bool(there))
        self.look(suspect, found)
        return found

    def mend(self, suspect: str) -> None:
        """What the technician does about a suspect that is called proven."""
        if suspect == "timing":
            return self.press("stop_gap")
        if suspect == "lean":
            return self.press("lean", "lean_bottom")
        if suspect in ("spine_up", "spine_side", "point"):
            self.minutes += MINUTES["arrow"]
            self.bow.soft = 0.2 * self.bow.soft
        elif suspect in ("heel", "hand"):
            self.minutes += MINUTES["talk"]
            x, y = self.bow.hand
            self.bow.hand = (0.25 * x, y) if suspect == "hand" else (x, 0.25 * y)
        elif suspect == "pinch":
            self.minutes += MINUTES["ties"]
            self.bow.pinched = 0.0
        else:
            self.minutes += MINUTES["ties"]
            self.bow.contact = (0.0, 0.0)
        self.look(suspect, True, mended=True)
        return None


def _at(shot: Shot) -> tuple[float, float]:
    return shot.x_in, shot.y_in


def by_engine(bench: Bench) -> str:
    """What the program says, one act at a time."""
    for _ in range(MOST_ACTS):
        act = paper_act(bench.facts, BANDS)
        if act.kind in (ActKind.DONE, ActKind.LEAVE):
            return act.kind.value
        _obey(bench, act)
    return "no end"


def _obey(bench: Bench, act: TuneAct) -> None:
    if act.kind is ActKind.SHOOT:
        bench.shoot()
    elif act.kind is ActKind.TEST:
        bench.test(act.suspect)
    else:
        bench.named.append(act.suspect)
        bench.stated.append((act.chance, is_behind(bench.bow, act)))
        if act.steps:
            bench.minutes += MINUTES["press" if any("cable" in key for key in act.steps) else "tap"]
            made = bench.seq + 1
            for key, count in act.steps.items():
                bench.seq = made - 1  # turned at one time
                bench.turn(key, count)
        else:
            bench.mend(act.suspect)


MENDED: dict[str, Callable[[Any], None]] = {
    "timing": lambda bow: bow.numbers.update(stop_gap=0.0),
    "nock": lambda bow: bow.numbers.update(nock=0.0, rest=0.0),
    "rest_height": lambda bow: bow.numbers.update(nock=0.0, rest=0.0),
    "lean": lambda bow: bow.numbers.update(lean=0.0, lean_bottom=0.0),
    "rest_side": lambda bow: bow.numbers.update(centre_shot=0.8125),
    "heel": lambda bow: setattr(bow, "hand", (bow.hand[0], 0.0)),
    "hand": lambda bow: setattr(bow, "hand", (0.0, bow.hand[1])),
    "pinch": lambda bow: setattr(bow, "pinched", 0.0),
    "contact_up": lambda bow: setattr(bow, "contact", (0.0, 0.0)),
    "contact_side": lambda bow: setattr(bow, "contact", (0.0, 0.0)),
    "spine_up": lambda bow: setattr(bow, "soft", 0.0),
    "spine_side": lambda bow: setattr(bow, "soft", 0.0),
    "point": lambda bow: setattr(bow, "soft", 0.0),
}
"""Each suspect put right in a bow: what is left of the tear then is not its own."""
BEHIND = 1 / 3
"""Who makes so much of what tears one way is behind it."""


def is_behind(bow: Any, act: TuneAct) -> bool:
    """Whether what an act blames makes a third of the tear that way; where a small sum is blamed beside it,
    also if no single one makes two thirds."""
    axis = BY_KEY[act.suspect].axis
    shares = {key: _share(bow, key, axis) for key in MENDED if BY_KEY[key].axis is axis}
    alone = max(shares.values()) >= 1 - BEHIND
    return shares[act.suspect] >= BEHIND or (act.or_small_sum and not alone)


def _share(bow: Any, suspect: str, axis: Axis) -> float:
    """How much of the tear one way goes when one suspect is put right."""
    other, place = deepcopy(bow), int(axis is Axis.UP)
    MENDED[suspect](other)
    was, now = bow.tear()[place], other.tear()[place]
    return (was - now) / was if was else 0.0


def by_ladder(bench: Bench) -> str:
    """A technician's plain ladder: what costs nothing once, then the smallest move that mends and tests."""
    x, y = _two(bench)
    if hypot(x, y) < 1 / 8:
        return "done"
    for suspect in ("contact_up", "pinch"):
        if bench.test(suspect):
            bench.named.append(suspect)
            bench.mend(suspect)
            if hypot(*_two(bench)) < 1 / 8:
                return "done"
    for suspect, names in (("timing", ("stop_gap",)), ("lean", ("lean", "lean_bottom"))):
        if any(not BANDS[name].judge(bench.take(name)).inside for name in names):
            bench.named.append(suspect)
            bench.press(*names)
    off = bench.take("centre_shot") - BANDS["centre_shot"].target
    if abs(off) > 1 / 16:
        bench.named.append("rest_side")
        bench.turn("rest_out", -round(off / TAP_IN))
    for _ in range(8):
        x, y = _two(bench)
        if hypot(x, y) < 1 / 8:
            return "done"
        upward = abs(y) >= abs(x)
        key, per = ("nock_point", 0.11) if upward else ("rest_out", 0.10)
        limit = 4 if upward else 2
        spent = sum(c.steps for c in bench.facts.changes if c.adjuster == key)
        count = -round((y if upward else x) / per) or 1
        count = max(-limit - spent, min(limit - spent, count))
        if not count:
            break
        bench.minutes += MINUTES["tap"]
        bench.named.append("nock" if upward else "rest_side")
        bench.turn(key, count)
        after = _two(bench)
        if abs(after[1] if upward else after[0]) > abs(y if upward else x):
            bench.minutes += MINUTES["tap"]
            bench.turn(key, -2 * count)
    for suspect in ("hand", "heel", "spine_side", "spine_up"):
        if hypot(*_two(bench)) < 1 / 8:
            return "done"
        if bench.test(suspect):
            bench.named.append(suspect)
            bench.mend(suspect)
    return "done" if hypot(*_two(bench)) < 1 / 8 else "leave"


def _two(bench: Bench) -> tuple[float, float]:
    shots = [_at(bench.shoot()) for _ in range(2)]
    if hypot(shots[0][0] - shots[1][0], shots[0][1] - shots[1][1]) > 0.3:
        shots.append(_at(bench.shoot()))
    x, y = np.median(np.array(shots), axis=0)
    return float(x), float(y)


WAYS: dict[str, Callable[[Bench], str]] = {"engine": by_engine, "ladder": by_ladder}


def main() -> int:
    """Print the table."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("cases", type=int, nargs="?", default=24)
    parser.add_argument("--by-cause", action="store_true")
    parser.add_argument("--flight", action="store_true")
    wanted = parser.parse_args()
    make = tune_flight.hidden if wanted.flight else hidden
    print(
        "| who | tuned | falsely done | named | shots, median / 90th | minutes | "
        "shots, minutes a tuned bow | tests | stated / right |"
    )
    print("|" + " --- |" * 9)
    for who, way in WAYS.items():
        found = {
            cause: [_played(cause, seed, way, make) for seed in range(wanted.cases)]
            for cause in CAUSES
        }
        print(_row(who, [one for rows in found.values() for one in rows]), flush=True)
        if wanted.by_cause:
            for cause, rows in found.items():
                print(_row(f"{who}: {cause}", rows))
    return 0


def _played(
    cause: str, seed: int, way: Callable[[Bench], str], make: Callable[[str, int], Any]
) -> tuple[Bench, str, str]:
    bench = Bench.of(cause, seed, make)
    return bench, way(bench), cause


def _row(who: str, rows: list[tuple[Bench, str, str]]) -> str:
    size = [hypot(*bench.bow.tear()) for bench, _, _ in rows]
    tuned = np.mean([s < 0.14 for s in size])
    wrong = np.mean(
        [end == "done" and s >= 3 / 16 for s, (_, end, _) in zip(size, rows, strict=True)]
    )
    judged = [(b, c) for b, _, c in rows if c in NAMES]
    named = np.mean([bool(set(b.named) & NAMES[c]) for b, c in judged]) if judged else float("nan")
    counts = [[b.shots for b, _, _ in rows], [b.minutes for b, _, _ in rows]]
    shots, minutes = (f"{statistics.median(x):g} / {np.percentile(x, 90):.0f}" for x in counts)
    each = [f"{sum(x) / max(tuned * len(rows), 1):.0f}" for x in counts]
    said = [one for b, _, _ in rows for one in b.stated]
    stated = (
        f"{np.mean([s for s, _ in said]):.0%} / {np.mean([r for _, r in said]):.0%}"
        if said
        else "-"
    )
    tests = statistics.median([b.tests for b, _, _ in rows])
    return (
        f"| {who} | {tuned:.0%} | {wrong:.0%} | {named:.0%} | {shots} | {minutes} | {', '.join(each)} | "
        f"{tests:g} | {stated} |"
    )


if __name__ == "__main__":
    sys.exit(main())
