"""Records of every released version are restored and brought to this one, whole."""

import sys
from pathlib import Path

import pytest

from launcher import backup, environment, keeping
from launcher.database import NAME

RELEASED = sorted((Path(__file__).parent / "released").glob("*.tar"))
ROOT = Path(__file__).resolve().parents[2]


@pytest.mark.parametrize("records", RELEASED, ids=lambda path: path.stem)
def test_records_of_a_released_version_come_to_this_one(records, tmp_path, monkeypatch):
    monkeypatch.delenv("FENNOCK_DATABASE_URL", raising=False)
    monkeypatch.delenv("FENNOCK_OWNER_DATABASE_URL", raising=False)
    monkeypatch.setattr(environment, "ensure_environment", lambda root: Path(sys.executable))
    monkeypatch.setattr(environment, "python_path", lambda root: Path(sys.executable))
    home = tmp_path / "home"
    place = ["--data-dir", str(home)]
    assert keeping.restore([str(records), "--yes", *place], ROOT) == 0
    assert keeping.upgrade(place, ROOT) == 0
    assert keeping.verify(place, ROOT) == 0  # every rule of the records holds
    manifest, _ = backup.read(records)
    with keeping._reached(home) as access:
        assert access.schema == NAME
        tables = backup.checksums(access)
        made = access.ask("SELECT CONCAT(app, '/migrations/', name, '.py') FROM django_migrations")
    ours = {path.name for path in (ROOT / "src" / "shop" / "schema").iterdir()}
    for (step,) in made:  # what a shop has gone through is never rewritten
        if step.split("/")[0] in ours:
            assert (ROOT / "src" / "shop" / "schema" / step).exists(), step
    for name in ("jobs_job", "measurements_reading", "audit_event", "customers_customer"):
        assert tables[name]["rows"] == manifest["tables"][name]["rows"] > 0
