"""A technician with the planner against simulated bows: presses, minutes, and is the bow in spec?

    python bench/closed_loop.py [bows] [--families binary,twin] [--rows fair,foul] [--write]

Every bow gets a new string and new cables of wrong length, is drawn in, and is brought back to its
book. Hidden are its parameters, what half a twist of each part does, how it settles, how its stops
are touched; everything is read with tools that scatter. The same advice is asked for as on the
screen (`advise`), and compared at every turn with the core's own loop; the two must be equal.
Figures are counts in one run; nothing is compared between machines.
"""

import argparse
import os
import sys
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field, replace
from functools import lru_cache
from pathlib import Path

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # one bow on each core

import numpy as np

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT / "src"))

from bowcore.adjusters.registry import adjuster_in, adjusters_of  # noqa: E402
from bowcore.adjusters.shim import SHIM_MARKS  # noqa: E402
from bowcore.adjusters.steps import Steps  # noqa: E402
from bowcore.bow.fit import DRAW_LENGTH_OFFSET_IN  # noqa: E402
from bowcore.bow.kits import ShimKit  # noqa: E402
from bowcore.bow.plausible import ensemble  # noqa: E402
from bowcore.bow.specification import BowSpec, Family, PartSpec  # noqa: E402
from bowcore.bow.twin import build_twin  # noqa: E402
from bowcore.deciding.problem import Plan, PlanKind, TuningPolicy, problem_after  # noqa: E402
from bowcore.deciding.search import find_plan  # noqa: E402
from bowcore.errors import BadInput, NoModel  # noqa: E402
from bowcore.evidence.facts import Facts, LedgerEntry, Take  # noqa: E402
from bowcore.learning.belief import Belief  # noqa: E402
from bowcore.learning.history import Drawn, HistoryEvent, Read, Replaced, Turned, learn  # noqa: E402
from bowcore.learning.pooling import pool  # noqa: E402
from bowcore.learning.prior import prior_of_twins  # noqa: E402
from bowcore.measurement.bands import Band, around  # noqa: E402
from bowcore.quantities.catalogue import LEANS, QUANTITIES  # noqa: E402
from bowcore.quantities.changes import Change  # noqa: E402
from bowcore.response.measured import fit_curve  # noqa: E402
from bowcore.simulation.simulated_bow import Faults, SimulatedBow, simulated_bow  # noqa: E402
from bowcore.stages.back_to_spec.advice import advise, fitted_prior, limits_of  # noqa: E402

MOST_PRESSES = 15
MOST_TAKES = 250
MOST_HALF_TWISTS = 24  # a shop would send such a cable back; here it is kept and put right
DRAWN_IN, DRAWN_LATER = 60, 30
CURVE_POINTS = 40
READ_MINUTES = 0.7
COMPARED_EVERY = 4  # one bow in so many also goes through the screen's own path, to save time
SPACERS_IN = (1 / 16, 1 / 8, 3 / 16, 1 / 4)
KITS = (
    ShimKit(
        "thin", ((0.105, 0.145), (0.115, 0.135), (0.125, 0.125), (0.135, 0.115), (0.145, 0.105))
    ),
    ShimKit("thick", ((0.065, 0.185), (0.085, 0.165), (0.165, 0.085), (0.185, 0.065))),
)
SHIMS_IN = ".125 / .125"  # in beside every cam when it comes in
LEANS_IN = 0.35  # a cam leans by up to so much, at the end of a laid shaft


@dataclass(frozen=True)
class Row:
    """What is wrong with the bows of one row, and with who reads and writes down."""

    cables_in: float = 0.15
    string_in: float = 0.15
    wide: float = 1.5
    pegs: float = 1.0
    limbs: float = 0.0
    twist_rate: float = 0.08
    served_share: float = 0.0
    settles: bool = True
    drawn_in: int = DRAWN_IN
    blunders: float = 0.0
    mislogs: float = 0.0
    leans: bool = False
    prior: float = 1.0
    cam_measured: bool = False
    """The radii of its cam are known to 2 % each, by caliper, where they decide the timing."""
    curve: bool = False
    """Its curve was pulled before the old parts came off, and the model fitted to it."""
    every: bool = False
    """Limb angle, stiffness and depth of the tracks are hidden, too, which the planner takes for usual."""
    model_known: int = 0
    """So many bows of the model were finished before, and have taught the prior."""


