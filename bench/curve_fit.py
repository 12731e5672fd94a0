"""What a measured force-draw curve is worth: how far off the answers of weight and timing are with it and
without.

    python bench/curve_fit.py [bows] [family ...]

Simulated bows of one book with parameters drawn one and a half times as wide as the planner's ensemble.
What half a twist in each cable does to peak weight and gap is compared with what it truly does: by the book's
twin, by one fitted to the bow's curve, and by one fitted to a curve that was pulled while one cable was too
short and the stops apart. Figures are shares of the true answer. A bow that cannot be drawn so is left out.
"""

import sys
from pathlib import Path

import numpy as np

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT / "src"))
sys.path.insert(0, str(ROOT / "bench"))

from closed_loop import book  # noqa: E402

from bowcore.adjusters.registry import adjusters_of  # noqa: E402
from bowcore.bow.plausible import plausible  # noqa: E402
from bowcore.bow.specification import BowSpec, Family  # noqa: E402
from bowcore.bow.twin import Changes, Twin, build_twin, twins_of  # noqa: E402
from bowcore.errors import NoModel  # noqa: E402
from bowcore.quantities.changes import Change  # noqa: E402
from bowcore.response.measured import bows_like_curve, fit_curve  # noqa: E402
from bowcore.response.sensitivity import COMPUTED, answers  # noqa: E402

SHOWN = {"weight": COMPUTED.index("peak_weight"), "timing": COMPUTED.index("stop_gap")}
TOO_SHORT_IN = 0.1


def errors(family: Family, bows: int) -> np.ndarray:
    """Share by which the answers are off, (bows, shown, ways to know it): book, curve, curve out of time."""
    spec = book(family)
    turned = [one.trial() for one in adjusters_of(spec) if one.change is Change.CABLE]
    role = next(part.role for part in spec.cables)
    by_book, found = build_twin(spec), []
    for seed in range(bows):
        other, drawn = plausible(spec, np.random.default_rng(seed), 1.5)
        try:
            true = twins_of(family, [other], [drawn])[0]
            short = true.changed(Changes({role: TOO_SHORT_IN}))
            known = [by_book, *(fitted(spec, one) for one in (true, short))]
            truth, *computed = (answers([twin], turned)[0] for twin in (true, *known))
        except NoModel:
            continue
        off = [[np.abs(one[at] / truth[at] - 1).max() for one in computed] for at in SHOWN.values()]
        found.append(off)
    return np.array(found)


def fitted(spec: BowSpec, bow: Twin) -> Twin:
    """The book's bow with what a curve of this one shows."""
    xs, force = bow.curve(25)
    like, _ = bows_like_curve(spec, fit_curve(spec, xs[1:], force[1:]), 3)
    return like


def main() -> None:
    bows = int(sys.argv[1]) if len(sys.argv) > 1 else 12
    print(
        "| family | answer | by the book, median / 90th | by its curve | by a curve out of time |"
    )
    print("| --- | --- | --- | --- | --- |")
    for family in map(Family, sys.argv[2:] or Family):
        off = errors(family, bows)
        for at, name in enumerate(SHOWN):
            halves = [np.percentile(column, [50, 90]) for column in off[:, at].T]
            cells = " | ".join(f"{a:.0%} / {b:.0%}" for a, b in halves)
            print(f"| {family} | {name} | {cells} |", flush=True)


if __name__ == "__main__":
    main()
