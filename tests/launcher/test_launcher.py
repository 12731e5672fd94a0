"""The one command: it refuses in a sentence, and touches nothing when it refuses."""

import os
import socket
import subprocess
import sys
from pathlib import Path

import pytest
from django.core.management import call_command
from django.db import connection

from launcher import system
from launcher.cli import HELP, find_command, main
from launcher.database import free_port, secret
from launcher.say import Halt
from launcher.serving import held, require_free

ROOT = Path(__file__).resolve().parents[2]


def test_help_lists_every_command(capsys):
    assert main(["help"], ROOT) == 0
    assert "./fennock demo" in capsys.readouterr().out
    for name in ("demo", "stop", "reset-demo", "serve", "test", "screenshots", "lock"):
        assert find_command(name) and f"./fennock {name}" in HELP


def test_an_unknown_command_is_said(capsys):
    assert main(["dance"], ROOT) == 2
    assert "'dance' is not a command" in capsys.readouterr().err


def test_a_taken_port_is_said_with_another_to_try():
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        with pytest.raises(Halt, match=f"Port {port} is not free.*--port {port + 1}"):
            require_free(port)
    require_free(free_port())


def test_a_data_directory_has_one_fennock_and_the_second_learns_which(tmp_path):
    script = (
        "import sys, time; from pathlib import Path; from launcher.serving import held\n"
        f"with held(Path({str(tmp_path)!r})): print('held', flush=True); time.sleep(60)"
    )
    variables = os.environ | {"PYTHONPATH": str(ROOT / "src")}
    other = subprocess.Popen(
        [sys.executable, "-c", script], stdout=subprocess.PIPE, env=variables, text=True
    )
    try:
        assert other.stdout.readline() == "held\n"
        before = sorted(tmp_path.iterdir())
        with pytest.raises(Halt, match=f"in use by process {other.pid}"), held(tmp_path):
            pass
        assert sorted(tmp_path.iterdir()) == before
    finally:
        other.kill()
        other.wait()
    with held(tmp_path):
        pass


def test_without_root_the_line_to_run_is_printed(monkeypatch):
    monkeypatch.setattr(system, "missing", lambda packages: ["chromium"])
    monkeypatch.setattr(os, "geteuid", lambda: 1000)
    with pytest.raises(Halt) as caught:
        system.ensure_packages(system.BROWSER)
    assert caught.value.code == 2
    assert "apt-get install -y --no-install-recommends chromium" in str(caught.value)


def test_missing_packages_are_found():
    assert system.missing(["no-such-package-at-all"]) == ["no-such-package-at-all"]


def test_serving_without_settings_names_them(monkeypatch, capsys):
    monkeypatch.delenv("FENNOCK_DATABASE_URL", raising=False)
    assert main(["serve"], ROOT) == 2
    assert "FENNOCK_DATABASE_URL" in capsys.readouterr().err


def test_a_secret_is_kept_and_private(tmp_path):
    first = secret(tmp_path / "word")
    assert secret(tmp_path / "word") == first
    assert (tmp_path / "word").stat().st_mode & 0o077 == 0


@pytest.mark.django_db
def test_a_database_of_a_newer_version_is_not_touched():
    row = "INSERT INTO django_migrations (app, name, applied) VALUES ('jobs', '9999_later', NOW())"
    connection.cursor().execute(row)
    with pytest.raises(SystemExit) as caught:
        call_command("prepare")
    assert caught.value.code == 3


def test_the_core_starts_without_django_or_scipy():
    code = "import sys, bowcore.io.cli; print(sorted({'django', 'scipy'} & set(sys.modules)))"
    variables = os.environ | {"PYTHONPATH": str(ROOT / "src")}
    done = subprocess.run(
        [sys.executable, "-c", code], env=variables, capture_output=True, text=True, check=True
    )
    assert done.stdout.strip() == "[]"
