"""`./fennock cluster-demo`: three database nodes (Galera), two application servers, haproxy in front of both.

All on 127.0.0.1, kept running by this process. SIGHUP restarts the application servers one after the
other without a refused request. The same for three machines: deploy/cluster.
"""

import csv
import io
import json
import os
import re
import secrets
import signal
import socket
import subprocess
import time
from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Any

from launcher import environment, system
from launcher.database import UNLOGGED, USER, PrivateDatabase, secret
from launcher.say import Halt, note
from launcher.serving import (
    as_owner,
    demo_variables,
    held,
    in_home,
    instance_options,
    prepare,
    start_gunicorn,
    start_worker,
    tables_written,
)
from launcher.supervising import HOME_VARIABLE, Kept, end_orphans, keep_running

NODES, APPLICATIONS = 3, 2
READY_SCRIPT = Path(__file__).resolve().parents[2] / "deploy" / "cluster" / "node-ready"
"""Asks a node for haproxy whether it has every record and takes more."""
AWAY_PAGE = READY_SCRIPT.parents[1] / "away.http"
PROVIDER = Path("/usr/lib/galera/libgalera_smm.so")
CHECKER = "check"
"""The database user with which haproxy asks whether a node is ready; it may do nothing else."""
TIMING = "evs.keepalive_period=PT0.5S;evs.inactive_check_period=PT0.5S;evs.suspect_timeout=PT2S"
TIMING += ";evs.inactive_timeout=PT4S;evs.install_timeout=PT4S"
"""A node that says nothing for two seconds is left out by the others."""
DRAIN_S = 1.0
LOWEST_PORT, FIRST_PLACES, HIGHEST_PORT = 20_000, 8_000, 32_000


class Node(PrivateDatabase):
    """One of the databases, each of which has all records."""

    def __init__(self, home: Path, number: int, ports: list[dict[str, int]]):
        super().__init__(home / f"node{number + 1}")
        self.number, self.ports, self.shared = number, ports, home
        self.port = ports[number]["sql"]
        self.others: list[Node] = []
        self.first = False
        self.position = ""

    @property
    def name(self) -> str:
        return f"node{self.number + 1}"

    @property
    def alive(self) -> bool:
        return self.process is not None and self.process.poll() is None

    def begin(self) -> subprocess.Popen[bytes]:
        """Join the nodes that run; where none does, the one with the newest records begins anew. One that
        joins is not waited for: the front looks whether it is ready.

        Raises
        ------
        Halt
            Another one has newer records and has to begin.
        """
        self.data.mkdir(parents=True, exist_ok=True)
        self.position = self.recovered()
        self.first = not any(one.alive for one in self.others)
        if self.first:
            newest = max([self, *self.others], key=lambda one: (one.sequence(), -one.number))
            if newest is not self:
                raise Halt(f"{newest.name} has newer records and begins.")
            self._may_begin()
        self._launch()
        if self.first:
            self.wait_until_ready()
        assert self.process is not None
        return self.process

    def sequence(self) -> int:
        """How far its records go; -1 if it has none."""
        found = self.position or self.recovered()
        return int(found.rpartition(":")[2] or -1)

    def recovered(self) -> str:
        """`cluster:sequence` of its last commit, which the server finds in its own logs."""
        if not (self.data / "mysql").exists():
            return ""
        log = self.home / "recover.log"
        log.unlink(missing_ok=True)
        command = [
            "mariadbd",
            *self._common(),
            "--wsrep-recover",
            f"--log-error={log}",
            "--skip-networking",
        ]
        command += [f"--socket={self.run / 'r.sock'}", f"--pid-file={self.run / 'r.pid'}"]
        subprocess.run(command, capture_output=True)
        text = log.read_text(errors="replace") if log.exists() else ""
        found = re.findall(r"Recovered position:\s*([0-9a-f-]+:-?\d+)", text)
        return found[-1] if found else ""

    def more_options(self) -> list[str]:
        mine = self.ports[self.number]
        members = ",".join(f"127.0.0.1:{one['group']}" for one in self.ports)
        listens = f"gmcast.listen_addr=tcp://127.0.0.1:{mine['group']};ist.recv_addr=127.0.0.1:{mine['ist']}"
        options = [
            *UNLOGGED,
            "--wsrep-on=ON",
            f"--wsrep-provider={PROVIDER}",
            "--wsrep-cluster-name=fennock",
            f"--wsrep-cluster-address=gcomm://{members}",
            f"--wsrep-node-name={self.name}",
            "--wsrep-node-address=127.0.0.1",
            "--wsrep-sst-method=rsync",
            f"--wsrep-sst-receive-address=127.0.0.1:{mine['sst']}",
            f"--wsrep-sst-donor=node{NODES},node{NODES - 1},",
            f"--wsrep-provider-options={listens};gcache.size=128M;{TIMING}",
            "--binlog-format=ROW",
            "--log-bin-trust-function-creators=ON",
            "--innodb-autoinc-lock-mode=2",
            "--default-storage-engine=InnoDB",
            "--wsrep-sync-wait=1",  # a node never answers from before what another has accepted
        ]
        if self.position and not self.first:
            options.append(f"--wsrep-start-position={self.position}")
        return [*options, *(["--wsrep-new-cluster"] if self.first else [])]

    def more_variables(self) -> dict[str, str]:
        """The scripts that copy all records to a node that has none, and what they need."""
        tools = self.shared / "tools" / "usr" / "bin"
        return {"PATH": f"{tools}:{os.environ['PATH']}", HOME_VARIABLE: str(self.shared)}

    def set_up(self) -> None:
        """The first node's users and schema; the others get them from it."""
        self._prepare_schema()
        self._sql(f"CREATE USER IF NOT EXISTS '{CHECKER}'@'127.0.0.1';")

    def make_first(self) -> None:
        if not (self.data / "mysql").exists():
            self._initialise()

    def _may_begin(self) -> None:
        state = self.data / "grastate.dat"
        if state.exists():
            text = state.read_text()
            state.write_text(re.sub(r"safe_to_bootstrap:\s*0", "safe_to_bootstrap: 1", text))

    def _password(self, user: str) -> str:
        return secret(self.shared / f"{user}-password")


