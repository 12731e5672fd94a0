"""Demo and production: the web server, and the database beside it."""

import argparse
import fcntl
import os
import shutil
import signal
import socket
import subprocess
import time
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path

from launcher import environment, system
from launcher.change_mark import ChangeMark, require_whole
from launcher.database import PrivateDatabase, secret
from launcher.say import Halt, note
from launcher.supervising import HOME_VARIABLE, Kept, end_orphans, keep_running

SERVED = ".fennock"
"""Below the root: what belongs to what is served from here."""
NEWER_DATABASE = 3  # exit code of `manage.py prepare` when the data belong to another version


def demo(rest: list[str], root: Path) -> int:
    """Start everything with the demo shop and stay until Ctrl-C."""
    options = instance_options("demo", rest, root, port=True)
    home = options.data_dir
    system.ensure_packages(system.DATABASE, system.PAPERS)
    environment.ensure_environment(root)
    with held(home):
        require_whole(home)
        end_orphans(home)
        require_free(options.port)
        begin_anew_if_unfinished(home)
        return _demo_in(home, root, options.port)


def _demo_in(home: Path, root: Path, port: int) -> int:
    with running(PrivateDatabase(home)) as database:
        variables = demo_variables(root, home, database)
        prepare(root, as_owner(variables, database), "--demo")
        (home / UNFINISHED).unlink(missing_ok=True)
        database.grant(tables_written(root, as_owner(variables, database)))
        note(f"\n  Fennock is at http://127.0.0.1:{port}/\n")
        note("  Demo logins: ines (manager), tomas (technician), pia (apprentice)")
        note("  Password for each: saltgate-bench\n\n  Ctrl-C stops it.\n")
        kept = [Kept("database", database.start_again, database.process)]
        return serve_until_stopped(root, variables, port, kept)


UNFINISHED = "unfinished"
"""A file that is there while the first start makes database and demo shop: a start that was killed in
between is begun anew, for what it left is neither empty nor whole."""


def begin_anew_if_unfinished(home: Path) -> None:
    """Throw away what a first start that was killed has left; mark a first start as begun."""
    mark = home / UNFINISHED
    if mark.exists():
        note("The first start was not finished; it begins anew.")
        shutil.rmtree(home / "data", ignore_errors=True)
    if not (home / "data").exists():
        mark.touch()


def serve(rest: list[str], root: Path) -> int:
    """Serve with production settings; FENNOCK_* variables say where and with what."""
    options = instance_options("serve", rest, root, port=True)
    absent = [name for name in REQUIRED_VARIABLES if not os.environ.get(name)]
    if absent:
        raise Halt("Set these first: " + ", ".join(absent) + ". README.md says what they mean.", 2)
    system.ensure_packages(system.DATABASE, system.PAPERS)
    environment.ensure_environment(root)
    home = root / SERVED / f"serve-{options.port}"
    variables = django_variables(root) | in_home(home)
    variables |= {"DJANGO_SETTINGS_MODULE": "shop.settings.production"}
    owner = os.environ.get("FENNOCK_OWNER_DATABASE_URL", variables["FENNOCK_DATABASE_URL"])
    with held(home):
        require_whole(root / SERVED)
        end_orphans(home)
        require_free(options.port)
        prepare(root, variables | {"FENNOCK_DATABASE_URL": owner})
        return serve_until_stopped(root, variables, options.port)


REQUIRED_VARIABLES = ("FENNOCK_SECRET_KEY", "FENNOCK_DATABASE_URL", "FENNOCK_ALLOWED_HOSTS")


def stop(rest: list[str], root: Path) -> int:
    home = instance_options("stop", rest, root).data_dir
    pid = holder_of(home)
    if pid is None:
        note("No demo is running.")
        return 0
    os.kill(pid, signal.SIGTERM)
    until = time.monotonic() + 40
    while time.monotonic() < until and holder_of(home) is not None:
        time.sleep(0.1)
    if holder_of(home) is not None:
        raise Halt(f"Process {pid} did not stop within 40 s.")
    note("Stopped.")
    return 0


def reset_demo(rest: list[str], root: Path) -> int:
    options = instance_options("reset-demo", rest, root, yes=True)
    home = options.data_dir
    if not (home / "data").exists():
        note("There is no demo data.")
        return 0
    if not options.yes:
        answer = input(f"Throw away every record in {home}? Type yes: ")
        if answer.strip().lower() != "yes":
            note("Nothing was touched.")
            return 1
    with held(home):
        for name in ("data", "run", "media", "static"):
            shutil.rmtree(home / name, ignore_errors=True)
        ChangeMark.clear(home)
    note("The demo data are gone; the next `./fennock demo` makes them anew.")
    return 0


def manage(rest: list[str], root: Path) -> int:
    """Django's commands on the demo's data (the demo must not be running)."""
    home = root / ".fennock" / "demo"
    system.ensure_packages(system.DATABASE, system.PAPERS)
    python = environment.ensure_environment(root)
    require_whole(home)
    with held(home), running(PrivateDatabase(home)) as database:
        variables = as_owner(demo_variables(root, home, database), database)
        return subprocess.run([python, "-m", "django", *rest], env=variables).returncode


def django_variables(root: Path) -> dict[str, str]:
    return dict(os.environ) | {"PYTHONPATH": str(root / "src"), "PYTHONUNBUFFERED": "1"}


def in_home(home: Path, anew: bool = True) -> dict[str, str]:
    """What ties a process to an instance: its directory, a temporary directory of its own, and one where
    its processes count, from zero if they begin anew."""
    place, counts = home / "run" / "tmp", home / "run" / "counts"
    if anew:
        shutil.rmtree(counts, ignore_errors=True)
    for one in (place, counts):
        one.mkdir(parents=True, exist_ok=True)
    return {HOME_VARIABLE: str(home), "TMPDIR": str(place), "PROMETHEUS_MULTIPROC_DIR": str(counts)}