ROWS = {
    "fair": {
        "±0.15": Row(),
        "±0.30": Row(cables_in=0.30, string_in=0.30),
    },
    "known": {
        "±0.15 known model": Row(model_known=4),
        "±0.30 known model": Row(cables_in=0.30, string_in=0.30, model_known=4),
        "mis-log known model": Row(mislogs=0.25, model_known=4),
    },
    "geometry": {
        "±0.15 all geometry": Row(every=True),
        "±0.30 all geometry": Row(cables_in=0.30, string_in=0.30, every=True),
    },
    "caliper": {
        "±0.15 cam by caliper": Row(cam_measured=True),
        "±0.30 cam by caliper": Row(cables_in=0.30, string_in=0.30, cam_measured=True),
    },
    "curve": {
        "±0.15 curve pulled first": Row(curve=True),
        "±0.30 curve pulled first": Row(cables_in=0.30, string_in=0.30, curve=True),
    },
    "foul": {
        "blunders": Row(blunders=0.1),
        "mis-log": Row(mislogs=0.25),
        "pegs +15 %": Row(pegs=1.15),
        "limbs ±5 %": Row(limbs=0.05),
        "not drawn in": Row(drawn_in=5),
        "all together": Row(
            cables_in=0.30, string_in=0.15, wide=2.0, pegs=1.10, limbs=0.03, twist_rate=0.15,
            served_share=0.08, blunders=0.05,
        ),
    },
    "other": {
        "cams lean": Row(leans=True),
        "prior x 0.6": Row(prior=0.6),
        "prior x 1.6": Row(prior=1.6),
    },
}  # fmt: skip


def book(family: Family) -> BowSpec:
    cables = [
        PartSpec("cable_a", "Top cable", "", 36, 24, 0.6),
        PartSpec("cable_b", "Bottom cable", "", 36, 24, 0.6),
    ]
    parts = tuple(cables[1:] if family is Family.SINGLE else cables)
    let_off = 0.65 if family is Family.TWIN else 0.8
    string = PartSpec("string", "String", "", 58, 24, 0.4)
    yokes = {Family.TWIN: ("cable_a", "cable_b"), Family.BINARY: ()}.get(family, ("cable_b",))
    return BowSpec(
        f"A {family} bow",
        family,
        33,
        6.5,
        29,
        60,
        let_off,
        (*parts, string),
        yokes=yokes,
        spacers_in=SPACERS_IN,
        shim_kits=KITS if family is Family.BINARY else (),
    )


@lru_cache(maxsize=16)
def prior_of(spec: BowSpec, scale: float) -> Belief:
    prior = prior_of_twins(build_twin(spec), ensemble(spec))
    if scale == 1.0:
        return prior
    mean, covariance = prior.response_part()
    return prior.with_response(mean * scale, covariance, prior.weights)


def bands(spec: BowSpec, leans: bool = False) -> dict[str, Band]:
    """What is to be reached; with `leans` every cam that can be set upright as well."""
    axles = LEANS if spec.family in (Family.BINARY, Family.TWIN) else LEANS[:1]
    return {
        **({name: around(0, 0.125, "policy", "") for name in axles} if leans else {}),
        "axle_to_axle": around(spec.axle_to_axle_in, 0.125, "book", ""),
        "brace_height": around(spec.brace_height_in, 0.125, "book", ""),
        "draw_length": around(spec.draw_length_in, 0.125, "book", ""),
        "peak_weight": around(spec.peak_weight_lbf, 1.0, "book", ""),
        "stop_gap": around(0, 1 / 32, "policy", ""),
    }


