"""What the chronograph's screen shows."""

import csv
import io
from collections.abc import Mapping
from typing import Any

from bowcore.accessories.on_the_bow import ARROW, WEIGHTS
from bowcore.quantities.inches import say_bare, say_length
from bowcore.stages.fit.fit_needs import arrow_too_light
from bowcore.stages.speed.shots_file import SHOT_COLUMNS, write_shots_file
from bowcore.stages.speed.speed_board import (
    SPEED,
    SpeedBoard,
    own_shots,
    say_least_mass,
    speed_board,
)
from bowcore.stages.speed.speed_strings import SpeedString
from bowcore.stages.speed.string_weights import WeightsActKind
from bowcore.work_order import cautions
from shop.casework.devices.registry import bench_with
from shop.casework.screens import Context
from shop.casework.state import JobState
from shop.drawings.speed_strings import StringRow, speed_rows, weights_curve
from shop.schema.chronograph.selectors import last_speed, speeds_of
from shop.schema.fitting.selectors import arrows_of
from shop.stages.shooting_in.pages import pages_of
from shop.ui.csv_cells import safe_row


def speed_context(state: JobState, typed: Mapping[str, Any]) -> Context:
    """The next speed to shoot, every string as dots, and what the strings say."""
    board = speed_board(
        state.facts, speeds_of(state.job), state.fit_bow().twin_now, state.on_bow.weights_in
    )
    what = state.facts.named(SPEED)
    own = state.on_bow.of(ARROW)
    return {
        "board": board,
        "rows": speed_rows(
            [*(_row(one, True) for one in board.earlier), *(_row(one) for one in board.now)]
        ),
        "quantity": what,
        "plugged_in": bench_with(state, what.device) is not None,
        "own": own,
        "others": [
            (row.details["name"], row.details["mass_gr"])
            for row in arrows_of(state.job)
            if row.details.get("name") != own.get("name")
        ],
        "place": _place(board, typed),
        "tried": _weights_drawn(board),
        "keep_at": _place_to_keep(board),
        "weights_gr": state.on_bow.of(WEIGHTS).get("each_gr"),
        "least": say_least_mass(state.facts),
        "may_take_out": last_speed(state.job) is not None,
        "stop": arrow_too_light(state.facts),
        "caution": cautions.AT_THE_CHRONOGRAPH,
        "pages": pages_of(state),
    }


def shots_csv(state: JobState) -> str:
    """Every shot and every speed of a job as a file."""
    target = io.StringIO()
    writer = csv.DictWriter(target, SHOT_COLUMNS, lineterminator="\r\n")
    writer.writeheader()
    speeds = [*own_shots(state.facts), *speeds_of(state.job)]
    writer.writerows(safe_row(row) for row in write_shots_file(state.facts.shots, speeds))
    return target.getvalue()


def _place(board: SpeedBoard, typed: Mapping[str, Any]) -> str:
    """Where the weights are for the next shot, as it would be typed."""
    if "weights" in typed:
        return str(typed["weights"])
    act = board.weights
    return say_bare(act.place_in, 8) if act and act.kind is WeightsActKind.SHOOT else ""


def _place_to_keep(board: SpeedBoard) -> str:
    """Where the weights stay once the trial is over, as it would be typed; "" before."""
    act = board.weights
    return say_bare(act.place_in, 8) if act and act.kind is WeightsActKind.STOP else ""


def _row(one: SpeedString, before: bool = False) -> StringRow:
    counted = [shot.fps for shot in one.shots if shot.good]
    out = {counted[at] for at in one.summary.outliers} if counted else set()
    place = "" if one.weights_in is None else f", weights {say_length(one.weights_in, 8)}"
    name = (one.arrow or f"{one.mass_gr:g} gr")[:16]
    return StringRow(
        f"{name}{place}",
        tuple(fps for fps in counted if fps not in out),
        (*out, *(shot.fps for shot in one.shots if not shot.good)),
        one.mean,
        before,
    )


def _weights_drawn(board: SpeedBoard) -> Any:
    tried = [
        (one.weights_in, one.mean, one.sigma) for one in board.now if one.weights_in is not None
    ]
    best = board.weights.optimum if board.weights else None
    return weights_curve(tried, None if best is None else (best.place_in, best.sigma_in))
