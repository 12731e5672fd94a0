"""Headers that every page carries."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

PERMISSIONS = "camera=(self), microphone=(), geolocation=(), payment=(), usb=(), interest-cohort=()"


class PageHeaders:
    """What a browser may use on a page, and that pages of the shop are kept by nobody else."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        answer = self.get_response(request)
        answer.headers.setdefault("Permissions-Policy", PERMISSIONS)
        answer.headers.setdefault("Cache-Control", "private, no-cache")
        return answer
