"""What finished bows say of the next one, against a published case and against all at once."""

import numpy as np
import pytest

from bowcore.learning.pooling import ModelSpread

SCHOOLS = np.array([28.0, 8, -3, 7, -1, 1, 18, 12])
ERRORS = np.array([15.0, 10, 16, 11, 9, 11, 10, 18])
"""Effects and their standard errors in eight schools. Source: Rubin 1981, as in Gelman and others,
Bayesian Data Analysis, 3rd edition, table 5.2 (from memory)."""
VAGUE = 1e6


def one_number(variance):
    return ModelSpread(np.zeros(1), np.array([[variance]]))


def read_by(spread, value, error):
    """The lesson of a bow whose one response was read with this standard error."""
    before, noise = spread.covariance[0, 0], error**2
    gain = before / (before + noise)
    return spread.lesson(np.array([gain * value]), np.array([[gain * noise]]))


def schools(own_variance):
    spread = one_number(VAGUE)
    lessons = [read_by(spread, *one) for one in zip(SCHOOLS, ERRORS, strict=True)]
    return spread.next_bow(lessons, [own_variance / VAGUE])


def test_eight_schools_pooled_completely():
    """7.7 with a variance of 16.6 (Bayesian Data Analysis, section 5.5; from memory)."""
    mean, covariance = schools(0.0)
    assert mean[0] == pytest.approx(7.7, abs=0.05)
    assert covariance[0, 0] == pytest.approx(16.6, abs=0.05)


def test_a_next_school_is_as_the_formulas_for_one_variance_between_schools():
    """Weights 1 / (error^2 + tau^2): Bayesian Data Analysis, equation 5.20 (from memory)."""
    weights = 1 / (ERRORS**2 + 10.0**2)
    mean, covariance = schools(10.0**2)
    assert mean[0] == pytest.approx(weights @ SCHOOLS / weights.sum(), abs=1e-3)
    assert covariance[0, 0] == pytest.approx(1 / weights.sum() + 100, rel=1e-3)


def many_numbers(rng, size=5):
    root = rng.normal(size=(size, size))
    return ModelSpread(rng.normal(size=size), root @ root.T)


def test_three_bows_teach_as_all_their_readings_at_once_do():
    """Against the joint distribution of three bows and a fourth, conditioned with NumPy."""
    rng = np.random.default_rng(4)
    spread, own, bows, size = many_numbers(rng), 0.3, 3, 5
    joint = np.kron(
        np.full((bows + 1, bows + 1), 1 - own) + own * np.eye(bows + 1), spread.covariance
    )
    reads = rng.normal(size=(bows, 2, size))
    noise, values = 0.2, rng.normal(size=(bows, 2))
    lessons, design = [], np.zeros((2 * bows, size * (bows + 1)))
    for bow in range(bows):
        design[2 * bow : 2 * bow + 2, size * bow : size * (bow + 1)] = reads[bow]
        gain = spread.covariance @ reads[bow].T
        gain = gain @ np.linalg.inv(reads[bow] @ gain + noise * np.eye(2))
        mean = spread.mean + gain @ (values[bow] - reads[bow] @ spread.mean)
        lessons.append(
            spread.lesson(mean, spread.covariance - gain @ reads[bow] @ spread.covariance)
        )
    gain = joint @ design.T @ np.linalg.inv(design @ joint @ design.T + noise * np.eye(2 * bows))
    everything = np.tile(spread.mean, bows + 1)
    expected = everything + gain @ (values.reshape(-1) - design @ everything)
    left = joint - gain @ design @ joint
    mean, covariance = spread.next_bow(lessons, [own])
    assert mean == pytest.approx(expected[-size:], abs=1e-6)
    assert covariance == pytest.approx(left[-size:, -size:], abs=1e-6)


def drawn(spread, own, rng, bows=8, error=0.05):
    """Lessons of bows of one model that differ by so much of the variance, and the model itself."""
    sigma = float(np.sqrt(spread.covariance[0, 0]))
    model = sigma * np.sqrt(1 - own) * rng.standard_normal()
    responses = model + sigma * np.sqrt(own) * rng.standard_normal(bows)
    reads = responses + error * rng.standard_normal(bows)
    return model, [read_by(spread, value, error) for value in reads]


def test_how_alike_bows_of_a_model_are_is_learned_from_them():
    rng, spread = np.random.default_rng(1), one_number(1.0)
    alike = [spread.next_bow(drawn(spread, 0.1, rng)[1])[1][0, 0] for _ in range(40)]
    unlike = [spread.next_bow(drawn(spread, 0.9, rng)[1])[1][0, 0] for _ in range(40)]
    assert np.mean(alike) < 0.25 and np.mean(unlike) > 0.5


def test_the_next_bow_falls_into_its_band_as_often_as_said():
    """Nine in ten of 400 next bows, whichever share of the variance is their own."""
    rng, spread, held = np.random.default_rng(2), one_number(1.0), []
    for own in rng.choice([0.1, 0.25, 0.5, 0.9], 400):
        model, lessons = drawn(spread, own, rng, bows=5)
        mean, covariance = spread.next_bow(lessons)
        bow = model + np.sqrt(own) * rng.standard_normal()
        held.append(abs(bow - mean[0]) <= 1.645 * np.sqrt(covariance[0, 0]))
    assert 0.86 < np.mean(held) < 0.94


def test_a_bow_that_ended_less_sure_than_it_began_says_nothing():
    """Surprises widen a belief; many such bows once made a variance negative."""
    spread = many_numbers(np.random.default_rng(3))
    wider = spread.lesson(spread.mean + 0.1, 1.5 * spread.covariance)
    mean, covariance = spread.next_bow([wider] * 8)
    assert mean == pytest.approx(spread.mean)
    assert covariance == pytest.approx(spread.covariance)


def test_no_variance_is_negative_after_bows_that_were_half_surprising():
    rng = np.random.default_rng(5)
    spread = many_numbers(rng)
    lessons = []
    for _ in range(8):
        stretch = np.diag(rng.choice([0.05, 1.4], 5))
        lessons.append(
            spread.lesson(
                spread.mean + rng.normal(0, 0.3, 5), stretch @ spread.covariance @ stretch
            )
        )
    covariance = spread.next_bow(lessons)[1]
    assert np.linalg.eigvalsh(covariance).min() >= -1e-12


def test_what_bows_never_do_stays_exactly_nothing():
    spread = ModelSpread(np.array([1.0, 0.0]), np.diag([1.0, 0.0]))
    mean, covariance = spread.next_bow([spread.lesson(np.array([2.0, 0.0]), np.diag([0.1, 0.0]))])
    assert mean[1] == 0 and not covariance[1].any()
    assert 1 < mean[0] < 2 and covariance[0, 0] < 1