@dataclass
class Outcome:
    """What became of one bow."""

    presses: int = 0
    minutes: float = 0.0
    finished: bool = False
    stuck: bool = False
    inside: bool = False
    inside_later: bool = False
    worst: float = 0.0
    """How far outside the worst number is, in half widths."""
    chance: float = 0.0
    wrong_way: bool = False
    draw_off_in: float = 0.0
    before: list[tuple[str, float]] = field(default_factory=list)
    """By quantity, how far off its 90 % band's middle, in half bands: before the bow answered once."""
    after: list[tuple[str, float]] = field(default_factory=list)
    blunders: int = 0
    flagged: int = 0
    mislogs: int = 0
    asked: int = 0
    asked_in_vain: int = 0
    changes: int = 0


class Bench:
    """One bow, its facts as the program keeps them, and the same events for the core's own loop."""

    def __init__(self, bow: SimulatedBow, spec: BowSpec, row: Row, seed: int, prior: Belief):
        """Put on new parts and draw them in. `prior`: what is believed of a bow of this model."""
        self.bow, self.spec, self.row = bow, spec, row
        self.rng = np.random.default_rng(seed)
        # on the screen a lean counts that was read before the old parts came off: not so here
        self.compared = seed % COMPARED_EVERY == 0 and not row.leans
        self.aims = bands(spec, row.leans)
        self.takes: list[Take] = []
        self.changes: list[LedgerEntry] = []
        self.events: list[HistoryEvent] = []
        self.blunders: Counter[tuple[str, float]] = Counter()
        self.outcome = Outcome()
        self.prior = prior
        self.seq = 0
        for part in spec.parts:
            change = Change.STRING if part.role == "string" else Change.CABLE
            self._log(LedgerEntry(self._next(), change, part=part.role, replaced=True))
            self.events.append(Replaced(part.role))
        bow.shoot(row.drawn_in)
        self._log(LedgerEntry(self._next(), Change.SHOTS, steps=row.drawn_in))
        self.events.append(Drawn(row.drawn_in))

    def facts(self) -> Facts:
        marks = {"bolts_top": "2", "bolts_bottom": "2"}
        turned = sum(one.steps for one in self.changes if one.adjuster == "limb_bolts") / 2
        marks = dict.fromkeys(marks, f"{2 + turned:g}")
        if self.spec.shim_kits:
            marks |= dict.fromkeys(SHIM_MARKS.values(), SHIMS_IN)
        return Facts(
            self.spec.family,
            (),
            takes=tuple(self.takes),
            changes=tuple(self.changes),
            marks=marks,
            most_bolt_turns=6,
        )

    def read(self, name: str, takes: int = 0) -> None:
        what = self.bow.named(name)
        mark = None if what is QUANTITIES[name] else what.precision
        for _ in range(takes or what.takes):
            value = self.bow.take(name)
            if self.rng.random() < self.row.blunders:
                wrong = 1 / 16 if name == "stop_gap" else (4.0 if "weight" in name else 1 / 4)
                value += wrong * self.rng.choice([-1, 1])
                self.blunders[name, value] += 1
                self.outcome.blunders += 1
            self.takes.append(Take(self._next(), name, value))
            self.events.append(Read(name, (value,), mark))
            self.outcome.minutes += READ_MINUTES

    def turn(self, steps: Steps, minutes: float) -> bool:
        """Turn, and write down what was turned; whether that was written down wrongly."""
        self.bow.turn(steps)
        logged = self._as_logged(steps)
        self._write_down(logged)
        self.outcome.minutes += minutes
        return logged != steps

    def correct(self, steps: Steps) -> None:
        """The last change was another one: the entry is corrected at its own moment."""
        at = max(i for i, event in enumerate(self.events) if isinstance(event, Turned))
        wrong = self.events[at]
        assert isinstance(wrong, Turned)
        self.events[at] = Turned(steps)
        seq = max(entry.seq for entry in self.changes if entry.adjuster)
        self._enter(seq, steps + -wrong.steps)

    def _write_down(self, steps: Steps) -> None:
        self._enter(self._next(), steps)
        self.events.append(Turned(steps))

    def _enter(self, seq: int, steps: Steps) -> None:
        for key, count in steps.items():
            adjuster = adjuster_in(adjusters_of(self.spec), key)
            self._log(LedgerEntry(seq, adjuster.change, key, adjuster.part, count))

    def advice(self) -> Plan:
        """What the screen would say, checked against the core's own loop."""
        facts, prior = self.facts(), self.prior
        policy = TuningPolicy()
        known = learn(prior, self.events)
        limits = limits_of(known, facts, self.aims)
        problem = problem_after(known, self.aims, policy, limits, MOST_HALF_TWISTS)
        plan = find_plan(problem)
        if self.compared:
            shown = advise(self.spec, facts, self.aims, policy, prior, MOST_HALF_TWISTS).plan
            same = (shown.kind, shown.best.steps, shown.read_again)
            if (plan.kind, plan.best.steps, plan.read_again) != same:
                raise AssertionError("The screen's advice is not the core's.")
        self.known = known
        return plan

    def _as_logged(self, steps: Steps) -> Steps:
        twisted = [key for key in steps if adjuster_in(adjusters_of(self.spec), key).twisted]
        if not twisted or self.rng.random() >= self.row.mislogs:
            return steps
        key = twisted[int(self.rng.integers(len(twisted)))]
        if self.rng.random() < 0.5:
            return Steps({**steps, key: -steps[key]})
        off = int(self.rng.choice([-1, 1]))  # nobody writes down that nothing was turned
        return Steps({**steps, key: (steps[key] + off) or steps[key] - off})

    def _log(self, entry: LedgerEntry) -> None:
        self.changes.append(entry)

    def _next(self) -> int:
        self.seq += 1
        return self.seq


