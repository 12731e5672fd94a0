"""Long computations are made in a process beside, one that is killed is started again, none is left over."""

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from bowcore.errors import NoModel
from shop.casework.engine import heavy
from shop.casework.engine.computing import prior_values
from shop.casework.engine.heavy import computed

SRC = Path(__file__).resolve().parents[2] / "src"


@pytest.fixture
def beside(settings):
    settings.FENNOCK_COMPUTE = "beside"
    yield
    if heavy._pool is not None:
        heavy._pool.shutdown()
        heavy._pool = None


def gone(pid):
    try:
        os.kill(pid, 0)
    except ProcessLookupError:
        return True
    return "\nState:\tZ" in Path(f"/proc/{pid}/status").read_text()


def test_it_is_made_in_another_process_that_gives_way_to_pages(beside):
    pid = computed(os.getpid)
    assert pid != os.getpid() and computed(os.getpid) == pid
    assert os.getpriority(os.PRIO_PROCESS, pid) == os.getpriority(os.PRIO_PROCESS, 0) + 5


def test_one_that_was_killed_is_started_again(beside):
    pid = computed(os.getpid)
    os.kill(pid, signal.SIGKILL)
    until = time.monotonic() + 10
    while not gone(pid) and time.monotonic() < until:
        time.sleep(0.05)
    assert computed(os.getpid) not in (pid, os.getpid())


def test_an_error_comes_back_as_it_was(beside):
    with pytest.raises(ZeroDivisionError):
        computed(divmod, 1, 0)


def test_here_is_here(settings):
    settings.FENNOCK_COMPUTE = "here"
    assert computed(os.getpid) == os.getpid()


def test_it_ends_when_the_serving_process_is_killed():
    script = (
        "import os, time\n"
        "from django.conf import settings\n"
        "settings.configure(FENNOCK_COMPUTE='beside')\n"
        "from shop.casework.engine.heavy import computed\n"
        "if __name__ == '__main__':\n"
        "    print(computed(os.getpid), flush=True)\n"
        "    time.sleep(60)\n"
    )
    place = Path(os.environ.get("TMPDIR", "/tmp")) / f"serving-{os.getpid()}.py"
    place.write_text(script)
    variables = os.environ | {"PYTHONPATH": str(SRC)}
    serving = subprocess.Popen(
        [sys.executable, str(place)], stdout=subprocess.PIPE, text=True, env=variables
    )
    try:
        pid = int(serving.stdout.readline())
        assert not gone(pid)
        serving.kill()
        serving.wait()
        until = time.monotonic() + 15
        while not gone(pid) and time.monotonic() < until:
            time.sleep(0.1)
        assert gone(pid)
    finally:
        serving.kill()
        place.unlink()


def test_a_bow_without_a_twin_has_neither(monkeypatch):
    def none(_):
        raise NoModel("no such bow")

    monkeypatch.setattr("shop.casework.engine.computing.build_twin", none)
    assert prior_values(None) == (None, None)
