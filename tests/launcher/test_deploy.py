"""The examples of deploy/ say what the program needs."""

import runpy
import shutil
from pathlib import Path

import pytest

CHECK = runpy.run_path(
    str(Path(__file__).resolve().parents[2] / "deploy" / "check.py"), run_name="check"
)


def test_nothing_is_wrong_with_them():
    assert CHECK["problems"]() == []


@pytest.mark.skipif(not shutil.which("nginx"), reason="nginx is not installed")
def test_nginx_itself_finds_what_is_wrong():
    text = (CHECK["HERE"] / "nginx.conf").read_text()
    assert CHECK["_nginx_itself"](text) == []
    assert CHECK["_nginx_itself"](text.replace("proxy_pass", "proxy_passes"))


def test_a_file_that_says_something_else_is_found(tmp_path):
    (tmp_path / "cluster").mkdir()
    for path in CHECK["HERE"].rglob("*"):
        if path.is_file():
            text = (
                path.read_bytes()
                .decode()
                .replace("8090", "9999")
                .replace("X-Forwarded-For", "X-Other")
            )
            (tmp_path / path.relative_to(CHECK["HERE"])).write_text(text)
    globals_of = CHECK["_nginx"].__globals__
    before, globals_of["HERE"] = globals_of["HERE"], tmp_path
    try:
        assert len(CHECK["_nginx"]()) == 2 and CHECK["_haproxy"]()
    finally:
        globals_of["HERE"] = before
