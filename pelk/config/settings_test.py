"""Settings of the tests: a file database, quick hashing, plain static files."""

import os
import warnings

os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")

from pelk.config.settings import *  # noqa: F403
from pelk.config.settings import DATABASES, STORAGES, VAR_DIR

# A file, because Django's in-memory test database is one shared connection; without
# WAL, so that its copy for a parallel run is whole; never waiting for the disk, since no
# test outlives a power cut and a busy disk made the journeys wait for each tap.
if "sqlite" in DATABASES["default"]["ENGINE"]:
    DATABASES["default"] |= {
        "TEST": {"NAME": VAR_DIR / "test.sqlite3"},
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            "init_command": "PRAGMA journal_mode=MEMORY;PRAGMA synchronous=OFF;",
        },
    }
MEDIA_ROOT = VAR_DIR / "test-media"
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
EMAIL_BACKEND = "django.core.mail.backends.locmem.EmailBackend"
if os.environ.get("PELK_TEST_STATIC") != "manifest":
    STORAGES["staticfiles"] = {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}
# Plain static files need no collected folder.
warnings.filterwarnings("ignore", message="No directory at")
# Each test knocks on the door more often than a person may.
AXES_ENABLED = LIMITS = False
