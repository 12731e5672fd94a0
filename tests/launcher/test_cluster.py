"""The cluster's own decisions: who begins after all were down, what the front is given, how it is checked."""

import shutil
import subprocess

import pytest

from launcher.cluster import NODES, READY_SCRIPT, Front, Node
from launcher.say import Halt

PORTS = [
    {"sql": 4101 + n, "group": 4201 + n, "ist": 4301 + n, "sst": 4401 + n} for n in range(NODES)
]


@pytest.fixture
def nodes(tmp_path, monkeypatch):
    """Three that are down; what each would find in its own logs can be set."""
    made = [Node(tmp_path, number, PORTS) for number in range(NODES)]
    for one in made:
        one.others = [other for other in made if other is not one]
        one.found = ""
        monkeypatch.setattr(one, "recovered", lambda one=one: one.found)
        monkeypatch.setattr(one, "wait_until_ready", lambda: None)
        monkeypatch.setattr(one, "_launch", lambda one=one: setattr(one, "process", FakeProcess()))
    return made


class FakeProcess:
    def poll(self):
        return None


def test_the_one_with_the_newest_records_begins(nodes):
    for one, position in zip(nodes, ("a:10", "a:12", "a:-1"), strict=True):
        one.found = position
    with pytest.raises(Halt, match="node2 has newer records"):
        nodes[0].begin()
    nodes[1].begin()
    assert nodes[1].first and "--wsrep-new-cluster" in nodes[1].more_options()


def test_the_others_join_it_and_ask_for_what_they_lack(nodes):
    nodes[0].found = "a:12"
    nodes[0].begin()
    nodes[1].found = "a:10"
    nodes[1].begin()
    options = nodes[1].more_options()
    assert "--wsrep-new-cluster" not in options and "--wsrep-start-position=a:10" in options


def test_of_equals_the_first_begins(nodes):
    nodes[0].begin()
    assert nodes[0].first and "--wsrep-start-position=" not in str(nodes[0].more_options())


def test_one_that_begins_anew_says_that_this_is_safe(nodes, tmp_path):
    state = nodes[0].data / "grastate.dat"
    nodes[0].data.mkdir(parents=True)
    state.write_text("uuid: a\nseqno: -1\nsafe_to_bootstrap: 0\n")
    nodes[0].begin()
    assert "safe_to_bootstrap: 1" in state.read_text()


def test_writes_go_to_one_node_and_the_others_stand_by(nodes, tmp_path):
    front = Front(tmp_path, 8190, 4000, nodes, [4501, 4502])
    text = front.configuration()
    assert "server node1 127.0.0.1:4101 check\n" in text
    assert text.count(" backup") == NODES - 1 and "server app2 127.0.0.1:4502 check" in text
    assert READY_SCRIPT.stat().st_mode & 0o111 and str(READY_SCRIPT) in text
    if shutil.which("haproxy"):
        (tmp_path / "haproxy.cfg").write_text(text)
        done = subprocess.run(
            ["haproxy", "-c", "-f", str(tmp_path / "haproxy.cfg")], capture_output=True
        )
        assert done.returncode == 0, done.stderr


def test_a_node_is_ready_only_when_it_is_synced(tmp_path):
    """4 is `Synced`, in MariaDB's reference of wsrep_local_state; every other state waits."""
    for state, ready in (("4", 0), ("2", 1), ("", 1)):
        client = tmp_path / "mariadb"
        client.write_text(f"#!/bin/sh\necho {state}\n")
        client.chmod(0o755)
        script = READY_SCRIPT.read_text().replace("/usr/bin/mariadb", str(client))
        done = subprocess.run(["sh", "-c", script, "check", "-", "-", "127.0.0.1", "4101"])
        assert done.returncode == ready, state
