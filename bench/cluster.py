"""A cluster on this machine loses one process after the other while people post: what is lost, what is
doubled, for how long it refuses.

    python bench/cluster.py [--posts N] [--people N] [--rounds N]

Starts its own `./fennock cluster-demo` in a temporary directory. Each post is tried until it is
accepted, with the same key, as the browser's outbox does. The last kind is a rolling restart, in which no
post may be refused.
"""

import argparse
import os
import re
import signal
import subprocess
import sys
import tempfile
import threading
import time
import uuid
from dataclasses import dataclass, field
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT / "src"), str(ROOT / "bench" / "faults")]

from served import Demo  # noqa: E402

from launcher.cluster import NODES  # noqa: E402
from launcher.supervising import processes_of  # noqa: E402

NOT_NOW = (0, 500, 502, 503, 504)
SETTLE_S = 12.0
GIVE_UP_AFTER_S = 120.0
MANY_JOBS = 100_000
POSTS_A_JOB = 60
"""More than anybody reads of one bow."""


KINDS = (
    "an application", "the writing node", "another node", "all nodes", "the front", "rolling restart",
)  # fmt: skip


class Cluster(Demo):
    """The demo shop on three databases and two servers."""

    verb = "cluster-demo"

    def start(self) -> None:
        """Until the front has looked at everything a few times."""
        super().start()
        time.sleep(5)
        self.until_ready()

    def ask(self, sql: str) -> str:
        """Of the first node that answers."""
        for number in range(1, NODES + 1):
            path = self.home / f"node{number}" / "run" / "m.sock"
            command = ["mariadb", "--no-defaults", f"--socket={path}", "-N", "fennock"]
            done = subprocess.run(command, input=sql, capture_output=True, text=True)
            if done.returncode == 0:
                return done.stdout
        return ""

    def ready_nodes(self) -> int:
        asked = "SELECT VARIABLE_VALUE FROM information_schema.GLOBAL_STATUS WHERE VARIABLE_NAME = "
        return int(self.ask(asked + "'wsrep_cluster_size'") or 0)


