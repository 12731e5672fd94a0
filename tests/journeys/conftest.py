"""A real browser on a real server; any console error fails the test that caused it."""

import os
import re
import signal
import socket
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import pytest
from django.db import connection
from selenium import webdriver
from selenium.common.exceptions import ElementClickInterceptedException, TimeoutException
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import WebDriverWait

from shop.demo import people

AXE = (Path(__file__).parents[1] / "vendor/axe.min.js").read_text()
FLAGS = [
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-sync",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-dev-shm-usage",
    "--force-prefers-reduced-motion",
]
RUN_AXE = """
const done = arguments[0];
const say = (node) => node.target + " " + (node.any[0] || {}).message;
axe.run({resultTypes: ["violations"]}).then((result) => done(
  result.violations.map((v) => v.id + ": " + v.nodes.slice(0, 3).map(say).join(" | "))));
"""
EXPECTED = re.compile(r"status of (409|422)|favicon")


class Person:
    """Someone at the bench: looks, types and touches, and minds what the console says."""

    def __init__(self, driver, base):
        self.driver, self.base = driver, base

    def size(self, width, height):
        size = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
        self.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)

    def goes(self, path):
        self.driver.get(self.base + path)

    def logs_in(self, name="ines"):
        self.goes("/login/")
        self.wait(lambda d: d.get_cookie("csrftoken"))
        self.find("#id_username").send_keys(name)
        self.find("#id_password").send_keys(people.PASSWORD, Keys.ENTER)
        self.sees("in hand")

    def find(self, css):
        return self.wait(lambda d: d.find_element(By.CSS_SELECTOR, css))

    def all(self, css):
        return self.driver.find_elements(By.CSS_SELECTOR, css)

    def text(self):
        return self.find("#screen").text

    def sees(self, words, seconds=20):
        self.wait(lambda d: words in d.find_element(By.TAG_NAME, "body").text, seconds, words)

    def wait(self, what, seconds=20, words=""):
        def tried(driver):
            try:
                return what(driver)
            except Exception:
                return False

        try:
            return WebDriverWait(self.driver, seconds, 0.05).until(tried)
        except TimeoutException:
            seen = self.driver.execute_script("return document.documentElement.innerText")
            raise AssertionError(f"waited for '{words}', saw:\n{seen}") from None

    def types(self, *keys):
        """To whatever has the focus, as a keyboard does."""
        self.driver.switch_to.active_element.send_keys(*keys)

    def settles(self):
        """Wait until no request is on its way and the page has been swapped."""
        busy = "document.querySelector('.htmx-request, .htmx-swapping, .htmx-settling')"
        idle = f"return document.readyState === 'complete' && !{busy}"
        self.wait(lambda d: d.execute_script(idle))

    def touches(self, css=None, words=None):
        """Tap the visible element, which must be big enough for a finger."""
        target = self.find(css) if css else self._with(words)
        self.wait(lambda d: target.rect["height"] > 0, words=f"{css or words} to be shown")
        box = target.rect
        assert box["height"] >= 44, f"{css or words} is only {box['height']} px high"
        self.wait(lambda d: self._clicked(target), words=f"{css or words} to be in reach")

    def _clicked(self, target):
        """Scrolled to and clicked; what arrived meanwhile may have pushed it under the bar."""
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", target)
        try:
            target.click()
        except ElementClickInterceptedException:
            return False
        return True

    def _with(self, words):
        def found(driver):
            places = driver.find_elements(By.CSS_SELECTOR, "button, a, label, summary")
            return next(p for p in places if words in p.text and p.is_displayed())

        return self.wait(found, words=words)

    def axe(self):
        """No accessibility violation on this screen."""
        self.driver.execute_script(AXE)
        found = self.driver.execute_async_script(RUN_AXE)
        assert found == [], found

    def console(self):
        return [
            row for row in self.driver.get_log("browser")
            if row["level"] in ("SEVERE", "WARNING") and not EXPECTED.search(row["message"])
        ]  # fmt: skip


@pytest.fixture(scope="session")
def chromium():
    options = webdriver.ChromeOptions()
    for flag in [*FLAGS, f"--user-data-dir={tempfile.mkdtemp()}"]:
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    yield driver
    driver.quit()


@pytest.fixture
def person(chromium, floor, live_server):
    """Someone at a 1280x800 screen in a shop with its book and people."""
    someone = Person(chromium, live_server.url)
    someone.size(1280, 800)
    chromium.delete_all_cookies()
    someone.goes("/pulse")
    chromium.execute_script("localStorage.clear(); indexedDB.deleteDatabase('fennock')")
    chromium.get_log("browser")
    yield someone
    assert someone.console() == []


class Server:
    """Fennock in a process of its own, so that it can be killed."""

    def __init__(self):
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.url = f"http://127.0.0.1:{self.port}"
        self.process = None

    def start(self):
        settings = connection.settings_dict
        url = "mysql://{USER}:{PASSWORD}@{HOST}:{PORT}/{NAME}".format(**settings)
        command = [str(Path(sys.executable).parent / "gunicorn"), "shop.wsgi:application"]
        command += [
            "--bind",
            f"127.0.0.1:{self.port}",
            "--no-control-socket",
            "--log-level",
            "error",
        ]
        self.process = subprocess.Popen(
            command, env=os.environ | {"FENNOCK_DATABASE_URL": url}, start_new_session=True
        )
        until = time.monotonic() + 20
        while time.monotonic() < until:
            with socket.socket() as probe:
                if probe.connect_ex(("127.0.0.1", self.port)) == 0:
                    return
            time.sleep(0.05)
        raise AssertionError("the server did not start")

    def kill(self):
        if self.process and self.process.poll() is None:
            os.killpg(self.process.pid, signal.SIGKILL)
            self.process.wait()


@pytest.fixture
def server(transactional_db):
    one = Server()
    one.start()
    yield one
    one.kill()
