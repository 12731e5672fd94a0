"""What measuring the cam by caliper would do for the plan, and the page on which it is written down."""

from dataclasses import dataclass

from bowcore.bow.cam_radii import RADII, CamRadii
from bowcore.quantities.inches import decimal_length
from bowcore.stages.back_to_spec import by_caliper
from shop.casework.devices.registry import caliper_reads
from shop.casework.engine.kept_answers import answer_or_begin
from shop.casework.screens import Context
from shop.casework.state import JobState
from shop.drawings.cam_measures import cam_measures
from shop.schema.accounts.models import Member
from shop.stages.back_to_spec.actions.measure_cam import missing_in_the_book
from shop.stages.back_to_spec.forms import CamForm
from shop.stages.back_to_spec.surer import surer_key
from shop.stages.back_to_spec.tasks import work_out_surer


@dataclass(frozen=True)
class CamField:
    """One of the three as it is typed."""

    name: str
    label: str
    value: str
    hint: str
    errors: list[str]


def surer_context(state: JobState) -> Context:
    """What the plan says of the caliper: what it gave, or what it would do."""
    if state.cams:
        return {"given": state.cams[-1].radii.say(), "outdated": state.outdated_fit}
    return {"surer": answer_or_begin(surer_key(state), work_out_surer, state.job.pk)}


def cam_context(
    state: JobState, by: Member, typed: CamForm | None = None, from_tool: bool = False
) -> Context:
    """The page: three radii, what the book has or a caliper gave, what a plugged-in one reads."""
    reads = caliper_reads(state)
    shown = reads if from_tool else (state.cams[-1].radii if state.cams else None)
    usual = CamRadii.in_book(state.spec)
    missing = missing_in_the_book(state.job.bow.entry, by)
    source = "by caliper" if state.spec.cam_measured else "usual"
    return {
        "fields": [
            CamField(
                name,
                f"{number} {label}",
                _value(name, shown, typed),
                f"{source}: {decimal_length(getattr(usual, name))}",
                [] if typed is None else [str(one) for one in typed.errors.get(name, [])],
            )
            for number, (name, label) in enumerate(RADII.items(), 1)
        ],
        "plugged_in": reads is not None,
        "drawing": cam_measures(),
        "how": by_caliper.HOW if state.facts.may_be_drawn else (by_caliper.NOT_DRAWN,),
        "kept": by_caliper.SERVES_THE_MODEL if missing else "",
        "timed_by_tracks": state.spec.timed_by_tracks,
    }


def _value(name: str, shown: CamRadii | None, typed: CamForm | None) -> str:
    """What stands in a field: what was typed, else what a caliper gave."""
    if typed is not None:
        return str(typed.data.get(name, ""))
    return "" if shown is None else decimal_length(getattr(shown, name))
