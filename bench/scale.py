"""Size: every page, search and act in the demo's shop, and in one of 100,000 jobs and 2,000,000 readings.

    python bench/scale.py [--jobs N] [--open N] [--times N] [--keep DIR]

The large shop is the demo's jobs over and over, made by SQL alone (the words of the search by Python), in a
database of its own. Prints, for every page: milliseconds (median of 9) in the small and the large shop, how
many times that is, questions to the database, and kB sent, as they are and compressed.
"""

import argparse
import gzip
import json
import os
import statistics
import sys
import tempfile
import time
import uuid
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT / "src"))

from launcher.checking import scratch, variables_for_tests  # noqa: E402
from launcher.database import PrivateDatabase  # noqa: E402
from launcher.serving import running  # noqa: E402

CUSTOMERS_A_JOB, BOWS_A_JOB, READINGS_A_JOB = 0.3, 0.4, 20
FAR = 10_000
"""What is added to the ids of each copy, times its number; more than the demo has of anything."""
SYLLABLES = (
    "ver", "hoe", "ven", "ach", "ter", "berg", "qui", "iwa", "sa", "ki", "bran", "vold", "fer", "rei", "ra",
    "oye", "la", "ran", "lind", "qvist", "cas", "tel", "lan", "mar", "chet", "ti", "odu", "ya", "win", "slow",
)  # fmt: skip
SEARCHES = (
    "verhoven",
    "J. Verhoeven",
    "lark 31",
    "verhoeven lark",
    "014202",
    "zzzz",
    "tidewell",
    "S00",
    "9",
)
MOST_QUERIES, MOST_MS, MOST_TIMES, MOST_KB = 15, 100.0, 1.2, 30.0
AN_ACT = "a reading is typed"
"""Which asks the questions of its action and those of the page after it."""


@dataclass(frozen=True)
class Copies:
    """How often the demo's rows of a kind are copied."""

    jobs: int
    customers: int
    bows: int
    readings: int
    open: int
    """So many copies of the demo's open jobs stay open."""

    @classmethod
    def for_jobs(cls, jobs: int, demo: int, stay_open: int) -> "Copies":
        return cls(
            jobs // demo, int(jobs * CUSTOMERS_A_JOB) // demo, int(jobs * BOWS_A_JOB) // demo,
            jobs * READINGS_A_JOB, stay_open,
        )  # fmt: skip

    def of(self, model: Any) -> int:
        name = model._meta.label_lower
        return {
            "customers.customer": self.customers,
            "bows.bow": self.bows,
            "bows.part": self.bows,
        }.get(name, self.jobs)


def fill(copies: Copies) -> None:
    """Copy every table of a record; who, which model and which shop stay the same."""
    from django.db import connection

    from shop.records.tables import tables

    copied = {t.model for t in tables() if t.model._meta.app_label != "book"}
    with connection.cursor() as cursor:
        cursor.execute("SET foreign_key_checks = 0, unique_checks = 0")
        for table in tables():
            if table.model in copied:
                cursor.execute(_copy(table.model, copies, copied))
        cursor.execute(
            "UPDATE jobs_job SET handed_over_at = opened_at WHERE handed_over_at IS NULL AND id < %s",
            [FAR],
        )
        cursor.execute(
            "UPDATE string_sets_stringset s JOIN jobs_job j ON s.job_id = j.id SET s.state = 'here' "
            "WHERE j.handed_over_at IS NOT NULL AND s.state IN ('ordered', 'confirmed')"
        )
        cursor.execute(_name_customers())
        cursor.execute(
            "UPDATE bows_bow SET tag = CONCAT('S', LPAD(id, 8, '0')) WHERE id > %s", [FAR]
        )


def _copy(model: Any, copies: Copies, copied: set[Any]) -> str:
    """INSERT ... SELECT: each row once for each copy, under new numbers, pointing to the same copy's rows."""
    columns, values = [], []
    for field in model._meta.concrete_fields:
        columns.append(f"`{field.column}`")
        own = f"t.`{field.column}`"
        if field.primary_key:
            values.append(f"{own} + s.seq * {FAR}")
        elif field.related_model in copied:
            many = copies.of(field.related_model)
            values.append(f"{own} + ((s.seq - 1) MOD {many} + 1) * {FAR}")
        elif field.name == "key":
            values.append("UUID()")
        elif field.name == "handed_over_at":
            open_ones = f"s.seq > {copies.jobs - copies.open}"
            values.append(f"IF({open_ones}, {own}, COALESCE({own}, t.opened_at))")
        else:
            values.append(own)
    source = f"FROM {model._meta.db_table} t JOIN seq_1_to_{copies.of(model)} s WHERE t.id < {FAR}"
    return f"INSERT INTO {model._meta.db_table} ({', '.join(columns)}) SELECT {', '.join(values)} {source}"


