"""Bows that could be behind one book entry: their hidden parameters drawn round the priors."""

from dataclasses import replace
from math import pi

import numpy as np

from bowcore.bow.guess import GUESSED_SPREAD
from bowcore.bow.priors import PRIORS, Prior
from bowcore.bow.specification import BowSpec, Family
from bowcore.bow.twin import Twin, twins_of
from bowcore.errors import NoModel

ENSEMBLE = 24
AS_WIDE = {Family.TWIN: 1.4}
"""How much wider than the usual spread plausible bows are drawn: twin cams bend the gap in more ways. Our
figure, by `bench/closed_loop.py --rows geometry`."""
BY_CALIPER = 0.02
"""How far off a peg's radius is that was measured on the bow, as a share (our figure)."""


def ensemble(spec: BowSpec, seed: int = 7, count: int = ENSEMBLE) -> list[Twin]:
    """Plausible bows of one book; the same seed gives the same bows.

    Raises
    ------
    NoModel
        Hardly any of them makes a bow.
    """
    rng = np.random.default_rng(seed)
    drawn = [plausible(spec, rng, AS_WIDE.get(spec.family, 1.0)) for _ in range(count)]
    return those_that_are_bows([book for book, _ in drawn], [prior for _, prior in drawn])


def those_that_are_bows(books: list[BowSpec], priors: list[Prior]) -> list[Twin]:
    """The twins of many books, without those whose numbers do not make a bow.

    Raises
    ------
    NoModel
        Hardly any of them does.
    """
    try:
        return twins_of(books[0].family, books, priors)
    except NoModel:
        found = [twin for twin in map(_alone, books, priors) if twin is not None]
        if len(found) < len(books) // 3:
            raise
        return found


def plausible(
    spec: BowSpec, rng: np.random.Generator, spread: float = 1.0, every: bool = False
) -> tuple[BowSpec, Prior]:
    """One bow that could be behind the book: peg, radii, phases and limbs vary.

    Parameters
    ----------
    spec : BowSpec
        The book.
    rng : numpy Generator
        Source of chance; the same state gives the same bow.
    spread : float
        1 for the usual spread; more for bows less like the priors.
    every : bool
        Whether limb angle, stiffness of string and cables and the depth of the tracks vary, too.

    Returns
    -------
    tuple of BowSpec and Prior
        The book with the bow's own peg radius, and its hidden parameters.
    """

    spread *= GUESSED_SPREAD if spec.guessed else 1.0

    def near(value: float, share: float) -> float:
        return float(value * np.exp(spread * share * rng.standard_normal()))

    prior = PRIORS[spec.family]
    drawn = replace(
        prior,
        let_out=near(prior.let_out, 0.15),
        net_at_brace=near(prior.net_at_brace, 0.05),
        preload=near(prior.preload, 0.08),
        rotation=min(near(prior.rotation, 0.025), 1.3 * pi),
        limb_radius=near(prior.limb_radius, 0.06),
        string=replace(prior.string, p1=prior.string.p1 + spread * 0.05 * rng.standard_normal()),
        net=replace(prior.net, p2=prior.net.p2 + spread * 0.06 * rng.standard_normal()),
    )
    if every:
        drawn = _with_the_rest(drawn, rng.spawn(1)[0], spread)
    peg = near(spec.peg_radius_in, BY_CALIPER if spec.peg_measured else 0.12)
    return replace(spec, peg_radius_in=peg), drawn


def _with_the_rest(drawn: Prior, rng: np.random.Generator, spread: float) -> Prior:
    """What is drawn beside: it moves the answers less than the rest does. Our figures."""

    def by(share: float) -> float:
        return float(np.exp(spread * share * rng.standard_normal()))

    return replace(
        drawn,
        string=replace(drawn.string, a1=drawn.string.a1 * by(0.08), a2=drawn.string.a2 * by(0.15)),
        net=replace(drawn.net, a2=drawn.net.a2 * by(0.12)),
        limb_angle=drawn.limb_angle * by(0.04),
        string_stiffness_lbf=drawn.string_stiffness_lbf * by(0.15),
        cable_stiffness_lbf=drawn.cable_stiffness_lbf * by(0.15),
    )


def _alone(book: BowSpec, prior: Prior) -> Twin | None:
    try:
        return twins_of(book.family, [book], [prior])[0]
    except NoModel:
        return None
