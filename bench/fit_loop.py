"""A technician with the fit's advice against simulated bows with a new string on them: acts, presses, and is
the bow fitted?

    python bench/fit_loop.py [bows]

Hidden is how far off nock, level, centre shot, peep, ties and cord are. Everything is read with tools that
scatter. A rule of thumb is set beside it: half of what is off is taken away at a time, the peep is turned by
half a twist at the bottom end. Figures are counts in one run.
"""

import statistics
import sys
from dataclasses import dataclass, replace
from functools import cache
from pathlib import Path

import numpy as np

ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT / "src"), str(ROOT / "bench")]

from closed_loop import book  # noqa: E402

from bowcore.accessories.on_the_bow import OnTheBow, thing  # noqa: E402
from bowcore.adjusters.registry import adjuster_in, adjusters_of, fit_adjusters_of  # noqa: E402
from bowcore.adjusters.steps import Steps  # noqa: E402
from bowcore.bow.lay import Lay  # noqa: E402
from bowcore.bow.specification import Family  # noqa: E402
from bowcore.bow.twin import Twin, build_twin  # noqa: E402
from bowcore.evidence.facts import Facts, LedgerEntry, Take  # noqa: E402
from bowcore.quantities.catalogue import QUANTITIES  # noqa: E402
from bowcore.quantities.changes import Change  # noqa: E402
from bowcore.simulation.simulated_bow import Faults, SimulatedBow, simulated_bow  # noqa: E402
from bowcore.stages.back_to_spec.targets import bands  # noqa: E402
from bowcore.stages.fit.fit_advice import fit_advice, fit_estimates  # noqa: E402
from bowcore.stages.fit.fit_bow import FitAct, FitBow  # noqa: E402
from bowcore.stages.fit.fit_needs import fit_asks, fit_outside, fit_unread  # noqa: E402

MOST_ACTS = 20
AT_THE_START = ("nock_to_peep", "nock_height", "centre_shot", "loop_length", "peak_weight")
ON_THE_BOW = OnTheBow({
    "arrow": thing("arrow").read({"name": "a", "mass_gr": "420", "length_in": "28 1/2", "shaft_in": ".25"}),
    "rest": thing("rest").read({"kind": "drop_cable", "driver": "cable_b", "clamp_in": "15"}),
    "ties": thing("ties").read({"school": "both"}),
})  # fmt: skip


@dataclass
class Bench:
    """One simulated bow whose new string is on, and everything that was read and done."""

    bow: SimulatedBow
    family: Family
    takes: list[Take]
    changes: list[LedgerEntry]
    presses: int = 0
    acts: int = 0

    @classmethod
    def with_new_string(cls, family: Family, seed: int) -> "Bench":
        bow = simulated_bow(book(family), seed)
        bow.came_in(Faults(misfit=misfit(np.random.default_rng(seed))))
        found = cls(bow, family, [], [])
        for name in AT_THE_START:
            found.read(name)
        found.changes.append(LedgerEntry(found.now, Change.STRING, "string", "string", 0, True))
        bow.fit_part("string", 0.0)
        return found

    @property
    def now(self) -> int:
        return len(self.takes) + len(self.changes) + 1

    @property
    def facts(self) -> Facts:
        return Facts(
            self.family,
            ("replace_string",),
            inspected=True,
            takes=tuple(self.takes),
            changes=tuple(self.changes),
            path="carry_over",
            fitted=("peep", "loop", "rest"),
            on_bow=ON_THE_BOW,
        )

    def read(self, name: str) -> None:
        self.takes.append(Take(self.now, name, self.bow.take(name)))

    def read_what_is_asked(self) -> None:
        while unread := fit_unread(self.facts):
            self.read(unread[0])

    def as_fitted(self) -> FitBow:
        facts = self.facts
        spec = book(self.family)
        read = FitBow(spec, facts, bands(spec, facts), twin_of(self.family), lay=Lay.Z)
        return replace(read, facts=replace(facts, estimates=fit_estimates(read)))

    def turn(self, steps: Steps) -> None:
        known = {a.key: a for a in (*adjusters_of(self.bow.spec), *fit_adjusters_of(self.bow.spec))}
        self.acts += 1
        self.presses += "string" in steps or "peep_pair" in steps
        moment = self.now
        for key, count in steps.items():
            adjuster = adjuster_in(known.values(), key)
            self.changes.append(LedgerEntry(moment, adjuster.change, key, adjuster.part, count))
        self.bow.turn(steps)

    def by_hand(self, change: Change, wanted: dict[str, float]) -> None:
        self.acts += 1
        self.changes.append(LedgerEntry(self.now, change))
        self.bow.put_right(change, wanted)

    def do(self, act: FitAct) -> None:
        if act.steps:
            self.turn(act.steps)
        elif act.change is not None:
            self.by_hand(act.change, {name: value for name, value, _ in act.expect})

    def truly_outside(self, hair: float = 0.0) -> list[str]:
        """What is outside its band by more than a hair without any tool's error; a hair as a share of the
        tool's division."""
        known = bands(book(self.family), self.facts)
        asked = [key for key in fit_asks(self.facts) if key in known]
        allowed = {key: hair * float(QUANTITIES[key].tool.division) for key in asked}
        return [key for key in asked if known[key].judge(self.bow.true(key)).by > allowed[key]]


