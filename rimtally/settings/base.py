"""Settings common to all instances."""

import os
import sys
import zoneinfo
from pathlib import Path

from csp.constants import NONE, SELF

from rimtally.settings.database import given, sqlite

BASE_DIR = Path(__file__).resolve().parent.parent.parent
DATA_DIR = Path(os.environ.get("TALLY_DATA", BASE_DIR / ".tally"))

DEBUG = False
DEMO = False
#: address of the one reverse proxy whose word on sender and scheme counts; empty for none
TRUSTED_PROXY = os.environ.get("TALLY_PROXY", "")

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "whitenoise.runserver_nostatic",
    "django.contrib.staticfiles",
    "django.contrib.humanize",
    "django_htmx",
    "crispy_forms",
    "crispy_bootstrap5",
    "django_filters",
    "csp",
    "axes",
    "shell",
    "garage",
    "shelf",
    "planner",
    "bench",
    "workshop",
    "proof",
    "manual",
    "exchange",
    "sharing",
    "demo",
]

MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "shell.slow.Watched",
    "shell.middleware.Bodiless",
    "shell.middleware.WithoutNul",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "shell.middleware.TooLarge",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "sharing.helping.Helping",
    "shell.middleware.Private",
    "shell.offline.Late",
    "django.contrib.auth.middleware.LoginRequiredMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "django_htmx.middleware.HtmxMiddleware",
    "shell.kept.KeptPages",
    "shell.units.PersonUnits",
    "shell.middleware.Clashes",
    "shell.middleware.OfTheCar",
    "shell.middleware.Once",
    "shell.middleware.OneAtATime",
    "axes.middleware.AxesMiddleware",
]

ROOT_URLCONF = "rimtally.urls"
WSGI_APPLICATION = "rimtally.wsgi.application"

TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "APP_DIRS": True,
        "DIRS": sorted((BASE_DIR / "bench").glob("*/templates")),
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
                "shell.context.page",
                "shell.guided.guided",
            ],
            "builtins": ["shell.templatetags.tally", "bench.templatetags.benches"],
        },
    }
]


DATABASES = {"default": given() or sqlite(DATA_DIR / "tally.sqlite3")}
#: pages, and what was read of a car, are kept by each serving process until something of the car is written
KEEP_PAGES = KEEP_READ = True
CACHES = {"default": {"BACKEND": "django.core.cache.backends.locmem.LocMemCache"}}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.NumericPasswordValidator"},
]
LOGIN_URL = "sign-in"
LOGIN_REDIRECT_URL = "garage"
LOGOUT_REDIRECT_URL = "sign-in"

AXES_ENABLED = True
AXES_FAILURE_LIMIT = 6
AXES_COOLOFF_TIME = 0.25
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_LOCKOUT_TEMPLATE = "registration/locked.html"
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False

LANGUAGE_CODE = "en-gb"
TIME_ZONE = os.environ.get("TALLY_TIME_ZONE", "UTC")
if TIME_ZONE not in zoneinfo.available_timezones():
    sys.exit(
        f"TALLY_TIME_ZONE is “{TIME_ZONE}”, which is no time zone; accepted: a name such as Europe/London, or UTC."
    )
USE_TZ = True
USE_I18N = False

STATIC_URL = "static/"
STATIC_ROOT = DATA_DIR / "static"
#: a folder that several machines share, where they serve one database
MEDIA_ROOT = Path(os.environ.get("TALLY_UPLOADS", "") or DATA_DIR / "uploads")
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
}
#: larger requests are refused unread
MOST_REQUEST_BYTES = 16 * 1024 * 1024
#: addresses that take a recording, and how much they take
MOST_OF_LOGS_BYTES, TAKE_LOGS = 124 * 1024 * 1024, "/logs/add/"
DATA_UPLOAD_MAX_MEMORY_SIZE = 4 * 1024 * 1024
FILE_UPLOAD_MAX_MEMORY_SIZE = 4 * 1024 * 1024

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [SELF],
        "script-src": [SELF],
        "style-src": [SELF],
        "img-src": [SELF, "data:"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "object-src": [NONE],
        "base-uri": [SELF],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
    }
}
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"
CSRF_FAILURE_VIEW = "shell.views.csrf_failure"

CRISPY_ALLOWED_TEMPLATE_PACKS = "bootstrap5"
CRISPY_TEMPLATE_PACK = "bootstrap5"
FORM_RENDERER = "django.forms.renderers.DjangoTemplates"

#: each has a logger of its name
ROOMS_THAT_WRITE = ("garage", "shelf", "planner", "workshop", "proof", "exchange", "sharing", "shell")
#: processor time from which a page is written down as slow [ms]
SLOW_MS = 700
#: processor time after which the rest of a list of pairs is asked for in the next answer: an obstacle deep inside every
#: wheel takes long to judge [s]
PAIRS_S = 0.3
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}
