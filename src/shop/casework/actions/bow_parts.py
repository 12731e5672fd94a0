"""Writes bows and their parts."""

from decimal import Decimal

from bowcore.stages.string_set.arrival import LengthKnown
from bowcore.work_order.replacement import OldPart
from shop.schema.bows.models import Bow, Part


def fit_book_parts(bow: Bow) -> None:
    """A bow that is seen for the first time has the parts the book lists."""
    Part.objects.bulk_create(
        Part(
            bow=bow,
            role=part.role,
            label=part.label,
            ends=part.ends,
            length_in=part.length_in,
            strands=part.strands,
        )
        for part in bow.entry.parts.all()
    )


def swap_part(
    bow: Bow,
    role: str,
    length_in: Decimal,
    strands: int,
    note: str,
    lay: str = "",
    known: LengthKnown = LengthKnown.MEASURED,
    becomes: OldPart = OldPart.WITH_THE_BOW,
) -> Part:
    """Take the fitted part of a role off and fit a new one; `becomes` says what the old one is now."""
    old = bow.parts.filter(role=role, state=Part.FITTED).order_by("-pk").first()
    book = bow.entry.parts.get(role=role)
    if old is not None:
        old.state = becomes.value
        old.save(update_fields=["state"])
    return Part.objects.create(
        bow=bow,
        role=role,
        label=book.label,
        ends=book.ends,
        length_in=length_in,
        strands=strands,
        note=note,
        lay=lay,
        length_known=known.value,
    )


def put_back_on(new: Part) -> None:
    """A new part did not go on after all: the one that it should have replaced is fitted."""
    old = (
        new.bow.parts.filter(role=new.role, state__in=list(OldPart), pk__lt=new.pk)
        .order_by("-pk")
        .first()
    )
    new.state = Part.HERE
    new.save(update_fields=["state"])
    if old is not None:
        old.state = Part.FITTED
        old.save(update_fields=["state"])
