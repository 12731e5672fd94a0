"""Cells of CSV files: a text that a spreadsheet would run as a formula is kept a text."""

from typing import Any

_STARTS_A_FORMULA = ("=", "+", "-", "@", "\t", "\r")
_GUARD = "'"


def safe_cell(value: Any) -> Any:
    """The value as it goes into a file; a text that looks like a formula gets an apostrophe before it,
    and so does one that begins with an apostrophe."""
    guarded = (*_STARTS_A_FORMULA, _GUARD)
    return _GUARD + value if isinstance(value, str) and value.startswith(guarded) else value


def plain_cell(text: str) -> str:
    """The text that `safe_cell` was given."""
    return text.removeprefix(_GUARD)


def safe_row(row: dict[str, Any]) -> dict[str, Any]:
    """Every cell of a row."""
    return {name: safe_cell(value) for name, value in row.items()}
