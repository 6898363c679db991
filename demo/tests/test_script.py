"""The entry script itself: what it says when something is in the way, and backup and restore through it."""

import os
import socket
import sqlite3
import subprocess
import tempfile
import unittest
from contextlib import closing
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]


class Script(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.work = tempfile.TemporaryDirectory()
        cls.addClassCleanup(cls.work.cleanup)
        cls.data = Path(cls.work.name, "data")
        done = cls.run_it("demo", "--load-only")
        if done.returncode:
            raise RuntimeError(done.stdout + done.stderr)

    @classmethod
    def run_it(cls, *arguments, **environment):
        kept = {name: value for name, value in os.environ.items() if not name.startswith(("DJANGO_", "TALLY_"))}
        settings = {**kept, "TALLY_DATA": str(cls.data), **environment}
        return subprocess.run(
            [str(ROOT / "tally"), *arguments],
            capture_output=True,
            text=True,
            env=settings,
            cwd="/",
            check=False,
            timeout=120,
        )

    def refused(self, words, *arguments, **environment):
        done = self.run_it(*arguments, **environment)
        self.assertNotEqual(done.returncode, 0)
        self.assertIn(words, done.stdout + done.stderr)
        self.assertNotIn("Traceback", done.stdout + done.stderr)

    def test_port_taken(self):
        with closing(socket.socket()) as held:
            held.bind(("127.0.0.1", 0))
            held.listen()
            self.refused("is taken by another program", "demo", "--port", str(held.getsockname()[1]))
        self.refused("is no port", "demo", "--port", "99999")

    def test_data_folder_that_cant_be_written(self):
        blocked = Path(self.work.name, "a-file")
        blocked.write_text("")
        self.refused("can't be written", "demo", "--load-only", TALLY_DATA=str(blocked / "data"))

    def test_database_from_a_newer_version(self):
        database = self.data / "demo.sqlite3"
        with closing(sqlite3.connect(database)) as connection:
            connection.execute(
                "INSERT INTO django_migrations (app, name, applied) VALUES ('garage', '0999_later', '2026-01-01')"
            )
            connection.commit()
        try:
            self.refused("made by a newer version", "demo", "--load-only")
        finally:
            with closing(sqlite3.connect(database)) as connection:
                connection.execute("DELETE FROM django_migrations WHERE name = '0999_later'")
                connection.commit()

    def test_unknown_command_and_missing_file(self):
        self.refused("There is no command", "polish")
        self.refused("Say which file", "backup")
        self.refused("There is no file", "restore", "--demo", "/nowhere.tar.gz")
        self.refused("is not a backup", "restore", "--demo", str(ROOT / "README.md"))
        self.refused("There are no data yet", "backup", str(Path(self.work.name, "x.tar.gz")))

    def test_backup_and_restore(self):
        file = Path(self.work.name, "b.tar.gz")
        self.assertIn("Backed up", self.run_it("backup", "--demo", str(file)).stdout)
        with closing(sqlite3.connect(self.data / "demo.sqlite3")) as connection:
            before = connection.execute("SELECT count(*) FROM garage_reading").fetchone()
            connection.execute("DELETE FROM garage_reading WHERE corner = ''")
            connection.commit()
        self.assertIn("are kept in", self.run_it("restore", "--demo", str(file)).stdout)
        with closing(sqlite3.connect(self.data / "demo.sqlite3")) as connection:
            self.assertEqual(connection.execute("SELECT count(*) FROM garage_reading").fetchone(), before)
            self.assertEqual(connection.execute("PRAGMA journal_mode").fetchone()[0], "wal")

    def test_demo_is_loaded_once(self):
        self.assertNotIn("loaded", self.run_it("demo", "--load-only").stdout)
        self.assertIn("loaded", self.run_it("demo", "--fresh", "--load-only").stdout)
