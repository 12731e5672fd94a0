"""What comes before what, as reasons rather than locks: a technician may have others.

Gates and holds are the locks; these are what an experienced technician would say.
"""

from collections.abc import Collection, Mapping
from dataclasses import dataclass

from bowcore.adjusters.limb_bolt import turns_out
from bowcore.bow.specification import STRING
from bowcore.evidence.facts import Current, Facts
from bowcore.quantities.catalogue import LEANS


@dataclass(frozen=True)
class OrderRule:
    """`first` before `then`, and why."""

    first: str
    then: str
    why: str


RULES = (
    OrderRule("peep_in", "loop_tied",
              "Splitting the string for the peep turns the loop; tie it afterwards."),
    OrderRule("bolts_back", "levelled",
              "Levels and marks at rest mean nothing while the bolts are out."),
    OrderRule("bolts_back", "timing_at_rest",
              "Timing read at rest needs both limb bolts where they belong."),
    OrderRule("lean", "fine_timing",
              "Yoke legs move lean and timing; shims may too. Set lean first, or you set timing "
              "twice."),
    OrderRule("timing", "rest_cord",
              "Every twist moves when the rest comes up; set its cord when the timing is right."),
    OrderRule("cables", "string_length",
              "Cables are the sensitive part; the string is set last."),
)  # fmt: skip


def reasons_against(done: Mapping[str, bool], about_to: str) -> list[str]:
    """What speaks against doing something now, given what is done."""
    return [r.why for r in RULES if r.then == about_to and not done.get(r.first, False)]


def order_reasons(facts: Facts, outside: Collection[str] = ()) -> dict[str, list[str]]:
    """What to say before each later act, by act, from what is known of the job.

    Parameters
    ----------
    facts : Facts
        What has been done.
    outside : collection of str
        Quantities that are outside their bands.

    Returns
    -------
    dict of str to list of str
        Only acts against which there is something to say now.
    """
    done = _done(facts, outside)
    found = {rule.then: reasons_against(done, rule.then) for rule in RULES}
    return {act: why for act, why in found.items() if why}


def _done(facts: Facts, outside: Collection[str]) -> dict[str, bool]:
    bottomed = turns_out(facts) == [0, 0]
    timing = facts.current("stop_gap")
    leans = [name for name in LEANS if (now := facts.current(name)) and now.summary]
    loop_waits = {"peep", "loop"} <= set(facts.fitted) and STRING in facts.to_replace
    cables = [role for role in facts.to_replace if role != STRING]
    return {
        "peep_in": not loop_waits,
        "bolts_back": bottomed and not facts.bolts_backed_off,
        "lean": all(_home(facts.current(name), name, outside) for name in leans),
        "timing": "rest" not in facts.fitted or _home(timing, "stop_gap", outside),
        "cables": not set(cables) & set(facts.still_to_replace),
    }


def _home(now: Current | None, name: str, outside: Collection[str]) -> bool:
    return bool(now and now.fresh and name not in outside)
