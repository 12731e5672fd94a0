"""What the inspection screen shows: the drawn bow with its places, and each place's row."""

from dataclasses import dataclass

from django.http import HttpRequest

from bowcore.bow.specification import PartSpec
from bowcore.stages.inspection.places import (
    OUTCOME_DOES,
    OUTCOMES,
    Place,
    parts_at,
    places_on,
    to_order,
)
from bowcore.stages.inspection.step import InspectionStep
from shop.casework.engine.priors import drawing_at_hand
from shop.casework.screens import Context, step_screen
from shop.casework.state import JobState
from shop.drawings.inspection_map import Spot, inspection_map
from shop.schema.inspection.models import Finding, Photo
from shop.schema.inspection.selectors import findings_by_place, photos_by_subject
from shop.stages.inspection.forms import InspectionForm


@dataclass(frozen=True)
class PlaceRow:
    """One place: what was found before or has just been answered, and its photographs."""

    number: int
    place: Place
    finding: Finding | None
    photos: list[Photo]

    parts: list[PartSpec]
    """The strings and cables to choose from where a finding has to say which."""

    outcome: str
    """Nothing is ticked that nobody has looked at."""
    note: str
    named: list[str]
    """Roles of the parts that were named."""


def _answered(
    request: HttpRequest, number: int, finding: Finding | None
) -> tuple[str, str, list[str]]:
    """Outcome, note and parts: as they were posted and refused, else as they were found before."""
    at = f"{InspectionForm.prefix_of_rows}-{number - 1}"
    if f"{at}-place" in request.POST:
        posted = request.POST
        outcome, note = (posted.get(f"{at}-{name}", "") for name in ("outcome", "note"))
        return outcome, note, posted.getlist(f"{at}-parts")
    return (finding.outcome, finding.note, finding.parts) if finding else ("", "", [])


def _to_choose(state: JobState, place: Place) -> list[PartSpec]:
    roles = parts_at(place.key, state.spec.replaceable)
    return [state.spec.part(role) for role in roles] if len(roles) > 1 else []


@step_screen(InspectionStep.key)
def inspection(request: HttpRequest, state: JobState) -> tuple[str, Context]:
    """The bow with its places."""
    found, photos = findings_by_place(state.job), photos_by_subject(state.job)
    rows = [
        PlaceRow(
            number,
            place,
            found.get(place.key),
            photos.get(place.key, []),
            _to_choose(state, place),
            *_answered(request, number, found.get(place.key)),
        )
        for number, place in enumerate(places_on(state.spec), 1)
    ]
    spots = [
        Spot(
            row.number,
            row.place.key,
            row.place.at,
            row.finding.outcome if row.finding else "",
            row.place.name,
        )
        for row in rows
    ]
    return "inspection/inspection.html", {
        "rows": rows,
        "prefix": InspectionForm.prefix_of_rows,
        "outcomes": OUTCOMES.items(),
        "does": OUTCOME_DOES,
        "map": inspection_map(spots, drawing_at_hand(state.spec)),
        "order": to_order((one.place, one.outcome) for one in found.values()),
    }
