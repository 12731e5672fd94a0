"""Plain words: docs/words.md, held by looking for what it says we do not write."""

import re
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]
BANNED = {
    "is no length": r"\b(?<!there )(?:is|are|was|makes?) no (?!longer|secret|press\b)",
    "nought": r"\bnought\b",
    "told": r"\btold\b",
    "said so": r"\bsaid so\b",
    "turned so": r"\bturned (?:it )?so\b",
    "unbidden": r"\bunbidden\b",
    "by and by": r"\bby and by\b",
    "where it stands": r"\b(?:it|they|both|job|bolt|bolts|cam) stands?\b(?! (?:out|apart))",
    "there is none": r"\b(?:[Ii]s|[Aa]re) none\b",
    "he, his": r"\b(?:he|his|him)\b",
}
WRITTEN = [
    path
    for folder in ("src", "docs", "bench")
    for kind in ("py", "html", "js", "css", "md")
    for path in (ROOT / folder).rglob(f"*.{kind}")
    if "vendor" not in path.parts and path.name != "words.md"
] + [ROOT / name for name in ("README.md", "ARCHITECTURE.md", "GLOSSARY.md")]


def flags(name):
    """Python's own `is None` is left alone."""
    return re.NOFLAG if name == "there is none" else re.IGNORECASE


@pytest.mark.parametrize("name", BANNED)
def test_what_we_do_not_write(name):
    found = [
        f"{path.relative_to(ROOT)}: {match.group()}"
        for path in WRITTEN
        for match in re.finditer(BANNED[name], path.read_text(), flags(name))
    ]
    assert found == []


@pytest.mark.parametrize(
    ("name", "text"),
    [
        ("is no length", "thirty is no length"), ("told", "as it is told"),
        ("where it stands", "where it stands now"), ("there is none", "if there is none"),
        ("he, his", "what he turned"), ("turned so", "I turned it so"),
    ],
)  # fmt: skip
def test_the_list_finds_what_it_looks_for(name, text):
    assert re.search(BANNED[name], text, flags(name))