def demo_variables(
    root: Path, home: Path, database: PrivateDatabase, anew: bool = True
) -> dict[str, str]:
    return (
        django_variables(root)
        | in_home(home, anew)
        | {
            "DJANGO_SETTINGS_MODULE": "shop.settings.demo",
            "FENNOCK_SECRET_KEY": secret(home / "secret-key"),
            "FENNOCK_DATABASE_URL": database.url,
            "FENNOCK_STATIC_ROOT": str(home / "static"),
        }
    )


def as_owner(variables: dict[str, str], database: PrivateDatabase) -> dict[str, str]:
    """The same, but connected as the user that may make and change tables."""
    return variables | {"FENNOCK_DATABASE_URL": database.owner_url}


def prepare(root: Path, variables: dict[str, str], *options: str) -> None:
    """Migrate, collect static files, fill an empty demo: one process, so a start is quick."""
    python = environment.python_path(root)
    command = [str(python), "-m", "django", "prepare", *options]
    code = subprocess.run(command, env=variables).returncode
    if code == NEWER_DATABASE:
        message = (
            "These data were written by another version of Fennock. Nothing was touched. "
            "`./fennock reset-demo` makes the demo shop anew."
        )
        raise Halt(message, code)
    if code:
        raise Halt("The database could not be prepared; the lines above say why.", code)


def serve_until_stopped(
    root: Path, variables: dict[str, str], port: int, first: Sequence[Kept] = ()
) -> int:
    """Keep the web server and the background worker running, after what comes `first`; Ctrl-C or
    SIGTERM ends them in order."""
    server = Kept("web server", lambda: start_gunicorn(root, variables, port))
    worker = Kept("background worker", lambda: start_worker(root, variables))
    return keep_running([*first, server, worker])


def tables_written(root: Path, variables: dict[str, str]) -> str:
    """What the serving user may do with each table, as SQL (`manage.py grants`)."""
    command = [str(environment.python_path(root)), "-m", "django", "grants"]
    done = subprocess.run(command, env=variables, capture_output=True, text=True)
    if done.returncode:
        raise Halt(f"What the serving user may do is not known:\n{done.stderr[-800:]}")
    return done.stdout


THREADS = 16
"""Of each process of the web server; a few draw heavy pages (shop.ui.turns), the others are free."""


def start_worker(root: Path, variables: dict[str, str]) -> subprocess.Popen[bytes]:
    """Django's worker for tasks: priors and fits, one at a time, kept in the database. Pages come first."""
    command = ["nice", "-n", "10", str(environment.python_path(root)), "-m", "django", "db_worker"]
    command += ["--interval", "0.5", "--no-startup-delay", "--verbosity", "0"]
    own = {"FENNOCK_COMPUTE": "here"}  # it is a process beside the pages already
    return subprocess.Popen(command, env=variables | own, start_new_session=True)


def start_gunicorn(
    root: Path, variables: dict[str, str], port: int, workers: int = 0
) -> subprocess.Popen[bytes]:
    """As many processes as there are cores, two to four, each with threads: one slow page does not
    keep the others waiting."""
    processes = workers or min(max(os.cpu_count() or 2, 2), 4)
    gunicorn = environment.python_path(root).parent / "gunicorn"
    place = f"{variables.get('FENNOCK_BIND', '127.0.0.1')}:{port}"
    command = [str(gunicorn), "shop.wsgi:application", "--bind", place]
    command += ["--worker-class", "gthread", "--workers", str(processes), "--threads", str(THREADS)]
    command += ["--timeout", "90", "--graceful-timeout", "20", "--keep-alive", "5"]
    command += ["--no-control-socket", "--log-level", "warning"]
    return subprocess.Popen(command, env=variables, start_new_session=True)


@contextmanager
def running(database: PrivateDatabase) -> Iterator[PrivateDatabase]:
    try:
        database.start()
        yield database
    finally:
        database.stop()


@contextmanager
def held(home: Path) -> Iterator[None]:
    """Only one Fennock works on a data directory; the second learns which process has it."""
    home.mkdir(parents=True, exist_ok=True)
    with open(home / "lock", "a+") as file:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            raise Halt(
                f"{home} is in use by process {holder_of(home)}. "
                "`./fennock stop` ends it, or choose another place with --data-dir."
            ) from None
        file.truncate(0)
        file.write(str(os.getpid()))
        file.flush()
        yield


def holder_of(home: Path) -> int | None:
    """The process that holds this data directory, or None."""
    path = home / "lock"
    if not path.exists():
        return None
    with open(path) as file:
        try:
            fcntl.flock(file, fcntl.LOCK_SH | fcntl.LOCK_NB)
        except OSError:
            return int(file.read() or 0) or None
    return None


def require_free(port: int) -> None:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError as error:
            message = f"Port {port} is not free ({error.strerror}). Try --port {port + 1}."
            raise Halt(message) from None


def instance_options(
    name: str,
    rest: list[str],
    root: Path,
    port: bool = False,
    yes: bool = False,
    usual: str = "demo",
) -> argparse.Namespace:
    """Where an instance lies, and what else its command takes."""
    parser = argparse.ArgumentParser(prog=f"fennock {name}")
    place = root / ".fennock" / usual
    parser.add_argument("--data-dir", type=lambda text: Path(text).resolve(), default=place)
    if port:
        parser.add_argument("--port", type=int, default=8090)
    if yes:
        parser.add_argument("--yes", action="store_true", help="do not ask")
    return parser.parse_args(rest)
