"""A stand-in string maker: takes an order, confirms it with a day, ships a set not quite to length.

An order goes out as JSON (`order`), the confirmation comes back as JSON; a real maker's door would
take and give the same.
"""

import csv
import hashlib
import io
from dataclasses import dataclass
from datetime import date, timedelta
from random import Random
from typing import Any

FORMAT = "fennock-set-order/1"
LEAD_DAYS = (4, 9)
LENGTH_ERROR_IN = 0.03
WRONG_ONE_IN = 14
"""One part in so many is cut to the wrong length."""


@dataclass(frozen=True)
class Delivered:
    """A component as it lies in the bag. [in]"""

    role: str
    length_in: float
    strands: int
    served_top_in: float
    served_bottom_in: float
    clipped: bool


def order(number: int, maker: str, bow: str, parts: list[dict[str, Any]]) -> dict[str, Any]:
    """An order as it is sent: which bow it is for, and each part with its length and strands."""
    return {"format": FORMAT, "order": number, "maker": maker, "bow": bow, "parts": parts}


def as_csv(sent: dict[str, Any]) -> str:
    """The same order for a maker who takes lists: one line a part."""
    target = io.StringIO()
    fields = ["order", "bow", "role", "label", "length_in", "strands"]
    writer = csv.DictWriter(target, fields, lineterminator="\r\n", extrasaction="ignore")
    writer.writeheader()
    writer.writerows({"order": sent["order"], "bow": sent["bow"]} | part for part in sent["parts"])
    return target.getvalue()


def confirm(sent: dict[str, Any], today: date) -> dict[str, Any]:
    """The maker's answer: a reference and the day on which it ships."""
    dice = _dice(sent)
    days = dice.randint(*LEAD_DAYS)
    return {
        "format": FORMAT, "order": sent["order"], "reference": f"W{dice.randint(1000, 9999)}",
        "ships_on": (today + timedelta(days=days)).isoformat(),
    }  # fmt: skip


def deliver(sent: dict[str, Any]) -> list[Delivered]:
    """What comes: every part a little off, now and then one that is the wrong length."""
    dice = _dice(sent | {"delivered": True})
    found = []
    for part in sent["parts"]:
        off = dice.gauss(0, LENGTH_ERROR_IN)
        if dice.randrange(WRONG_ONE_IN) == 0:
            off += dice.choice([-1, 1]) * 0.4
        length = round((float(part["length_in"]) + off) * 32) / 32
        share = 0.16 if part["role"] == "string" else 0.22
        served = round(length * share * 8) / 8
        found.append(Delivered(part["role"], length, part["strands"], served, served, True))
    return found


def _dice(sent: dict[str, Any]) -> Random:
    """Always the same for the same order."""
    text = f"{sent['order']}{sent['bow']}{sent.get('delivered', '')}"
    digest = hashlib.sha256(text.encode()).hexdigest()
    return Random(int(digest[:12], 16))  # noqa: S311  a stand-in, no secret
