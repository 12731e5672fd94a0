"""Technicians against simulated bows: how many presses, and is the bow truly in spec at the end?

    python bench/closed_loop.py [bows] [--families binary,twin] [--write]

Each bow has hidden parameters and cables of wrong length; everything is read with tools that scatter.
Three technicians work on the same bows: a rule of thumb one step at a time, a rule of thumb in
proportion, and the planner with learning. Figures are counts in one run; nothing is compared
between machines.
"""

import argparse
import sys
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from pathlib import Path

import numpy as np

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT / "src"))

from bowcore.adjusters.registry import adjusters_of  # noqa: E402
from bowcore.adjusters.steps import Steps  # noqa: E402
from bowcore.errors import BadInput, NoModel  # noqa: E402
from bowcore.learning.belief import Belief  # noqa: E402
from bowcore.learning.history import HistoryEvent, Read, Turned, learn  # noqa: E402
from bowcore.learning.prior import prior_of_twins  # noqa: E402
from bowcore.measurement.bands import Band, around  # noqa: E402
from bowcore.measurement.repeats import summarise  # noqa: E402
from bowcore.mechanics.kits import ShimKit  # noqa: E402
from bowcore.mechanics.plausible import ensemble  # noqa: E402
from bowcore.mechanics.specification import BowSpec, Family, PartSpec  # noqa: E402
from bowcore.mechanics.twin import build_twin  # noqa: E402
from bowcore.planning.problem import PlanKind, TuningPolicy, problem_after  # noqa: E402
from bowcore.planning.search import find_plan  # noqa: E402
from bowcore.quantities.catalogue import QUANTITIES  # noqa: E402
from bowcore.simulation.simulated_bow import Faults, SimulatedBow, simulated_bow  # noqa: E402

PEG_SHIFT = 1.08  # the truth is not centred on the planner's prior
MOST_PRESSES = 15
MOST_HALF_TWISTS = 24  # a shop would send such a cable back; here it is kept and put right
BOLTS = {"limb_bolts": (-4, 8)}
SPACERS_IN = (1 / 16, 1 / 8, 3 / 16, 1 / 4)
KITS = (
    ShimKit(
        "thin", ((0.105, 0.145), (0.115, 0.135), (0.125, 0.125), (0.135, 0.115), (0.145, 0.105))
    ),
    ShimKit("thick", ((0.065, 0.185), (0.085, 0.165), (0.165, 0.085), (0.185, 0.065))),
)
LEANS_IN = 0.35  # a cam leans by up to so much, at the end of a laid shaft


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


def bands(spec: BowSpec, leans: bool = False) -> dict[str, Band]:
    """What is to be reached; with `leans` every cam that can be set upright as well."""
    axles = ("lean", "lean_bottom") if spec.family in (Family.BINARY, Family.TWIN) else ("lean",)
    return {
        **({name: around(0, 0.125, "policy", "") for name in axles} if leans else {}),
        "axle_to_axle": around(spec.axle_to_axle_in, 0.125, "book", ""),
        "brace_height": around(spec.brace_height_in, 0.125, "book", ""),
        "peak_weight": around(spec.peak_weight_lbf, 1.0, "book", ""),
        "stop_gap": around(0, 1 / 32, "policy", ""),
    }


@dataclass
class Tally:
    """What one technician made of many bows."""

    presses: list[int] = field(default_factory=list)
    in_band: int = 0
    unfinished: int = 0
    leans: bool = False
    inside_90: int = 0
    predicted: int = 0
    first_inside_90: int = 0
    first_predicted: int = 0


def read(bow: SimulatedBow, name: str) -> Read:
    quantity = QUANTITIES[name]
    takes = [bow.take(name) for _ in range(quantity.takes)]
    summary = summarise(takes, quantity.tool.sigma)
    return Read(name, summary.value, summary.sigma, len(takes))


def truly_inside(bow: SimulatedBow, aims: dict[str, Band]) -> bool:
    return all(band.judge(bow.true(name)).inside for name, band in aims.items())


