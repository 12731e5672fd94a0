"""Which devices and services are there. An app registers its own when it is loaded."""

from bowcore.bow.cam_radii import CamRadii
from bowcore.measurement.curve_file import CurvePoint
from bowcore.measurement.tool_stream import ToolReading, judge_stream
from shop.casework.devices.interface import Bench, StringMaker
from shop.casework.state import JobState

BENCHES: list[Bench] = []
STRING_MAKERS: list[StringMaker] = []


def bench_with(state: JobState, device: str) -> Bench | None:
    """The bench at which a device is plugged in for this job, if there is one."""
    return next((one for one in BENCHES if device and one.has(state, device)), None)


def tool_reading(state: JobState, quantity: str) -> ToolReading | None:
    """What the tool for a quantity shows now; None if nothing that is plugged in reads it."""
    what = state.facts.named(quantity)
    bench = bench_with(state, what.device)
    return (
        None if bench is None else judge_stream(bench.samples(state, what.device, quantity), what)
    )


def draw_board_curve(state: JobState) -> list[CurvePoint] | None:
    """The bow's curve from the draw board; None where no board is plugged in."""
    bench = bench_with(state, "draw_board")
    return None if bench is None else bench.draw_curve(state)


def caliper_reads(state: JobState) -> CamRadii | None:
    """The radii of the bow's cams from the caliper; None where none is plugged in."""
    bench = bench_with(state, "caliper")
    return None if bench is None else bench.cam_radii(state)


def string_maker() -> StringMaker | None:
    """The string maker that orders are sent to; None where they are sent by hand."""
    return STRING_MAKERS[0] if STRING_MAKERS else None
