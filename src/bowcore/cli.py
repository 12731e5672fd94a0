"""The core by itself: `python -m bowcore.cli VERB [FILE]`, JSON in, JSON out.

Exit 0 with the answer, or 2 with {"error": {code, path, message, allowed}}.
"""

import json
import sys
from collections.abc import Callable, Sequence
from importlib import import_module
from typing import Any, TextIO

from bowcore.casefile import Case
from bowcore.errors import BadInput, BowcoreError

VERBS = {  # verb -> module and function; imported when asked for, so that a start stays quick
    "twin": ("cases", "twin"),
    "curve": ("cases", "curve"),
    "response": ("cases", "response"),
    "plan": ("cases", "plan"),
    "advice": ("cases", "advice"),
    "learn": ("cases", "learned"),
    "timing": ("cases", "timing"),
    "lean": ("cases", "lean"),
    "virtual": ("cases", "virtual"),
    "readings": ("reading_cases", "readings"),
    "entry": ("reading_cases", "entry"),
    "bundle": ("reading_cases", "bundle"),
}


def main(arguments: Sequence[str], source: TextIO, target: TextIO) -> int:
    """Run one verb.

    Parameters
    ----------
    arguments : sequence of str
        The verb, and optionally a file with the case.
    source : text file
        Where the case is read from when no file is named.
    target : text file
        Where the answer goes.

    Returns
    -------
    int
        Exit code.
    """
    if not arguments or arguments[0] in ("-h", "--help", "help"):
        target.write(_help())
        return 0
    try:
        answer = answer_case(arguments[0], _read(arguments[1:], source))
    except BowcoreError as error:
        json.dump({"error": describe(error)}, target, ensure_ascii=False, indent=2)
        target.write("\n")
        return 2
    json.dump(answer, target, ensure_ascii=False, indent=2)
    target.write("\n")
    return 0


def answer_case(verb: str, data: Any) -> dict[str, Any]:
    """The answer to one case.

    Raises
    ------
    BowcoreError
        Unknown verb or a case that cannot be answered.
    """
    if verb not in VERBS:
        raise BadInput(f"There is no verb '{verb}'.", "verb", ", ".join(VERBS))
    return _function(verb)(Case(data))


def _function(verb: str) -> Callable[[Case], dict[str, Any]]:
    module, name = VERBS[verb]
    found: Callable[[Case], dict[str, Any]] = getattr(import_module(f"bowcore.{module}"), name)
    return found


def describe(error: BowcoreError) -> dict[str, str]:
    """An error as JSON."""
    return {
        "code": error.code,
        "path": getattr(error, "path", ""),
        "message": str(error),
        "allowed": getattr(error, "allowed", ""),
    }


def _read(names: Sequence[str], source: TextIO) -> Any:
    try:
        if names:
            with open(names[0], encoding="utf-8") as file:
                return json.load(file)
        return json.load(source)
    except OSError as error:
        raise BadInput(f"{names[0]} cannot be read: {error.strerror}.", "file") from None
    except ValueError as error:
        raise BadInput(f"This is not JSON: {error}.", "$", "a JSON object") from None


def _help() -> str:
    said = {verb: (_function(verb).__doc__ or "").split(": ", 1)[-1] for verb in VERBS}
    rows = [f"  {verb:10} {words}" for verb, words in said.items()]
    return "fennock core VERB [FILE]   (the case on standard input, or in FILE)\n\n" + "\n".join(
        [*rows, ""]
    )


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:], sys.stdin, sys.stdout))
