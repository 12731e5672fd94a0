"""An order of a set, as it is sent: JSON, or CSV with one line a part."""

import csv
import io
from typing import Any

from shop.ui.csv_cells import safe_row

ORDER_FORMAT = "fennock-set-order/1"


def order(number: int, maker: str, bow: str, parts: list[dict[str, Any]]) -> dict[str, Any]:
    """An order: which bow it is for, and each part with its length and strands."""
    return {"format": ORDER_FORMAT, "order": number, "maker": maker, "bow": bow, "parts": parts}


def as_csv(sent: dict[str, Any]) -> str:
    """The same order for a maker who takes lists."""
    target = io.StringIO()
    fields = ["order", "bow", "role", "label", "length_in", "strands", "wishes", "wanted_by"]
    writer = csv.DictWriter(target, fields, lineterminator="\r\n", extrasaction="ignore")
    writer.writeheader()
    whole = {name: sent.get(name, "") for name in ("order", "bow", "wishes", "wanted_by")}
    writer.writerows(safe_row(whole | part) for part in sent["parts"])
    return target.getvalue()
