"""What every setting shares. Secrets and places come from FENNOCK_* variables."""

from pathlib import Path

import environ
from csp.constants import NONE, SELF

env = environ.Env()
BASE = Path(__file__).resolve().parent.parent

SECRET_KEY = env("FENNOCK_SECRET_KEY")
DEBUG = False
ALLOWED_HOSTS = env.list("FENNOCK_ALLOWED_HOSTS", default=["127.0.0.1", "localhost"])

SCHEMA = (
    "accounts",
    "audit",
    "customers",
    "book",
    "bows",
    "jobs",
    "inspection",
    "measurements",
    "press",
    "string_sets",
    "plans",
    "fitting",
    "tuning",
    "chronograph",
    "arrows",
    "stabiliser",
    "papers",
)
"""Apps of tables: the lowest layer."""
STAGES = (
    "check_in",
    "inspection",
    "baseline",
    "string_set",
    "replace",
    "back_to_spec",
    "fit",
    "shooting_in",
    "speed",
    "arrow",
    "stabiliser",
    "work",
    "hand_over",
)
"""Apps of the steps of a job, by their names in the core."""
INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "django_htmx",
    "axes",
    "django_otp",
    "django_otp.plugins.otp_totp",
    "django_otp.plugins.otp_static",
    "csp",
    "django.contrib.messages",
    "django_tasks",
    "django_tasks_db",
    "shop.ui",
    "shop.drawings",
    *(f"shop.schema.{tables}" for tables in SCHEMA),
    "shop.search",
    "shop.casework",
    "shop.casework.engine",
    "shop.casework.readings",
    *(f"shop.stages.{stage}" for stage in STAGES),
    "shop.accounts",
    "shop.book",
    "shop.people",
    "shop.papers",
    "shop.rack",
    "shop.records",
    "shop.setup",
]

MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "django.middleware.gzip.GZipMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "shop.ui.access_log.AccessLog",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.contrib.auth.middleware.LoginRequiredMiddleware",
    "shop.accounts.middleware.AtTheShop",
    "shop.accounts.middleware.OwnPasswordFirst",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "django_htmx.middleware.HtmxMiddleware",
    "shop.ui.headers.PageHeaders",
    "axes.middleware.AxesMiddleware",
    "shop.casework.at_once.AnswersAtOnce",
    "shop.ui.turns.InTurn",
]

ROOT_URLCONF = "shop.urls"
WSGI_APPLICATION = "shop.wsgi.application"
CACHES = {
    "default": {
        "BACKEND": "django.core.cache.backends.locmem.LocMemCache",
        "OPTIONS": {"MAX_ENTRIES": 5000},
    },
    "shared": {
        "BACKEND": "django.core.cache.backends.db.DatabaseCache",
        "LOCATION": "kept_answers",
        "OPTIONS": {"MAX_ENTRIES": 500},
    },
}
"""Of this process alone: rows of the rack as they are drawn. Shared: what the background worker has made."""
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
                "shop.accounts.context.shops",
            ],
        },
    }
]

