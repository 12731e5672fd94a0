"""Simulated tools that measure a job's simulated bow."""

from dataclasses import dataclass, replace
from functools import lru_cache
from random import Random
from time import time_ns

import numpy as np

from bowcore.adjusters.steps import Steps
from bowcore.bow.cam_radii import CamRadii
from bowcore.bow.lay import Lay
from bowcore.bow.specification import BowSpec
from bowcore.measurement.curve_file import CurvePoint
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.changes import Change
from bowcore.quantities.tools import DEVICES, Tool
from bowcore.simulation.simulated_bow import PUT_RIGHT, Faults, SimulatedBow, simulated_bow
from bowcore.stages.back_to_spec.module_act import module_now
from shop.casework.state import JobState
from shop.schema.press.models import Adjustment
from shop.simulated.models import SimulatedBench, ToolBehaviour

_SAMPLES = 8
_PULLED_POINTS = 40
TAPE_ERROR_IN = 0.01
ABSURD_BY = 1000.0


class SimulatedTools:
    """The bench that the demo shop has: every device, on every job with a simulated bow."""

    def has(self, state: JobState, device: str) -> bool:
        """Whether this job has a simulated bow."""
        return device in DEVICES and _bench_of(state) is not None

    def samples(self, state: JobState, device: str, quantity: str) -> list[float]:
        """The last readings, newest last; empty when the tool is silent."""
        true = bow_now(state).true(quantity)
        tool, behaviour = DEVICES[device], behaviour_of(device)
        if behaviour == ToolBehaviour.UNPLUGGED:
            return []
        if behaviour == ToolBehaviour.ABSURD:
            return [true + ABSURD_BY] * _SAMPLES
        if behaviour == ToolBehaviour.FROZEN:
            return [round(true, 3)] * _SAMPLES
        rng = Random(time_ns())  # noqa: S311  a stand-in, no secret
        return [true + rng.gauss(0, tool.scatter) for _ in range(_SAMPLES)]

    def draw_curve(self, state: JobState) -> list[CurvePoint]:
        """The simulated bow pulled on the simulated draw board."""
        return bow_now(state).draw_curve(_PULLED_POINTS)

    def cam_radii(self, state: JobState) -> CamRadii | None:
        """The simulated bow's cams by the simulated caliper: the same bow reads the same."""
        bench = _bench_of(state)
        if bench is None or behaviour_of("caliper") == ToolBehaviour.UNPLUGGED:
            return None
        return bow_now(state).by_caliper(np.random.default_rng(bench.seed))


def bow_now(state: JobState) -> SimulatedBow:
    """The job's simulated bow after everything in the ledger."""
    bench = _bench_of(state)
    if bench is None:
        raise LookupError(f"job {state.job.pk} has no simulated bow")
    bow = _made(_as_set_up(state), bench.seed)  # whatever was measured of it since
    bow.lay = state.string_lay or Lay.Z
    bow.came_in(faults_of(bench))
    for row in state.adjustments_made:
        if row.part is not None:
            bow.fit_part(row.role, _short_in(state, bench, row))
        elif row.change == Change.SHOTS:
            bow.shoot(row.steps)
        elif row.adjuster and row.corrects is None:
            bow.turn(Steps({row.adjuster: row.steps}))
        elif row.change in PUT_RIGHT:
            _put_right(bow, Change(row.change), state)
    return bow


def _as_set_up(state: JobState) -> BowSpec:
    """The book at the draw length of the module that is on now."""
    spec = state.book.spec()
    if not any(row.change == Change.MODULE_OR_STOP for row in state.adjustments_made):
        return spec
    wanted = float(state.job.wanted_draw_in or spec.draw_length_in)
    module = next((one for one in spec.modules if one.name == module_now(state.facts)), None)
    draw = wanted if module is None else min(max(wanted, module.low_in), module.high_in)
    return replace(spec, draw_length_in=draw)


def _put_right(bow: SimulatedBow, change: Change, state: JobState) -> None:
    """As the job wants it: what came in is what its tool read, not what the simulated bow really had."""
    wanted = (name for name in PUT_RIGHT[change] if name in state.bands)
    bow.put_right(change, {name: state.bands[name].target for name in wanted})


def faults_of(bench: SimulatedBench) -> Faults:
    """How its bow came in."""
    lean = bench.leans_in
    return Faults(
        bench.off_in,
        leans_in=lean.get("lean", 0.0),
        leans_bottom_in=lean.get("lean_bottom", 0.0),
        misfit=bench.misfit,
    )


def behaviour_of(device: str) -> str:
    """How a tool behaves now."""
    found = ToolBehaviour.objects.filter(key=device).first()
    return found.state if found else ToolBehaviour.WELL


@dataclass(frozen=True)
class ToolShown:
    """A simulated tool, how it behaves, and what it reads in words."""

    tool: Tool
    behaviour: ToolBehaviour
    reads: list[str]


def tools_shown() -> list[ToolShown]:
    """Every simulated tool."""
    return [
        ToolShown(DEVICES[row.key], row, _read_by(row.key))
        for row in ToolBehaviour.objects.all()
        if row.key in DEVICES
    ]


def _read_by(device: str) -> list[str]:
    return [one.name.lower() for one in QUANTITIES.values() if one.device == device]


def _bench_of(state: JobState) -> SimulatedBench | None:
    return getattr(state.job, "simulated_bench", None)


def _short_in(state: JobState, bench: SimulatedBench, row: Adjustment) -> float:
    """How much too short a new part is: what is recorded for it, or what its measured length says."""
    kept = bench.new_in.get(str(row.part_id))
    if kept is not None:
        return float(kept)
    if row.part is None:
        raise LookupError("only a new part has a length of its own")
    error = Random(bench.seed + row.part.pk).gauss(0, TAPE_ERROR_IN)  # noqa: S311  a stand-in
    return state.spec.part(row.role).length_in - float(row.part.length_in) + error


@lru_cache(maxsize=40)
def _made(spec: BowSpec, seed: int) -> SimulatedBow:
    return simulated_bow(spec, seed)
