"""Looking after a shop's records: backups, upgrades, checks, people, files."""

import argparse
import os
import subprocess
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from urllib.parse import urlsplit

from launcher import backup, environment, system
from launcher.change_log import files_since, leads_to, moment_of, newest_before, replay
from launcher.change_mark import ChangeMark, require_whole
from launcher.database import NAME, PrivateDatabase
from launcher.say import Halt, note
from launcher.second_place import copy_to, hand_to
from launcher.serving import (
    SERVED,
    as_owner,
    demo_variables,
    django_variables,
    held,
    holder_of,
    prepare,
    running,
    tables_written,
)
from launcher.supervising import end_orphans


def back_up(rest: list[str], root: Path) -> int:
    """Take a backup, while it serves or not."""
    options = _parser("backup", root, to=True, key=True)
    options.add_argument("--keep", type=int, default=0, help="delete all but so many")
    second = os.environ.get("FENNOCK_BACKUP_COPIES")
    options.add_argument("--copy", type=Path, default=second, help="a second directory")
    options.add_argument("--then", help="a command that takes the backup elsewhere")
    chosen = options.parse_args(rest)
    system.ensure_packages(system.DATABASE, system.CRYPTO)
    require_whole(_place_of_mark(chosen.data_dir, root))
    with _reached(chosen.data_dir) as access:
        taken = backup.take(access, chosen.to or chosen.data_dir / "backups", chosen.key)
    places = [taken.parent]
    if chosen.copy:
        places.append(copy_to(chosen.copy.resolve(), taken).parent)
    if chosen.then:
        hand_to(chosen.then, taken)
    if chosen.keep > 0:
        gone = [path for place in places for path in backup.keep_newest(place, chosen.keep)]
        note(f"{len(gone)} older ones are deleted.")
    return 0


@dataclass(frozen=True)
class _Records:
    """A database that nothing serves from: how its owner reaches it, what Django needs, and how the
    serving user gets its rights."""

    access: backup.Access
    variables: dict[str, str]
    grant: Callable[[str], None]


def _address() -> str:
    """Of a server that somebody else runs; empty for the private one."""
    return os.environ.get("FENNOCK_OWNER_DATABASE_URL") or os.environ.get(
        "FENNOCK_DATABASE_URL", ""
    )


def _place_of_mark(home: Path, root: Path) -> Path:
    """Records at an address lie in no directory of ours: the mark stands beside what serves from them."""
    return root / SERVED if _address() else home


def _where(home: Path) -> str:
    return urlsplit(_address()).path[1:] or str(home)


@contextmanager
def _alone(home: Path, root: Path, new: bool = False) -> Iterator[_Records]:
    """The records, to be changed by nobody else meanwhile; with `new` a directory may be without any.

    At an address that is for whoever runs the server to see to: stop Fennock there first.
    """
    url = _address()
    if url:
        variables = django_variables(root) | {"DJANGO_SETTINGS_MODULE": "shop.settings.production"}
        access = backup.Access.by_url(url)
        backup.tidy(access)
        yield _Records(access, variables | {"FENNOCK_DATABASE_URL": url}, _say_rights)
        return
    with _private(home, new) as database:
        variables = as_owner(demo_variables(root, home, database), database)
        access = backup.Access.by_socket(database.socket, NAME)
        backup.tidy(access)
        yield _Records(access, variables, database.grant)


def _say_rights(rights: str) -> None:
    lines = len(rights.splitlines())
    note(f"New tables need rights: `./fennock grants` prints all {lines} of the serving user.")