@dataclass(frozen=True)
class Front:
    """haproxy: one address for the pages, one for the database."""

    home: Path
    web: int
    sql: int
    nodes: list[Node]
    applications: list[int]

    @property
    def control(self) -> Path:
        return self.home / "run" / "front.sock"

    def start(self) -> subprocess.Popen[bytes]:
        """haproxy on its own configuration."""
        path = self.home / "haproxy.cfg"
        path.write_text(self.configuration())
        own = os.environ | {HOME_VARIABLE: str(self.home)}
        return subprocess.Popen(
            ["haproxy", "-db", "-q", "-f", str(path)], env=own, start_new_session=True
        )

    def configuration(self) -> str:
        """The same as deploy/cluster/haproxy.cfg, with this machine's ports."""
        databases = "\n".join(
            f"  server {one.name} 127.0.0.1:{one.port} check{' backup' if one.number else ''}"
            for one in self.nodes
        )
        servers = "\n".join(
            f"  server app{n + 1} 127.0.0.1:{port} check"
            for n, port in enumerate(self.applications)
        )
        return TEMPLATE.format(
            control=self.control, web=self.web, sql=self.sql, databases=databases, servers=servers,
            check=READY_SCRIPT, away=AWAY_PAGE,
        )  # fmt: skip

    def say(self, command: str) -> str:
        """A command to the running haproxy; its answer."""
        with socket.socket(socket.AF_UNIX) as line:
            line.connect(str(self.control))
            line.sendall(f"{command}\n".encode())
            return b"".join(iter(lambda: line.recv(65536), b"")).decode()

    def state_of(self, application: str) -> str:
        """As the front sees it: UP, DOWN, DRAIN, MAINT."""
        rows = csv.DictReader(io.StringIO(self.say("show stat").removeprefix("# ")))
        mine = [
            row for row in rows if (row["pxname"], row["svname"]) == ("applications", application)
        ]
        return mine[0]["status"] if mine else ""


TEMPLATE = """global
  maxconn 1000
  external-check
  insecure-fork-wanted
  stats socket {control} mode 600 level admin
defaults
  timeout connect 2s
  timeout client 120s
  timeout server 120s
  option redispatch
  retries 5
frontend database
  mode tcp
  bind 127.0.0.1:{sql}
  default_backend nodes
backend nodes
  mode tcp
  option external-check
  external-check command {check}
  default-server inter 1s fastinter 300ms downinter 500ms fall 2 rise 2 on-marked-down shutdown-sessions
{databases}
frontend pages
  mode http
  bind 127.0.0.1:{web}
  option forwardfor
  default_backend applications
backend applications
  mode http
  errorfile 502 {away}
  errorfile 503 {away}
  errorfile 504 {away}
  balance roundrobin
  option httpchk GET /health/ready
  http-check expect status 200
  retry-on conn-failure
  default-server inter 500ms fastinter 250ms fall 4 rise 1
{servers}
"""


def cluster_demo(rest: list[str], root: Path) -> int:
    """Start everything on this machine and stay until Ctrl-C."""
    options = instance_options("cluster-demo", rest, root, port=True, usual="cluster")
    home = options.data_dir
    system.ensure_packages(system.DATABASE, system.PAPERS, system.CLUSTER)
    environment.ensure_environment(root)
    with held(home):
        end_orphans(home)
        ensure_copying_scripts(home)
        return _serve_cluster(home, root, options.port)


