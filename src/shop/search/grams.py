"""Words as runs of three letters: a word with a letter wrong still shares most of them."""

import re
import unicodedata
from collections.abc import Iterable
from math import ceil

RUN = 3
START = "^"
"""Marks the beginning of a word, so that what was typed first weighs."""
LEAST_SHARE = 0.3
"""Of a typed word's runs that a match has to share: two letters swapped break four of them."""
BEHIND_THE_BEST = 1
"""So many runs fewer than the best match still count."""
_SPLIT = re.compile(r"[^a-z0-9]+")
_NOT_DIGITS = re.compile(r"\D+")
LONGEST_WORD, MOST_WORDS = 30, 8


def words_of(text: str) -> list[str]:
    """Its words in plain lower-case letters and digits, without accents."""
    plain = unicodedata.normalize("NFKD", text.casefold()).encode("ascii", "ignore").decode()
    return [word[:LONGEST_WORD] for word in _SPLIT.split(plain) if word][:MOST_WORDS]


def digits_of(text: str) -> str:
    """All its digits in one run, as a phone number is remembered."""
    return _NOT_DIGITS.sub("", text)[:LONGEST_WORD]


def grams_of(word: str) -> set[str]:
    """The runs of a word; a short word is one run."""
    marked = START + word
    return {marked[at : at + RUN] for at in range(max(len(marked) - RUN + 1, 1))}


def grams_of_all(words: Iterable[str]) -> set[str]:
    """The runs of several words."""
    return {gram for word in words for gram in grams_of(word)}


def least_shared(grams: set[str]) -> int:
    """How many of a typed word's runs have to be found."""
    return ceil(LEAST_SHARE * len(grams))
