"""System packages: which Debian packages are missing, and how they are installed."""

import importlib.util
import os
import shutil
import subprocess
import sysconfig
from pathlib import Path

from launcher.say import Halt, note

DATABASE = ["mariadb-server-core", "mariadb-client-core", "mariadb-client"]
PAPERS = ["libpango-1.0-0", "libpangoft2-1.0-0", "libharfbuzz-subset0", "fonts-dejavu-core"]
CLUSTER = ["galera-4", "haproxy", "rsync", "socat", "lsof"]
BROWSER = ["chromium", "chromium-driver"]
CRYPTO = ["age"]
BUILD = ["gcc", "libc6-dev", "pkg-config", "libmariadb-dev"]


def ensure_packages(*groups: list[str]) -> None:
    """Install what is missing of these packages and of what builds the environment.

    Raises
    ------
    Halt
        Not Debian, not root (code 2, with the line to run), or the installation failed.
    """
    wanted = [package for group in (*groups, BUILD) for package in group]
    absent = missing(wanted + _python_parts())
    if not absent:
        return
    line = "apt-get install -y --no-install-recommends " + " ".join(absent)
    if os.geteuid() != 0:
        raise Halt(f"Some system packages are missing. Run this once as root:\n  {line}", 2)
    note("Installing system packages: " + " ".join(absent))
    for step in ("apt-get update", line):
        _run_quietly(step.split())


def missing(packages: list[str]) -> list[str]:
    """Those of the Debian packages that are not installed, in the order given."""
    if not shutil.which("dpkg-query"):
        raise Halt("Fennock installs its database and browser from Debian packages; no dpkg here.")
    asked = ["dpkg-query", "-W", "-f", "${Package} ${db:Status-Status}\\n", *packages]
    answer = subprocess.run(asked, capture_output=True, text=True).stdout
    installed = {row.split()[0] for row in answer.splitlines() if row.endswith(" installed")}
    return [package for package in packages if package not in installed]


def _python_parts() -> list[str]:
    """Debian splits Python; ask only for the parts that this interpreter lacks."""
    parts = []
    if importlib.util.find_spec("ensurepip") is None:
        parts.append("python3-venv")
    if not Path(sysconfig.get_path("include"), "Python.h").exists():
        parts.append("python3-dev")
    return parts


def _run_quietly(command: list[str]) -> None:
    variables = os.environ | {"DEBIAN_FRONTEND": "noninteractive"}
    done = subprocess.run(command, capture_output=True, text=True, env=variables)
    if done.returncode:
        raise Halt(f"'{' '.join(command)}' failed:\n{(done.stdout + done.stderr)[-2000:]}")
