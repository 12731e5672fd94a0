"""Every way the core can refuse; imports nothing.

BowcoreError
|-- BadInput            the caller's value is not usable          bad-input
|   |-- Unreadable      what was typed could not be understood    unreadable
|   `-- OutOfRange      understood, but outside what is possible  out-of-range
|-- Contradicted        it does not go with what else was read   contradicted
|-- Refused             a rule of the bench forbids it now        refused
`-- NoModel             this bow cannot be computed               no-model
"""


class BowcoreError(Exception):
    """Root of the core's errors; its text is what the technician reads."""

    code = "error"


class BadInput(BowcoreError):
    """A value that cannot be used; `path` names it where it came from."""

    code = "bad-input"

    def __init__(self, message: str, path: str = "", allowed: str = ""):
        super().__init__(message)
        self.path = path
        self.allowed = allowed


def require_within(name: str, value: float, limits: tuple[float, float], unit: str) -> None:
    """Refuse a number that nothing of its kind has.

    Parameters
    ----------
    name : str
        What it is, as it is said on the screen.
    value : float
        The number.
    limits : pair of float
        The least and the most that there is.
    unit : str
        Of all three.

    Raises
    ------
    BadInput
        It is outside of the limits, or not a number.
    """
    least, most = limits
    if not least <= value <= most:
        allowed = f"{least:g} to {most:g} {unit}"
        raise BadInput(f"{name}: {value:g} {unit}?", name.lower(), allowed)


class Unreadable(BadInput):
    """Typed text that was not understood; `raw` keeps it."""

    code = "unreadable"

    def __init__(self, raw: str, problem: str, path: str = ""):
        seen = f"“{raw}” was not understood" if raw.strip() else "Nothing was typed"
        super().__init__(f"{seen}: {problem}", path, allowed="33 1/16, 33.06, 840 mm")
        self.raw = raw
        self.problem = problem


class Incomplete(BadInput):
    """Typed text that was understood, but does not say everything, or says two things at once."""


MOST_TYPED = 40
"""No length or weight takes more characters to write."""


def short_enough(text: str) -> str:
    """What was typed, without spaces round it.

    Raises
    ------
    Unreadable
        Longer than any length or weight.
    """
    typed = text.strip()
    if len(typed) > MOST_TYPED:
        raise Unreadable(f"{typed[:MOST_TYPED]}…", "that is too long for a number.")
    return typed


class OutOfRange(BadInput):
    """A number outside its possible range."""

    code = "out-of-range"

    def __init__(self, what: str, value: float, low: float, high: float, unit: str):
        allowed = f"{low:g} to {high:g} {unit}"
        super().__init__(f"{what} {value:g} {unit} is outside {allowed}.", what, allowed)
        self.value, self.low, self.high, self.unit = value, low, high, unit


class Refused(BowcoreError):
    """The bench's rules forbid this now; the text says why and what would allow it."""

    code = "refused"


class Contradicted(BowcoreError):
    """What was read or found does not go with what else is known: look again, and confirm it if it stays.

    `path` names it where it came from.
    """

    code = "contradicted"

    def __init__(self, message: str, path: str = ""):
        super().__init__(message)
        self.path = path


class NoModel(BowcoreError):
    """The bow cannot be computed from what is known of it."""

    code = "no-model"
