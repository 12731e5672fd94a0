"""The virtual environment, made from the hash-locked lists in requirements/."""

import hashlib
import os
import subprocess
import sys
from pathlib import Path

from launcher.say import Halt, note


def python_path(root: Path) -> Path:
    return root / ".fennock" / "venv" / "bin" / "python"


def ensure_environment(root: Path, for_tests: bool = False) -> Path:
    """Make the environment match its lock, if it does not already; return its Python.

    `app.lock` is what the application runs on, `all.lock` that and what checks it.
    """
    if sys.version_info < (3, 11):  # noqa: UP036  the launcher runs on whatever python3 is here
        raise Halt(f"Fennock needs Python 3.11; this is {sys.version.split()[0]}.")
    stamp = root / ".fennock" / "venv" / "fennock-lock"
    made = stamp.read_text() if stamp.exists() else ""
    app, everything = _fingerprint(root, "app.lock"), _fingerprint(root, "all.lock")
    if made == everything or (made == app and not for_tests):
        return python_path(root)
    _build(root, "all.lock" if for_tests else "app.lock", anew=not made)
    stamp.write_text(everything if for_tests else app)
    return python_path(root)


def _fingerprint(root: Path, name: str) -> str:
    digest = hashlib.sha256(sys.version.encode())
    for lock in (name, "uv.lock"):
        digest.update((root / "requirements" / lock).read_bytes())
    return digest.hexdigest()


def _build(root: Path, lock: str, anew: bool) -> None:
    """uv is installed by pip with its hash; it then installs the rest, ten times faster."""
    note("Making the Python environment (a minute the first time) ...")
    place, locks = root / ".fennock" / "venv", root / "requirements"
    python = str(python_path(root))
    place.parent.mkdir(exist_ok=True)
    if anew:
        _run([sys.executable, "-m", "venv", "--clear", str(place)])
        hashed = ["install", "-q", "--require-hashes", "-r", str(locks / "uv.lock")]
        _run([python, "-m", "pip", *hashed])
    (place / "fennock-lock").unlink(missing_ok=True)
    uv = str(place / "bin" / "uv")
    sync = ["pip", "sync", "-q", "--require-hashes", "--compile-bytecode", "--python", python]
    _run([uv, *sync, str(locks / lock), str(locks / "uv.lock")])


def _run(command: list[str]) -> None:
    variables = {k: v for k, v in os.environ.items() if k not in ("PYTHONPATH", "VIRTUAL_ENV")}
    done = subprocess.run(command, capture_output=True, text=True, env=variables)
    if done.returncode:
        raise Halt(f"'{' '.join(command)}' failed:\n{(done.stdout + done.stderr)[-3000:]}")
