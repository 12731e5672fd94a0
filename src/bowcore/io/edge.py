"""What every edge of the core shares: strict values, and refusals that name the place in the input."""

import json
from collections.abc import Mapping, Sequence
from typing import Annotated, Any, TypeVar

from pydantic import (
    AfterValidator,
    BaseModel,
    ConfigDict,
    Field,
    TypeAdapter,
    ValidationError,
    WithJsonSchema,
)
from pydantic_core import ErrorDetails, PydanticCustomError

from bowcore.errors import BadInput
from bowcore.quantities.catalogue import QUANTITIES

TAGS = frozenset({"read", "turned", "replaced"})
"""Names that a choice between models adds to the place of an error; they are not in the input."""


class Edge(BaseModel):
    """A shape that comes in from outside or goes out. Unknown fields are ignored."""

    model_config = ConfigDict(frozen=True, extra="ignore", arbitrary_types_allowed=True)


def _known_quantity(key: str) -> str:
    if key not in QUANTITIES:
        allowed = ", ".join(QUANTITIES)
        raise PydanticCustomError(
            "unknown", "'{key}' is not known.", {"key": key, "allowed": allowed}
        )
    return key


Number = Annotated[float, Field(strict=True, allow_inf_nan=False)]
Whole = Annotated[int, Field(strict=True)]
Text = Annotated[str, Field(strict=True)]
Flag = Annotated[bool, Field(strict=True)]
Value = Annotated[float, Field(strict=True, allow_inf_nan=False, gt=-1000, lt=1000)]
StepCount = Annotated[int, Field(strict=True, ge=-40, le=40)]
QuantityKey = Annotated[
    str,
    Field(strict=True),
    AfterValidator(_known_quantity),
    WithJsonSchema({"type": "string", "enum": list(QUANTITIES)}),
]

Shape = TypeVar("Shape", bound=BaseModel)


MOST_JSON = 4_000_000
"""Characters; the whole book of a shop is smaller."""
LONGEST_NUMBER = 20


def json_from(text: str, path: str = "$", most: int = MOST_JSON) -> Any:
    """JSON from outside, of bounded size, depth and length of numbers, and of whole characters.

    Raises
    ------
    BadInput
        It is not JSON, larger or deeper than anything that is meant, or holds a lone surrogate.
    """
    if len(text) > most:
        raise BadInput("This is larger than anything that is taken in.", path, f"{most} characters")
    try:
        read = json.loads(text, parse_int=_whole_number)
        json.dumps(read, ensure_ascii=False).encode()
        return read
    except UnicodeEncodeError:
        raise BadInput(
            "A character in this file is broken: save it again as UTF-8.", path
        ) from None
    except RecursionError:
        raise BadInput("This is nested deeper than anything that is taken in.", path) from None
    except ValueError as error:
        raise BadInput(f"This is not JSON: {error}.", path, "a JSON object") from None


def _whole_number(digits: str) -> int:
    if len(digits) > LONGEST_NUMBER:
        raise ValueError(f"a number of {len(digits)} digits")
    return int(digits)


def validated(shape: type[Shape], data: Any, path: str = "") -> Shape:
    """Data from outside as one of the shapes.

    Parameters
    ----------
    shape : type
        The model.
    data : object
        As read from JSON or from the database.
    path : str
        Where the data are in the whole input.

    Returns
    -------
    model
        Of that shape.

    Raises
    ------
    BadInput
        Names the first place that is wrong, what is wrong there and what is allowed.
    """
    try:
        return TypeAdapter(shape).validate_python(data)
    except ValidationError as error:
        raise refusal(error, path) from None


def refusal(error: ValidationError, path: str = "") -> BadInput:
    """The core's error for the first thing that pydantic found wrong."""
    return refusals(error, path)[0]


def refusals(error: ValidationError, path: str = "") -> list[BadInput]:
    """Everything that pydantic found wrong, each as the core's error."""
    return [_refusal(one, path) for one in error.errors(include_url=False)]


def _refusal(error: ErrorDetails, path: str) -> BadInput:
    place = path_of(error["loc"], path)
    if error["type"] in ("union_tag_invalid", "union_tag_not_found"):
        place += ".kind"
    message, allowed = _in_words(error)
    return BadInput(message, place or "$", allowed)


def path_of(places: Sequence[str | int], start: str = "") -> str:
    """A place in the input as it is written: `events[0].value`."""
    path = start
    for at, place in enumerate(places):
        if isinstance(place, int):
            path += f"[{place}]"
        elif not (place in TAGS and at and isinstance(places[at - 1], int)):
            path += f".{place}" if path else place
    return path


def _in_words(error: ErrorDetails) -> tuple[str, str]:
    kind, given = error["type"], error.get("input")
    context: Mapping[str, Any] = error.get("ctx", {})
    if kind == "missing":
        return f"'{error['loc'][-1]}' is missing.", ""
    if kind in ("float_type", "int_type", "finite_number", "int_from_float"):
        return f"{given!r} is not a number.", "a number"
    if kind in _LIMITS:
        return f"{given:g} is out of range.", f"{_LIMITS[kind]} {context[_KEYS[kind]]:g}"
    if kind in ("literal_error", "enum", "union_tag_invalid"):
        wanted = context.get("expected") or context.get("expected_tags", "")
        return f"'{context.get('tag', given)}' is not known.", str(wanted)
    if kind in ("model_type", "model_attributes_type", "dict_type"):
        return "An object is expected here.", "a JSON object"
    if kind in ("list_type", "tuple_type"):
        return "A list is expected here.", "a JSON array"
    return str(error["msg"]), str(context.get("allowed", ""))


_LIMITS = {
    "greater_than_equal": "at least", "less_than_equal": "at most", "greater_than": "above",
    "less_than": "below",
}  # fmt: skip
_KEYS = {
    "greater_than_equal": "ge", "less_than_equal": "le", "greater_than": "gt", "less_than": "lt",
}  # fmt: skip
