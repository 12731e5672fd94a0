"""Steps: how far each adjuster is turned. The same type from the plan through the press to learning."""

from collections.abc import Iterable, Iterator, Mapping

from bowcore.errors import BadInput


class Steps(Mapping[str, int]):
    """Signed whole steps by the key of each adjuster; zeros are left out. Never changed.

    What one step is, the adjuster says: half a twist, half a turn of a bolt, a part of a kit.
    """

    __slots__ = ("_counts",)

    def __init__(self, counts: Mapping[str, int] | Iterable[tuple[str, int]] = ()):
        """Keep the steps that are not zero.

        Parameters
        ----------
        counts : mapping of str to int, or pairs
            Steps by adjuster, in the order in which they are to be said.

        Raises
        ------
        BadInput
            A count that is not a whole number.
        """
        found = dict(counts)
        for key, count in found.items():
            if isinstance(count, bool) or not isinstance(count, int):
                raise BadInput(f"{count!r} is not a number of steps.", key, "a whole number")
        self._counts = {key: count for key, count in found.items() if count}

    def __getitem__(self, key: str) -> int:
        return self._counts[key]

    def __iter__(self) -> Iterator[str]:
        return iter(self._counts)

    def __len__(self) -> int:
        return len(self._counts)

    def __hash__(self) -> int:
        return hash(frozenset(self._counts.items()))

    def __repr__(self) -> str:
        return f"Steps({self._counts})"

    def __add__(self, other: "Steps") -> "Steps":
        """Both, one after the other."""
        return Steps({key: self.get(key, 0) + other.get(key, 0) for key in [*self, *other]})

    def __neg__(self) -> "Steps":
        """What takes these steps back."""
        return Steps({key: -count for key, count in self._counts.items()})


NO_STEPS = Steps()
