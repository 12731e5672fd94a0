"""Takes docs/screenshots from a running demo shop: `./fennock screenshots [name ...]`."""

import sys
import tempfile
from pathlib import Path

from selenium import webdriver
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import WebDriverWait

TARGET = Path(__file__).parent / "screenshots"
PASSWORD = "saltgate-bench"
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
    "--hide-scrollbars",
]

# name of the picture -> address in the freshly filled demo shop
VIEWS = {
    "rack": "/",
    "check-in": "/jobs/new/?new=V.%20Marsh",
    "inspection": "/jobs/8/inspection/",
    "baseline": "/jobs/2/baseline/?at=nock_to_peep",
    "set": "/jobs/12/string_set/",
    "replace": "/jobs/15/replace/",
    "gate": "/jobs/7/replace/",
    "tug": "/jobs/14/replace/",
    "plan": "/jobs/1/back_to_spec/",
    "lean": "/jobs/18/back_to_spec/",
    "bow": "/jobs/1/bow/",
    "paper": "/jobs/22/paper/",
    "hand-over": "/jobs/5/hand_over/",
    "sheet": "/jobs/10/sheet/",
    "fit": "/jobs/19/fit/",
    "book": "/book/",
    "entry": "/book/1/",
    "speed": "/jobs/23/speed/",
}


def main(base: str, names: list[str]) -> None:
    """Take the named pictures, or all of them, and the plan once more in the dim shop."""
    TARGET.mkdir(exist_ok=True)
    driver = browser()
    try:
        log_in(driver, base)
        for name in names or VIEWS:
            take(driver, base, VIEWS[name], name)
        if not names:
            driver.get(base + "/")
            driver.find_element(By.CSS_SELECTOR, ".who summary").click()
            driver.find_element(By.CSS_SELECTOR, "form[action='/theme/'] button").click()
            take(driver, base, VIEWS["plan"], "plan-dim")
    finally:
        driver.quit()


def browser() -> webdriver.Chrome:
    options = webdriver.ChromeOptions()
    for flag in [*FLAGS, f"--user-data-dir={tempfile.mkdtemp()}"]:
        options.add_argument(flag)
    driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    size = {"width": 1280, "height": 800, "deviceScaleFactor": 1, "mobile": False}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)
    return driver


def log_in(driver: webdriver.Chrome, base: str) -> None:
    driver.get(base + "/login/")
    driver.find_element(By.NAME, "username").send_keys("ines")
    driver.find_element(By.NAME, "password").send_keys(PASSWORD, Keys.ENTER)
    WebDriverWait(driver, 10).until(lambda d: "in hand" in d.page_source)


def take(driver: webdriver.Chrome, base: str, path: str, name: str) -> None:
    driver.get(base + path)
    WebDriverWait(driver, 60).until(
        lambda d: not d.find_elements("css selector", "[data-being-made]")
    )
    ready = "return document.readyState === 'complete' && document.fonts.status === 'loaded'"
    WebDriverWait(driver, 10).until(lambda d: d.execute_script(ready))
    drawn = (
        "const box = document.getElementById('drawn'); return !box || !!box.querySelector('svg')"
    )
    WebDriverWait(driver, 20).until(lambda d: d.execute_script(drawn))
    driver.execute_script(
        "document.getElementById(arguments[0])?.scrollIntoView()", path.partition("#")[2]
    )
    driver.save_screenshot(str(TARGET / f"{name}.png"))
    print(f"docs/screenshots/{name}.png")


if __name__ == "__main__":
    main(sys.argv[1], sys.argv[2:])
