"""The tools on the bench: one small interface, and simulated ones that measure the job's hidden bow.

A real driver is anything with `samples(quantity)`: the last readings, newest last, in the
quantity's unit, or none when it is silent. It is named in TOOLS by the quantities it can read.
"""

from functools import lru_cache
from random import Random
from time import time_ns
from typing import Protocol

from bowcore.measurement.live import Live, judge_stream
from bowcore.quantities import tools
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.tools import Tool
from shop.devices.hidden import HiddenBow
from shop.devices.models import BenchBow, BenchTool
from shop.ledger.models import Adjustment
from shop.tuning.selectors import View

TOOLS: dict[str, tuple[Tool, tuple[str, ...]]] = {
    "scale": (tools.SCALE, ("peak_weight", "holding_weight")),
    "draw_board": (tools.DRAW_BOARD_SENSOR, ("draw_length", "stop_gap")),
    "caliper": (tools.CALIPER, ("brace_height", "nock_to_peep", "nock_to_kisser", "loop_length",
                                "centre_shot", "nock_height", "tiller")),
    "chronograph": (tools.CHRONOGRAPH, ("arrow_speed",)),
}  # fmt: skip
SAMPLES = 8
CURVE_POINTS = 40


class Driver(Protocol):
    """What the bench needs of a tool."""

    def samples(self, quantity: str) -> list[float]:
        """The last readings, newest last; empty when the tool is silent."""


class SimulatedTool:
    """A stand-in tool: jitters as its kind does, or misbehaves as it is told to."""

    def __init__(self, tool: Tool, state: str, bow: HiddenBow, dice: Random):
        self._tool, self._state, self._bow, self._dice = tool, state, bow, dice

    def samples(self, quantity: str) -> list[float]:
        if self._state == "unplugged":
            return []
        true = self._bow.true(quantity)
        if self._state == "absurd":
            return [true + 1000.0] * SAMPLES
        if self._state == "frozen":
            return [round(true, 3)] * SAMPLES
        jitter = self._tool.scatter
        return [true + self._dice.gauss(0, jitter) for _ in range(SAMPLES)]


def tool_for(quantity: str) -> str:
    """The tool on the bench that reads a quantity, or ""."""
    return next((key for key, (_, can) in TOOLS.items() if quantity in can), "")


def live(view: View, quantity: str) -> tuple[str, Live] | None:
    """The tool for a quantity and what it shows now; None if nothing on the bench reads it."""
    key = tool_for(quantity)
    bench = BenchBow.objects.filter(job=view.job).first() if key else None
    if bench is None:
        return None
    driver: Driver = SimulatedTool(
        TOOLS[key][0], _state_of(key), hidden_bow(view, bench), Random(time_ns())  # noqa: S311
    )  # fmt: skip
    return key, judge_stream(driver.samples(quantity), view.facts.named(quantity))


def drawn_curve(view: View, bench: BenchBow) -> list[tuple[float, float]]:
    """The hidden bow pulled on the simulated draw board: draw length and force, on the way up."""
    return hidden_bow(view, bench).pulled(Random(time_ns()), CURVE_POINTS)  # noqa: S311


def hidden_bow(view: View, bench: BenchBow) -> HiddenBow:
    """The job's hidden bow as it is now, after everything in the ledger."""
    bow = _bow(view.spec, bench.seed)
    bow.as_it_came(bench.off_in)
    for row in view.adjustments:
        if row.replaced:
            bow.renew(row.role, _new_off(view, bench, row))
        elif row.half_twists:
            bow.twist(row.role, row.half_twists)
    return bow


def _new_off(view: View, bench: BenchBow, row: Adjustment) -> float:
    """How much too short a new part is: what its own record says, or its measured length does."""
    kept = bench.new_in.get(str(row.part_id))
    if kept is not None:
        return float(kept)
    assert row.part is not None
    error = Random(bench.seed + row.part.pk).gauss(0, 0.01)  # noqa: S311  a stand-in, no secret
    return view.spec.part(row.role).length_in - float(row.part.length_in) + error


@lru_cache(maxsize=40)
def _bow(spec: object, seed: int) -> HiddenBow:
    return HiddenBow(spec, seed)  # type: ignore[arg-type]


def tool_rows() -> list[tuple[BenchTool, str, list[str]]]:
    """Every simulated tool, its name, and what it reads in words."""
    return [
        (row, TOOLS[row.key][0].name, [QUANTITIES[name].name.lower() for name in TOOLS[row.key][1]])
        for row in BenchTool.objects.all()
        if row.key in TOOLS
    ]


def _state_of(key: str) -> str:
    found = BenchTool.objects.filter(key=key).first()
    return found.state if found else "well"
