"""Search at size: the same searches on a small shop and on one of 30,000 customers and 40,000 bows.

    python bench/search.py [--customers N] [--bows N]

Makes a database of its own in memory. Prints milliseconds (median of 15) and how many times the small
shop's they are.
"""

import argparse
import os
import random
import statistics
import sys
import time
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT / "src"))

from launcher.checking import scratch, variables_for_tests  # noqa: E402
from launcher.database import PrivateDatabase  # noqa: E402
from launcher.serving import running  # noqa: E402

SEARCHES = ("verhoven", "J. Verhoeven", "lark 31", "verhoeven lark", "014202", "zzzz", "tidewell")
SYLLABLES = (
    "ver", "hoe", "ven", "ach", "ter", "berg", "qui", "iwa", "sa", "ki", "bran", "vold", "fer", "rei", "ra",
    "oye", "la", "ran", "lind", "qvist", "cas", "tel", "lan", "mar", "chet", "ti", "odu", "ya", "win", "slow",
)  # fmt: skip
REPEATS = 15


def fill(customers: int, bows: int) -> None:
    """Customers with made-up names, each with bows of the book's models."""
    from shop.book.models import BookEntry
    from shop.bows.models import Bow
    from shop.customers.models import Customer
    from shop.search.actions import words_to_find
    from shop.search.grams import grams_of_all
    from shop.search.models import Gram

    rng = random.Random(7)
    made = [
        Customer(name=f"{chr(65 + n % 26)}. {''.join(rng.choices(SYLLABLES, k=3)).capitalize()}",
                 phone=f"0555 {n:07d}")
        for n in range(customers)
    ]  # fmt: skip
    Customer.objects.bulk_create(made, batch_size=5000)
    owners, entries = (
        list(Customer.objects.values_list("pk", flat=True)),
        list(BookEntry.objects.all()),
    )
    Bow.objects.bulk_create(
        [
            Bow(customer_id=rng.choice(owners), entry=rng.choice(entries), hand="right",
                marked_weight_lbf=60, marked_draw_in=28, tag=f"S{n:06d}" if n % 4 == 0 else "")
            for n in range(bows)
        ],
        batch_size=5000,
    )  # fmt: skip
    grams = []
    for model in (Customer, Bow):
        for row in model.objects.iterator(chunk_size=2000):
            kind, words = words_to_find(row)
            grams += [Gram(gram=g, kind=kind, row=row.pk) for g in grams_of_all(words)]
    Gram.objects.bulk_create(grams, batch_size=10_000, ignore_conflicts=True)


def milliseconds(typed: str) -> float:
    """Median time of one search."""
    from shop.rack.selectors import find

    times = []
    for _ in range(REPEATS):
        began = time.perf_counter()
        find(typed)
        times.append(1000 * (time.perf_counter() - began))
    return statistics.median(times)


def main() -> int:
    parser = argparse.ArgumentParser()
    parser.add_argument("--customers", type=int, default=30_000)
    parser.add_argument("--bows", type=int, default=40_000)
    size = parser.parse_args()
    with running(PrivateDatabase(scratch(), throw_away=True)) as database:
        os.environ |= variables_for_tests(ROOT, database)
        import django

        django.setup()
        from django.core.management import call_command

        from shop.demo.saltgate import fill as fill_demo

        call_command("migrate", verbosity=0)
        fill_demo()
        small = {typed: milliseconds(typed) for typed in SEARCHES}
        fill(size.customers, size.bows)
        print("| typed | small shop, ms | large shop, ms | times |\n| --- | --- | --- | --- |")
        for typed in SEARCHES:
            large = milliseconds(typed)
            print(f"| {typed} | {small[typed]:.1f} | {large:.1f} | {large / small[typed]:.1f} |")
    return 0


if __name__ == "__main__":
    sys.exit(main())
