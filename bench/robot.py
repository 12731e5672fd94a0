"""Robot technicians work through many jobs over HTTP, and mind what the pages say.

.fennock/venv/bin/python bench/robot.py [--jobs 200] [--seed 0] [--workers 2] [--style honest]
                                        [--services timing_check] [--model "Lark 31"] [--show]

Prints every job that broke a rule, with its acts, and at the end what the jobs took by service. A job is
replayed by its seed: --seed 17 --jobs 1 --show.
"""

import argparse
import logging
import os
import sys
from collections import Counter, defaultdict
from collections.abc import Iterator
from functools import partial
from multiprocessing import Pool, Queue
from pathlib import Path
from statistics import median
from typing import Any

SAID_EVERY = 100
"""Figures so far are printed after so many jobs."""
ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT / "src"), str(ROOT)]


def main() -> int:
    """Play the jobs; 1 if any broke a rule or found no end."""
    wanted, stories = _arguments(), []
    with _database():
        numbers = Queue()
        for number in range(wanted.workers):
            numbers.put(number)
        play = partial(play_one, style=wanted.style, services=wanted.services, model=wanted.model)
        with Pool(wanted.workers, make_ready, (numbers,)) as pool:
            seeds = range(wanted.seed, wanted.seed + wanted.jobs)
            for story in pool.imap_unordered(play, seeds):
                stories.append(story)
                if wanted.show or story.broken or not story.ended:
                    print(story, end="\n\n", flush=True)
                if len(stories) % SAID_EVERY == 0:
                    print(*_figures(stories), sep="\n", end="\n\n", flush=True)
    print(*_figures(stories), sep="\n")
    return int(any(one.broken or not one.ended for one in stories))


def _arguments() -> Any:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--jobs", type=int, default=200)
    parser.add_argument("--seed", type=int, default=0)
    parser.add_argument("--workers", type=int, default=2)
    parser.add_argument("--style", default="")
    parser.add_argument("--services", nargs="*", default=[])
    parser.add_argument("--model", default="")
    parser.add_argument("--show", action="store_true")
    return parser.parse_args()


def _database() -> Any:
    """A private throw-away database, its variables in the environment."""
    from launcher.checking import scratch, variables_for_tests
    from launcher.database import PrivateDatabase
    from launcher.serving import running

    class Opened:
        def __enter__(self) -> None:
            self._running = running(PrivateDatabase(scratch(), throw_away=True))
            database = self._running.__enter__()
            os.environ.update(variables_for_tests(ROOT, database))

        def __exit__(self, *error: Any) -> None:
            self._running.__exit__(*error)

    return Opened()


def make_ready(numbers: Any) -> None:
    """Open a worker's own database, with the demo's shop and book."""
    os.environ["OPENBLAS_NUM_THREADS"] = "1"
    import django

    django.setup()
    from django.db import connection
    from django.test.utils import setup_test_environment

    logging.disable(logging.CRITICAL)
    setup_test_environment(debug=False)
    connection.settings_dict.setdefault("TEST", {})["NAME"] = f"test_robot_{numbers.get()}"
    connection.creation.create_test_db(verbosity=0, autoclobber=True, serialize=False)
    from shop.demo.saltgate import open_shop
    from shop.schema.tenancy.here import every_shop

    with every_shop():
        open_shop()


def play_one(seed: int, style: str, services: list[str], model: str) -> Any:
    """Play one job; nothing of it is left for the next one."""
    from django.db import transaction
    from django.test import Client
    from tests.robot.player import Player

    from shop.schema.tenancy.here import every_shop

    with every_shop(), transaction.atomic():
        client = Client(raise_request_exception=False)
        story = Player(client, seed, style, services, model).play()
        transaction.set_rollback(True)
    return story


def _figures(stories: list[Any]) -> Iterator[str]:
    rules = Counter(
        one.rule for story in stories for one in {b.rule: b for b in story.broken}.values()
    )
    outcomes = Counter(one.outcome for one in stories)
    yield f"{len(stories)} jobs: " + ", ".join(f"{n} {what}" for what, n in outcomes.most_common())
    yield from (f"  {n} broke: {rule}" for rule, n in rules.most_common())
    acts = defaultdict(list)
    for one in stories:
        if one.style != "clumsy" and one.outcome == "handed over":
            acts[" + ".join(one.services)].append(len(one.acts) + 2)
    yield "acts of honest and hasty jobs that were handed over, median and 90th, check-in's two among them"
    for services, counts in sorted(acts.items()):
        ninetieth = sorted(counts)[int(0.9 * (len(counts) - 1))]
        yield f"  {services[:60]:60} {len(counts):4} jobs {median(counts):5g} {ninetieth:5}"
    times = sorted(t for one in stories for t in one.times)
    if times:
        yield f"CPU of a request: median {median(times):.3f} s, 90th {times[int(0.9 * len(times))]:.3f} s"


if __name__ == "__main__":
    sys.exit(main())
