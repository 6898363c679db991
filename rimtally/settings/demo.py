"""The demo instance: its own file, on this machine only, with a one-click sign-in."""

from rimtally.settings.base import *  # noqa: F403
from rimtally.settings.base import DATA_DIR
from rimtally.settings.database import given, sqlite
from rimtally.settings.private import secret_key

DEMO = True
SECRET_KEY = secret_key(DATA_DIR)
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]"]
# A name of its own: the demo is never laid down among anybody's data.
DATABASES = {"default": given("TALLY_DEMO_DATABASE") or sqlite(DATA_DIR / "demo.sqlite3")}
MEDIA_ROOT = DATA_DIR / "demo-uploads"
WHITENOISE_USE_FINDERS = True
WHITENOISE_AUTOREFRESH = True
