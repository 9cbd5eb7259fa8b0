"""Settings from the environment; the defaults are safe.

PELK_DEBUG=1 shows errors, PELK_HOSTS names the hosts (comma-separated), PELK_HTTPS=1
makes cookies secure behind TLS, PELK_VAR moves the folder of database, key and mail,
PELK_SECRET_KEY overrides the key that is made and kept on the first run,
PELK_PROXIED=1 believes the proxy in front, DATABASE_URL names another database,
PELK_CONFIRM=1 opens a yard by a mailed link,
PELK_LOG=json writes lines of JSON with the events of safety.
"""

import os
import tempfile
from contextlib import suppress
from datetime import timedelta
from pathlib import Path
from typing import Any

import dj_database_url
from django.core.management.utils import get_random_secret_key

from pelk.config.private import keep_private

BASE_DIR = Path(__file__).resolve().parents[2]
VAR_DIR = Path(os.environ.get("PELK_VAR", BASE_DIR / "var"))
keep_private(VAR_DIR)

DEBUG = os.environ.get("PELK_DEBUG") == "1"
HTTPS = os.environ.get("PELK_HTTPS") == "1"
# Behind our own proxy, which says where a request came from and that it came by TLS.
PROXIED = os.environ.get("PELK_PROXIED") == "1"
LIMITS = True
# Who signs up proves their email first; until then nobody is told whether it is taken.
CONFIRM = os.environ.get("PELK_CONFIRM") == "1"
ALLOWED_HOSTS = os.environ.get("PELK_HOSTS", "127.0.0.1,localhost,[::1]").split(",")


def _kept_secret_key() -> str:
    """Return the secret key, made on the first run and kept readable by us alone."""
    path = VAR_DIR / "secret_key"
    if not path.exists():
        with tempfile.NamedTemporaryFile("w", dir=VAR_DIR) as file:  # mode 0600
            file.write(get_random_secret_key())
            file.flush()
            # Another process may have been first: then its key stands.
            with suppress(FileExistsError):
                os.link(file.name, path)
    return path.read_text().strip()


SECRET_KEY = os.environ.get("PELK_SECRET_KEY") or _kept_secret_key()

# A file of materials comes back once more with "take it in": 2,000 of them are 6 MB.
DATA_UPLOAD_MAX_MEMORY_SIZE = 9_000_000

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "whitenoise.runserver_nostatic",
    "django.contrib.staticfiles",
    "axes",
    "django_htmx",
    "csp",
    "pelk.ui",
    "pelk.yards",
    "pelk.sources",
    "pelk.log",
    "pelk.shelf",
    "pelk.bench",
    "pelk.barrow",
    "pelk.soils",
    "pelk.cure",
    "pelk.pots",
    "pelk.exchange",
    "pelk.today",
    "pelk.config",
]

MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "django.middleware.gzip.GZipMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.auth.middleware.LoginRequiredMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "django_htmx.middleware.HtmxMiddleware",
    "pelk.yards.middleware.YardMiddleware",
    "pelk.config.middleware.EveryAnswer",
    "pelk.config.middleware.InRegion",
    "axes.middleware.AxesMiddleware",
]

ROOT_URLCONF = "pelk.config.urls"
WSGI_APPLICATION = "pelk.config.wsgi.application"

TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
                "pelk.config.path.path_strip",
            ],
            "builtins": ["pelk.ui.templatetags.pelk"],
        },
    }
]

