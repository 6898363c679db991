"""Backup and restore on real files."""

import sqlite3
import tarfile
import tempfile
import unittest
from contextlib import closing
from pathlib import Path

from exchange.archive import NotABackup, back_up, restore


def make(path, nickname):
    with closing(sqlite3.connect(path)) as connection:
        connection.execute("PRAGMA journal_mode=WAL")
        connection.execute("CREATE TABLE IF NOT EXISTS garage_car (nickname TEXT)")
        connection.execute("CREATE TABLE IF NOT EXISTS django_migrations (id INTEGER)")
        connection.execute("DELETE FROM garage_car")
        connection.execute("INSERT INTO garage_car VALUES (?)", (nickname,))
        connection.commit()


def nickname(path):
    with closing(sqlite3.connect(path)) as connection:
        return connection.execute("SELECT nickname FROM garage_car").fetchone()[0]


class Archives(unittest.TestCase):
    def setUp(self):
        work = tempfile.TemporaryDirectory()
        self.addCleanup(work.cleanup)
        self.work = Path(work.name)
        self.database, self.uploads, self.file = (
            self.work / "data" / "tally.sqlite3",
            self.work / "data" / "uploads",
            self.work / "out" / "b.tar.gz",
        )
        self.uploads.mkdir(parents=True)
        (self.uploads / "a.jpg").write_bytes(b"picture")
        make(self.database, "first")

    def test_there_and_back_with_uploads_while_open(self):
        with closing(sqlite3.connect(self.database)) as held:
            held.execute("SELECT * FROM garage_car").fetchall()
            back_up(self.database, self.uploads, self.file)
        make(self.database, "second")
        (self.uploads / "a.jpg").write_bytes(b"changed")
        kept = restore(self.file, self.database, self.uploads)
        self.assertEqual((nickname(self.database), (self.uploads / "a.jpg").read_bytes()), ("first", b"picture"))
        restore(kept, self.database, self.uploads)
        self.assertEqual((nickname(self.database), (self.uploads / "a.jpg").read_bytes()), ("second", b"changed"))

    def test_what_is_no_backup_changes_nothing(self):
        other = self.work / "other.tar.gz"
        with tarfile.open(other, "w:gz") as tar:
            tar.add(self.uploads / "a.jpg", "a.jpg")
        broken = self.work / "broken.tar.gz"
        back_up(self.database, self.uploads, broken)
        broken.write_bytes(broken.read_bytes()[:200])
        plain = self.work / "plain.txt"
        plain.write_text("hello")
        for wrong in (other, broken, plain):
            with self.subTest(wrong=wrong.name), self.assertRaises(NotABackup):
                restore(wrong, self.database, self.uploads)
            self.assertEqual(nickname(self.database), "first")

    def test_a_database_of_another_kind_is_refused(self):
        foreign = self.work / "foreign.sqlite3"
        with closing(sqlite3.connect(foreign)) as connection:
            connection.execute("CREATE TABLE t (x)")
            connection.commit()
        back_up(foreign, self.uploads, self.file)
        with self.assertRaises(NotABackup):
            restore(self.file, self.database, self.uploads)

    def test_paths_that_climb_out_are_refused(self):
        evil = self.work / "evil.tar.gz"
        with tarfile.open(evil, "w:gz") as tar:
            tar.add(self.uploads / "a.jpg", "rim-tally.json")
            tar.add(self.uploads / "a.jpg", "database.sqlite3")
            tar.add(self.uploads / "a.jpg", "uploads/../../../escaped.jpg")
        with self.assertRaises(NotABackup):
            restore(evil, self.database, self.uploads)
        self.assertFalse((self.work / "escaped.jpg").exists())
