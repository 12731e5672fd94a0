"""Steps of adjusters as they are checked, logged and said: what the bow has, and how far it may go."""

from collections.abc import Mapping, Sequence

from bowcore.errors import BadInput, Refused
from bowcore.planning.problem import BOLTS, SENSIBLE_HALF_TWISTS
from bowcore.planning.words import say_set
from bowcore.service.needs import BOLT_MARKS, SHIM_MARKS
from shop.ledger.models import Adjustment, PressCycle
from shop.measurements.models import Noted
from shop.records.deeds import Act
from shop.tuning.selectors import View

MOST_AT_ONCE = 2 * SENSIBLE_HALF_TWISTS
Steps = Sequence[tuple[str, int]]


def checked_steps(view: View, steps: Steps) -> list[tuple[str, int]]:
    """Steps of adjusters that the bow has, noughts dropped.

    Raises
    ------
    BadInput
        This bow has no such adjuster.
    Refused
        Nothing is left, a bolt would pass the maker's limit, or no kit can be put in like that.
    """
    known = {adjuster.key for adjuster in view.adjusters}
    chosen = [(key, count) for key, count in steps if count]
    strange = [key for key, _ in chosen if key not in known]
    if strange:
        raise BadInput(f"This bow has no '{strange[0]}'.", "steps", ", ".join(sorted(known)))
    if not chosen:
        raise Refused("Say which part was turned, and by how much.")
    _require_sane(view, chosen)
    _require_bolts_within(view, dict(chosen))
    _require_kit(view, chosen)
    return chosen


def log_steps(act: Act, view: View, press: PressCycle | None, done: Steps) -> list[Adjustment]:
    """Every step as a ledger entry; what came out of a kit with how it sits now, in words."""
    _note_bolts(act, view, done)
    return [
        Adjustment.objects.create(
            **act.fact, press=press, change=view.adjuster(key).change, role=key,
            half_twists=count, note=_sits(view, key, count),
        )
        for key, count in done
    ]  # fmt: skip


def say_done(view: View, steps: Steps) -> str:
    """Steps in words, with the shop's names of the parts."""
    said = [(view.adjuster(key), view.facts.total(key), n) for key, n in steps]
    return " ".join(f"{one.label}: {say_set(one, before, n)}." for one, before, n in said)


def _sits(view: View, key: str, count: int) -> str:
    adjuster = view.adjuster(key)
    return say_set(adjuster, view.facts.total(key), count) if adjuster.positions else ""


def _note_bolts(act: Act, view: View, done: Steps) -> None:
    """Where the limb bolts stand after they were turned, written down as marks of their own."""
    for mark, half_turns in _bolts_moved(dict(done)).items():
        stands = float(view.marks[mark]) + half_turns / 2
        Noted.objects.create(**act.fact, mark=mark, value=f"{stands:g}")


def _bolts_moved(steps: Mapping[str, int]) -> dict[str, int]:
    """Half turns out by the mark of each bolt that was turned, alone or with the other."""
    moved: dict[str, int] = {}
    for key in BOLTS:
        for mark in BOLT_MARKS[key] if steps.get(key) else ():
            moved[mark] = moved.get(mark, 0) + steps[key]
    return moved


def _require_sane(view: View, steps: Steps) -> None:
    for key, count in steps:
        if not view.adjuster(key).positions and abs(count) > MOST_AT_ONCE:
            raise Refused(f"{view.adjuster(key).label}: nobody turns that far at once.")


def _require_bolts_within(view: View, steps: Mapping[str, int]) -> None:
    """Bolts stay between bottomed and the maker's limit; there is no way round it."""
    for mark, half_turns in _bolts_moved(steps).items():
        stands = float(view.marks.get(mark, -1))
        if stands < 0 or not 0 <= stands + half_turns / 2 <= view.most_turns:
            raise Refused(
                f"Limb bolts stay between bottomed and the maker's {view.most_turns:g} turns; "
                "write down where both stand, and turn them no further."
            )


def _require_kit(view: View, steps: Steps) -> None:
    """What comes out of a kit can only go in as the kit has it, or back as the bow came."""
    for key, count in steps:
        adjuster, total = view.adjuster(key), view.facts.total(key) + count
        if key in SHIM_MARKS and view.facts.shims_at_first(key) is None:
            raise Refused(f"{adjuster.label}: write down which are in now first.")
        back = total == view.facts.total(key) - view.facts.half_twists(key)
        if adjuster.positions and adjuster.position(total) is None and not back:
            raise Refused(f"{adjuster.label}: no kit of this bow can be put in like that.")
