"""Keep the demo's records as those of a released version, without what can be computed anew.

    python tests/launcher/released/take.py BACKUP NAME

Run it once for each version that is tagged, on a backup of its demo (`./fennock backup`); a test upgrades
from every file here. None of them is ever made again: what lies in shops does not change either.
"""

import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[3]
sys.path.insert(0, str(ROOT / "src"))

from launcher import backup  # noqa: E402
from launcher.checking import scratch  # noqa: E402
from launcher.database import NAME, PrivateDatabase  # noqa: E402
from launcher.serving import running  # noqa: E402

COMPUTED = ("engine_modelprior", "kept_answers", "accounts_loginsession", "axes_accesslog")


def main(source: str, name: str) -> None:
    """Write the file beside this one."""
    here = Path(__file__).parent
    with running(PrivateDatabase(scratch(), throw_away=True)) as database:
        access = backup.Access.by_socket(database.socket, NAME)
        backup.put_back(access, Path(source))
        for table in COMPUTED:
            access.ask(f"DELETE FROM {table}")
        backup.take(access, here).rename(here / f"{name}.tar")


if __name__ == "__main__":
    main(*sys.argv[1:])
