"""Do the files of this folder say what the program needs? Where nginx, haproxy or systemd-analyze are
installed, they check the files as well.

    python deploy/check.py
"""

import configparser
import re
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

HERE = Path(__file__).resolve().parent
PORT = "8090"


def problems() -> list[str]:
    """What is wrong, in sentences; nothing where all is well."""
    return [*_units(), *_nginx(), *_haproxy(), *_cluster(), *_away()]


def _away() -> list[str]:
    """The page for when nothing answers is the same behind nginx and behind haproxy."""
    head, _, body = (HERE / "away.http").read_bytes().partition(b"\r\n\r\n")
    page = (HERE / "away.html").read_bytes()
    found = [] if body == page else ["away.http holds another page than away.html."]
    if f"Content-Length: {len(page)}".encode() not in head:
        found.append("away.http says another length than its page has.")
    return found


def _units() -> list[str]:
    found = []
    for name in ("fennock.service", "fennock-backup.service", "fennock-backup.timer"):
        unit = configparser.ConfigParser(strict=False, interpolation=None)
        unit.optionxform = str  # type: ignore[assignment,method-assign]
        unit.read(HERE / name)
        if name.endswith(".service"):
            command = unit["Service"]["ExecStart"].split()
            known = (HERE.parent / "src/launcher/cli.py").read_text()
            if f'"{command[1]}"' not in known:
                found.append(f"{name}: './fennock {command[1]}' is not a command.")
        elif "OnCalendar" not in unit["Timer"]:
            found.append(f"{name} has no time.")
    serve = (HERE / "fennock.service").read_text()
    if f"--port {PORT}" not in serve:
        found.append("fennock.service serves on another port than the proxies ask.")
    return found


def _nginx() -> list[str]:
    text = (HERE / "nginx.conf").read_text()
    wanted = (
        "X-Forwarded-For $proxy_add_x_forwarded_for",
        "X-Forwarded-Proto $scheme",
        f"127.0.0.1:{PORT}",
    )
    found = [f"nginx.conf does not say {one}." for one in wanted if one not in text]
    if text.count("{") != text.count("}"):
        found.append("nginx.conf: a brace is missing.")
    return found + _nginx_itself(text)


def _nginx_itself(server: str) -> list[str]:
    """What nginx says of the server block, without its certificate, on a port that anybody may take."""
    if not shutil.which("nginx"):
        return []
    plain = re.sub(r"listen 443 ssl|listen 80", "listen 127.0.0.1:8443", server)
    plain = re.sub(r" *(http2|ssl_certificate\S*) .*;\n", "", plain)
    with tempfile.TemporaryDirectory() as place:
        whole = Path(place) / "nginx.conf"
        logs = f"pid {place}/pid; error_log {place}/log;"
        whole.write_text(f"{logs} events {{}} http {{ access_log off; {plain} }}")
        command = ["nginx", "-t", "-q", "-p", place, "-c", str(whole)]
        done = subprocess.run(command, capture_output=True, text=True)
    return [f"nginx: {done.stderr.strip()[:300]}"] if done.returncode else []


def _haproxy() -> list[str]:
    wanted = ("option forwardfor", "X-Forwarded-Proto https", "/health/ready")
    return [
        *_one_haproxy("haproxy.cfg", (*wanted, f"127.0.0.1:{PORT}")),
        *_one_haproxy("cluster/haproxy.cfg", (*wanted, "shutdown-sessions", "backup", f":{PORT}")),
    ]


def _one_haproxy(name: str, wanted: tuple[str, ...]) -> list[str]:
    text = (HERE / name).read_text()
    found = [f"{name} does not say {one}." for one in wanted if one not in text]
    if shutil.which("haproxy"):
        plain = re.sub(r" ssl crt \S+", "", text).replace("/etc/fennock", str(HERE))
        with tempfile.NamedTemporaryFile("w", suffix=".cfg") as file:
            file.write(plain)
            file.flush()
            done = subprocess.run(
                ["haproxy", "-c", "-f", file.name], capture_output=True, text=True
            )
        found += [f"haproxy: {done.stderr.strip()[:300]}"] if done.returncode else []
    return found


def _cluster() -> list[str]:
    """The nodes have what those of `./fennock cluster-demo` have."""
    said = (HERE.parent / "src/launcher/cluster.py").read_text()
    node = (HERE / "cluster/galera.cnf").read_text()
    found = []
    for option in re.findall(
        r"--(wsrep-[a-z-]+|binlog-format|innodb-autoinc-lock-mode|log-bin-[a-z-]+)=", said
    ):
        name = option.replace("-", "_")
        if name not in node and name not in ONLY_ON_ONE_MACHINE:
            found.append(f"cluster/galera.cnf has no {name}.")
    return found


ONLY_ON_ONE_MACHINE = {"wsrep_sst_receive_address", "wsrep_start_position"}


def main() -> int:
    found = problems()
    print("\n".join(found) or "The files of deploy/ say what the program needs.")
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
