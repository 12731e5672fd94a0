"""The virtual environment, made from the hash-locked lists in requirements/."""

import hashlib
import os
import subprocess
import sys
from pathlib import Path

from launcher.say import Halt, note


def python_path(root: Path) -> Path:
    return root / ".fennock" / "venv" / "bin" / "python"


def ensure_environment(root: Path) -> Path:
    """Make the environment match the lock, if it does not already; return its Python."""
    if sys.version_info < (3, 11):  # noqa: UP036  the launcher runs on whatever python3 is here
        raise Halt(f"Fennock needs Python 3.11; this is {sys.version.split()[0]}.")
    stamp = root / ".fennock" / "venv" / "fennock-lock"
    wanted = _fingerprint(root)
    if not (stamp.exists() and stamp.read_text() == wanted):
        _build(root)
        stamp.write_text(wanted)
    return python_path(root)


def _fingerprint(root: Path) -> str:
    locks = sorted((root / "requirements").glob("*.lock"))
    digest = hashlib.sha256(sys.version.encode())
    for lock in locks:
        digest.update(lock.read_bytes())
    return digest.hexdigest()


def _build(root: Path) -> None:
    """uv is installed by pip with its hash; it then installs the rest, ten times faster."""
    note("Making the Python environment (a minute the first time) ...")
    place, locks = root / ".fennock" / "venv", root / "requirements"
    python = str(python_path(root))
    place.parent.mkdir(exist_ok=True)
    _run([sys.executable, "-m", "venv", "--clear", str(place)])
    _run([python, "-m", "pip", "install", "-q", "--require-hashes", "-r", str(locks / "uv.lock")])
    uv = str(place / "bin" / "uv")
    sync = ["pip", "sync", "-q", "--require-hashes", "--compile-bytecode", "--python", python]
    _run([uv, *sync, str(locks / "all.lock"), str(locks / "uv.lock")])


def _run(command: list[str]) -> None:
    variables = {k: v for k, v in os.environ.items() if k not in ("PYTHONPATH", "VIRTUAL_ENV")}
    done = subprocess.run(command, capture_output=True, text=True, env=variables)
    if done.returncode:
        raise Halt(f"'{' '.join(command)}' failed:\n{(done.stdout + done.stderr)[-3000:]}")