def planner(bow: SimulatedBow, spec: BowSpec, prior: Belief, tally: Tally) -> None:
    """Follow the advice until it is accepted, or until it says that it cannot be done."""
    aims, limits = bands(spec, tally.leans), BOLTS
    if not tally.leans:  # what tilts a cam stays alone while nobody reads its lean
        limits = BOLTS | {one.key: (0, 0) for one in adjusters_of(spec) if one.leans}
    events: list[HistoryEvent] = [read(bow, name) for name in aims]
    presses = 0
    expected: dict[str, tuple[float, float]] = {}
    while presses < MOST_PRESSES:
        known = learn(prior, events)
        problem = problem_after(known, aims, TuningPolicy(), limits, MOST_HALF_TWISTS)
        plan = find_plan(problem)
        if plan.kind is PlanKind.READ_AGAIN and len(events) < 400:
            events.append(read(bow, plan.read_again))
            continue
        if plan.kind is PlanKind.LEAVE:
            tally.presses.append(presses)
            tally.in_band += truly_inside(bow, aims)
            return
        if not plan.best.steps or (plan.kind is PlanKind.UNREACHABLE and not plan.best.steps):
            break
        expected = dict(plan.best.predicted)
        steps = plan.best.steps
        bow.turn(steps)
        presses += plan.best.presses
        first = not any(isinstance(e, Turned) for e in events)
        for name in aims:
            value, sigma = expected[name]
            held = abs(bow.true(name) - value) <= 1.645 * sigma
            tally.predicted += 1
            tally.inside_90 += held
            if first:
                tally.first_predicted += 1
                tally.first_inside_90 += held
        events.append(Turned(steps))
        events += [read(bow, name) for name in aims]
    tally.presses.append(presses)
    tally.unfinished += 1


def by_rule(
    gap_per_half_twist: float | None,
) -> Callable[[SimulatedBow, BowSpec, Belief, Tally], None]:
    """A rule of thumb: gap first, then weight, then axle to axle; one step, or in proportion."""

    def work(bow: SimulatedBow, spec: BowSpec, prior: Belief, tally: Tally) -> None:
        aims = bands(spec)
        for presses in range(MOST_PRESSES):
            seen = {name: read(bow, name).value for name in aims}
            steps = rule_of_thumb(seen, spec, gap_per_half_twist)
            if not steps:
                tally.presses.append(presses)
                tally.in_band += truly_inside(bow, aims)
                return
            bow.turn(Steps(steps))
        tally.presses.append(MOST_PRESSES)
        tally.unfinished += 1

    return work


def rule_of_thumb(seen: dict[str, float], spec: BowSpec, per_step: float | None) -> dict[str, int]:
    aims = bands(spec)
    single = spec.family is Family.SINGLE
    gap = seen["stop_gap"]
    if not aims["stop_gap"].judge(gap).inside:
        count = 1 if per_step is None else max(round(abs(gap) / per_step), 1)
        if single:
            return {"cable_b": count if gap > 0 else -count}
        return {"cable_b" if gap > 0 else "cable_a": count}
    cables = ["cable_b"] if single else ["cable_a", "cable_b"]
    for name, per_half in (
        ("peak_weight", 0.15 * len(cables)),
        ("axle_to_axle", -0.004 * len(cables)),
    ):
        off = aims[name].target - seen[name]
        if not aims[name].judge(seen[name]).inside:
            count = 1 if per_step is None else min(max(round(abs(off / per_half)), 1), 6)
            return dict.fromkeys(cables, count if off / per_half > 0 else -count)
    if not aims["brace_height"].judge(seen["brace_height"]).inside:
        return {"string": 1 if seen["brace_height"] < spec.brace_height_in else -1}
    return {}


WORKERS: dict[str, Callable[[SimulatedBow, BowSpec, Belief, Tally], None]] = {
    "one step": by_rule(None),
    "in proportion": by_rule(0.03),
    "planner": planner,
}


def run(
    family: Family,
    off: float,
    count: int,
    wide: float,
    only: list[str],
    scale: float = 1.0,
    leans: bool = False,
) -> dict[str, Tally]:
    spec = book(family)
    prior = prior_of_twins(build_twin(spec), ensemble(spec))
    prior.mean[len(prior.quantities) :] *= scale
    tallies = {name: Tally(leans=leans) for name in only}
    for seed in range(count):
        for name in only:
            work = WORKERS[name]
            bow = make(spec, seed, off, wide)
            if bow is None:
                continue
            try:
                work(bow, spec, prior, tallies[name])
            except (NoModel, BadInput):  # turned until it cannot be computed
                tallies[name].presses.append(MOST_PRESSES)
                tallies[name].unfinished += 1
    return tallies