@cache
def twin_of(family: Family) -> Twin:
    """The book's twin."""
    return build_twin(book(family))


def misfit(rng: np.random.Generator) -> dict[str, float]:
    """How far off a new string's fit is, as strings go on in shops (common practice, no published source)."""
    return {
        "nock_height": rng.normal(0, 0.1), "arrow_level": rng.normal(0, 0.1),
        "centre_shot": rng.normal(0, 0.1), "peep_turn": rng.uniform(-29, 29),
        "nock_gap": rng.uniform(-0.03, 0.06), "nock_to_peep": rng.normal(0, 0.15),
        "cord_up": rng.uniform(-0.8, 3), "loop_facing": rng.normal(0, 4),
    }  # fmt: skip


def by_advice(bench: Bench) -> None:
    """Read, do the first act of the advice, read again."""
    for _ in range(MOST_ACTS):
        bench.read_what_is_asked()
        acts = fit_advice(bench.as_fitted()).acts
        doable = [act for act in acts if not act.leaves]
        if not doable:
            return
        bench.do(doable[0])


def by_rule_of_thumb(bench: Bench) -> None:
    """Half of what is off at a time; the peep by half a twist at the bottom end."""
    knobs = {
        "nock_height": ("nock_point", 1),
        "arrow_level": ("rest_up", -1),
        "centre_shot": ("rest_out", 1),
    }
    hands = dict.fromkeys(("nock_gap", "loop_length", "loop_facing"), Change.LOOP_OR_TIES)
    hands |= {"nock_to_peep": Change.PEEP, "cord_up": Change.REST}
    for _ in range(MOST_ACTS):
        bench.read_what_is_asked()
        bow = bench.as_fitted()
        outside = fit_outside(bow.facts, bow.bands)
        if not outside:
            return
        name = outside[0]
        off = bow.value(name) - bow.bands[name].target
        if name in knobs:
            key, sign = knobs[name]
            taps = round(-sign * off / 2 * 32) or (-sign if off > 0 else sign)
            bench.turn(Steps({key: taps}))
        elif name in hands:
            bench.by_hand(hands[name], {name: bow.bands[name].target})
        else:
            bench.turn(Steps({"string": 1 if off > 0 else -1}))


def main() -> int:
    bows = int(sys.argv[1]) if len(sys.argv) > 1 else 40
    print(
        "| family | who | acts, median / 90th | presses | truly fitted | or half a division off |"
    )
    print("| --- | --- | --- | --- | --- | --- |")
    for family in Family:
        for who, way in (("advice", by_advice), ("rule of thumb", by_rule_of_thumb)):
            done = [Bench.with_new_string(family, seed) for seed in range(bows)]
            for one in done:
                way(one)
            acts, presses = ([getattr(b, n) for b in done] for n in ("acts", "presses"))
            fitted = [sum(not one.truly_outside(hair) for one in done) / bows for hair in (0, 0.5)]
            figures = " | ".join(
                f"{statistics.median(x):g} / {np.percentile(x, 90):g}" for x in (acts, presses)
            )
            print(
                f"| {family} | {who} | {figures} | {fitted[0]:.0%} | {fitted[1]:.0%} |", flush=True
            )
    return 0


if __name__ == "__main__":
    sys.exit(main())