def _serve_cluster(home: Path, root: Path, port: int) -> int:
    ports = _ports(home)
    nodes = [Node(home, number, ports["nodes"]) for number in range(NODES)]
    for one in nodes:
        one.others = [other for other in nodes if other is not one]
    front = Front(home, port, ports["sql"], nodes, ports["applications"])
    nodes[0].make_first()
    newest_first = sorted(nodes, key=lambda one: (-one.sequence(), one.number))
    kept = [Kept(one.name, one.begin) for one in newest_first]
    try:
        for each, node in zip(kept, newest_first, strict=True):
            each.look(time.monotonic())
            _until_ready_if_it_joins(node)
        first = newest_first[0]
        first.set_up()
        variables = _variables(root, home, first, front)
        owner = as_owner(variables, first)
        prepare(root, owner, "--demo")
        first.grant(tables_written(root, owner))
        applications = [
            Kept(f"app{n + 1}", partial(_application, root, home, variables, n, p))
            for n, p in enumerate(front.applications)
        ]
        worker = Kept("background worker", partial(start_worker, root, variables))
        kept += [Kept("front", front.start), *applications, worker]
        signal.signal(signal.SIGHUP, lambda *_: _roll(front, applications))
        note(
            f"\n  Fennock is at http://127.0.0.1:{port}/, on {NODES} databases\n\n  Ctrl-C stops it.\n"
        )
        return keep_running(kept)
    finally:
        for each in reversed(kept):
            each.end()


def _until_ready_if_it_joins(node: Node) -> None:
    """One that does not join at the first try is started again with everything else."""
    try:
        node.wait_until_ready()
    except Halt as halt:
        if node.first:
            raise
        note(f"{node.name} has not joined yet. {halt}")


def _variables(root: Path, home: Path, node: Node, front: Front) -> dict[str, str]:
    """The applications reach the database through the front."""
    mine = demo_variables(root, home, node)
    url = f"mysql://{USER}:{secret(home / f'{USER}-password')}@127.0.0.1:{front.sql}/fennock"
    return mine | {"FENNOCK_DATABASE_URL": url, "FENNOCK_SECRET_KEY": secret(home / "secret-key")}


def _application(
    root: Path, home: Path, variables: dict[str, str], number: int, port: int
) -> subprocess.Popen[bytes]:
    own = in_home(home / f"app{number + 1}") | {HOME_VARIABLE: str(home)}
    return start_gunicorn(root, variables | own, port, workers=1)


def _roll(front: Front, applications: list[Kept]) -> None:
    """Restart one application server after the other; the front sends everything to the other meanwhile."""
    for one in applications:
        note(f"Restarting {one.name} ...")
        front.say(f"set server applications/{one.name} state drain")
        time.sleep(DRAIN_S)
        one.end()
        one.failures, one.due_at, one.process = 0, 0.0, None
        one.look(time.monotonic())
        front.say(f"set server applications/{one.name} state ready")
        _until_it_is_up(front, one.name)
    note("All application servers run anew.")


def _until_it_is_up(front: Front, name: str) -> None:
    """The front has seen it answer that it is ready, and has seen so for a moment."""
    until = time.monotonic() + 60
    while time.monotonic() < until:
        time.sleep(DRAIN_S)
        if front.state_of(name).startswith("UP"):
            return


def _ports(home: Path) -> dict[str, Any]:
    """Chosen once, for the nodes have to find each other again; below those that the system hands out to
    connections, one of which might have taken a node's by the time it starts."""
    path = home / "ports.json"
    if not path.exists():
        free = _free_ports()
        nodes = [
            {name: next(free) for name in ("sql", "group", "ist", "sst")} for _ in range(NODES)
        ]
        servers = [next(free) for _ in range(APPLICATIONS)]
        chosen = {"nodes": nodes, "sql": next(free), "applications": servers}
        path.write_text(json.dumps(chosen))
    found: dict[str, Any] = json.loads(path.read_text())
    return found


def _free_ports() -> Iterator[int]:
    """Ports of this machine that nobody listens on, from a random place on."""
    for port in range(LOWEST_PORT + secrets.randbelow(FIRST_PLACES), HIGHEST_PORT):
        with socket.socket() as probe:
            try:
                probe.bind(("127.0.0.1", port))
            except OSError:
                continue
        yield port


def ensure_copying_scripts(home: Path) -> None:
    """The scripts with which a node gets all records from another one. Debian ships them with its system
    service, which is not wanted here: they are taken out of the package. The one that receives writes as
    whoever runs this; it would take another user otherwise."""
    place = home / "tools"
    if (place / "usr" / "bin" / "wsrep_sst_rsync").exists():
        return
    place.mkdir(parents=True, exist_ok=True)
    asked = ["apt-get", "download", "mariadb-server"]
    done = subprocess.run(asked, cwd=place, capture_output=True, text=True)
    if done.returncode:
        raise Halt(f"The scripts of Galera could not be fetched:\n{done.stderr[-800:]}")
    package = next(place.glob("mariadb-server_*.deb"))
    subprocess.run(["dpkg-deb", "-x", str(package), str(place)], check=True)
    package.unlink()
    script = place / "usr" / "bin" / "wsrep_sst_rsync"
    mine = f"use chroot = no\nuid = {os.getuid()}\ngid = {os.getgid()}\n"
    script.write_text(script.read_text().replace("use chroot = no\n", mine))
