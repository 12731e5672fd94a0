"""Ids of rows as people and addresses give them."""

MOST_DIGITS = 18
"""What fits a database's integer."""


def row_id(text: object) -> int | None:
    """The id in a text, None for anything that cannot be one."""
    digits = str(text or "").strip()
    known = digits.isascii() and digits.isdecimal() and len(digits) <= MOST_DIGITS
    return int(digits) if known else None
