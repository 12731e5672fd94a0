"""`./fennock screenshots`: the pictures in docs/, from a fresh demo shop, in a real browser."""

import subprocess
import time
from functools import partial
from pathlib import Path

from launcher import environment, system
from launcher.checking import scratch
from launcher.database import PrivateDatabase, free_port
from launcher.serving import (
    as_owner,
    demo_variables,
    prepare,
    running,
    start_gunicorn,
    start_worker,
    tables_written,
)
from launcher.supervising import Kept


def screenshots(rest: list[str], root: Path) -> int:
    """Take them all, or those whose names are given."""
    system.ensure_packages(system.DATABASE, system.PAPERS, system.BROWSER)
    python = environment.ensure_environment(root, for_tests=True)
    home, port = scratch(), free_port()
    with running(PrivateDatabase(home, throw_away=True)) as database:
        variables = demo_variables(root, home, database)
        prepare(root, as_owner(variables, database), "--demo")
        database.grant(tables_written(root, as_owner(variables, database)))
        server = Kept("web server", partial(start_gunicorn, root, variables, port))
        worker = Kept("background worker", partial(start_worker, root, variables))
        for one in (server, worker):
            one.look(time.monotonic())
        try:
            script = str(root / "docs" / "take_screenshots.py")
            command = [str(python), script, f"http://127.0.0.1:{port}", *rest]
            return subprocess.run(command, cwd=root, env=variables).returncode
        finally:
            server.end()
            worker.end()
