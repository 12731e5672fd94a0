"""A twisted bundle of strands: how long a string or cable is, and what half a twist does to it.

Helix of effective radius r = R/sqrt 2 (R the radius of the packed bundle): a strand of length S
with n twists spans L = sqrt(S^2 - (2 pi r n)^2). Source: helix geometry as in Hearle, Grosberg and
Backer, Structural Mechanics of Fibers, Yarns and Fabrics, 1969 (from memory).
"""

from dataclasses import dataclass
from math import isfinite, pi, sqrt

from bowcore.errors import BadInput, OutOfRange

STRAND_DIAMETER_IN = 0.018  # common practice, no published source
PACKING = 0.75  # share of the bundle's section that is fibre; estimate
THICKEST_SPACER_IN = 0.5  # common practice
STEEPEST_TWISTS_PER_IN = 2.0  # beyond it the strands would lie across the bundle


@dataclass(frozen=True)
class Bundle:
    """A string or cable as twisted strands.

    `length_in` is its length at `twists` twists (whole turns, signless). `served_in` of it lies
    under serving, where the strands are held and do not wind.
    """

    length_in: float
    strands: int
    twists: float
    served_in: float = 0.0

    def __post_init__(self) -> None:
        if not (isfinite(self.length_in) and 1 <= self.length_in <= 150):
            raise OutOfRange("Length", self.length_in, 1, 150, "in")
        if self.strands < 1 or self.strands > 60:
            raise OutOfRange("Strands", self.strands, 1, 60, "")
        if not 0 <= self.served_in < self.length_in:
            raise OutOfRange("Served length", self.served_in, 0, self.length_in, "in")
        top = STEEPEST_TWISTS_PER_IN * self.free_in
        if not 0 <= self.twists <= top:
            raise OutOfRange("Twists", self.twists, 0, top, "")

    @property
    def effective_radius_in(self) -> float:
        """Radius of the helix that stands for all strands. [in]"""
        return effective_radius_in(self.strands)

    @property
    def strand_length_in(self) -> float:
        """Length of one strand: along the effective helix, and straight under the serving. [in]"""
        return self._free_strand_in + self.served_in

    @property
    def free_in(self) -> float:
        """What is not served, as it lies. [in]"""
        return self.length_in - self.served_in

    @property
    def _free_strand_in(self) -> float:
        return sqrt(self.free_in**2 + self._wound(self.twists) ** 2)

    def length_at_in(self, twists: float) -> float:
        """Length of the same strands at another number of twists.

        Parameters
        ----------
        twists : float
            Whole turns, 0 or more.

        Returns
        -------
        float
            [in]

        Raises
        ------
        BadInput
            More twists than the strands can take.
        """
        rest = self._free_strand_in**2 - self._wound(twists) ** 2
        if twists < 0 or rest <= 0:
            raise BadInput(f"{twists:g} twists do not fit in this bundle.", "twists")
        return sqrt(rest) + self.served_in

    def shortening_in(self, half_twists: int) -> float:
        """How much shorter the bundle becomes with so many more half twists. [in]

        Parameters
        ----------
        half_twists : int
            Signed; positive twists in.

        Returns
        -------
        float
            Positive when it becomes shorter. [in]
        """
        return self.length_in - self.length_at_in(self.twists + half_twists / 2)

    def _wound(self, twists: float) -> float:
        return 2 * pi * self.effective_radius_in * twists


def effective_radius_in(strands: int) -> float:
    """Effective helix radius of a bundle. [in]

    Parameters
    ----------
    strands : int
        Number of strands, 1 or more.

    Returns
    -------
    float
        R / sqrt 2, with R of a round bundle packed at 0.75. [in]
    """
    packed = STRAND_DIAMETER_IN / 2 * sqrt(strands / PACKING)
    return packed / sqrt(2)


def spacer_shortening_in(diameter_in: float, half_split_in: float) -> float:
    """How much shorter a bundle becomes with a spacer between its two halves. [in]

    Geometry of two straight pieces over a post: plausible, not validated.

    Parameters
    ----------
    diameter_in : float
        The spacer's, 0 to 0.5. [in]
    half_split_in : float
        From the spacer to where the halves meet again, above the spacer's radius. [in]

    Returns
    -------
    float
        [in]

    Raises
    ------
    OutOfRange
        Sizes that no spacer has.
    """
    if not 0 <= diameter_in <= THICKEST_SPACER_IN:
        raise OutOfRange("Spacer", diameter_in, 0, THICKEST_SPACER_IN, "in")
    if not max(diameter_in / 2, 0.2) <= half_split_in <= 6:
        raise OutOfRange("Split", half_split_in, max(diameter_in / 2, 0.2), 6, "in")
    return 2 * (sqrt(half_split_in**2 + (diameter_in / 2) ** 2) - half_split_in)