def work(bench: Bench) -> Outcome:
    """Follow the advice until it accepts the bow, or says that it cannot be done."""
    outcome, aims = bench.outcome, bench.aims
    for name in aims:
        bench.read(name)
    while outcome.presses < MOST_PRESSES and len(bench.takes) < MOST_TAKES:
        plan = bench.advice()
        if plan.kind is PlanKind.READ_AGAIN:
            bench.read(plan.read_again, 1)
            continue
        if plan.kind is PlanKind.LEAVE:
            accept(bench, plan)
            break
        if not plan.best.steps:
            break
        take_in_hand(bench, plan)
    else:
        outcome.stuck = len(bench.takes) >= MOST_TAKES
    odd = Counter((one.quantity, one.value) for one in bench.known.odd)
    outcome.flagged += (bench.blunders & odd).total()
    return outcome


def take_in_hand(bench: Bench, plan: Plan) -> None:
    outcome, bow, aims = bench.outcome, bench.bow, bench.aims
    gap = bow.true("stop_gap")
    steps, first = plan.best.steps, not outcome.changes
    minutes = 6.0 * plan.best.presses + 0.25 * plan.best.effort + 2 * len(steps)
    mislogged = bench.turn(steps, minutes)
    outcome.presses += plan.best.presses
    outcome.changes += 1
    for name in aims:
        value, sigma = plan.best.predicted[name]
        off = abs(bow.true(name) - value) / (1.645 * sigma)
        if not mislogged:
            (outcome.before if first else outcome.after).append((name, off))
    if first and not aims["stop_gap"].judge(gap).inside:
        outcome.wrong_way = abs(bow.true("stop_gap")) > abs(gap) + 1 / 32
    for name in aims:
        bench.read(name)
    bench.advice()
    asked = bool(bench.known.doubted)
    if asked and mislogged:
        bench.correct(steps)  # the twists are counted, and the entry is corrected
    outcome.mislogs += mislogged
    outcome.asked += asked and mislogged
    outcome.asked_in_vain += asked and not mislogged


