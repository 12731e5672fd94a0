"""Keep a measured force-draw curve, from a file or from the draw board."""

from collections.abc import Sequence

from bowcore.errors import BadInput, Refused
from bowcore.measurement.curve_file import CurvePoint, checked_curve, read_curve, summary_of
from shop.casework.checks import (
    require_bolts_back,
    require_not_held,
    require_press_closed,
)
from shop.casework.devices.registry import draw_board_curve
from shop.casework.job_act import job_act
from shop.casework.state import job_state
from shop.casework.submissions import EventDraft, Submission
from shop.schema.jobs.models import Job
from shop.schema.measurements.models import DrawCurve

MOST_CURVE_BYTES = 500_000


def curve_from_file(job_id: int, content: bytes, submission: Submission) -> DrawCurve:
    """Keep the curve of a CSV file.

    Raises
    ------
    BadInput
        Too large, not text, or not the curve of a draw; the line is named.
    Refused
        The bow may not be drawn now.
    """
    if len(content) > MOST_CURVE_BYTES:
        raise BadInput("That file is over 500 kB.", "file")
    try:
        points = read_curve(content.decode("utf-8-sig"))
    except UnicodeDecodeError:
        raise BadInput("That file is not a text file.", "file") from None
    return _kept(job_id, submission, points, "file")


def curve_from_board(job_id: int, submission: Submission) -> DrawCurve:
    """Pull the job's bow on the draw board that is plugged in.

    Raises
    ------
    Refused
        No draw board is plugged in at this job, or the bow may not be drawn now.
    """
    points = draw_board_curve(job_state(Job.objects.get(pk=job_id)))
    if points is None:
        raise Refused("No draw board is plugged in at this job.")
    return _kept(job_id, submission, checked_curve(points), "draw board")


@job_act("draw_curve", right="read")
def _kept(event: EventDraft, points: Sequence[CurvePoint], source: str) -> DrawCurve:
    state = event.state
    require_press_closed(state, "draw it")
    require_bolts_back(state)
    require_not_held(state, "draw")
    peak = summary_of(points).peak_lbf
    event.summary = f"draw curve from the {source}: peak {peak:.1f} lbf, {len(points)} points"
    return DrawCurve.objects.create(
        **event.fact, points=[list(point) for point in points], source=source
    )
