"""Settings, all from environment variables; see docs/operating.md for production."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any
from urllib.parse import unquote, urlsplit

from csp.constants import NONE, SELF
from django.core.exceptions import ImproperlyConfigured

ROOT = Path(__file__).resolve().parents[2]


def flag(name: str, default: str = "0") -> bool:
    """An environment variable as yes or no."""
    return os.environ.get(name, default).lower() in ("1", "true", "yes", "on")


def database(url: str) -> dict[str, Any]:
    """Django's database settings from a postgresql:// URL."""
    parts = urlsplit(url)
    if parts.scheme not in ("postgresql", "postgres") or not parts.path.strip("/"):
        raise ImproperlyConfigured("DATABASE_URL must be postgresql://user@host:port/name")
    return {
        "ENGINE": "django.db.backends.postgresql",
        "NAME": parts.path.strip("/"),
        "USER": unquote(parts.username or ""),
        "PASSWORD": unquote(parts.password or ""),
        "HOST": parts.hostname or "",
        "PORT": str(parts.port or ""),
        "CONN_MAX_AGE": int(os.environ.get("ASHLANE_CONN_MAX_AGE", "0")),
        # A connection kept from before the database went away is made anew, not stumbled over.
        "CONN_HEALTH_CHECKS": True,
        # What is asked again and again is planned once for each connection, not each time.
        "OPTIONS": {"server_side_binding": True, "prepare_threshold": 2},
        "TEST": {"NAME": os.environ.get("ASHLANE_TEST_DB", f"test_{parts.path.strip('/')}")},
    }


LEAST_SECRET = 40
# So many proxies of one's own stand before the server and tell the asker's address.
PROXIES = int(os.environ.get("ASHLANE_PROXIES", "0"))
DEMO = flag("ASHLANE_DEMO")
DEBUG = flag("ASHLANE_DEBUG")
PRODUCTION = flag("ASHLANE_PRODUCTION")
INSTALLATION = os.environ.get("ASHLANE_INSTALLATION", "local")
if PRODUCTION and (DEMO or DEBUG):
    # The demo's people have passwords that everybody knows; debug pages tell what is inside.
    raise ImproperlyConfigured("production takes neither ASHLANE_DEMO nor ASHLANE_DEBUG")
SECRET_KEY = os.environ.get("ASHLANE_SECRET_KEY", "")
if not SECRET_KEY:
    if PRODUCTION:
        raise ImproperlyConfigured("ASHLANE_SECRET_KEY must be set in production")
    SECRET_KEY = "only-for-development-" + INSTALLATION

if PRODUCTION and len(SECRET_KEY) < LEAST_SECRET:
    raise ImproperlyConfigured(f"ASHLANE_SECRET_KEY must have {LEAST_SECRET} characters or more")

ALLOWED_HOSTS = os.environ.get("ASHLANE_HOSTS", "127.0.0.1,localhost").split(",")
CSRF_TRUSTED_ORIGINS = [o for o in os.environ.get("ASHLANE_ORIGINS", "").split(",") if o]

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.postgres",
    "rest_framework",
    "drf_spectacular",
    "simple_history",
    "axes",
    "csp",
    "server.accounts",
    "server.aircraft",
    "server.people",
    "server.kit",
    "server.instruments",
    "server.controls",
    "server.signoff",
    "server.journal",
    "server.hardware",
    "server.record",
    "server.sources",
    "server.cables",
    "server.runs",
    "server.worksheets",
    "server.lines",
    "server.wires",
    "server.weight",
    "server.clearance",
    "server.closing",
    "server.find",
    "server.entry",
    "server.rulebook",
    "server.papers",
    "server.demo",
]
MIDDLEWARE = [
    "server.config.faults.Plainly",
    "django.middleware.security.SecurityMiddleware",
    "server.config.headers.NotKept",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "server.accounts.sessions.WhileUsed",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "server.config.idempotency.KeptOnce",
    "axes.middleware.AxesMiddleware",
]
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
AXES_FAILURE_LIMIT = 10
AXES_COOLOFF_TIME = 0.25
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_CLIENT_IP_CALLABLE = "server.accounts.addresses.address"
AXES_LOCKOUT_CALLABLE = "server.accounts.passwords.locked_out"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{name}Validator", "OPTIONS": options}
    for name, options in (
        ("MinimumLength", {"min_length": 10}),
        ("UserAttributeSimilarity", {}),
        ("CommonPassword", {}),
        ("NumericPassword", {}),
    )
]
PASSWORD_HASHERS = ["django.contrib.auth.hashers.Argon2PasswordHasher"]
AUTH_USER_MODEL = "accounts.User"