DATABASES = {
    "default": env.db("FENNOCK_DATABASE_URL")
    | {
        "CONN_MAX_AGE": 60,
        "CONN_HEALTH_CHECKS": True,
        "OPTIONS": {
            "charset": "utf8mb4",
            "isolation_level": "read committed",
            "init_command": "SET sql_mode='STRICT_ALL_TABLES,NO_ENGINE_SUBSTITUTION'",
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "accounts.Member"
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
PASSWORD_HASHERS = ["django.contrib.auth.hashers.Argon2PasswordHasher"]
AUTH_PASSWORD_VALIDATORS = [
    {
        "NAME": "django.contrib.auth.password_validation.MinimumLengthValidator",
        "OPTIONS": {"min_length": 10},
    },
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
LOGIN_URL = "login"
LOGIN_REDIRECT_URL = "rack"
LOGOUT_REDIRECT_URL = "login"
AXES_FAILURE_LIMIT = 6
AXES_COOLOFF_TIME = "shop.accounts.lockout.lock_time"
AXES_CLIENT_IP_CALLABLE = "shop.accounts.lockout.client_address"
AXES_HANDLER = "shop.accounts.lockout.UntilItExpires"
AXES_USERNAME_CALLABLE = "shop.accounts.lockout.counted_name"
AXES_WHITELIST_CALLABLE = "shop.accounts.lockout.never_locked"
AXES_USE_ATTEMPT_EXPIRATION = True
AXES_ENABLE_ACCESS_FAILURE_LOG = True
AXES_RESET_COOL_OFF_ON_FAILURE_DURING_LOCKOUT = False
FENNOCK_PROXIES = env.int("FENNOCK_PROXIES", default=0)
FENNOCK_BACKUPS = env(
    "FENNOCK_BACKUPS",
    default=f"{env('FENNOCK_HOME')}/backups" if "FENNOCK_HOME" in env.ENVIRON else "",
)
FENNOCK_BACKUP_COPIES = env("FENNOCK_BACKUP_COPIES", default="")
FENNOCK_METRICS_TOKEN = env("FENNOCK_METRICS_TOKEN", default="")
FENNOCK_COMPUTE = env("FENNOCK_COMPUTE", default="beside")
MESSAGE_STORAGE = "django.contrib.messages.storage.session.SessionStorage"
AXES_LOCKOUT_PARAMETERS = ["username"]
AXES_LOCKOUT_CALLABLE = "shop.accounts.lockout.answer_when_locked"
AXES_RESET_ON_SUCCESS = True

MIGRATION_MODULES = {"django_tasks_database": "shop.setup.task_migrations"}
SILENCED_SYSTEM_CHECKS = [
    "models.W037",  # indexes that MariaDB leaves out
    "models.W043",
    "axes.W006",  # a name is locked wherever it is typed; only a signed cookie has a count of its own
]
TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend"}}

LANGUAGE_CODE = "en"
TIME_ZONE = env("FENNOCK_TIME_ZONE", default="UTC")
USE_TZ = True
USE_I18N = True

STATIC_URL = "/static/"
STATIC_ROOT = env("FENNOCK_STATIC_ROOT", default=str(BASE.parent.parent / ".fennock" / "static"))
STATICFILES_DIRS = [BASE / "static"]
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedManifestStaticFilesStorage"},
}

FILE_UPLOAD_HANDLERS = [
    "shop.ui.uploads.LimitedUpload",
    "django.core.files.uploadhandler.MemoryFileUploadHandler",
    "django.core.files.uploadhandler.TemporaryFileUploadHandler",
]

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "img-src": [SELF, "data:"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "manifest-src": [SELF],
        "form-action": [SELF],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
    }
}
X_FRAME_OPTIONS = "DENY"
SECURE_REFERRER_POLICY = "same-origin"
SESSION_ENGINE = "shop.schema.accounts.sessions"
SESSION_COOKIE_HTTPONLY = True
OTP_TOTP_ISSUER = "Fennock"
CSRF_COOKIE_HTTPONLY = True
SESSION_COOKIE_AGE = 60 * 60 * 12  # a working day
CSRF_FAILURE_VIEW = "shop.ui.errors.csrf_failed"

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"once": {"()": "shop.ui.access_log.OncePerMinute"}},
    "formatters": {"bare": {"format": "%(message)s"}},
    "handlers": {
        "console": {"class": "logging.StreamHandler", "filters": ["once"]},
        "lines": {"class": "logging.StreamHandler", "formatter": "bare"},
    },
    "loggers": {
        "django.request": {"handlers": ["console"], "level": "ERROR", "propagate": False},
        "fennock": {"handlers": ["console"], "level": "INFO"},
        "fennock.access": {
            "handlers": ["lines"],
            "level": env("FENNOCK_ACCESS_LOG", default="WARNING"),
            "propagate": False,
        },
    },
}