def accept(bench: Bench, plan: Plan) -> None:
    outcome, bow, aims = bench.outcome, bench.bow, bench.aims
    outcome.finished, outcome.chance = True, plan.best.chance
    outcome.inside = all(band.judge(bow.true(name)).inside for name, band in aims.items())
    outcome.worst = max(b.judge(bow.true(n)).by / b.half_width for n, b in aims.items())
    outcome.draw_off_in = abs(bow.true("draw_length") - aims["draw_length"].target)
    bow.shoot(DRAWN_LATER)
    outcome.inside_later = all(band.judge(bow.true(name)).inside for name, band in aims.items())


def make(spec: BowSpec, seed: int, row: Row, before: int = 0) -> SimulatedBow | None:
    """A bow; `before`: another one of its model, with other parts on."""
    rng = np.random.default_rng([1000 + seed, before] if before else 1000 + seed)
    offs = {p.role: row.string_in if p.role == "string" else row.cables_in for p in spec.parts}
    shorter = {role: float(rng.uniform(-off, off)) for role, off in offs.items()}
    leans = rng.uniform(-LEANS_IN, LEANS_IN, 2)
    faults = Faults(
        shorter,
        limb_uneven=float(rng.normal(0, 0.01)),
        leans_in=float(leans[0]),
        leans_bottom_in=float(leans[1]),
        twist_rates={role: float(rng.normal(1, row.twist_rate)) for role in offs},
        stop_scatter_in=float(rng.uniform(0.006, 0.016)),
        limbs=1 + row.limbs * float(rng.uniform(-1, 1)),
        settles_in={r: float(rng.uniform(0.01, 0.03)) for r in offs} if row.settles else {},
        settled_after=float(rng.uniform(20, 40)),
    )
    served = tuple(replace(p, served_in=row.served_share * p.length_in) for p in spec.parts)
    shifted = replace(spec, peg_radius_in=spec.peg_radius_in * row.pegs, parts=served)
    for redrawn in range(5):
        try:
            model = 5000 + seed + 1000 * redrawn
            bow = simulated_bow(
                shifted, model + 100_000 * before, faults, row.wide, model, row.every
            )
            bow.true("stop_gap")
        except NoModel:  # it cannot be drawn as it comes in
            continue
        if bow.holds_together:
            return bow
    return None


def one_bow(task: tuple[Family, Row, int]) -> Outcome | None:
    family, row, seed = task
    spec = book(family)
    bow = make(spec, seed, row)
    if bow is None:
        return None
    radii = bow.by_caliper(np.random.default_rng(seed)) if row.cam_measured else None
    if radii is not None:
        spec = radii.on(spec)
    return worked(Bench(bow, spec, row, seed, taught(spec, row, seed)))


def worked(bench: Bench) -> Outcome:
    try:
        return work(bench)
    except (NoModel, BadInput):  # turned until it cannot be computed
        return bench.outcome


def by_curve(spec: BowSpec, row: Row, seed: int) -> Belief:
    """What is believed once the model is fitted to the bow's curve, as it came in: in time."""
    bow = make(spec, seed, replace(row, cables_in=0.0, string_in=0.0))
    assert bow is not None
    draw_in, force_lbf = zip(*bow.draw_curve(CURVE_POINTS), strict=True)
    return fitted_prior(spec, fit_curve(spec, np.array(draw_in) - DRAW_LENGTH_OFFSET_IN, force_lbf))


def taught(spec: BowSpec, row: Row, seed: int) -> Belief:
    """The prior of a bow's model, after other bows of the model or the bow's own curve."""
    if row.curve:
        return by_curve(spec, row, seed)
    prior, finished = prior_of(spec, row.prior), []
    for before in range(1, row.model_known + 1):
        bow = make(spec, seed, row, before)
        if bow is not None:
            known = pool(prior, finished).belief
            bench = Bench(bow, spec, row, seed + 10_000 * before, known)
            worked(bench)
            finished.append(learn(prior, bench.events).belief)
    return pool(prior, finished).belief


