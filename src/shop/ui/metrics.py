"""What Prometheus asks for: requests by page, their time, questions to the database, facts accepted.

Each serving process counts in a file of its own (PROMETHEUS_MULTIPROC_DIR, set by the launcher); the page
adds them up. It answers only to the token in FENNOCK_METRICS_TOKEN.
"""

import os
from hmac import compare_digest

from django.conf import settings
from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpRequest, HttpResponse
from prometheus_client import (
    CONTENT_TYPE_LATEST,
    REGISTRY,
    CollectorRegistry,
    Counter,
    Histogram,
    generate_latest,
)
from prometheus_client.multiprocess import MultiProcessCollector

_SECONDS = (0.025, 0.05, 0.1, 0.15, 0.3, 0.6, 1.0, 2.5, 5.0, 10.0)
REQUESTS = Counter("fennock_requests_total", "Requests answered.", ["page", "method", "status"])
SECONDS = Histogram(
    "fennock_request_seconds", "Time to an answer, s.", ["page", "method"], buckets=_SECONDS
)
QUERIES = Counter("fennock_queries_total", "Questions to the database.", ["page"])
NO_PAGE = "not found"
"""Of addresses that do not exist, so that nobody can make up new names here."""


def count(page: str | None, method: str, status: int, seconds: float, queries: int) -> None:
    """Take one request into account."""
    name = page or NO_PAGE
    known = method if method in ("GET", "POST", "HEAD") else "other"
    REQUESTS.labels(name, known, str(status)).inc()
    SECONDS.labels(name, known).observe(seconds)
    QUERIES.labels(name).inc(queries)


@login_not_required
def metrics(request: HttpRequest) -> HttpResponse:
    """All counts of all serving processes, as text."""
    token = settings.FENNOCK_METRICS_TOKEN
    given = request.headers.get("Authorization", "")
    if not token or not compare_digest(given.encode(), f"Bearer {token}".encode()):
        raise Http404
    return HttpResponse(generate_latest(_registry()), content_type=CONTENT_TYPE_LATEST)


def _registry() -> CollectorRegistry:
    if "PROMETHEUS_MULTIPROC_DIR" not in os.environ:
        return REGISTRY
    registry = CollectorRegistry()
    MultiProcessCollector(registry)  # type: ignore[no-untyped-call]
    return registry
