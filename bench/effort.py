"""What work costs at the bench: keys, acts and screens, counted by the journeys in a real browser.

    python bench/effort.py

Runs tests/journeys/test_effort.py through `./fennock test` and prints its counts beside the goals.
"""

import json
import os
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]


def main() -> int:
    with tempfile.TemporaryDirectory() as folder:
        target = Path(folder) / "effort.jsonl"
        command = [str(ROOT / "fennock"), "test", "tests/journeys/test_effort.py"]
        env = os.environ | {"FENNOCK_EFFORT_FILE": str(target)}
        code = subprocess.run(command, cwd=ROOT, env=env, stdout=subprocess.DEVNULL).returncode
        lines = target.read_text().splitlines() if target.exists() else []
    print("| work | counted | goal |\n| --- | --- | --- |")
    for one in map(json.loads, lines):
        counted = ", ".join(f"{value} {name}" for name, value in one["found"].items())
        goals = ", ".join(f"{value} {name}" for name, value in one["goals"].items())
        print(f"| {one['work']} | {counted} | {goals} |")
    return code


if __name__ == "__main__":
    sys.exit(main())