def share(flags: list[bool]) -> str:
    return f"{sum(flags) / len(flags):.0%}" if flags else "-"


def held(found: list[tuple[str, float]]) -> str:
    """Share of 90 % bands that held, over all and for the quantity that held least."""
    if not found:
        return "-"
    names = dict.fromkeys(name for name, _ in found)
    each = {n: [off <= 1 for name, off in found if name == n] for n in names}
    worst = min(each, key=lambda n: sum(each[n]) / len(each[n]))
    return f"{share([off <= 1 for _, off in found])} ({worst} {share(each[worst])})"


def line(label: str, found: list[Outcome]) -> str:
    presses = np.array([one.presses for one in found])
    done = [one for one in found if one.finished]
    median, ninety = np.percentile(presses, [50, 90])
    stated = float(np.mean([one.chance for one in done])) if done else 0.0
    flags = sum(one.flagged for one in found), sum(one.blunders for one in found)
    asked = sum(one.asked for one in found), sum(one.mislogs for one in found)
    vain = sum(one.asked_in_vain for one in found), sum(one.changes for one in found)
    cells = [
        f"{label}, {len(found)}",
        f"{presses.mean():.2f}, {median:.0f} / {ninety:.0f} / {presses.max()}",
        f"{np.median([one.minutes for one in found]):.0f}",
        share([one.inside for one in done]),
        share([one.inside_later for one in done]),
        f"{stated:.0%}",
        f"{sum(one.worst > 0.25 for one in done)}",
        f"{len(found) - len(done)} ({sum(one.stuck for one in found)})",
        held([pair for one in found for pair in one.before]),
        held([pair for one in found for pair in one.after]),
        f"{sum(one.wrong_way for one in found)}",
        f"{sum(one.draw_off_in > 0.125 for one in done)}",
        f"{flags[0]} of {flags[1]}" if flags[1] else "-",
        f"{asked[0]} of {asked[1]}; {vain[0]} of {vain[1]}",
    ]
    return "| " + " | ".join(cells) + " |"


HEAD = (
    "| bows, how many | presses: mean, median / 90th / most | minutes | inside | 30 draws later | as stated "
    "| far out | unfinished (stuck) | 90 % bands before (least) | after the first change | wrong way "
    "| draw off | blunders found | mis-logs asked; in vain |"
)


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("bows", type=int, nargs="?", default=40)
    parser.add_argument("--families", default="binary,hybrid,single,twin")
    parser.add_argument("--rows", default="fair,foul,other")
    parser.add_argument("--only", default="")
    parser.add_argument("--write", action="store_true")
    options = parser.parse_args()
    lines = [HEAD, "|" + " --- |" * HEAD.count(" | ") + " --- |"]
    print(HEAD, flush=True)
    with ProcessPoolExecutor() as pool:
        for group in options.rows.split(","):
            for label, row in ROWS[group].items():
                if options.only and label not in options.only.split(","):
                    continue
                for family in map(Family, options.families.split(",")):
                    tasks = [(family, row, seed) for seed in range(options.bows)]
                    found = [one for one in pool.map(one_bow, tasks, chunksize=4) if one]
                    lines.append(line(f"{family} {label}", found))
                    print(lines[-1], flush=True)
    if options.write:
        write(lines, options)


def write(lines: list[str], options: argparse.Namespace) -> None:
    target = ROOT / "docs" / "derivations" / "closed-loop.md"
    head = (
        (ROOT / "bench" / "closed_loop_head.md")
        .read_text()
        .format(bows=options.bows, rows=options.rows)
    )
    target.write_text(head + "\n".join([*lines, ""]))


if __name__ == "__main__":
    main()
