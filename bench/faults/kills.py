"""Processes of a running demo are killed while somebody posts: what is lost, what is doubled, how long it
is refused.

    python bench/faults/kills.py [--posts N]

Starts its own demo in a temporary directory. Each post is tried until it is accepted, with the same key,
as the browser's outbox does.
"""

import argparse
import os
import re
import signal
import sys
import tempfile
import time
import uuid
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
sys.path[:0] = [str(ROOT / "src"), str(Path(__file__).parent)]

from served import Demo  # noqa: E402

from launcher.supervising import processes_of  # noqa: E402

AWAY = (502, 503, 504)
GIVE_UP_AFTER_S = 90.0


def read_once(demo: Demo, job: int) -> tuple[str, float]:
    """Post one reading until it is accepted; its key, and how long it was refused. [s]"""
    key, began = str(uuid.uuid4()), time.monotonic()
    while time.monotonic() - began < GIVE_UP_AFTER_S:
        try:
            seen = re.search(r'data-version="(\d+)"', demo.get(f"/jobs/{job}/baseline/"))
        except OSError:
            time.sleep(0.2)
            continue
        typed = {"text": "6 5/8", "start": "throat", "end": "near_face"}
        data = {f"brace_height-{name}": value for name, value in typed.items()}
        version = seen.group(1) if seen else "0"
        status = demo.post(
            f"/jobs/{job}/baseline/reading/", key=key, seen=version, line="brace_height", **data
        )
        if status == 200:
            return key, time.monotonic() - began
        if status not in (0, 409, 500, *AWAY):
            raise SystemExit(f"A post was refused with {status}.")
        time.sleep(0.2)
    raise SystemExit("Nothing was accepted for a minute and a half.")


def running(demo: Demo, what: str, words: str) -> list[int]:
    """Processes of one kind. A worker ends with its database, and is started again a little later: the
    kill before may not be over yet."""
    until = time.monotonic() + GIVE_UP_AFTER_S
    while time.monotonic() < until:
        if pids := demo.named(words):
            return pids
        time.sleep(0.1)
    raise SystemExit(f"There is no {what} to kill.")


def kill(demo: Demo, what: str) -> None:
    """Kill -9 one kind of process."""
    if what == "launcher":
        assert demo.process is not None
        os.kill(demo.process.pid, signal.SIGKILL)
        demo.process.wait()
        old = set(processes_of(demo.home))
        demo.start()
        while old & set(processes_of(demo.home)):
            time.sleep(0.2)
        demo.until_ready()
        return
    words = {"database": "mariadbd", "web server": "gunicorn", "one web process": "gunicorn",
             "background worker": "db_worker"}[what]  # fmt: skip
    pids = running(demo, what, words)
    os.kill(pids[-1] if what == "one web process" else pids[0], signal.SIGKILL)


def main() -> int:
    parser = argparse.ArgumentParser()
    parser.add_argument("--posts", type=int, default=10, help="before and after each kill")
    posts = parser.parse_args().posts
    bad = False
    with tempfile.TemporaryDirectory() as place:
        demo = Demo(Path(place))
        demo.start()
        demo.log_in()
        print(
            "| killed | posts | lost | doubled | refused for, s |\n| --- | --- | --- | --- | --- |"
        )
        try:
            for what in (
                "one web process",
                "web server",
                "database",
                "background worker",
                "launcher",
            ):
                before = [read_once(demo, 2) for _ in range(posts)]
                kill(demo, what)
                after = [read_once(demo, 2) for _ in range(posts)]
                keys = [key for key, _ in (*before, *after)]
                events, readings = demo.count(keys)
                lost, doubled = len(keys) - events, readings - events
                waited = max(wait for _, wait in after)
                print(f"| {what} | {len(keys)} | {lost} | {doubled} | {waited:.1f} |", flush=True)
                bad = bad or bool(lost or doubled)
        finally:
            demo.stop()
        left = processes_of(demo.home)
        print(f"\nLeft running after the stop: {len(left)}")
        for pid in left:
            print(
                pid, Path(f"/proc/{pid}/cmdline").read_bytes().replace(b"\0", b" ").decode()[:120]
            )
    return int(bad or bool(left))


if __name__ == "__main__":
    sys.exit(main())
