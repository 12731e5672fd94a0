"""Reads a JSON case field by field; every refusal names the path in the input."""

from collections.abc import Iterable, Iterator
from math import isfinite
from typing import Any

from bowcore.errors import BadInput


class Case:
    """A JSON object with its path; asks for fields and says what is wrong with them."""

    def __init__(self, data: Any, path: str = ""):
        if not isinstance(data, dict):
            raise BadInput("An object is expected here.", path or "$", "a JSON object")
        self._data = data
        self._path = path

    def at(self, name: str) -> str:
        """The path of a field."""
        return f"{self._path}.{name}" if self._path else name

    def has(self, name: str) -> bool:
        """Whether the field is there and not null."""
        return self._data.get(name) is not None

    def number(self, name: str, low: float, high: float, default: float | None = None) -> float:
        """A finite number between two limits."""
        value = self._get(name, default)
        if isinstance(value, bool) or not isinstance(value, int | float) or not isfinite(value):
            raise BadInput(f"{value!r} is not a number.", self.at(name), f"{low:g} to {high:g}")
        if not low <= value <= high:
            raise BadInput(f"{value:g} is out of range.", self.at(name), f"{low:g} to {high:g}")
        return float(value)

    def whole(self, name: str, low: int, high: int, default: int | None = None) -> int:
        """A whole number between two limits."""
        value = self.number(name, low, high, default)
        if value != int(value):
            raise BadInput(f"{value:g} is not a whole number.", self.at(name), f"{low} to {high}")
        return int(value)

    def text(self, name: str, allowed: Iterable[str] = (), default: str | None = None) -> str:
        """A string, one of those allowed if any are given."""
        value, choices = self._get(name, default), tuple(allowed)
        if not isinstance(value, str):
            raise BadInput(f"{value!r} is not text.", self.at(name), ", ".join(choices) or "text")
        if choices and value not in choices:
            raise BadInput(f"'{value}' is not known.", self.at(name), ", ".join(choices))
        return value

    def flag(self, name: str, default: bool) -> bool:
        """True or false."""
        value = self._get(name, default)
        if not isinstance(value, bool):
            raise BadInput(f"{value!r} is not true or false.", self.at(name), "true, false")
        return value

    def child(self, name: str) -> "Case":
        """An object inside this one."""
        return Case(self._get(name), self.at(name))

    def children(self, name: str, needed: bool = True) -> list["Case"]:
        """A list of objects."""
        rows = self._get(name) if needed or self.has(name) else []
        if not isinstance(rows, list | tuple):
            raise BadInput("A list is expected here.", self.at(name), "a JSON array")
        return [Case(row, f"{self.at(name)}[{i}]") for i, row in enumerate(rows)]

    def names(self) -> Iterator[str]:
        """Names of the fields that are there."""
        return iter(self._data)

    def raw(self, name: str) -> Any:
        """The field as it stands."""
        return self._get(name)

    def _get(self, name: str, default: Any = None) -> Any:
        if name in self._data and self._data[name] is not None:
            return self._data[name]
        if default is None:
            raise BadInput(f"'{name}' is missing.", self.at(name))
        return default