def restore(rest: list[str], root: Path) -> int:
    """Put a backup in the place of the records; what was there is backed up first.

    It can be cut off anywhere and run again: nobody works on the records until it has come to its end.
    """
    options = _parser("restore", root, key=True)
    options.add_argument("file", type=Path, nargs="?", help="a backup; with --until any before it")
    options.add_argument("--until", type=moment_of, help="also every change up to a moment")
    options.add_argument("--yes", action="store_true", help="do not ask")
    chosen = options.parse_args(rest)
    system.ensure_packages(system.DATABASE, system.CRYPTO)
    home = chosen.data_dir
    if chosen.until and _address():
        raise Halt(
            "--until is for a private database; at an address the server's own log is used.", 2
        )
    if not (chosen.file or chosen.until):
        raise Halt("Which backup? Name its file, or a moment with --until.", 2)
    source = chosen.file or newest_before(home / "backups", chosen.until)
    manifest, _ = backup.read(source, chosen.key)
    if chosen.until and not leads_to(manifest, chosen.until):
        raise Halt(f"{source} was taken after that moment, or without the log of changes.", 2)
    if (
        not chosen.yes
        and input(f"Replace every record in {_where(home)}? Type yes: ").strip() != "yes"
    ):
        note("Nothing was touched.")
        return 1
    home.mkdir(parents=True, exist_ok=True)
    place = _place_of_mark(home, root)
    with _alone(home, root, new=True) as records:
        if chosen.until:
            files_since(records.access, manifest)
        cut_off = ChangeMark.of(place)
        before = cut_off.backup if cut_off else _backed_up(records.access, home, chosen.key)
        ChangeMark("restore", before).put(place)
        manifest = backup.put_back(records.access, source, chosen.key)
        if chosen.until:
            replay(records.access, home / "data", manifest, chosen.until)
        if records.access.logged:  # a later way back begins here, not before it
            backup.take(records.access, home / "backups", chosen.key)
        ChangeMark.clear(place)
    note(f"Restored what was backed up at {manifest['taken_at']}.")
    if chosen.until:
        note(f"And every change up to {chosen.until:%Y-%m-%d %H:%M:%S} UTC.")
    return 0


def _backed_up(access: backup.Access, home: Path, key: Path | None = None) -> str:
    """The path of a backup of what is there; "" where nothing is."""
    return str(backup.take(access, home / "backups", key)) if backup.checksums(access) else ""


def _put_back(access: backup.Access, before: str) -> None:
    if before:
        backup.put_back(access, Path(before))
        if access.logged:
            backup.take(access, Path(before).parent)


def upgrade(rest: list[str], root: Path) -> int:
    """Back up, then bring the records to this version.

    One that was cut off is begun again from its backup, after what is there now was backed up, too. One that
    fails leaves the records as they were.
    """
    home = _parser("upgrade", root).parse_args(rest).data_dir
    system.ensure_packages(system.DATABASE, system.PAPERS, system.CRYPTO)
    environment.ensure_environment(root)
    home.mkdir(parents=True, exist_ok=True)
    place = _place_of_mark(home, root)
    cut_off = ChangeMark.of(place)
    if cut_off and cut_off.command != "upgrade":
        require_whole(place)
    with _alone(home, root) as records:
        before = _backed_up(records.access, home)
        if cut_off:
            note("The last upgrade was cut off; it begins again from its backup.")
            before = cut_off.backup
            _put_back(records.access, before)
        ChangeMark("upgrade", before).put(place)
        try:
            prepare(root, records.variables)
            records.grant(tables_written(root, records.variables))
        except Halt:
            _put_back(records.access, before)
            ChangeMark.clear(place)
            note("The records are as they were before it.")
            raise
        ChangeMark.clear(place)
    note("The records are of this version now.")
    return 0


def verify(rest: list[str], root: Path) -> int:
    """Check everything that must hold between the facts."""
    return _manage("verify", [], _parser("verify", root).parse_args(rest), root)


def create_user(rest: list[str], root: Path) -> int:
    """Add a person, a manager by default; the password is printed once."""
    options = _parser("create-user", root)
    options.add_argument("name")
    options.add_argument("--role", default="manager")
    options.add_argument("--shop", help="its name; a new one is opened")
    chosen = options.parse_args(rest)
    where = ["--shop", chosen.shop] if chosen.shop else []
    return _manage("create_user", [chosen.name, "--role", chosen.role, *where], chosen, root)