@dataclass
class Poster:
    """Somebody who reads the brace height of one job after the other, over and over."""

    cluster: Cluster
    jobs: list[int]
    seen: int = 0
    keys: list[str] = field(default_factory=list)
    refused: int = 0
    waited: float = 0.0

    @property
    def job(self) -> int:
        """The one that is on the bench now."""
        return self.jobs[len(self.keys) // POSTS_A_JOB % len(self.jobs)]

    def post_once(self, stop: threading.Event) -> None:
        """One reading, until it is accepted."""
        key, began = str(uuid.uuid4()), time.monotonic()
        while time.monotonic() - began < GIVE_UP_AFTER_S and not (stop.is_set() and not self.seen):
            status = self._try(key)
            if status == 200:
                self.keys.append(key)
                self.waited = max(self.waited, time.monotonic() - began)
                if len(self.keys) % POSTS_A_JOB == 0:
                    self.seen = 0
                return
            if status == 409:
                self.seen = 0
            elif status in NOT_NOW:
                self.refused += 1
                time.sleep(0.1)
            elif status != -1:
                raise SystemExit(f"A post was refused with {status}.")
        raise SystemExit("Nothing was accepted for two minutes.")

    def _try(self, key: str) -> int:
        if not self.seen:
            try:
                page = self.cluster.get(f"/jobs/{self.job}/baseline/")
            except OSError:
                return 0
            found = re.search(r'data-version="(\d+)"', page)
            self.seen = int(found.group(1)) if found else 0
        typed = {"text": "6 5/8", "start": "throat", "end": "near_face"}
        data = {f"brace_height-{name}": value for name, value in typed.items()}
        path = f"/jobs/{self.job}/baseline/reading/"
        status = self.cluster.post(path, key=key, seen=str(self.seen), line="brace_height", **data)
        if status == 200:
            self.seen += 1
        return status

    def go_on(self, stop: threading.Event) -> None:
        while not stop.is_set():
            self.post_once(stop)


def kill(cluster: Cluster, what: str) -> None:
    words = {"an application": "gunicorn", "the writing node": "--wsrep-node-name=node1 ",
             "another node": "--wsrep-node-name=node2 ", "all nodes": "mariadbd",
             "the front": "haproxy"}[what]  # fmt: skip
    pids = cluster.named(words)
    if not pids:
        raise SystemExit(f"There is no {what} to kill.")
    for pid in pids if what == "all nodes" else pids[:1]:
        os.kill(pid, signal.SIGKILL)


def suffered(cluster: Cluster, posters: list[Poster], seconds: float, what: str) -> None:
    """Kill something in the middle of posting; wait until all nodes are there again."""
    stop = threading.Event()
    threads = [threading.Thread(target=one.go_on, args=(stop,)) for one in posters]
    for one in posters:
        one.waited, one.refused = 0.0, 0
    for thread in threads:
        thread.start()
    time.sleep(2)
    if what == "rolling restart":
        assert cluster.process is not None
        os.kill(cluster.process.pid, signal.SIGHUP)
    else:
        kill(cluster, what)
    time.sleep(seconds)
    until = time.monotonic() + 90
    while time.monotonic() < until and cluster.ready_nodes() < NODES:
        time.sleep(0.5)
    stop.set()
    for thread in threads:
        thread.join()


def more_jobs(cluster: Cluster, count: int) -> list[int]:
    """Copies of a job whose bow is being read, by their numbers."""
    never_pressed = "id NOT IN (SELECT job_id FROM press_presscycle)"
    being_read = (
        f"inspected AND handed_over_at IS NULL AND cancelled_at IS NULL AND {never_pressed}"
    )
    copied = cluster.ask(f"SELECT MIN(id) FROM jobs_job WHERE {being_read}").strip()
    ids = [MANY_JOBS + at for at in range(count)]
    copy = f"CREATE TEMPORARY TABLE c SELECT * FROM jobs_job WHERE id = {copied};"
    each = (f"UPDATE c SET id = {pk}; INSERT INTO jobs_job SELECT * FROM c;" for pk in ids)
    cluster.ask(copy + "".join(each))
    return ids


def post_until(posters: list[Poster], count: int) -> None:
    """Everybody posts at once, nothing is killed, until there are so many in all."""
    stop = threading.Event()

    def go_on(one: Poster) -> None:
        while sum(len(each.keys) for each in posters) < count:
            one.post_once(stop)

    threads = [threading.Thread(target=go_on, args=(one,)) for one in posters]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()


def main() -> int:
    parser = argparse.ArgumentParser()
    parser.add_argument("--people", type=int, default=3)
    parser.add_argument("--rounds", type=int, default=1)
    parser.add_argument("--posts", type=int, default=0, help="go on without kills until so many")
    chosen = parser.parse_args()
    bad = False
    with tempfile.TemporaryDirectory() as place:
        cluster = Cluster(Path(place))
        try:
            cluster.start()
            cluster.log_in()
            jobs = more_jobs(cluster, chosen.posts // POSTS_A_JOB + chosen.people)
            posters = [Poster(cluster, jobs[at :: chosen.people]) for at in range(chosen.people)]
            print("| killed | posts | lost | doubled | refused posts | longest wait, s |")
            print("| --- | --- | --- | --- | --- | --- |")
            for what in KINDS * chosen.rounds:
                before = {key for one in posters for key in one.keys}
                suffered(cluster, posters, SETTLE_S, what)
                keys = [key for one in posters for key in one.keys if key not in before]
                bad = said(cluster, what, keys, posters) or bad
            post_until(posters, chosen.posts)
            every = [key for one in posters for key in one.keys]
            bad = said(cluster, "in all", every, posters) or bad
        finally:
            cluster.stop()
        left = processes_of(cluster.home)
        print(f"\nLeft running after the stop: {len(left)}")
    return int(bad or bool(left))


def said(cluster: Cluster, what: str, keys: list[str], posters: list[Poster]) -> bool:
    """Print a row; whether something was lost or doubled."""
    events = readings = 0
    for at in range(0, len(keys), 500):
        one, other = cluster.count(keys[at : at + 500])
        events, readings = events + one, readings + other
    lost, doubled = len(keys) - events, readings - events
    refused, waited = sum(p.refused for p in posters), max(p.waited for p in posters)
    print(f"| {what} | {len(keys)} | {lost} | {doubled} | {refused} | {waited:.1f} |", flush=True)
    return bool(lost or doubled)


if __name__ == "__main__":
    sys.exit(main())
