"""A new database is laid down at once and is the one that the steps make."""

import os
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.test import TestCase

from exchange.fresh import KEPT, lay_down, script

ROOT = Path(__file__).resolve().parents[2]


@unittest.skipUnless(connection.vendor == "sqlite", "the script is for files")
class Fresh(TestCase):
    def test_the_tests_own_database_was_laid_down_by_it_and_lacks_no_step(self):
        executor = MigrationExecutor(connection)
        self.assertEqual(executor.migration_plan(executor.loader.graph.leaf_nodes()), [])
        self.assertEqual(script(), KEPT.read_text(encoding="utf-8"))

    def test_where_anything_stands_nothing_is_laid(self):
        self.assertFalse(lay_down())

    def test_the_check_tells_what_is_not_as_the_steps_make_it(self):
        """In a process of its own, with a script that lacks a table."""
        with tempfile.TemporaryDirectory() as work:
            short = Path(work, "fresh.sql")
            lines = KEPT.read_text(encoding="utf-8").splitlines(keepends=True)
            short.write_text("".join(lines[1:]), encoding="utf-8")
            told = (
                "from pathlib import Path; import django\n"
                "django.setup(); import exchange.management.commands.keep_tables as k\n"
                f"k.KEPT = Path({str(short)!r})\n"
                "from django.core.management import call_command\n"
                "call_command('keep_tables', check=True)"
            )
            environment = {**os.environ, "TALLY_DATA": work, "DJANGO_SETTINGS_MODULE": "rimtally.settings.demo"}
            done = subprocess.run(
                [sys.executable, "-c", told], cwd=ROOT, env=environment, capture_output=True, text=True, check=False
            )
            self.assertIn("is not what the steps make", done.stderr)