def new_password(rest: list[str], root: Path) -> int:
    """A way back for somebody whom no manager can help; the password is printed once."""
    options = _parser("new-password", root)
    options.add_argument("name")
    options.add_argument("--without-code", action="store_true")
    chosen = options.parse_args(rest)
    more = ["--without-code"] if chosen.without_code else []
    return _manage("new_password", [chosen.name, *more], chosen, root)


def write_record(rest: list[str], root: Path) -> int:
    """One bow's or a shop's record, on the standard output."""
    options = _parser("export", root)
    options.add_argument("--bow")
    options.add_argument("--shop")
    chosen = options.parse_args(rest)
    more = [f"--{k}={v}" for k in ("bow", "shop") if (v := getattr(chosen, k))]
    return _manage("export_record", more, chosen, root)


def read_record(rest: list[str], root: Path) -> int:
    """Read a record in, in the name of a manager."""
    options = _parser("import", root)
    options.add_argument("file")
    options.add_argument("--by", required=True)
    options.add_argument("--shop")
    chosen = options.parse_args(rest)
    more = ["--by", chosen.by, *([f"--shop={chosen.shop}"] if chosen.shop else [])]
    return _manage("import_record", [chosen.file, *more], chosen, root)


def grants(rest: list[str], root: Path) -> int:
    """What the serving user may do, table by table, as SQL."""
    return _manage("grants", [], _parser("grants", root).parse_args(rest), root)


def _manage(command: str, more: list[str], chosen: argparse.Namespace, root: Path) -> int:
    """A Django command on the records, served or not."""
    python = str(environment.ensure_environment(root))
    run = [python, "-m", "django", command, *more]
    if os.environ.get("FENNOCK_DATABASE_URL"):
        variables = django_variables(root) | {"DJANGO_SETTINGS_MODULE": "shop.settings.production"}
        return subprocess.run(run, env=variables).returncode
    system.ensure_packages(system.DATABASE)
    home = chosen.data_dir
    if holder_of(home) is not None:
        return subprocess.run(run, env=_as_served(home, root)).returncode
    with _private(home) as database:
        variables = as_owner(demo_variables(root, home, database), database)
        return subprocess.run(run, env=variables).returncode


def _as_served(home: Path, root: Path) -> dict[str, str]:
    """What Django needs to reach a private database that is being served from."""
    database = PrivateDatabase(home)
    database.port = backup.Access.by_socket(PrivateDatabase.socket_of(home), NAME).port()
    return as_owner(demo_variables(root, home, database, anew=False), database)


@contextmanager
def _reached(home: Path) -> Iterator[backup.Access]:
    """The database: by its address in the environment, else the private one, served or started."""
    url = _address()
    if url:
        yield backup.Access.by_url(url)
    elif holder_of(home) is not None:
        yield backup.Access.by_socket(PrivateDatabase.socket_of(home), NAME)
    else:
        with _private(home) as database:
            yield backup.Access.by_socket(database.socket, NAME)


@contextmanager
def _private(home: Path, new: bool = False) -> Iterator[PrivateDatabase]:
    if not new and not (home / "data").exists():
        raise Halt(f"There are no records in {home}.")
    with held(home):
        end_orphans(home)
        with running(PrivateDatabase(home)) as database:
            yield database


def _parser(name: str, root: Path, to: bool = False, key: bool = False) -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog=f"fennock {name}")
    place = root / ".fennock" / "demo"
    parser.add_argument("--data-dir", type=lambda text: Path(text).resolve(), default=place)
    if to:
        parser.add_argument("--to", type=lambda text: Path(text).resolve(), help="a directory")
    if key:
        parser.add_argument("--key", type=Path, help="a key of age-keygen that encrypts the backup")
    return parser
