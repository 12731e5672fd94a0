"""Light pages while thirty people open fresh bows: a bow whose twin nobody has computed yet.

    python bench/faults/crowd.py [--seconds N] [--people N]

Prints the median and the 95th percentile of the light pages, alone and in the crowd, and their ratio; the
slowest answer of `/health/ready`; what was refused. Goals: five times, a second, nothing.
"""

import argparse
import html
import multiprocessing
import re
import statistics
import sys
import tempfile
import threading
import time
import urllib.request
from pathlib import Path
from typing import Any

sys.path.insert(0, str(Path(__file__).parent))

from served import Demo

LIGHT = ("/", "/jobs/2/baseline/", "/jobs/1/log/", "/customers/1/")


def log_in_again(home: Path, port: int) -> Demo:
    """Another person at the same server."""
    other = Demo(home)
    other.port, other.base = port, f"http://127.0.0.1:{port}"
    other.log_in()
    return other


def the_crowd(home: Path, port: int, people: int, seconds: float, counts: Any) -> None:
    """So many people, in a process of their own: a browser does not slow another person's down."""
    stop, opened, refused = threading.Event(), list[int](), list[int]()
    threads = [
        threading.Thread(
            target=open_fresh_bows,
            args=(log_in_again(home, port), number, stop, opened, refused),
            daemon=True,
        )
        for number in range(people)
    ]
    for thread in threads:
        thread.start()
    time.sleep(seconds)
    stop.set()
    counts.put((len(opened), len(refused)))


def open_fresh_bows(
    who: Demo, number: int, stop: threading.Event, opened: list[int], refused: list[int]
) -> None:
    """Check in one bow after the other, each of a weight and draw of its own, and look at its drawing until
    it is there."""
    count = 0
    while not stop.is_set():
        count += 1
        page = who.get("/jobs/new/?new=Crowd")
        key = re.search(r'name="key" value="([^"]+)"', page)
        weight, draw = (
            45 + (number * 3 + count * 0.7) % 14,
            27 + (number * 0.13 + count * 0.11) % 1.5,
        )
        status = who.post(
            "/jobs/new/", key=key.group(1) if key else "", seen="0", customer_name=f"Crowd {number}",
                 entry=str(1 + count % 4), hand="right", marked_weight_lbf=f"{weight:.1f}",
                 marked_draw_in=f"{draw:.2f}", services="back_to_spec", path="new_setup",
                 promised_on="2099-01-01", fitted="peep",
        )  # fmt: skip
        if status != 200:
            refused.append(status)
        found = re.findall(r'href="/jobs/(\d+)/"', who.get("/find/?q=Crowd"))
        if found:
            opened.append(int(found[0]))
            _look_until_drawn(who, f"/jobs/{found[0]}/bow/drawn/", stop, refused)


def _look_until_drawn(who: Demo, path: str, stop: threading.Event, refused: list[int]) -> None:
    """As the browser does: what holds the place says where to ask again."""
    while not stop.is_set():
        try:
            body = who.get(path, htmx=True)
        except OSError as error:
            refused.append(getattr(error, "code", 0))
            continue
        again = re.search(r'data-being-made\s+hx-get="([^"]+)"', body)
        if again is None:
            return
        path = html.unescape(again.group(1))
        time.sleep(1)


def slowest_health(who: Demo, stop: threading.Event, slowest: list[float]) -> None:
    """Milliseconds of the longest answer so far, asked five times a second."""
    while not stop.is_set():
        began = time.perf_counter()
        good = who.status("/health/ready") == 200
        slowest[0] = max(slowest[0], 1000 * (time.perf_counter() - began) if good else 1e6)
        time.sleep(0.2)


def light_pages(who: Demo, seconds: float) -> list[float]:
    """Milliseconds of light pages, one after the other."""
    times, until = [], time.monotonic() + seconds
    while time.monotonic() < until:
        for path in LIGHT:
            began = time.perf_counter()
            with who.web.open(urllib.request.Request(who.base + path), timeout=60) as answer:
                answer.read()
            times.append(1000 * (time.perf_counter() - began))
        time.sleep(0.1)
    return times


def said(times: list[float]) -> tuple[float, float]:
    """Median and 95th percentile."""
    return statistics.median(times), statistics.quantiles(times, n=20)[-1]


def main() -> int:
    parser = argparse.ArgumentParser()
    parser.add_argument("--seconds", type=float, default=30)
    parser.add_argument("--people", type=int, default=30)
    chosen = parser.parse_args()
    with tempfile.TemporaryDirectory() as place:
        demo = Demo(Path(place))
        demo.start()
        try:
            demo.log_in()
            light_pages(demo, 3)
            alone = said(light_pages(demo, chosen.seconds / 2))
            stop, slowest, counts = threading.Event(), [0.0], multiprocessing.Queue()
            place_of = (demo.home, demo.port)
            multiprocessing.Process(
                target=the_crowd,
                args=(*place_of, chosen.people, chosen.seconds, counts),
                daemon=True,
            ).start()
            health = (log_in_again(*place_of), stop, slowest)
            threading.Thread(target=slowest_health, args=health, daemon=True).start()
            crowd = said(light_pages(demo, chosen.seconds))
            stop.set()
            opened, refused = counts.get(timeout=60)
        finally:
            demo.stop()
    print("| light pages | median, ms | 95th percentile, ms |\n| --- | --- | --- |")
    print(f"| alone | {alone[0]:.0f} | {alone[1]:.0f} |")
    print(f"| while {chosen.people} open fresh bows | {crowd[0]:.0f} | {crowd[1]:.0f} |")
    print(f"| times | {crowd[0] / alone[0]:.1f} | {crowd[1] / alone[1]:.1f} |")
    print(f"\n{opened} fresh bows were checked in meanwhile, {refused} answers refused.")
    print(f"The slowest answer of /health/ready: {slowest[0]:.0f} ms")
    met = crowd[1] <= 5 * alone[1] and slowest[0] <= 1000 and not refused
    return 0 if opened and met else 1


if __name__ == "__main__":
    sys.exit(main())
