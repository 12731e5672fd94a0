"""How long the core takes, on one core, each figure as a share of its limit.

    python bench/speed.py [--grid N]

`--grid` also builds N plausible books of each family and counts those that do not make a bow.
"""

import argparse
import os
import sys
import time
from collections.abc import Callable
from pathlib import Path
from random import Random

for name in ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS", "MKL_NUM_THREADS"):
    os.environ.setdefault(name, "1")
ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT / "src"))

from bowcore.adjusters.registry import adjusters_of  # noqa: E402
from bowcore.bow.plausible import ensemble  # noqa: E402
from bowcore.bow.specification import BowSpec, Family, PartSpec  # noqa: E402
from bowcore.bow.twin import build_twin  # noqa: E402
from bowcore.deciding.problem import TuningPolicy, problem_after  # noqa: E402
from bowcore.deciding.search import find_plan  # noqa: E402
from bowcore.errors import NoModel  # noqa: E402
from bowcore.learning.history import Read, learn  # noqa: E402
from bowcore.learning.prior import prior_of_twins  # noqa: E402
from bowcore.measurement.bands import around  # noqa: E402
from bowcore.response.sensitivity import answers  # noqa: E402

LIMIT_S = {"curve of 60 steps": 0.1, "response": 0.15, "plan": 0.15}


def parts(family: Family) -> tuple[PartSpec, ...]:
    roles = ["cable_b"] if family is Family.SINGLE else ["cable_a", "cable_b"]
    cables = [PartSpec(role, role, "", 36, 24, 0.6) for role in roles]
    return (*cables, PartSpec("string", "String", "", 58, 24, 0.4))


TIMES = 5


def timed(work: Callable[[], object], times: int = TIMES) -> float:
    """The median of a few runs."""
    took = []
    for _ in range(times):
        began = time.perf_counter()
        work()
        took.append(time.perf_counter() - began)
    return sorted(took)[times // 2]


def show(family: Family, name: str, took: float, limit: float) -> None:
    print(f"{family:8} {name:20} {took * 1000:8.1f} ms   {took / limit:6.2f} of its limit")


def speeds(family: Family) -> None:
    let_off = 0.65 if family is Family.TWIN else 0.8
    yokes = ("cable_b",) if family in (Family.HYBRID, Family.SINGLE) else ()
    spec = BowSpec(
        "x",
        family,
        33,
        6.5,
        29,
        60,
        let_off,
        parts(family),
        yokes=yokes,
        spacers_in=(1 / 16, 1 / 8, 3 / 16, 1 / 4),
    )
    slow = 1.5 if family in (Family.HYBRID, Family.SINGLE) else 0.5
    show(family, "book to twin", timed(lambda: build_twin(spec)), slow)
    twin, turned = build_twin(spec), adjusters_of(spec)
    trials = [one.trial() for one in turned]
    fresh = iter([build_twin(spec) for _ in range(TIMES)])
    curve = timed(lambda: next(fresh).curve(60))
    show(family, "curve of 60 steps", curve, LIMIT_S["curve of 60 steps"])
    show(family, "response", timed(lambda: answers([twin], trials)), LIMIT_S["response"])
    prior = prior_of_twins(twin, ensemble(spec))
    bands = {
        "axle_to_axle": around(33, 0.125, "", ""),
        "brace_height": around(6.5, 0.125, "", ""),
        "draw_length": around(29, 0.125, "", ""),
        "peak_weight": around(60, 1, "", ""),
        "stop_gap": around(0, 1 / 32, "", ""),
    }
    off = {"axle_to_axle": 0.05, "brace_height": 0.02, "draw_length": 0.0, "peak_weight": -1.4}
    events = [Read(n, (bands[n].target + off.get(n, -0.09),) * 3) for n in bands]

    def plan() -> object:
        known = learn(prior, events)
        return find_plan(problem_after(known, bands, TuningPolicy(), {"limb_bolts": (-4, 4)}))

    show(family, "plan", timed(plan), LIMIT_S["plan"])


def grid(family: Family, count: int) -> None:
    rng, failed, took = Random(1), 0, []
    for n in range(count):
        let_off = rng.uniform(0.6, 0.7) if family is Family.TWIN else rng.uniform(0.65, 0.85)
        spec = BowSpec(
            f"{n}",
            family,
            rng.uniform(28, 38),
            rng.uniform(5.5, 7.5),
            rng.uniform(25, 31),
            rng.uniform(40, 80),
            let_off,
        )
        began = time.perf_counter()
        try:
            build_twin(spec)
        except NoModel:
            failed += 1
        took.append(time.perf_counter() - began)
    print(f"{family:8} {count} books: {failed} do not make a bow; slowest {max(took):.2f} s")


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--grid", type=int, default=0)
    options = parser.parse_args()
    for family in Family:
        speeds(family)
        if options.grid:
            grid(family, options.grid)


if __name__ == "__main__":
    main()
