#!/usr/bin/env python
"""Django's command line; ./tally is the one for people."""

import os
import sys

from django.core.management import execute_from_command_line

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "rimtally.settings.demo")
    execute_from_command_line(sys.argv)
