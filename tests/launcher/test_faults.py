"""A short run of bench/faults/kills.py: nothing is lost or doubled, whichever process is killed."""

import os
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[2]


def test_nothing_is_lost_or_doubled_when_processes_are_killed():
    command = [sys.executable, str(ROOT / "bench/faults/kills.py"), "--posts", "2"]
    ours = {
        name: value
        for name, value in os.environ.items()
        if not name.startswith(("FENNOCK_", "DJANGO_"))
    }
    done = subprocess.run(command, capture_output=True, text=True, env=ours)
    assert done.returncode == 0, done.stdout + done.stderr
    rows = [row.split("|") for row in done.stdout.splitlines() if row.startswith("| ")][2:]
    assert len(rows) == 5 and all(row[3].strip() == row[4].strip() == "0" for row in rows)
