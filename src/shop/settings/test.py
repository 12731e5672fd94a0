"""Tests: fast password hashing, plain static files, no lockout unless a test asks for it."""

from shop.settings.demo import *

PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
AXES_ENABLED = False
FENNOCK_COMPUTE = "here"
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.InMemoryStorage"},
    "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
}
WHITENOISE_USE_FINDERS = True
WHITENOISE_AUTOREFRESH = True
TASKS = {"default": {"BACKEND": "django_tasks.backends.immediate.ImmediateBackend"}}
