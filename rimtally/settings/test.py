"""Settings of the tests: fast hashing, database in memory, uploads in a temporary folder."""

import tempfile
from pathlib import Path

import hypothesis

from rimtally.settings.base import *  # noqa: F403

SECRET_KEY = "only-for-tests"  # noqa: S105
ALLOWED_HOSTS = ["*"]
DEMO = True
DATABASES = {
    "default": {"ENGINE": "django.db.backends.sqlite3", "NAME": ":memory:", "OPTIONS": {"init_command": "PRAGMA foreign_keys=ON;"}}
}
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
MEDIA_ROOT = Path(tempfile.gettempdir()) / "rim-tally-test-uploads"
AXES_ENABLED = False
WHITENOISE_USE_FINDERS = True
WHITENOISE_AUTOREFRESH = True
TEST_RUNNER = "rimtally.runner.TallyRunner"
KEEP_PAGES = False

# A busy machine is no fault: drawn tests know no clock.
hypothesis.settings.register_profile("tally", deadline=None, suppress_health_check=[hypothesis.HealthCheck.too_slow])
hypothesis.settings.load_profile("tally")
