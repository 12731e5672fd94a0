"""The page that Prometheus asks for: it answers only to the token in FENNOCK_METRICS_TOKEN."""

import os
from hmac import compare_digest

from django.conf import settings
from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpRequest, HttpResponse
from prometheus_client import CONTENT_TYPE_LATEST, REGISTRY, CollectorRegistry, generate_latest
from prometheus_client.multiprocess import MultiProcessCollector

from shop.ui.condition import ConditionCollector


@login_not_required
def metrics(request: HttpRequest) -> HttpResponse:
    """All counts of all serving processes, as text."""
    token = settings.FENNOCK_METRICS_TOKEN
    given = request.headers.get("Authorization", "")
    if not token or not compare_digest(given.encode(), f"Bearer {token}".encode()):
        raise Http404
    text = generate_latest(_registry()) + generate_latest(ConditionCollector())
    return HttpResponse(text, content_type=CONTENT_TYPE_LATEST)


def _registry() -> CollectorRegistry:
    if "PROMETHEUS_MULTIPROC_DIR" not in os.environ:
        return REGISTRY
    registry = CollectorRegistry()
    MultiProcessCollector(registry)  # type: ignore[no-untyped-call]
    return registry
