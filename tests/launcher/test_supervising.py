"""Processes are kept running, orphans of an instance are ended, a killed first start begins anew."""

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from launcher import serving
from launcher.say import Halt
from launcher.serving import UNFINISHED, begin_anew_if_unfinished, in_home
from launcher.supervising import HOME_VARIABLE, Kept, end_orphans, keep_running, processes_of

SLEEP = [sys.executable, "-c", "import time; time.sleep(60)"]


def asleep(home=None):
    own = {} if home is None else {HOME_VARIABLE: str(home)}
    return subprocess.Popen(SLEEP, env=os.environ | own, start_new_session=True)


@pytest.fixture
def kept():
    one = Kept("sleeper", asleep)
    yield one
    one.end()


def test_what_has_ended_is_started_again_after_a_wait(kept, capsys):
    kept.look(0.0)
    first = kept.process
    first.kill()
    first.wait()
    kept.look(10.0)
    assert kept.process is None and kept.due_at == 11.0
    kept.look(10.5)
    assert kept.process is None
    kept.look(11.0)
    assert kept.process is not None and kept.process.pid != first.pid
    assert "The sleeper has ended" in "".join(capsys.readouterr())


def test_it_waits_longer_each_time_up_to_a_limit(kept):
    waits, now = [], 0.0
    for _ in range(8):
        kept.look(now)
        kept.process.kill()
        kept.process.wait()
        kept.look(now)
        waits.append(kept.due_at - now)
        now = kept.due_at
    assert waits == [1, 2, 4, 8, 16, 30, 30, 30]


def test_after_a_while_it_counts_as_sound_again(kept):
    kept.failures = 5
    kept.look(0.0)
    kept.look(30.0)
    assert kept.failures == 5
    kept.look(61.0)
    assert kept.failures == 0


def test_what_does_not_start_is_tried_again():
    def never():
        raise Halt("no room")

    one = Kept("cellar", never)
    one.look(0.0)
    assert one.process is None and one.due_at == 1.0


def test_all_end_with_the_launcher_the_last_one_first():
    ended = []

    class Quick(Kept):
        def end(self):
            ended.append(self.name)
            super().end()

    def stop(_):
        raise KeyboardInterrupt

    both = [Quick("database", asleep), Quick("server", asleep)]
    assert keep_running(both, pause=stop) == 0
    assert ended == ["server", "database"]
    assert all(one.process.poll() is not None for one in both)


def test_orphans_of_this_directory_are_ended_and_nobody_elses(tmp_path):
    mine, other = tmp_path / "mine", tmp_path / "mine-too"
    ours, theirs = asleep(mine), asleep(other)
    try:
        until = time.monotonic() + 10
        while ours.pid not in processes_of(mine) and time.monotonic() < until:
            time.sleep(0.05)
        assert processes_of(mine) == [ours.pid]
        end_orphans(mine)
        ours.wait(10)
        assert theirs.poll() is None and processes_of(other) == [theirs.pid]
    finally:
        theirs.kill()
        theirs.wait()


def test_a_first_start_that_was_killed_begins_anew(tmp_path):
    begin_anew_if_unfinished(tmp_path)
    assert (tmp_path / UNFINISHED).exists()
    (tmp_path / "data" / "mysql").mkdir(parents=True)
    begin_anew_if_unfinished(tmp_path)
    assert not (tmp_path / "data").exists() and (tmp_path / UNFINISHED).exists()


def test_a_finished_start_keeps_its_data(tmp_path):
    (tmp_path / "data").mkdir()
    begin_anew_if_unfinished(tmp_path)
    assert (tmp_path / "data").exists() and not (tmp_path / UNFINISHED).exists()


def test_each_instance_has_a_temporary_directory_of_its_own(tmp_path):
    one, other = in_home(tmp_path / "a"), in_home(tmp_path / "b")
    assert one["TMPDIR"] != other["TMPDIR"] and Path(one["TMPDIR"]).is_dir()
    assert one[HOME_VARIABLE] == str(tmp_path / "a")


def test_the_server_has_threads_and_a_time_limit(monkeypatch, tmp_path):
    started = []
    monkeypatch.setattr(serving.subprocess, "Popen", lambda command, **_: started.append(command))
    serving.start_gunicorn(tmp_path, {}, 8090)
    (command,) = started
    assert "gthread" in command and "--timeout" in command
    assert 2 <= int(command[command.index("--workers") + 1]) <= 4


def test_what_a_killed_process_has_left_running_is_ended_before_it_starts_again():
    """A web server's workers outlive it and hold its port: the new one could not listen."""
    command = ["sh", "-c", "sleep 60 & echo $!; wait"]

    def start():
        return subprocess.Popen(command, stdout=subprocess.PIPE, start_new_session=True)

    kept = Kept("web server", start)
    kept.look(0.0)
    worker = int(kept.process.stdout.readline())
    kept.process.kill()
    kept.process.wait()
    assert Path(f"/proc/{worker}").exists()
    kept.look(1.0)
    until = time.monotonic() + 10
    while time.monotonic() < until and running_still(worker):
        time.sleep(0.05)
    assert not running_still(worker)
    kept.look(10.0)
    assert kept.process is not None and kept.process.poll() is None
    os.killpg(kept.process.pid, signal.SIGKILL)
    kept.process.wait()


def running_still(pid):
    """Whether a process runs; a zombie that nobody has waited for does not."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[0] != "Z"
    except FileNotFoundError:
        return False
