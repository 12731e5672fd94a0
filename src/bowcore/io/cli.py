"""The core by itself: `python -m bowcore.io.cli VERB [FILE]`, JSON in, JSON out.

Exit 0 with the answer, or 2 with {"error": {code, path, message, allowed}}.
"""

import json
import sys
from collections.abc import Sequence
from typing import Any, TextIO

from bowcore.errors import BadInput, BowcoreError
from bowcore.io.edge import MOST_JSON, json_from, validated
from bowcore.io.verbs import VERBS


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
    known = VERBS[verb]
    answer = known.function(validated(known.case, data))
    return answer.model_dump(mode="json", exclude_unset=True)


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
                return json_from(file.read(MOST_JSON + 1))
        return json_from(source.read(MOST_JSON + 1))
    except OSError as error:
        raise BadInput(f"{names[0]} cannot be read: {error.strerror}.", "file") from None
    except UnicodeDecodeError:
        raise BadInput("This is not text.", "file") from None


def _help() -> str:
    rows = [f"  {name:10} {verb.words}" for name, verb in VERBS.items()]
    return "fennock core VERB [FILE]   (the case on standard input, or in FILE)\n\n" + "\n".join(
        [*rows, ""]
    )


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:], sys.stdin, sys.stdout))
