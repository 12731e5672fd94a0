"""One name for one thing: no two public names of modules are alike, and every stored input is used."""

import ast
import re
from collections import defaultdict
from pathlib import Path

from django.apps import apps
from django.contrib.sessions.base_session import AbstractBaseSession

from shop.schema.audit.verbs import KINDS_OF_ACT

ROOT = Path(__file__).resolve().parents[2]
MODULES = [p for p in (ROOT / "src").rglob("*.py") if "migrations" not in str(p.parent)]
OF_THE_FRAMEWORKS = {"urlpatterns", "Command", "main", "register"}
"""Names that Django or the shell asks for in each module."""


KEPT_FOR_AUDITS = {"Member", "Event", "GivenAdvice"}
"""Events and given advice are read by a person who checks the record; engine holds only caches."""


def public_names(path):
    for node in ast.parse(path.read_text()).body:
        if isinstance(node, ast.FunctionDef | ast.ClassDef):
            yield node.name
        elif isinstance(node, ast.Assign):
            yield from (t.id for t in node.targets if isinstance(t, ast.Name))
        elif isinstance(node, ast.AnnAssign) and isinstance(node.target, ast.Name):
            yield node.target.id


def test_no_two_public_names_are_alike():
    places = defaultdict(list)
    for path in MODULES:
        if "settings" not in path.parts:
            for name in public_names(path):
                if not name.startswith("_") and name not in OF_THE_FRAMEWORKS:
                    places[name].append(str(path.relative_to(ROOT)))
    assert {name: where for name, where in places.items() if len(where) > 1} == {}


def test_the_log_knows_every_kind_of_act():
    """Each verb that is written is one that can be asked for, and no other."""
    written = set()
    for path in (ROOT / "src/shop").rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call) and getattr(node.func, "id", "") in (
                "job_act",
                "on_job",
                "without_job",
            ):
                written |= {a.value for a in node.args if isinstance(a, ast.Constant)}
    assert written == set(KINDS_OF_ACT)


def test_every_stored_input_is_shown_or_used_somewhere():
    """A field that is written and never read again is lost work."""
    written_in = {"models.py"}
    reading = [p for p in (ROOT / "src/shop").rglob("*.py")
               if p.name not in written_in and "migrations" not in str(p.parent)]  # fmt: skip
    reading += [*(ROOT / "src/shop").rglob("*.html"), *(ROOT / "src/shop").rglob("models.py")]
    reading += (ROOT / "src/bowcore").rglob("*.py")  # the shop's policy is read by its keys
    texts = [path.read_text() for path in reading]
    unused = []
    for model in apps.get_models():
        ours = model.__module__.startswith("shop.") and model._meta.app_label != "engine"
        if not ours or model.__name__ in KEPT_FOR_AUDITS:
            continue
        for field in model._meta.concrete_fields:
            name = field.name
            if issubclass(model, AbstractBaseSession) and name == "session_data":
                continue  # Django's own
            read = re.compile(
                rf"\.(get_)?{name}\b(?!\s*=[^=])|{name}__|order_by\(\"-?{name}|[\"']{name}[\"']"
            )
            if not any(read.search(text) for text in texts):
                unused.append(f"{model.__name__}.{name}")
    assert unused == []
