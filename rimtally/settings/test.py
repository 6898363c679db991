"""Settings of the tests: fast hashing, a database file that is never synced, all of it in a folder that goes."""

import tempfile
from pathlib import Path

import hypothesis

from rimtally.settings.base import *  # noqa: F403
from rimtally.settings.database import given, sqlite

SECRET_KEY = "only-for-tests"  # noqa: S105
ALLOWED_HOSTS = ["*"]
DEMO = True
# A file, as it is served from: a journey's browser and its test are two connections, and wait for each other.
_WORK = tempfile.TemporaryDirectory(prefix="rim-tally-")  # goes with the process that made it
_FILE = Path(_WORK.name, "test.sqlite3")
_FIRST = "PRAGMA synchronous=OFF; PRAGMA temp_store=MEMORY; PRAGMA foreign_keys=ON; PRAGMA busy_timeout=20000;"
_TOLD = given()
DATABASES = {
    "default": _TOLD | {"CONN_MAX_AGE": 0, "CONN_HEALTH_CHECKS": False}
    if _TOLD
    else sqlite(_FILE)
    | {
        "TEST": {"NAME": str(_FILE)},
        "CONN_MAX_AGE": 0,
        "OPTIONS": {"transaction_mode": "IMMEDIATE", "init_command": _FIRST},
    }
}
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
MEDIA_ROOT = Path(_WORK.name, "uploads")  # beside others, each process has a folder of its own in it
AXES_ENABLED = False
WHITENOISE_USE_FINDERS = True
WHITENOISE_AUTOREFRESH = True
TEST_RUNNER = "rimtally.runner.TallyRunner"
KEEP_PAGES = False

# A busy machine is no fault: drawn tests know no clock.
hypothesis.settings.register_profile("tally", deadline=None, suppress_health_check=[hypothesis.HealthCheck.too_slow])
hypothesis.settings.load_profile("tally")
#: what is slow beside other work is nothing to write down
SLOW_MS = 10**9
PAIRS_S = 10.0**9
