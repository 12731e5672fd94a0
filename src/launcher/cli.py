"""The table of commands and the way into each."""

import os
import signal
import sys
from collections.abc import Callable
from pathlib import Path
from typing import NoReturn

from launcher.say import Halt, complain

HELP = """Fennock, the bow technician's bench companion.

  ./fennock demo          start it with the demo shop   [--port N] [--data-dir DIR]
  ./fennock test          lint, types, contracts, all tests   (options go to pytest)

  ./fennock cluster-demo  the demo shop on three databases and two servers   [--port N] [--data-dir DIR]
  ./fennock stop          stop a running demo            [--data-dir DIR]
  ./fennock reset-demo    throw the demo's data away     [--data-dir DIR] [--yes]
  ./fennock backup        a checked backup, while it serves too   [--to DIR] [--copy DIR] [--key FILE] ...
  ./fennock restore FILE  put a backup in the place of the records   [--key FILE] [--yes]
  ./fennock upgrade       back up, then bring the records to this version
  ./fennock verify        check all that must hold between the facts
  ./fennock grants        what the user that serves may do with each table, as SQL
  ./fennock create-user NAME   add a person, a manager by default    [--role ROLE] [--shop NAME]
  ./fennock new-password NAME  a way back in, also past a lock    [--without-code]
  ./fennock export        a record as JSON, of the first shop   [--shop NAME] [--bow N]
  ./fennock import FILE   read a record in   --by NAME [--shop NAME]
  ./fennock serve         serve for real; settings come from FENNOCK_* variables
  ./fennock core ...      the computing core by itself: JSON in, JSON out
  ./fennock screenshots   take docs/screenshots anew from the demo shop
  ./fennock manage ...    Django's own commands on the demo's database
  ./fennock lock          pin the dependencies anew (needs the package registry)
  ./fennock help          this list

The demo keeps everything it writes under .fennock/ in this folder.
"""


def main(arguments: list[str], root: Path) -> int:
    """Run one command; every expected failure ends in one clear sentence."""
    command, rest = (arguments[0], arguments[1:]) if arguments else ("help", [])
    if command == "core":
        run_core(rest, root)
    signal.signal(signal.SIGTERM, _stop_as_ctrl_c)
    try:
        return find_command(command)(rest, root)
    except Halt as halt:
        complain(str(halt))
        return halt.code
    except KeyboardInterrupt:
        complain("Stopped.")
        return 130


def find_command(name: str) -> Callable[[list[str], Path], int]:
    """The function behind a command's name.

    Imported here and not above, so that `core` starts without loading the rest.
    """
    from launcher import checking, cluster, keeping, locking, pictures, serving

    commands: dict[str, Callable[[list[str], Path], int]] = {
        "demo": serving.demo,
        "cluster-demo": cluster.cluster_demo,
        "stop": serving.stop,
        "reset-demo": serving.reset_demo,
        "serve": serving.serve,
        "manage": serving.manage,
        "backup": keeping.back_up,
        "restore": keeping.restore,
        "upgrade": keeping.upgrade,
        "verify": keeping.verify,
        "grants": keeping.grants,
        "create-user": keeping.create_user,
        "new-password": keeping.new_password,
        "export": keeping.write_record,
        "import": keeping.read_record,
        "test": checking.test,
        "screenshots": pictures.screenshots,
        "lock": locking.lock,
        "help": show_help,
        "--help": show_help,
        "-h": show_help,
    }
    if name not in commands:
        raise Halt(f"'{name}' is not a command of fennock.\n\n{HELP}", 2)
    return commands[name]


def show_help(_rest: list[str], _root: Path) -> int:
    print(HELP, end="")
    return 0


def run_core(rest: list[str], root: Path) -> NoReturn:
    """Hand over to the core's own command line, in this process's place."""
    from launcher import environment

    python = environment.python_path(root)
    if not python.exists():
        try:
            environment.ensure_environment(root)
        except Halt as halt:
            complain(str(halt))
            sys.exit(halt.code)
    variables = os.environ | {"PYTHONPATH": str(root / "src")}
    sys.stdout.flush()
    os.execve(python, [str(python), "-m", "bowcore.io.cli", *rest], variables)


def _stop_as_ctrl_c(_signal: int, _frame: object) -> None:
    raise KeyboardInterrupt
