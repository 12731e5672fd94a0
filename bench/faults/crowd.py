"""Light pages while six people open fresh bows: a bow whose twin nobody has computed yet.

    python bench/faults/crowd.py [--seconds N] [--people N]

Prints the median and the 95th percentile of the light pages, alone and in the crowd, and their ratio.
"""

import argparse
import re
import statistics
import sys
import tempfile
import threading
import time
import urllib.request
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent))

from served import Demo

LIGHT = ("/", "/jobs/2/baseline/", "/jobs/1/log/", "/customers/1/")


def log_in_again(demo: Demo) -> Demo:
    """Another person at the same server."""
    other = Demo(demo.home)
    other.port, other.base = demo.port, demo.base
    other.log_in()
    return other


def open_fresh_bows(who: Demo, number: int, stop: threading.Event, opened: list[int]) -> None:
    """Check in one bow after the other, each of a weight and draw of its own, and look at its drawing."""
    count = 0
    while not stop.is_set():
        count += 1
        page = who.get("/jobs/new/?new=Crowd")
        key = re.search(r'name="key" value="([^"]+)"', page)
        weight, draw = (
            45 + (number * 3 + count * 0.7) % 14,
            27 + (number * 0.13 + count * 0.11) % 1.5,
        )
        who.post("/jobs/new/", key=key.group(1) if key else "", seen="0", customer_name=f"Crowd {number}",
                 entry=str(1 + count % 4), hand="right", marked_weight_lbf=f"{weight:.1f}",
                 marked_draw_in=f"{draw:.2f}", services="back_to_spec", path="new_setup",
                 promised_on="2099-01-01", fitted="peep")  # fmt: skip
        found = re.findall(r'href="/jobs/(\d+)/"', who.get("/find/?q=Crowd"))
        if found and who.status(f"/jobs/{found[0]}/bow/drawn/") == 200:
            opened.append(int(found[0]))


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
    parser.add_argument("--people", type=int, default=6)
    chosen = parser.parse_args()
    with tempfile.TemporaryDirectory() as place:
        demo = Demo(Path(place))
        demo.start()
        try:
            demo.log_in()
            light_pages(demo, 3)
            alone = said(light_pages(demo, chosen.seconds / 2))
            stop, opened = threading.Event(), list[int]()
            people = [
                threading.Thread(
                    target=open_fresh_bows, args=(log_in_again(demo), n, stop, opened), daemon=True
                )
                for n in range(chosen.people)
            ]
            for one in people:
                one.start()
            crowd = said(light_pages(demo, chosen.seconds))
            stop.set()
        finally:
            demo.stop()
    print("| light pages | median, ms | 95th percentile, ms |\n| --- | --- | --- |")
    print(f"| alone | {alone[0]:.0f} | {alone[1]:.0f} |")
    print(f"| while {chosen.people} open fresh bows | {crowd[0]:.0f} | {crowd[1]:.0f} |")
    print(f"| times | {crowd[0] / alone[0]:.1f} | {crowd[1] / alone[1]:.1f} |")
    print(f"\n{len(set(opened))} fresh bows were opened meanwhile.")
    return 0 if opened else 1


if __name__ == "__main__":
    sys.exit(main())
