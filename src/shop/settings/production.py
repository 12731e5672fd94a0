"""For real: behind a proxy that ends TLS and sets X-Forwarded-Proto."""

from shop.settings.base import *
from shop.settings.base import env

SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
SECURE_SSL_REDIRECT = True
SECURE_HSTS_SECONDS = 60 * 60 * 24 * 365
SECURE_HSTS_INCLUDE_SUBDOMAINS = True
SECURE_HSTS_PRELOAD = True
SESSION_COOKIE_SECURE = True
CSRF_COOKIE_SECURE = True
CSRF_TRUSTED_ORIGINS = env.list("FENNOCK_TRUSTED_ORIGINS", default=[])
FENNOCK_PROXIES = env.int("FENNOCK_PROXIES", default=1)