def add_readings(most: int) -> None:
    """The same readings once more, until there are so many."""
    from django.db import connection

    with connection.cursor() as cursor:
        cursor.execute("SELECT COUNT(*) FROM measurements_reading")
        lacking = most - cursor.fetchone()[0]
        columns = (
            "job_id, seq, by_id, `at`, sheet_id, quantity, start, `end`, tool, value, sigma, raw"
        )
        columns += ", device, reason"
        while lacking > 0:
            cursor.execute(
                f"INSERT INTO measurements_reading ({columns}) SELECT {columns} "
                f"FROM measurements_reading WHERE job_id > {FAR} AND corrects_id IS NULL LIMIT {lacking}"
            )
            lacking -= cursor.rowcount


def analyse() -> None:
    """What the server keeps by itself about tables that grow a row at a time, for those filled at once."""
    from django.db import connection

    with connection.cursor() as cursor:
        for name in connection.introspection.table_names(cursor):
            cursor.execute(f"ANALYZE TABLE {name}")
            cursor.fetchall()


def _name_customers() -> str:
    parts = ", ".join(f"'{one}'" for one in SYLLABLES)

    def one(divisor: int) -> str:
        return f"ELT(1 + (id DIV {divisor}) MOD {len(SYLLABLES)}, {parts})"

    name = f"CONCAT(CHAR(65 + id MOD 26), '. ', UPPER(LEFT({one(FAR)}, 1)), SUBSTR({one(FAR)}, 2), "
    name += f"{one(FAR * len(SYLLABLES))}, {one(7)})"
    phone = f"CONCAT('0555 ', LPAD(id DIV {FAR}, 5, '0'), LPAD(id MOD {FAR}, 2, '0'))"
    return f"UPDATE customers_customer SET name = {name}, phone = {phone} WHERE id > {FAR}"


def index() -> None:
    """The words of the search, many rows at once."""
    from shop.schema.bows.models import Bow
    from shop.schema.customers.models import Customer
    from shop.search.actions import words_to_find
    from shop.search.grams import grams_of_all
    from shop.search.models import Gram

    for model in (Customer, Bow):
        grams: list[Gram] = []
        for row in model.objects.filter(pk__gt=FAR).iterator(chunk_size=2000):
            kind, words = words_to_find(row)
            grams += [
                Gram(gram=g, kind=kind, row=row.pk, shop=row.shop_id) for g in grams_of_all(words)
            ]
        Gram.objects.bulk_create(grams, batch_size=10_000, ignore_conflicts=True)


@dataclass(frozen=True)
class Measured:
    """One page, or one act."""

    ms: float
    queries: int
    kb: float
    sent_kb: float


def measure(ask: Callable[[], Any], times: int) -> Measured:
    from django.db import connection

    from shop.ui.access_log import Questions

    ask()  # what a process computes once
    questions = Questions()
    with connection.execute_wrapper(questions):
        answer = ask()
    if answer.status_code not in (200, 302):
        refused = answer.content.decode().partition('role="alert"')[2][:300]
        raise SystemExit(f"{answer.status_code}: {refused}")
    spent = []
    for _ in range(times):
        began = time.perf_counter()
        ask()
        spent.append(1000 * (time.perf_counter() - began))
    body = answer.content
    return Measured(
        statistics.median(spent), questions.count, len(body) / 1024, len(gzip.compress(body)) / 1024
    )


def pages(job: int, bow: int, customer: int) -> dict[str, str]:
    steps = (
        "baseline",
        "inspection",
        "string_set",
        "replace",
        "back_to_spec",
        "log",
        "bow",
        "sheet",
        "check_in",
    )
    fixed = {
        "rack": "/", "check-in": "/jobs/new/", "sets": "/jobs/sets/", "book": "/book/", "people": "/people/",
        "who did what": "/people/log/", "who did what, one person": "/people/log/?words=axle",
        "bow": f"/bows/{bow}/", "customer": f"/customers/{customer}/", "shop": "/shop/",
    }  # fmt: skip
    jobs = {f"job, {step}": f"/jobs/{job}/{step}/" for step in steps}
    return fixed | jobs | {f"find “{typed}”": f"/find/?q={typed}" for typed in SEARCHES}


