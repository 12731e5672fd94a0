"""The model prior of a bow, computed once and kept in the database for all processes."""

import hashlib
import json
from dataclasses import asdict
from functools import lru_cache
from typing import Any

from django.db import transaction

from bowcore import __version__ as core_version
from bowcore.bow.specification import BowSpec
from bowcore.bow.twin import Twin, build_twin
from bowcore.errors import NoModel
from bowcore.learning.belief import Belief
from bowcore.learning.stored_belief import belief_from_json
from bowcore.stages.replace.tug import FAIR_LEVER
from bowcore.stages.shooting_in.tear_levers import cable_moves
from shop.casework.engine.computing import Values, prior_values
from shop.casework.engine.heavy import computed_once
from shop.casework.engine.models import ModelPrior


def book_prior(spec: BowSpec) -> Belief | None:
    """The prior of a bow, or None if its numbers do not make a twin."""
    return _kept(spec, fingerprint(spec))


@lru_cache(maxsize=100)
def twin_at_hand(spec: BowSpec) -> Twin | None:
    """The book's twin, built once in each process; None if its numbers do not make one."""
    try:
        return build_twin(spec)
    except NoModel:
        return None


_MOVES: dict[str, dict[str, dict[str, float]]] = {}
"""What half a twist does that this process has found, by fingerprint."""


def cable_moves_of(spec: BowSpec) -> dict[str, dict[str, float]]:
    """What half a twist in each cable does to each number by the book; nothing without a twin."""
    key = fingerprint(spec)
    return _MOVES[key] if key in _MOVES else _kept_moves(key, book_prior(spec))


def cable_moves_at_hand(spec: BowSpec) -> dict[str, dict[str, float]]:
    """The same if it has been computed already, else nothing; nobody waits for it."""
    key = fingerprint(spec)
    if key in _MOVES:
        return _MOVES[key]
    row = ModelPrior.objects.filter(fingerprint=key).first()
    if row is None:
        return {}
    return _kept_moves(key, None if row.data is None else belief_from_json(row.data))


def _kept_moves(key: str, prior: Belief | None) -> dict[str, dict[str, float]]:
    if len(_MOVES) >= MOST_AT_HAND:
        _MOVES.clear()
    _MOVES[key] = {} if prior is None else cable_moves(prior.response())
    return _MOVES[key]


def drawing_of(spec: BowSpec) -> dict[str, Any] | None:
    """The book's bow at rest, to be drawn; None if it does not make a twin."""
    return _drawn(spec, fingerprint(spec))


@lru_cache(maxsize=200)
def _drawn(spec: BowSpec, key: str) -> dict[str, Any] | None:
    row = ModelPrior.objects.filter(fingerprint=key).first() or _compute(spec, key)
    return row.drawing


def gap_ratio_of(spec: BowSpec) -> float | None:
    """Gap at full draw per radian between the cams at rest; None without a twin or with one cam."""
    drawing = drawing_of(spec)
    return None if drawing is None else drawing.get("gap_per_turn")


def mark_lever_of(spec: BowSpec, role: str) -> float:
    """How far a cam's mark moves for an inch of a part's length; a fair figure without a twin."""
    drawing = drawing_of(spec) or {}
    return float(drawing.get("mark_levers", {}).get(role, FAIR_LEVER))


def fingerprint(spec: BowSpec, *more: object) -> str:
    """Alike for the same numbers and the same core; `more` is what else an answer depends on."""
    text = json.dumps([core_version, asdict(spec), *more], sort_keys=True)
    return hashlib.sha256(text.encode()).hexdigest()


@lru_cache(maxsize=200)
def _kept(spec: BowSpec, key: str) -> Belief | None:
    row = ModelPrior.objects.filter(fingerprint=key).first()
    if row is None:
        row = _compute(spec, key)
    return None if row.data is None else belief_from_json(row.data)


MOST_AT_HAND = 200
_AT_HAND: dict[str, dict[str, Any] | None] = {}
"""Drawings that this process has found, by fingerprint: a kept one is never changed."""


def drawing_at_hand(spec: BowSpec) -> dict[str, Any] | None:
    """The book's bow at rest if it has been computed already; nobody waits for it."""
    key = fingerprint(spec)
    if key not in _AT_HAND:
        row = ModelPrior.objects.filter(fingerprint=key).first()
        if row is None:
            return None
        if len(_AT_HAND) >= MOST_AT_HAND:
            _AT_HAND.clear()
        _AT_HAND[key] = row.drawing
    return _AT_HAND.get(key)


def _compute(spec: BowSpec, key: str) -> ModelPrior:
    def keep(made: tuple[Values | None, Values | None]) -> None:
        data, drawing = made  # nothing for a bow without a twin, and that is kept
        values = {"name": spec.name, "data": data, "drawing": drawing}
        with transaction.atomic():
            ModelPrior.objects.get_or_create(fingerprint=key, defaults=values)

    computed_once(key, keep, prior_values, spec)
    return ModelPrior.objects.get(fingerprint=key)
