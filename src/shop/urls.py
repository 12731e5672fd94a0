"""Which app answers which address."""

from django.apps import apps
from django.urls import include, path

from shop.setup import health
from shop.ui.metrics import metrics

urlpatterns = [
    path("health/live", health.live, name="health_live"),
    path("health/ready", health.ready, name="health_ready"),
    path("metrics", metrics, name="metrics"),
    path("", include("shop.rack.urls")),
    path("", include("shop.accounts.urls")),
    path("book/", include("shop.book.urls")),
    path("records/", include("shop.records.urls")),
    path("people/", include("shop.people.urls")),
    path("jobs/", include("shop.check_in.urls")),
    path("jobs/", include("shop.string_sets.urls")),
    path("jobs/", include("shop.inspection.urls")),
    path("jobs/", include("shop.press.urls")),
    path("jobs/", include("shop.plans.urls")),
    path("jobs/", include("shop.papers.urls")),
    path("jobs/", include("shop.fitting.urls")),
    path("jobs/", include("shop.tuning.urls")),
    path("jobs/", include("shop.chronograph.urls")),
    path("jobs/", include("shop.arrows.urls")),
    path("jobs/", include("shop.stabiliser.urls")),
    path("jobs/", include("shop.measurements.urls")),
    path("jobs/", include("shop.jobs.urls")),
]
if apps.is_installed("shop.simulated"):
    urlpatterns.append(path("jobs/", include("shop.simulated.urls")))

handler400 = "shop.ui.errors.bad_request"
handler403 = "shop.ui.errors.forbidden"
handler404 = "shop.ui.errors.not_found"
handler500 = "shop.ui.errors.broken"
