"""Suspects behind a tear that somebody looked at."""

from dataclasses import dataclass


@dataclass(frozen=True)
class LookedAt:
    """A suspect that somebody looked at and found, or did not; with `mended` it was mended then. `seq` places
    it among the changes of its job."""

    seq: int
    suspect: str
    found: bool
    mended: bool = False
