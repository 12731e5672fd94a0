"""The bow that is fitted, as the advice sees it, and what an act of the fit is."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

from bowcore.adjusters.adjuster import Adjuster
from bowcore.adjusters.registry import adjusters_of, fit_adjusters_of
from bowcore.bow.lay import Lay
from bowcore.bow.specification import BowSpec, length_of
from bowcore.bow.twin import Changes, Twin
from bowcore.deciding.act import Act
from bowcore.errors import NoModel
from bowcore.evidence.facts import Facts
from bowcore.measurement.bands import Band
from bowcore.quantities.changes import Change
from bowcore.response.matrix import Response


@dataclass(frozen=True, kw_only=True)
class FitAct(Act):
    """One act of the fit.

    Attributes
    ----------
    sets : tuple of str
        The quantities that it sets.
    change : Change, optional
        What is noted instead of steps where it is done by hand.
    asks : str
        Key of a mark that has to be written down before anybody can say what to do.
    left_because : str
        The reason, where it is better left as it is.
    """

    sets: tuple[str, ...]
    change: Change | None = None
    asks: str = ""
    left_because: str = "as near as it can be set"

    @property
    def leaves(self) -> bool:
        """Nothing that can be done is worth it: it is left on purpose, and looked at again later."""
        return not self.steps and self.change is None and not self.asks


@dataclass(frozen=True)
class PeepElsewhere:
    """The peep of another bow of this archer: which bow, its twin, nock to peep [in], and its points."""

    bow: str
    twin: Twin
    nock_to_peep_in: float
    points: str


def _not_known() -> Response | None:
    return None


@dataclass(frozen=True)
class FitBow:
    """The bow that is fitted: its book, what is known of the job, and what is computed of it.

    `twin` is the bow as it came in; None where its book makes none. `response` answers
    what a step of each adjuster does, computed when it is asked for. `lay` is the string's; `loops` are cords
    cut and loops that came of them; `peep_elsewhere` is where this archer's peep sits on another bow.
    """

    spec: BowSpec
    facts: Facts
    bands: Mapping[str, Band]
    twin: Twin | None = None
    response: Callable[[], Response | None] = _not_known
    lay: Lay | None = None
    loops: Sequence[tuple[float, float]] = ()
    peep_elsewhere: PeepElsewhere | None = None

    @property
    def adjusters(self) -> tuple[Adjuster, ...]:
        return fit_adjusters_of(self.spec, self.lay)

    @property
    def every_adjuster(self) -> tuple[Adjuster, ...]:
        """What the fit moves, and what is turned back to spec."""
        return (*self.adjusters, *adjusters_of(self.spec))

    def value(self, key: str) -> float:
        """What a quantity reads now; it has been read."""
        now = self.facts.current(key)
        assert now is not None and now.summary is not None
        return now.summary.value

    def best(self, key: str) -> float:
        """The best estimate of a quantity that has been read."""
        return self.facts.estimates.get(key, self.value(key))

    @cached_property
    def twin_now(self) -> Twin | None:
        """The bow with everything that was turned; None where the twin does not settle then."""
        return self.twin_at(None)

    def twin_at(self, seq: int | None) -> Twin | None:
        """The bow with everything that was turned up to a moment, up to now if none is given; None where the
        twin does not settle then."""
        if self.twin is None:
            return None
        found = self.twin.changed(turned(self.spec, self.facts, seq))
        try:
            _ = found.full_draw
        except NoModel:
            return None
        return found


def turned(spec: BowSpec, facts: Facts, until: int | None = None) -> Changes:
    """What twists and bolts have done to a bow since it came in, up to a moment."""
    shorter: dict[str, float] = {}
    bolts = [0.0, 0.0]
    roles = {part.role for part in spec.parts}
    for one in facts.changes:
        if until is not None and one.seq > until:
            continue
        if one.adjuster in roles and not one.replaced:
            role = length_of(one.adjuster)
            inches = spec.part(one.adjuster).bundle().shortening_in(one.steps)
            shorter[role] = shorter.get(role, 0.0) + inches
        if one.change is Change.LIMB_BOLT:
            for side, name in enumerate(("bolt_top", "bolt_bottom")):
                bolts[side] += one.steps / 2 if one.adjuster in ("limb_bolts", name) else 0.0
    return Changes(shorter, (bolts[0], bolts[1]))


def say_off(bow: FitBow, name: str) -> str:
    """What a quantity reads, what it should be and why, in a sentence."""
    what, value, band = bow.facts.named(name), bow.value(name), bow.bands[name]
    best = bow.best(name)
    also = "" if best == value else f" With the reading before the last move: {what.say(best)}."
    return f"{what.name}: {what.say(value)}; it should be {what.say(band.target)}, {band.because}.{also}"
