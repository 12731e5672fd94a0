"""Pins the dependencies anew: requirements/*.in -> *.lock, with hashes and no addresses."""

import subprocess
from pathlib import Path

from launcher import environment

_LOCKS = (
    (["app.in"], "app.lock"),
    (["app.in", "test.in", "-c", "app.lock"], "all.lock"),
    (["uv.in"], "uv.lock"),
)


def lock(_rest: list[str], root: Path) -> int:
    environment.ensure_environment(root)
    uv = environment.python_path(root).parent / "uv"
    for sources, target in _LOCKS:
        command = [str(uv), "pip", "compile", "-q", "--generate-hashes", "--no-emit-index-url"]
        command += ["--python-version", "3.11", "--no-header", *sources, "-o", target]
        subprocess.run(command, cwd=root / "requirements", check=True)
    return 0
