"""A login with a second step, for all tests of the shop."""

import base64
import hmac
import re
import struct
import time

import pytest
from django.urls import reverse


def code_at(secret: bytes, seconds: float) -> str:
    """RFC 6238 with SHA-1, 30 s, six digits; the truncation is that of RFC 4226, section 5.3."""
    digest = hmac.digest(secret, struct.pack(">Q", int(seconds) // 30), "sha1")
    start = digest[-1] & 15
    number = struct.unpack(">I", digest[start : start + 4])[0] & 0x7FFFFFFF
    return f"{number % 10**6:06d}"


@pytest.fixture
def coded(page):
    """The manager has set the second step up; the secret, and the codes for paper."""
    body = page.get(reverse("second_step")).content.decode()
    secret = base64.b32decode(re.search(r"<code>([A-Z2-7= ]+)</code>", body)[1].replace(" ", ""))
    answer = page.post(reverse("second_step"), {"token": code_at(secret, time.time())})
    return secret, re.findall(r"<code>([0-9a-f]{8})</code>", answer.content.decode())
