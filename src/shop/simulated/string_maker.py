"""A stand-in string maker: confirms an order with a day, ships a set not quite to length."""

import hashlib
from datetime import date, timedelta
from random import Random
from typing import Any

from shop.casework.devices.interface import Confirmation, Delivered

LEAD_DAYS = (4, 9)
LENGTH_ERROR_IN = 0.03
WRONG_ONE_IN = 14
"""One part in so many is cut to the wrong length."""
WRONG_BY_IN = 0.4
SERVED_SHARE = {"string": 0.16}
USUAL_SERVED_SHARE = 0.22


class SimulatedStringMaker:
    """Takes an order and answers as a real maker's own service would."""

    def confirm(self, order: dict[str, Any], today: date) -> Confirmation:
        """A reference and the day on which it ships."""
        rng = _rng(order, "confirmed")
        days = rng.randint(*LEAD_DAYS)
        return Confirmation(f"W{rng.randint(1000, 9999)}", today + timedelta(days=days))

    def deliver(self, order: dict[str, Any]) -> list[Delivered]:
        """What comes: every part a little off, now and then one of the wrong length."""
        rng = _rng(order, "delivered")
        return [_made(part, rng) for part in order["parts"]]


def _made(part: dict[str, Any], rng: Random) -> Delivered:
    off = rng.gauss(0, LENGTH_ERROR_IN)
    if rng.randrange(WRONG_ONE_IN) == 0:
        off += rng.choice([-1, 1]) * WRONG_BY_IN
    length = round((float(part["length_in"]) + off) * 32) / 32
    share = SERVED_SHARE.get(part["role"], USUAL_SERVED_SHARE)
    served = round(length * share * 8) / 8
    return Delivered(part["role"], length, part["strands"], served, served, True)


def _rng(order: dict[str, Any], purpose: str) -> Random:
    """Always the same for the same order."""
    text = f"{order['order']}{order['bow']}{purpose}"
    digest = hashlib.sha256(text.encode()).hexdigest()
    return Random(int(digest[:12], 16))  # noqa: S311  a stand-in, no secret
