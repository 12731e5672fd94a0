"""A demo of its own, and somebody logged in to it: for the scripts of bench/ that need a server."""

import http.cookiejar
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.parse
import urllib.request
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
sys.path.insert(0, str(ROOT / "src"))

from launcher.supervising import processes_of  # noqa: E402
from shop.demo.people import PASSWORD  # noqa: E402


class Demo:
    """A demo of its own, and somebody logged in to it."""

    verb = "demo"

    def __init__(self, home: Path):
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.home, self.base = home, f"http://127.0.0.1:{self.port}"
        self.process: subprocess.Popen[bytes] | None = None
        jar = http.cookiejar.CookieJar()
        self.web = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(jar))
        self.jar = jar

    def start(self) -> None:
        command = [str(ROOT / "fennock"), self.verb, "--port", str(self.port)]
        command += ["--data-dir", str(self.home)]
        quiet = subprocess.DEVNULL
        self.process = subprocess.Popen(command, stdout=quiet, stderr=quiet, start_new_session=True)
        self.until_ready()

    def until_ready(self) -> None:
        until = time.monotonic() + 300
        while time.monotonic() < until:
            if self.status("/health/ready") == 200:
                return
            time.sleep(0.2)
        raise SystemExit("The demo did not start.")

    def stop(self) -> None:
        command = [str(ROOT / "fennock"), "stop", "--data-dir", str(self.home)]
        subprocess.run(command, stdout=subprocess.DEVNULL)

    def status(self, path: str) -> int:
        try:
            with self.web.open(self.base + path, timeout=5) as answer:
                return int(answer.status)
        except urllib.error.HTTPError as error:
            return error.code
        except OSError:
            return 0

    def get(self, path: str, htmx: bool = False) -> str:
        asked = urllib.request.Request(
            self.base + path, headers={"HX-Request": "true"} if htmx else {}
        )
        with self.web.open(asked, timeout=20) as answer:
            return str(answer.read().decode())

    def post(self, path: str, /, **data: str) -> int:
        token = next(cookie.value for cookie in self.jar if cookie.name == "csrftoken")
        body = urllib.parse.urlencode(data | {"csrfmiddlewaretoken": token}).encode()
        try:
            with self.web.open(self.base + path, body, timeout=10) as answer:
                return int(answer.status)
        except urllib.error.HTTPError as error:
            return error.code
        except OSError:
            return 0

    def log_in(self) -> None:
        self.get("/login/")
        self.post("/login/", username="ines", password=PASSWORD)

    def named(self, words: str) -> list[int]:
        """Processes of this demo whose command has those words, the oldest first."""
        found = []
        for pid in processes_of(self.home):
            try:
                command = Path(f"/proc/{pid}/cmdline").read_bytes().replace(b"\0", b" ").decode()
            except OSError:  # it has just ended
                continue
            if words in command:
                found.append(pid)
        return sorted(found)

    def count(self, keys: list[str]) -> tuple[int, int]:
        """Events and readings that were recorded under those keys."""
        listed = ", ".join(f"'{key.replace('-', '')}', '{key}'" for key in keys)
        sql = (
            f"SELECT COUNT(*), (SELECT COUNT(*) FROM measurements_reading r JOIN audit_event e "
            f"ON e.job_id = r.job_id AND e.seq = r.seq WHERE e.key IN ({listed})) "
            f"FROM audit_event WHERE `key` IN ({listed});"
        )
        events, readings = self.ask(sql).split()
        return int(events), int(readings)

    @property
    def socket(self) -> Path:
        """Of the database."""
        return self.home / "run" / "m.sock"

    def ask(self, sql: str) -> str:
        """A question to the database, as its owner."""
        command = ["mariadb", "--no-defaults", f"--socket={self.socket}", "-N", "fennock"]
        done = subprocess.run(command, input=sql, capture_output=True, text=True, check=True)
        return done.stdout
