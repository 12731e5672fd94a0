"""What a measured force-draw curve is worth: how far off the weight's answer is with it and without.

    python bench/curve_fit.py [bows]

Simulated bows of one book with parameters drawn one and a half times as wide as the planner's ensemble. Each
one's curve is fitted; the answer of its peak weight to half a twist in each cable is compared with
what it truly is, by the book's twin and by the fitted one. Figures are shares of the true answer.
"""

import sys
from pathlib import Path

import numpy as np

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT / "src"))
sys.path.insert(0, str(ROOT / "bench"))

from closed_loop import book  # noqa: E402

from bowcore.adjusters.registry import adjusters_of  # noqa: E402
from bowcore.mechanics.plausible import plausible  # noqa: E402
from bowcore.mechanics.specification import Family  # noqa: E402
from bowcore.mechanics.twin import build_twin, twins_of  # noqa: E402
from bowcore.quantities.changes import Change  # noqa: E402
from bowcore.response.measured import bows_like_curve, fit_curve  # noqa: E402
from bowcore.response.sensitivity import COMPUTED, answers  # noqa: E402

PEAK = COMPUTED.index("peak_weight")


def errors(family: Family, bows: int) -> np.ndarray:
    """Share by which the answer is off, by the book and by the curve, (bows, 2)."""
    spec = book(family)
    turned = [one.trial() for one in adjusters_of(spec) if one.change is Change.CABLE]
    by_book, found = build_twin(spec), []
    for seed in range(bows):
        other, drawn = plausible(spec, np.random.default_rng(seed), 1.5)
        true = twins_of(family, [other], [drawn])[0]
        xs, force = true.curve(25)
        like, _ = bows_like_curve(spec, fit_curve(spec, xs[1:], force[1:]), 3)
        truth, *computed = (answers([twin], turned)[0, PEAK] for twin in (true, by_book, like))
        found.append([np.abs(one / truth - 1).max() for one in computed])
    return np.array(found)


def main() -> None:
    bows = int(sys.argv[1]) if len(sys.argv) > 1 else 12
    print("| family | by the book, median / 90th | by its curve, median / 90th |")
    print("| --- | --- | --- |")
    for family in (Family.BINARY, Family.HYBRID, Family.SINGLE):
        halves = [np.percentile(column, [50, 90]) for column in errors(family, bows).T]
        print(f"| {family} | " + " | ".join(f"{a:.0%} / {b:.0%}" for a, b in halves) + " |")


if __name__ == "__main__":
    main()
