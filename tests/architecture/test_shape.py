"""The shape of the code: views do not write, the core is documented, files of others are intact."""

import ast
import hashlib
import importlib
import re
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]
CORE = sorted((ROOT / "src/bowcore").rglob("*.py"))
SHOP = [p for p in sorted((ROOT / "src/shop").rglob("*.py")) if "migrations" not in p.parts]
WRITES = {"save", "create", "update", "delete", "bulk_create", "bulk_update", "get_or_create",
          "update_or_create"}  # fmt: skip
WRITERS = re.compile(
    r"/(actions(/\w+)?|casework/submissions|replace/ledger|engine/\w+|demo/\w+|demo/management/commands/\w+)\.py$"
)


def public(tree: ast.Module):
    for node in ast.walk(tree):
        named = isinstance(node, ast.FunctionDef | ast.ClassDef)
        if named and not node.name.startswith("_"):
            yield node


def documented_methods() -> dict[str, set[str]]:
    """The methods of each class of the core that have a docstring, by the name of the class."""
    found: dict[str, set[str]] = {}
    for path in CORE:
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.ClassDef):
                methods = [n for n in node.body if isinstance(n, ast.FunctionDef)]
                found[node.name] = {n.name for n in methods if ast.get_docstring(n)}
    return found


def inherited_docs(tree: ast.Module) -> set[ast.AST]:
    """Methods whose base class says what they do."""
    documented = documented_methods()
    return {
        method
        for node in ast.walk(tree)
        if isinstance(node, ast.ClassDef)
        for base in node.bases
        for method in node.body
        if isinstance(method, ast.FunctionDef)
        and method.name in documented.get(ast.unparse(base), set())
    }


def inner_functions(tree: ast.Module) -> set[ast.AST]:
    found: set[ast.AST] = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.FunctionDef):
            found |= {n for n in ast.walk(node) if isinstance(n, ast.FunctionDef) and n is not node}
    return found


@pytest.mark.parametrize("path", CORE, ids=lambda p: str(p.relative_to(ROOT)))
def test_every_module_and_public_function_of_the_core_says_what_it_is(path):
    tree = ast.parse(path.read_text())
    assert ast.get_docstring(tree), "the module has no docstring"
    inner = inner_functions(tree) | inherited_docs(tree)
    for node in public(tree):
        obvious = isinstance(node, ast.FunctionDef) and any(
            getattr(d, "id", "") == "property" for d in node.decorator_list
        )
        if node not in inner and not obvious:
            assert ast.get_docstring(node), f"{node.name} has no docstring"


@pytest.mark.parametrize("path", CORE, ids=lambda p: str(p.relative_to(ROOT)))
def test_documented_parameters_are_those_of_the_signature(path):
    for node in public(ast.parse(path.read_text())):
        text = ast.get_docstring(node) or ""
        if not isinstance(node, ast.FunctionDef) or "Parameters\n---" not in text:
            continue
        block = text.split("Parameters\n", 1)[1].split("\n\n")[0]
        documented = re.findall(r"^(\w+) :", block, re.M)
        taken = [a.arg for a in [*node.args.args, *node.args.kwonlyargs] if a.arg != "self"]
        assert documented == taken, node.name


@pytest.mark.parametrize("path", SHOP, ids=lambda p: str(p.relative_to(ROOT)))
def test_only_actions_write(path):
    if WRITERS.search(str(path)):
        return
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute):
            owner = ast.unparse(node.func.value)
            if node.func.attr in WRITES and not re.search(r"super\(\)|digest|form$|image$", owner):
                pytest.fail(f"{path.name}:{node.lineno} writes: {ast.unparse(node.func)}")


def test_no_comment_of_a_template_is_shown():
    """A comment in `{#` and `#}` that goes over two lines is text of the page."""
    for path in (ROOT / "src/shop").rglob("*.html"):
        for comment in re.findall(r"\{#.*", path.read_text()):
            assert "#}" in comment, (path.name, comment)


def test_no_script_or_style_inside_templates():
    for path in (ROOT / "src/shop").rglob("*.html"):
        text = path.read_text()
        assert not re.search(r"<script(?![^>]*\bsrc=)|<style|\son\w+=|\sstyle=|hx-on", text), path


def test_templates_stay_short():
    for path in (ROOT / "src/shop").rglob("*.html"):
        lines = [line.strip() for line in path.read_text().splitlines()]
        assert sum(map(len, lines)) <= 4500, f"{path} is too long: split it"


@pytest.mark.parametrize("folder", ["src/shop/static/vendor", "tests/vendor"])
def test_files_of_others_are_what_they_were(folder):
    rows = re.findall(
        r"^\| (\S+) \|.*\| ([0-9a-f]{64}) \|$", (ROOT / folder / "VENDOR.md").read_text(), re.M
    )
    assert {name for name, _ in rows} == {p.name for p in (ROOT / folder).iterdir()} - {"VENDOR.md"}
    for name, digest in rows:
        assert hashlib.sha256((ROOT / folder / name).read_bytes()).hexdigest() == digest, name


def test_lock_files_name_no_registry():
    for lock in (ROOT / "requirements").glob("*.lock"):
        assert "http" not in lock.read_text()
        assert "--hash=sha256:" in lock.read_text()


@pytest.mark.parametrize("script", sorted((ROOT / "bench").glob("*.py")), ids=lambda one: one.stem)
def test_every_benchmark_finds_what_it_imports(script):
    """They run by hand only: a name that was changed would be noticed late."""
    missing = []
    for node in ast.walk(ast.parse(script.read_text())):
        if isinstance(node, ast.ImportFrom) and (node.module or "").startswith("bowcore"):
            module = importlib.import_module(node.module)
            missing += [one.name for one in node.names if not hasattr(module, one.name)]
    assert not missing
