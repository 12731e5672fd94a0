"""What the screen of the stabiliser shows."""

from collections.abc import Mapping
from typing import Any

from bowcore.stages.stabiliser.bars import BEST_RATING, Bars, next_float, say_bars, say_moments
from bowcore.work_order import cautions
from shop.casework.screens import Context
from shop.casework.state import JobState
from shop.drawings.bars_from_above import bars_from_above
from shop.schema.stabiliser.selectors import floats_of
from shop.stages.shooting_in.pages import pages_of
from shop.stages.stabiliser.forms import PIN_WORDS

BARS_ASKED = (
    ("front_in", "Front bar", "in from the grip"), ("front_oz", "Weight in front", "oz"),
    ("back_in", "Back bar", "in, if it has one"), ("back_oz", "Weight behind", "oz"),
    ("back_deg", "Back bar swung out", "degrees"),
)  # fmt: skip
USUAL_BARS = Bars(10.0, 4.0)


def stabiliser_context(state: JobState, typed: Mapping[str, Any]) -> Context:
    """The next hold, and those so far."""
    sets = floats_of(state.job)
    act = next_float(sets)
    bars = act.bars or USUAL_BARS
    return {
        "act": act,
        "fields": [
            (name, label, unit, typed.get(name, f"{getattr(bars, name):g}"))
            for name, label, unit in BARS_ASKED
        ],
        "moments": say_moments(bars),
        "drawn": bars_from_above(bars),
        "keep": say_bars(bars) if act.done else "",
        "pins": [(one.value, words) for one, words in PIN_WORDS.items()],
        "pin_now": typed.get("pin", ""),
        "ratings": range(1, BEST_RATING + 1),
        "rating_now": typed.get("rating", ""),
        "held": [
            (say_bars(one.bars), PIN_WORDS[one.pin], one.rating, say_moments(one.bars))
            for one in reversed(sets)
        ],
        "caution": cautions.ON_THE_DRAW_BOARD,
        "pages": pages_of(state),
    }
