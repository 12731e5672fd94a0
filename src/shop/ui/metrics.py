"""What is counted for Prometheus: requests by page, their time, questions to the database.

Each serving process counts in a file of its own (PROMETHEUS_MULTIPROC_DIR, set by the launcher); the page
adds them up (`metrics_page.py`).
"""

from prometheus_client import Counter, Histogram

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
