"""Whether the program runs, and whether it can work: for a front, a supervisor and the browser's outbox."""

from django.contrib.auth.decorators import login_not_required
from django.db import Error, connection
from django.http import HttpRequest, HttpResponse
from django.views.decorators.cache import never_cache

PLAIN = "text/plain; charset=utf-8"


@login_not_required
@never_cache
def live(request: HttpRequest) -> HttpResponse:
    """The program answers; nothing else is asked."""
    return HttpResponse("live\n", content_type=PLAIN)


@login_not_required
@never_cache
def ready(request: HttpRequest) -> HttpResponse:
    """The database answers too; 503 while it does not."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
            cursor.fetchone()
    except Error:
        return HttpResponse("the database is away\n", status=503, content_type=PLAIN)
    return HttpResponse("ready\n", content_type=PLAIN)
