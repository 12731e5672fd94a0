"""Keep a measured force-draw curve, from a file or from the simulated draw board."""

from collections.abc import Sequence

from bowcore.errors import BadInput, Refused
from bowcore.measurement.curve_file import Point, checked_curve, read_curve, summary_of
from shop.bench.actions.rules import (
    require_act,
    require_bolts_back,
    require_not_held,
    require_press_closed,
)
from shop.devices.bench import drawn_curve
from shop.devices.models import BenchBow
from shop.jobs.models import Job
from shop.measurements.models import DrawCurve
from shop.records.deeds import Stamp, on_job
from shop.tuning.selectors import view_of

MOST_BYTES = 500_000


def curve_from_file(job_id: int, content: bytes, stamp: Stamp) -> DrawCurve:
    """Keep the curve of a CSV file.

    Raises
    ------
    BadInput
        Too large, no text, or no curve of a draw; the line is named.
    Refused
        The bow may not be drawn now.
    """
    if len(content) > MOST_BYTES:
        raise BadInput("That file is over 500 kB.", "file")
    try:
        points = read_curve(content.decode("utf-8-sig"))
    except UnicodeDecodeError:
        raise BadInput("That file is no text.", "file") from None
    return _kept(job_id, points, "file", stamp)


def curve_from_board(job_id: int, stamp: Stamp) -> DrawCurve:
    """Pull the job's hidden bow on the simulated draw board.

    Raises
    ------
    Refused
        There is no draw board at this job, or the bow may not be drawn now.
    """
    job = Job.objects.get(pk=job_id)
    bench = BenchBow.objects.filter(job=job).first()
    if bench is None:
        raise Refused("No draw board is plugged in at this job.")
    return _kept(job_id, checked_curve(drawn_curve(view_of(job), bench)), "draw board", stamp)


def _kept(job_id: int, points: Sequence[Point], source: str, stamp: Stamp) -> DrawCurve:
    with on_job(job_id, "draw_curve", stamp) as act:
        view = view_of(act.job)
        require_act(stamp.by, "read", view)
        require_press_closed(view, "draw it")
        require_bolts_back(view)
        require_not_held(view, "draw")
        told = summary_of(points)
        act.said = (
            f"draw curve from the {source}: peak {told.peak_lbf:.1f} lbf, {len(points)} points"
        )
        return DrawCurve.objects.create(
            **act.fact, points=[list(point) for point in points], source=source
        )