def make(spec: BowSpec, seed: int, off: float, wide: float) -> SimulatedBow | None:
    rng = np.random.default_rng(1000 + seed)
    roles = [part.role for part in spec.parts if part.role != "string"]
    shorter = {role: float(rng.uniform(-off, off)) for role in roles}
    uneven = float(rng.normal(0, 0.01))
    leans = rng.uniform(-LEANS_IN, LEANS_IN, 2)
    faults = Faults(
        shorter, limb_uneven=uneven, leans_in=float(leans[0]), leans_bottom_in=float(leans[1])
    )
    shifted = replace(spec, peg_radius_in=spec.peg_radius_in * PEG_SHIFT)
    for redrawn in range(5):
        try:
            bow = simulated_bow(shifted, 5000 + seed + 1000 * redrawn, faults, wide)
        except NoModel:
            continue
        if bow.holds_together:
            return bow
    return None


def row(label: str, name: str, tally: Tally) -> str:
    done = len(tally.presses)
    median, ninety = np.percentile(tally.presses, [50, 90])
    finished = done - tally.unfinished
    calibrated = f"{tally.inside_90 / tally.predicted:.0%}" if tally.predicted else ""
    share = f"{tally.in_band / max(finished, 1):.1%}"
    later = tally.predicted - tally.first_predicted
    taught = f"{(tally.inside_90 - tally.first_inside_90) / later:.0%}" if later else ""
    return (
        f"| {label} | {name} | {median:.0f} / {ninety:.0f} | {share} | {tally.unfinished} "
        f"| {calibrated} | {taught} |"
    )


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("bows", type=int, nargs="?", default=40)
    parser.add_argument("--families", default="binary,hybrid,single,twin")
    parser.add_argument("--off", default="0.15,0.30")
    parser.add_argument("--wide", type=float, default=1.5)
    parser.add_argument("--only", default=",".join(WORKERS))
    parser.add_argument("--write", action="store_true")
    options = parser.parse_args()
    lines = [
        "| bows | technician | presses median / 90th | truly in band | unfinished "
        "| 90 % bands hold | after the first change |",
        "| --- | --- | --- | --- | --- | --- | --- |",
    ]
    only = options.only.split(",")
    for off in map(float, options.off.split(",")):
        for family in options.families.split(","):
            tallies = run(Family(family), off, options.bows, options.wide, only)
            lines += [row(f"{family} ±{off:.2f}", name, t) for name, t in tallies.items()]
            print("\n".join(lines[-len(only) :]), flush=True)
    for family in options.families.split(","):
        tally = run(Family(family), 0.15, options.bows, options.wide, ["planner"], leans=True)
        lines.append(row(f"{family} ±0.15, cams lean", "planner", tally["planner"]))
        print(lines[-1], flush=True)
    for scale in (0.6, 1.6):
        for family in options.families.split(","):
            tally = run(Family(family), 0.15, options.bows, options.wide, ["planner"], scale)
            lines.append(row(f"{family} ±0.15, prior x {scale:g}", "planner", tally["planner"]))
            print(lines[-1], flush=True)
    if options.write:
        write(lines, options)


def write(lines: list[str], options: argparse.Namespace) -> None:
    target = ROOT / "docs" / "derivations" / "closed-loop.md"
    head = [
        "# Closed loop on simulated bows",
        "",
        f"`python bench/closed_loop.py {options.bows} --write`: {options.bows} bows a row, parameters",
        f"drawn {options.wide:g} times as wide as the planner's own ensemble and not centred on it",
        "(stop pegs 8 % further out), limbs uneven by about 1 %, cables off by up to the inches",
        "given, every tool scattering. The last rows start the planner from a response that is wrong",
        "by the factor given: its bands cannot hold before the bow has answered once. Bows whose cams",
        "would run from each other were drawn again. A cable may take up to 12 twists here, where a",
        "shop would send it back. Limb bolts may be turned, spacers of four sizes are in the drawer;",
        "where cams lean, yoke legs are turned (binary: shims of two kits) until every lean is inside",
        f"1/8 in of upright too, from up to {LEANS_IN:g} in off at the end of a laid shaft.",
        "",
    ]
    target.parent.mkdir(parents=True, exist_ok=True)
    target.write_text("\n".join([*head, *lines, ""]))


if __name__ == "__main__":
    main()
