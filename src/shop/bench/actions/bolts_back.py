"""The limb bolts that went out for the press are in again."""

from bowcore.errors import Refused
from shop.bench.actions.rules import require_act, require_press_closed
from shop.ledger.models import PressCycle
from shop.measurements.models import Noted
from shop.records.deeds import Stamp, on_job
from shop.tuning.selectors import BOLTS_BACK, view_of


def bolts_back(job_id: int, stamp: Stamp) -> Noted:
    """Record that both bolts stand where they stood before the press.

    Raises
    ------
    Refused
        The press is open, or they were not out.
    """
    with on_job(job_id, "bolts_back", stamp) as act:
        view = view_of(act.job)
        require_act(stamp.by, "change", view)
        require_press_closed(view, "turn the bolts back in")
        if not view.facts.bolts_away:
            raise Refused("The limb bolts are in already.")
        top, bottom = (f"{turns:g}" for turns in view.facts.bolts_away)
        last = PressCycle.objects.filter(job=act.job).order_by("-seq")[0]
        act.said = f"limb bolts back in: top {top}, bottom {bottom}"
        return Noted.objects.create(**act.fact, mark=BOLTS_BACK, value=str(last.pk))
