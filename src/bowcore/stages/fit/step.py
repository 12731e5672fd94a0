"""Fit: the bow is in its bands; now nock, peep, loop, rest and cord are made ready to shoot."""

from typing import ClassVar

from bowcore.evidence.facts import Facts
from bowcore.stages.fit.fit_needs import fit_asks, is_fitted, waits_for_arrow
from bowcore.stages.step import Situation, Step


class FitStep(Step):
    """Only where a string is new or the fit was asked for."""

    key: ClassVar[str] = "fit"
    name: ClassVar[str] = "Fit"
    why: ClassVar[str] = "After a new string, everything on it is set again."
    minutes: ClassVar[int] = 20
    acts: ClassVar[tuple[str, ...]] = ("draw",)

    def applies(self, facts: Facts) -> bool:
        return is_fitted(facts)

    def done(self, now: Situation) -> bool:
        return not (now.fit_unread or now.fit_outside or now.to_tie)

    def note(self, now: Situation) -> str:
        missing = len(now.fit_unread)
        asked = len(fit_asks(now.facts))
        return f"{asked - missing} of {asked} read" if missing and missing < asked else ""

    def again(self, now: Situation) -> bool:
        return bool(now.fit_unread) and len(now.fit_unread) < len(fit_asks(now.facts))

    def next_act(self, now: Situation) -> str:
        facts = now.facts
        waiting = [key for key in now.fit_unread if not waits_for_arrow(facts, key)]
        if now.to_tie:
            return f"{now.to_tie[0].name}: tie or move it"
        if now.fit_outside:
            return f"Set {facts.named(now.fit_outside[0]).name.lower()}"
        if waiting:
            return f"Read {facts.named(waiting[0]).name.lower()}"
        return "Name the arrow" if now.fit_unread else "Hand it over"
