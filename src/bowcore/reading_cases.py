"""Cases about single readings: what was typed, repeated takes, bundles, bands."""

from typing import Any

from bowcore.casefile import Case
from bowcore.errors import BadInput
from bowcore.measurement.bands import Band
from bowcore.measurement.repeats import Summary, smaller_than_scatter, summarise
from bowcore.mechanics.bundle import Bundle
from bowcore.quantities.catalogue import QUANTITIES, quantity
from bowcore.quantities.entries import read_entry


def entry(case: Case) -> dict[str, Any]:
    """`entry`: one typed reading -> its exact value, uncertainty and any doubt."""
    what = quantity(case.text("quantity", QUANTITIES))
    said = read_entry(what, case.text("text"), case.text("way", default=""))
    return {
        "value": float(said.value), "unit": what.unit, "said": what.say(said.value),
        "sigma": said.sigma, "odd": said.odd,
    }  # fmt: skip


def bundle(case: Case) -> dict[str, Any]:
    """`bundle`: a twisted bundle -> strand length and what each half twist does."""
    length = case.number("length_in", 1, 150)
    rope = Bundle(length, case.whole("strands", 1, 60), case.number("twists", 0, 300))
    steps = [n for n in range(-8, 9) if rope.twists + n / 2 >= 0]
    return {
        "strand_length_in": rope.strand_length_in,
        "effective_radius_in": rope.effective_radius_in,
        "shortening_in": {str(n): rope.shortening_in(n) for n in steps},
    }


def readings(case: Case) -> dict[str, Any]:
    """`readings`: several takes -> value, spread, odd takes, verdict, whether a change is real."""
    what = quantity(case.text("quantity", QUANTITIES))
    summary = summary_of(case)
    found: dict[str, Any] = {
        "value": summary.value, "said": what.say(summary.value), "spread": summary.spread,
        "sigma": summary.sigma, "odd": list(summary.odd),
    }  # fmt: skip
    if case.has("band"):
        band = read_band(case.child("band"))
        verdict = band.judge(summary.value)
        chance = band.chance_inside(summary.value, summary.sigma)
        found["verdict"] = {"side": verdict.side.value, "by": verdict.by, "chance_inside": chance}
    if case.has("before"):
        before = summary_of(case.child("before"), what.key)
        scatter = (before.sigma**2 + summary.sigma**2) ** 0.5
        change, lost = summary.value - before.value, smaller_than_scatter(before, summary)
        found["change"] = {
            "by": change,
            "scatter": scatter,
            "smaller_than_scatter": lost,
        }
    return found


def summary_of(case: Case, name: str = "") -> Summary:
    """The takes of a case, summarised with their quantity's tool."""
    what = quantity(name or case.text("quantity", QUANTITIES))
    takes = case.raw("takes")
    if not isinstance(takes, list) or not takes:
        raise BadInput("At least one take is needed.", case.at("takes"), "a list of numbers")
    for i, take in enumerate(takes):
        if isinstance(take, bool) or not isinstance(take, int | float) or not abs(take) < 1000:
            raise BadInput(f"{take!r} is not a reading.", f"{case.at('takes')}[{i}]", "a number")
    return summarise([float(take) for take in takes], what.tool.sigma)


def read_band(row: Case) -> Band:
    """A band from JSON: low, high, and a target that is the middle if it is not given."""
    low, high = row.number("low", -1000, 1000), row.number("high", -1000, 1000)
    if low > high:
        raise BadInput("The low end lies above the high end.", row.at("low"), f"up to {high:g}")
    target = row.number("target", -1000, 1000, (low + high) / 2)
    return Band(low, high, target, row.text("source", default="book"))