DATABASES: dict[str, Any] = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": VAR_DIR / "pelk.sqlite3",
        "CONN_MAX_AGE": None,
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            "init_command": (
                "PRAGMA journal_mode=WAL;PRAGMA synchronous=FULL;"
                "PRAGMA mmap_size=134217728;PRAGMA journal_size_limit=27103364;"
                "PRAGMA cache_size=-20000;PRAGMA temp_store=MEMORY;"
            ),
        },
    }
}
if url := os.environ.get("DATABASE_URL"):
    DATABASES["default"] = dj_database_url.parse(url, conn_max_age=None, conn_health_checks=True)
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "yards.User"
PASSWORD_HASHERS = [
    "pelk.yards.doors.hashers.OneAtATime",
    "django.contrib.auth.hashers.PBKDF2PasswordHasher",
]
_VALIDATORS = "django.contrib.auth.password_validation."
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"{_VALIDATORS}UserAttributeSimilarityValidator"},
    {"NAME": f"{_VALIDATORS}MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": f"{_VALIDATORS}CommonPasswordValidator"},
    {"NAME": f"{_VALIDATORS}NumericPasswordValidator"},
    {"NAME": "pelk.yards.doors.passwords.NotTooLong"},
]
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
# Eight wrong passwords for one email from one place, then a quarter of an hour of rest.
AXES_FAILURE_LIMIT = 8
AXES_COOLOFF_TIME = timedelta(minutes=15)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_USERNAME_FORM_FIELD = "username"
AXES_USERNAME_CALLABLE = "pelk.ui.addresses.name_of"
AXES_RESET_ON_SUCCESS = True
AXES_LOCKOUT_TEMPLATE = "yards/locked.html"
AXES_CLIENT_IP_CALLABLE = "pelk.ui.addresses.address_of"
AXES_DISABLE_ACCESS_LOG = True
AXES_VERBOSE = False
SESSION_ENGINE = "pelk.yards.doors.sessions"
LOGIN_URL = "yards:sign_in"
LOGIN_REDIRECT_URL = "home"
LOGOUT_REDIRECT_URL = "yards:sign_in"
CSRF_FAILURE_VIEW = "pelk.config.urls.stale"
SESSION_COOKIE_AGE = 60 * 24 * 3600

EMAIL_BACKEND = os.environ.get(
    "PELK_EMAIL_BACKEND", "django.core.mail.backends.filebased.EmailBackend"
)
EMAIL_FILE_PATH = VAR_DIR / "mail"
# Where a pen and a scale listen (docs/devices.md); the stand-ins' own ports without a word.
PELK_PEN = os.environ.get("PELK_PEN", "127.0.0.1:8765")
PELK_SCALE = os.environ.get("PELK_SCALE", "127.0.0.1:8766")
# Pictures of heaps; they are served by a view that knows whose they are, never by path.
MEDIA_ROOT = VAR_DIR / "media"
FILE_UPLOAD_PERMISSIONS = 0o600
DEFAULT_FROM_EMAIL = "Pelk <pelk@localhost>"

LANGUAGE_CODE = "en-gb"
USE_I18N = True
FORMAT_MODULE_PATH = "pelk.config.formats"
TIME_ZONE = os.environ.get("PELK_TIME_ZONE", "UTC")
USE_TZ = True

STATIC_URL = "static/"
STATIC_ROOT = BASE_DIR / "staticfiles"
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedManifestStaticFilesStorage"},
}
WHITENOISE_KEEP_ONLY_HASHED_FILES = True
WHITENOISE_ALLOW_ALL_ORIGINS = False

SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
SECURE_CROSS_ORIGIN_OPENER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE_SSL_REDIRECT = HTTPS
if PROXIED:
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
SECURE_HSTS_SECONDS = 31_536_000 if HTTPS else 0
SECURE_HSTS_INCLUDE_SUBDOMAINS = SECURE_HSTS_PRELOAD = HTTPS

_SELF, _NONE = "'self'", "'none'"
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [_SELF],
        "script-src": [_SELF],
        "style-src": [_SELF],
        "img-src": [_SELF, "data:"],
        "font-src": [_SELF],
        "connect-src": [_SELF],
        "form-action": [_SELF],
        "frame-ancestors": [_NONE],
        "base-uri": [_NONE],
        "object-src": [_NONE],
    }
}

# Lines of JSON where a service writes them, plain words on a terminal.
LOGGING: dict[str, Any] = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"json": {"()": "pelk.config.logs.JsonLines"}},
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {"pelk.security": {"level": "WARNING"}},
}
if os.environ.get("PELK_LOG") == "json":
    LOGGING["handlers"]["console"]["formatter"] = "json"
    LOGGING["loggers"]["pelk.security"]["level"] = "INFO"
