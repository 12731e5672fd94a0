"""How long each page of a running demo shop takes the server, as a share of its limit.

./fennock demo, then: python bench/pages.py [http://127.0.0.1:8090]
"""

import re
import sys
from http.cookiejar import CookieJar
from statistics import median
from time import perf_counter
from urllib.parse import urlencode
from urllib.request import HTTPCookieProcessor, OpenerDirector, build_opener

LIMIT_S, PLAN_LIMIT_S = 0.1, 0.3
PAGES = {
    "rack": ("/", LIMIT_S),
    "check in": ("/jobs/new/?new=V.%20Marsh", LIMIT_S),
    "inspection": ("/jobs/8/inspection/", LIMIT_S),
    "baseline": ("/jobs/2/baseline/", LIMIT_S),
    "tool": ("/jobs/2/tool/brace_height/", LIMIT_S),
    "set": ("/jobs/12/string_set/", LIMIT_S),
    "replace": ("/jobs/15/replace/", LIMIT_S),
    "gate": ("/jobs/7/replace/", LIMIT_S),
    "tug test": ("/jobs/14/replace/", LIMIT_S),
    "log": ("/jobs/1/log/", LIMIT_S),
    "book": ("/book/", LIMIT_S),
    "a model": ("/book/1/", LIMIT_S),
    "sets": ("/jobs/sets/", LIMIT_S),
    "plan, binary": ("/jobs/1/back_to_spec/", PLAN_LIMIT_S),
    "plan, hybrid": ("/jobs/11/back_to_spec/", PLAN_LIMIT_S),
    "plan, twin": ("/jobs/17/back_to_spec/", PLAN_LIMIT_S),
    "plan, lean": ("/jobs/18/back_to_spec/", PLAN_LIMIT_S),
    "hand over": ("/jobs/5/hand_over/", LIMIT_S),
}
TIMES = 15


def main(base: str) -> int:
    """Print a line a page; 1 if any is over its limit."""
    person, over = logged_in(base), 0
    for name, (path, limit) in PAGES.items():
        person.open(base + path).read()
        seconds = median(_timed(person, base + path) for _ in range(TIMES))
        over += seconds > limit
        print(f"{name:14} {seconds / limit:5.2f} of {limit * 1000:.0f} ms")
    return int(over > 0)


def _timed(person: OpenerDirector, address: str) -> float:
    began = perf_counter()
    person.open(address).read()
    return perf_counter() - began


def logged_in(base: str) -> OpenerDirector:
    person = build_opener(HTTPCookieProcessor(CookieJar()))
    page = person.open(base + "/login/").read().decode()
    found = re.search(r'name="csrfmiddlewaretoken" value="([^"]+)"', page)
    if found is None:
        raise SystemExit("There is no login form at that address.")
    data = {"username": "ines", "password": "saltgate-bench", "csrfmiddlewaretoken": found[1]}
    person.open(base + "/login/", urlencode(data).encode()).read()
    return person


if __name__ == "__main__":
    raise SystemExit(main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8090"))
