"""Nothing is kept that nobody uses: names that neither the code, nor a template, nor a benchmark uses."""

import re
from pathlib import Path

from vulture import Vulture

ROOT = Path(__file__).parents[2]
KINDS = {"function", "method", "class", "property"}
BY_NAME_ALONE = re.compile(
    r"apps\.py|/management/commands/|/migrations/|/middleware\.py|access_log\.py|headers\.py|turns\.py|at_once\.py|uploads\.py|"
    r"ui/errors\.py|accounts/(sessions|lockout)\.py|robot/answers\.py"
)
"""Django, its settings or migrations call what is in these; the robot its answers by the form's name."""
CALLED_BY_NAME = {
    "get_session_store_class", "valid_value", "makes_a_bow", "first_fields", "difference_of_equations",
    "tilt_in_the_code", "append_only", "stands_with_event", "collect",
}  # fmt: skip
"""By a base class, a validator, Prometheus, a migration or a derivation's test."""
KEPT = {
    "problem_from",  # a stored question is asked again by it
    "simulated_sight", "find_best_place",  # stand-ins that only tests and benchmarks put to work
}  # fmt: skip
DECORATED = re.compile(r"@(register|step_screen|field_validator|model_validator)|def clean_")


def unused():
    """What vulture finds, less what is called by name."""
    finder = Vulture()
    finder.scavenge([str(ROOT / name) for name in ("src", "bench", "docs", "tests/robot")])
    templates = " ".join(path.read_text() for path in (ROOT / "src").rglob("*.html"))
    shown = set(re.findall(r"\w+", templates))
    for item in finder.get_unused_code(min_confidence=60):
        if item.typ not in KINDS or BY_NAME_ALONE.search(str(item.filename)) or item.name in shown:
            continue
        first = max(item.first_lineno - 1, 0)
        lines = Path(item.filename).read_text().splitlines()[first : first + 4]
        if not any(DECORATED.search(line) for line in lines):
            yield item


def test_nothing_is_kept_that_nobody_uses():
    found = {one.name: f"{Path(one.filename).relative_to(ROOT)}: {one.name}" for one in unused()}
    dead = sorted(v for k, v in found.items() if k not in KEPT | CALLED_BY_NAME)
    assert not dead, "\n".join(dead)
    assert set(found) >= KEPT, "strike out of KEPT what is used again"