def run(times: int, job_id: int) -> dict[str, Measured]:
    """Every page, and a reading that is typed, of one of the demo's jobs or a copy of it."""
    from django.test import Client

    from shop.schema.accounts.models import Member
    from shop.schema.jobs.models import Job

    client = Client(headers={"host": "localhost"})
    client.force_login(Member.objects.get(username="ines"))
    job = Job.objects.get(pk=job_id)
    found = {
        name: measure(lambda path=path: client.get(path), times)
        for name, path in pages(job.pk, job.bow_id, job.bow.customer_id).items()
    }

    def read() -> Any:
        seen = Job.objects.get(pk=job.pk).version
        text = str(job.bow.entry.axle_to_axle_in)
        typed = {"text": text, "start": "axle_centre", "end": "axle_centre"}
        reading = {f"axle_to_axle-{name}": value for name, value in typed.items()}
        reading |= {"line": "axle_to_axle", "key": uuid.uuid4(), "seen": seen}
        return client.post(f"/jobs/{job.pk}/baseline/reading/", reading)

    return found | {AN_ACT: measure(read, times)}


def report(small: dict[str, Measured], large: dict[str, Measured]) -> int:
    print("| page | small, ms | large, ms | times | queries | kB | compressed | goal |")
    print("| --- | --- | --- | --- | --- | --- | --- | --- |")
    missed = 0
    for name, now in large.items():
        before = small[name]
        times = now.ms / before.ms
        over = [
            word for word, is_over in (
                ("time", now.ms > MOST_MS and times > MOST_TIMES),
                ("queries", now.queries > MOST_QUERIES and name != AN_ACT),
                ("size", now.sent_kb > MOST_KB),
            ) if is_over
        ]  # fmt: skip
        missed += bool(over)
        print(
            f"| {name} | {before.ms:.0f} | {now.ms:.0f} | {times:.2f} | {now.queries} | {now.kb:.0f} | "
            f"{now.sent_kb:.0f} | {'missed: ' + ', '.join(over) if over else 'met'} |"
        )
    return missed


def main() -> int:
    parser = argparse.ArgumentParser()
    parser.add_argument("--jobs", type=int, default=100_000)
    parser.add_argument(
        "--open", type=int, default=1, help="copies of the open jobs that stay open"
    )
    parser.add_argument("--times", type=int, default=9)
    parser.add_argument(
        "--keep", type=Path, help="a directory: made once, measured again and again"
    )
    chosen = parser.parse_args()
    home = chosen.keep or scratch()
    with running(PrivateDatabase(home, throw_away=True)) as database:
        database.throw_away = chosen.keep is None
        settings = {"DJANGO_SETTINGS_MODULE": "shop.settings.test"}
        os.environ |= variables_for_tests(ROOT, database) | settings
        import django

        django.setup()
        from shop.schema.tenancy.here import every_shop

        with every_shop():
            both(chosen.jobs, chosen.open, chosen.times)
    return 0


def both(jobs: int, stay_open: int, times: int) -> None:
    """Measure the demo's shop, make it large, measure it again."""
    from django.core.management import call_command
    from django.test.utils import setup_test_environment

    from shop.demo.saltgate import fill as fill_demo
    from shop.schema.jobs.models import Job
    from shop.schema.measurements.models import Reading

    setup_test_environment()
    call_command("migrate", verbosity=0)
    kept = Path(tempfile.gettempdir()) / "fennock-scale-small.json"
    if Job.objects.exists():
        small = {name: Measured(**one) for name, one in json.loads(kept.read_text()).items()}
        base = Job.objects.filter(pk__lt=FAR).order_by("pk")[0].pk
    else:
        fill_demo()
        base = Job.objects.filter(handed_over_at=None, cancelled_at=None).order_by("pk")[0].pk
        small = run(times, base)
        kept.write_text(json.dumps({name: vars(one) for name, one in small.items()}))
        began = time.perf_counter()
        copies = Copies.for_jobs(jobs, Job.objects.count(), stay_open)
        fill(copies)
        add_readings(copies.readings)
        index()
        analyse()
        print(f"made in {time.perf_counter() - began:.0f} s")
    newest = Job.objects.order_by("-pk")[0].pk // FAR * FAR
    print(f"{Job.objects.count():,} jobs, {Reading.objects.count():,} readings\n")
    report(small, run(times, newest + base))


if __name__ == "__main__":
    sys.exit(main())
