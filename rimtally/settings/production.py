"""The served instance. Hosts, key and HTTPS come from the environment.

TALLY_HOSTS     host names, comma separated (default: this machine only)
TALLY_HTTPS     1 when served behind HTTPS: secure cookies, HSTS, redirect
TALLY_PROXY     address of the reverse proxy that is believed (with TALLY_HTTPS=1: 127.0.0.1)
TALLY_PROCESSES how many processes serve (default: one a core)
TALLY_LOG       json (default) or text: how the log is written, to the standard error
TALLY_SECRET_KEY, TALLY_DATA, TALLY_UPLOADS, TALLY_DATABASE, TALLY_TIME_ZONE
"""

import os

from rimtally.settings.base import *  # noqa: F403
from rimtally.settings.base import DATA_DIR, ROOMS_THAT_WRITE
from rimtally.settings.private import secret_key

SECRET_KEY = secret_key(DATA_DIR)
ALLOWED_HOSTS = [
    host.strip() for host in os.environ.get("TALLY_HOSTS", "127.0.0.1,localhost").split(",") if host.strip()
]

HTTPS = os.environ.get("TALLY_HTTPS", "") == "1"
SESSION_COOKIE_SECURE = HTTPS
CSRF_COOKIE_SECURE = HTTPS
SECURE_SSL_REDIRECT = HTTPS
# whatever watches over the server asks it on its own machine, without HTTPS
SECURE_REDIRECT_EXEMPT = [r"^(healthz|readyz)$"]
SECURE_HSTS_SECONDS = 31536000 if HTTPS else 0
SECURE_HSTS_INCLUDE_SUBDOMAINS = HTTPS
SECURE_HSTS_PRELOAD = HTTPS
if HTTPS:
    # The server sets the scheme from what this proxy says, and takes the header away from everybody else.
    TRUSTED_PROXY = os.environ.get("TALLY_PROXY", "127.0.0.1")
    CSRF_TRUSTED_ORIGINS = [f"https://{host}" for host in ALLOWED_HOSTS]

STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "rimtally.static.HashedModules"},
}

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"json": {"()": "rimtally.logs.JsonLines"}, "text": {"format": "%(levelname)s %(name)s %(message)s"}},
    "handlers": {
        "console": {
            "class": "logging.StreamHandler",
            "formatter": "text" if os.environ.get("TALLY_LOG", "json") == "text" else "json",
        }
    },
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {
        # Django's own handler would write each error a second time.
        "django": {"handlers": [], "level": "WARNING", "propagate": True},
        **{room: {"level": "INFO"} for room in ROOMS_THAT_WRITE},
    },
}
