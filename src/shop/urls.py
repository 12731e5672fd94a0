"""Which app answers which address."""

from django.apps import apps
from django.urls import include, path

from shop.setup import health
from shop.ui.metrics_page import metrics

urlpatterns = [
    path("health/live", health.live, name="health_live"),
    path("health/ready", health.ready, name="health_ready"),
    path("metrics", metrics, name="metrics"),
    path("", include("shop.rack.urls")),
    path("", include("shop.accounts.urls")),
    path("book/", include("shop.book.urls")),
    path("records/", include("shop.records.urls")),
    path("people/", include("shop.people.urls")),
    path("jobs/", include("shop.stages.check_in.urls")),
    path("jobs/", include("shop.stages.string_set.urls")),
    path("jobs/", include("shop.stages.inspection.urls")),
    path("jobs/", include("shop.stages.replace.urls")),
    path("jobs/", include("shop.stages.back_to_spec.urls")),
    path("jobs/", include("shop.stages.hand_over.urls")),
    path("jobs/", include("shop.papers.urls")),
    path("jobs/", include("shop.stages.fit.urls")),
    path("jobs/", include("shop.stages.shooting_in.urls")),
    path("jobs/", include("shop.stages.speed.urls")),
    path("jobs/", include("shop.stages.arrow.urls")),
    path("jobs/", include("shop.stages.stabiliser.urls")),
    path("jobs/", include("shop.casework.photos.urls")),
    path("jobs/", include("shop.casework.readings.urls")),
    path("jobs/", include("shop.casework.urls")),
]
if apps.is_installed("shop.simulated"):
    urlpatterns.append(path("jobs/", include("shop.simulated.urls")))

handler400 = "shop.ui.errors.bad_request"
handler403 = "shop.ui.errors.forbidden"
handler404 = "shop.ui.errors.not_found"
handler500 = "shop.ui.errors.broken"
