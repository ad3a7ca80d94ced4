"""Settings: one user, one machine, nothing from a network."""

from __future__ import annotations

import os
import secrets
from pathlib import Path

BASE_DIR = Path(__file__).resolve().parent.parent
DATA_DIR = Path(os.environ.get("ZINC_LATCH_DATA", BASE_DIR / "var"))
# What this program writes is its owner's alone: the directory, and every file that comes into it.
os.umask(0o077)


def _data_directory() -> None:
    """
    Make the data directory and close it to others; say what is wrong with it where it cannot be
    used.
    """
    try:
        DATA_DIR.mkdir(parents=True, exist_ok=True, mode=0o700)
        if DATA_DIR.stat().st_uid == os.getuid():
            DATA_DIR.chmod(0o700)
            for file in (*DATA_DIR.glob("*.sqlite3*"), DATA_DIR / "secret-key"):
                if file.exists():
                    file.chmod(0o600)
    except OSError as error:
        raise SystemExit(
            f"The data directory {DATA_DIR} cannot be used: {error.strerror}. Name another with"
            " ZINC_LATCH_DATA=."
        ) from error


def _secret_key() -> str:
    """
    The key of this installation, made on first use and kept with its data, readable by its owner
    alone.
    """
    path = DATA_DIR / "secret-key"
    if not path.exists() or not path.read_text().strip():
        # Written aside and put in place whole: a start that is cut short leaves no empty key
        # behind.
        aside = DATA_DIR / f".secret-key-{os.getpid()}"
        try:
            aside.write_text(secrets.token_urlsafe(50))
            os.replace(aside, path)
        except OSError as error:
            raise SystemExit(
                f"The data directory {DATA_DIR} cannot be written: {error.strerror}. Name another"
                " with ZINC_LATCH_DATA=."
            ) from error
    return path.read_text().strip()


_data_directory()


SECRET_KEY = _secret_key()
DEBUG = os.environ.get("ZINC_LATCH_DEBUG") == "1"
ALLOWED_HOSTS = ["127.0.0.1", "localhost"]
INSTALLED_APPS = ["django.contrib.staticfiles", "django_htmx", "csp", "workbench"]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "django_htmx.middleware.HtmxMiddleware",
    "workbench.middleware.fresh_pages",
    "workbench.middleware.Guard",
    "workbench.middleware.Faults",
]
ROOT_URLCONF = "workbench.urls"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "workbench.context.look",
            ]
        },
    }
]
WSGI_APPLICATION = "workbench.wsgi.application"
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA_DIR / "zinc-latch.sqlite3",
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 10,
            # What was acknowledged outlives a power cut: every commit is on the disk before it is
            # answered.
            # Foreign keys are on by Django's own hand; write-ahead logging lets a second tab read
            # while one writes.
            "init_command": (
                "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;"
            ),
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en-gb"
USE_I18N = False
STATIC_URL = "/static/"
STATIC_ROOT = DATA_DIR / "static"
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedManifestStaticFilesStorage"},
}
WHITENOISE_KEEP_ONLY_HASHED_FILES = True
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": ["'self'"],
        "img-src": ["'self'", "data:"],
        "object-src": ["'none'"],
        "base-uri": ["'none'"],
        "form-action": ["'self'"],
        "frame-ancestors": ["'none'"],
    }
}
SECURE_REFERRER_POLICY = "same-origin"
DATA_UPLOAD_MAX_MEMORY_SIZE = 2_500_000
FILE_UPLOAD_MAX_MEMORY_SIZE = 2_500_000
# A board of two hundred lines, nine cells each, is the largest form there is.
DATA_UPLOAD_MAX_NUMBER_FIELDS = 2_400
#: Whether a copy of everything is made on each day that something changed; tests make theirs by
#: hand.
COPY_OF_THE_DAY = os.environ.get("ZINC_LATCH_COPIES", "yes") != "no"
CSRF_FAILURE_VIEW = "workbench.views.errors.csrf_failure"
#: Faults go to the terminal and to a file that never grows beyond this [bytes], the one before it
#: kept.
MOST_LOG = 1_000_000
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"plain": {"format": "%(asctime)s %(levelname)s %(message)s"}},
    "handlers": {
        "terminal": {"class": "logging.StreamHandler", "formatter": "plain"},
        "file": {
            "class": "logging.handlers.RotatingFileHandler",
            "filename": DATA_DIR / "faults.log",
            "maxBytes": MOST_LOG,
            "backupCount": 1,
            "delay": True,
            "encoding": "utf-8",
            "errors": "replace",
            "formatter": "plain",
        },
    },
    "loggers": {
        "zinc_latch.faults": {
            "handlers": ["terminal", "file"],
            "level": "WARNING",
            "propagate": True,
        }
    },
}
