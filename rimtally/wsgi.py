"""WSGI entry of the served instance."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "rimtally.settings.production")
application = get_wsgi_application()