ROOT_URLCONF = "server.config.urls"
WSGI_APPLICATION = "server.config.wsgi.application"
TEMPLATES: list[dict[str, Any]] = []
TEST_RUNNER = "testkit.runner.Runner"
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
DATABASES = {
    "default": database(
        os.environ.get("DATABASE_URL", "postgresql://ashlane@127.0.0.1:5432/ashlane")
    )
}

USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en"

# The web app as built by vite; whitenoise serves it, and server.config.pages its front page.
WEB_DIST = ROOT / "web" / "dist"
STATIC_URL = "/static/"
# Photos: on any Django storage; by default a folder beside the checkout's own state.
MEDIA_ROOT = Path(os.environ.get("ASHLANE_MEDIA", ROOT / ".ashlane" / "media"))
MEDIA_URL = "/media-is-served-by-the-api/"
# The idempotency middleware refuses larger bodies first, by kind, with the reason.
DATA_UPLOAD_MAX_MEMORY_SIZE = 27 * 1024 * 1024
WHITENOISE_ROOT = WEB_DIST if WEB_DIST.is_dir() else None
WHITENOISE_INDEX_FILE = False
WHITENOISE_MAX_AGE = 60

SESSION_COOKIE_NAME = f"ashlane_{INSTALLATION}"
CSRF_COOKIE_NAME = f"ashlane_csrf_{INSTALLATION}"
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = int(float(os.environ.get("ASHLANE_IDLE_HOURS", "72")) * 3600)
CSRF_FAILURE_VIEW = "server.config.problems.csrf_failure"
if PRODUCTION:
    SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = True
    # No other host of the domain, and no page without encryption, can set one of these.
    SESSION_COOKIE_NAME = f"__Host-{SESSION_COOKIE_NAME}"
    CSRF_COOKIE_NAME = f"__Host-{CSRF_COOKIE_NAME}"
    SECURE_HSTS_SECONDS = 31536000
    SECURE_SSL_REDIRECT = True
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [SELF],
        "img-src": [SELF, "data:", "blob:"],
        "object-src": [NONE],
        "frame-ancestors": [NONE],
        "base-uri": [NONE],
        "form-action": [SELF],
    }
}

REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": ["rest_framework.authentication.SessionAuthentication"],
    "DEFAULT_PERMISSION_CLASSES": ["rest_framework.permissions.IsAuthenticated"],
    "DEFAULT_RENDERER_CLASSES": ["rest_framework.renderers.JSONRenderer"],
    "DEFAULT_PARSER_CLASSES": ["server.config.parsing.Json"],
    "NUM_PROXIES": PROXIES,
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
    "EXCEPTION_HANDLER": "server.config.problems.problem",
    "STRICT_JSON": True,
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Ash Lane",
    "VERSION": "1",
    "OAS_VERSION": "3.1.0",
    "SERVE_INCLUDE_SCHEMA": False,
    "COMPONENT_SPLIT_REQUEST": True,
    "POSTPROCESSING_HOOKS": [
        "drf_spectacular.hooks.postprocess_schema_enums",
        "server.config.shapes.add_components",
        "server.config.refusals.add_refusals",
    ],
}

# Addresses that instruments may be read at, set by whoever runs the server.
INSTRUMENT_ADDRESSES = [a for a in os.environ.get("ASHLANE_INSTRUMENTS", "").split(",") if a]
# Where the stand-in's hand takes orders to lay the level on a surface; demo mode only.
INSTRUMENT_HAND = os.environ.get("ASHLANE_HAND", "") if DEMO else ""

# Who signed in, failed, was denied, signed: to a file of its own, or beside all else.
SECURITY_FILE = os.environ.get("ASHLANE_SECURITY_LOG", "")
SECURITY_LOG: dict[str, Any] = {"class": "logging.StreamHandler"}
if SECURITY_FILE:
    SECURITY_LOG = {"class": "logging.handlers.WatchedFileHandler", "filename": SECURITY_FILE}
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"line": {"format": "%(asctime)s %(name)s %(message)s"}},
    "handlers": {
        "console": {"class": "logging.StreamHandler"},
        "security": {"formatter": "line", **SECURITY_LOG},
    },
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {
        "ashlane.security": {"handlers": ["security"], "level": "INFO", "propagate": False},
        "axes": {"level": "ERROR"},
        "django.request": {"level": "ERROR"},
    },
}
