"""Backup and restore on real files."""

import errno
import io
import shutil
import sqlite3
import tarfile
import tempfile
import unittest
from contextlib import closing
from pathlib import Path
from unittest import mock

from exchange.archive import DATABASE, PENDING, DiskFull, NotABackup, back_up, finish, restore


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


class Zeros(io.RawIOBase):
    """A long file of nothing."""

    def __init__(self, size):
        self.left = size

    def read(self, count=-1):
        count = self.left if count < 0 else min(count, self.left)
        self.left -= count
        return bytes(count)


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

    def test_how_far_it_is_is_told(self):
        for k in range(5):
            (self.uploads / f"{k}.jpg").write_bytes(b"x")
        said = []
        with mock.patch("exchange.archive.TOLD_EVERY", 2):
            back_up(self.database, self.uploads, self.file, say=said.append)
            restore(self.file, self.database, self.uploads, say=said.append)
        counted = [line for line in said if line.startswith("Packing pictures and logs")]
        self.assertEqual(counted, [f"Packing pictures and logs, {k} of 6 …" for k in (2, 4, 6)])
        self.assertTrue(said[0].startswith("Copying the database"))
        self.assertIn("Checking what was unpacked …", said)
        self.assertTrue(any(line.startswith("Unpacking, 8 files") for line in said), said)

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

    def refused(self, words, *, known=None, tables=(), then=""):
        """A backup whose database was changed by a statement is refused, and nothing changes."""
        odd = self.work / "odd.sqlite3"
        odd.unlink(missing_ok=True)
        make(odd, "odd")
        with closing(sqlite3.connect(odd)) as connection:
            connection.executescript(then)
            connection.commit()
        back_up(odd, self.uploads, self.file)
        with self.assertRaisesRegex(NotABackup, words):
            restore(self.file, self.database, self.uploads, known, tables)
        self.assertEqual(nickname(self.database), "first")
        self.assertEqual(list(self.database.parent.glob("restoring-*")), [])

    def test_databases_that_would_do_harm_are_refused(self):
        migrations = "DROP TABLE django_migrations; CREATE TABLE django_migrations (id INTEGER, app TEXT, name TEXT);"
        one = migrations + "INSERT INTO django_migrations VALUES (1, 'garage', '0001_initial');"
        self.refused(
            "triggers or views", then="CREATE TRIGGER t AFTER INSERT ON garage_car BEGIN DELETE FROM garage_car; END;"
        )
        self.refused("triggers or views", then="CREATE VIEW v AS SELECT 1;")
        keyed = "DROP TABLE django_migrations; CREATE TABLE django_migrations (id INTEGER PRIMARY KEY);"
        child = "CREATE TABLE r (one INTEGER REFERENCES django_migrations (id)); INSERT INTO r VALUES (99);"
        self.refused("speak of others", then=keyed + child)
        self.refused("newer version", then=one, known=[("garage", "0000_other")])
        self.refused(
            "lacks the table garage_reading",
            then=one,
            known=[("garage", "0001_initial")],
            tables=["garage_car", "garage_reading"],
        )

    def test_an_archive_that_swells_is_refused_before_it_is_unpacked(self):
        back_up(self.database, self.uploads, self.file)
        swollen = self.work / "swollen.tar.gz"
        with tarfile.open(swollen, "w:gz") as tar, tarfile.open(self.file) as good:
            tar.addfile(good.getmember("rim-tally.json"), good.extractfile("rim-tally.json"))
            member = tarfile.TarInfo("database.sqlite3")
            member.size = 300 * 1024 * 1024
            tar.addfile(member, Zeros(member.size))
        with self.assertRaisesRegex(NotABackup, "far more"):
            restore(swollen, self.database, self.uploads)
        self.assertEqual(list(self.database.parent.glob("restoring-*")), [])

    def test_ended_half_way_the_next_start_completes_it(self):
        back_up(self.database, self.uploads, self.file)
        make(self.database, "second")
        (self.uploads / "a.jpg").write_bytes(b"changed")
        for step in ("_settle", "_decide", "finish"):
            with (
                self.subTest(step=step),
                mock.patch(f"exchange.archive.{step}", side_effect=KeyboardInterrupt) as broken,
            ):
                if step == "finish":
                    broken.side_effect = [False, KeyboardInterrupt]
                with self.assertRaises(KeyboardInterrupt):
                    restore(self.file, self.database, self.uploads)
            decided = step == "finish"
            self.assertEqual(finish(self.database, self.uploads), decided)
            wanted = ("first", b"picture") if decided else ("second", b"changed")
            self.assertEqual((nickname(self.database), (self.uploads / "a.jpg").read_bytes()), wanted)
            self.assertEqual([path.name for path in self.database.parent.glob("restor*")], [])

    def test_a_step_of_the_completion_may_be_repeated(self):
        back_up(self.database, self.uploads, self.file)
        make(self.database, "second")
        with (
            mock.patch("exchange.archive.finish", side_effect=[False, KeyboardInterrupt]),
            self.assertRaises(KeyboardInterrupt),
        ):
            restore(self.file, self.database, self.uploads)
        with mock.patch("exchange.archive._sync", side_effect=KeyboardInterrupt), self.assertRaises(KeyboardInterrupt):
            finish(self.database, self.uploads)
        self.assertTrue(finish(self.database, self.uploads))
        self.assertEqual(nickname(self.database), "first")

    def test_files_that_go_while_they_are_copied_are_told(self):
        whole = tarfile.TarFile.add

        def vanishing(tar, name, *rest, **more):
            if str(name).endswith("a.jpg"):
                raise FileNotFoundError(name)
            return whole(tar, name, *rest, **more)

        with mock.patch.object(tarfile.TarFile, "add", vanishing):
            left_out = back_up(self.database, self.uploads, self.file, lambda _: ["a.jpg", "b.jpg"])
        self.assertEqual(left_out, ["a.jpg", "b.jpg"])
        with tarfile.open(self.file) as tar:
            self.assertIn("database.sqlite3", tar.getnames())

    def test_a_full_disk_is_named(self):
        with (
            mock.patch("tarfile.open", side_effect=OSError(errno.ENOSPC, "no room")),
            self.assertRaisesRegex(DiskFull, str(self.file.parent)),
        ):
            back_up(self.database, self.uploads, self.file)
        back_up(self.database, self.uploads, self.file)
        with (
            mock.patch("shutil.disk_usage", return_value=mock.Mock(free=0)),
            self.assertRaisesRegex(DiskFull, "no room"),
        ):
            restore(self.file, self.database, self.uploads)
        self.assertEqual(nickname(self.database), "first")

    def test_backups_are_for_their_owner_alone(self):
        back_up(self.database, self.uploads, self.file)
        kept = restore(self.file, self.database, self.uploads)
        for path in (self.file, kept, self.database):
            self.assertEqual(path.stat().st_mode & 0o077, 0, path)

    def test_paths_that_climb_out_are_refused(self):
        evil = self.work / "evil.tar.gz"
        with tarfile.open(evil, "w:gz") as tar:
            tar.add(self.uploads / "a.jpg", "rim-tally.json")
            tar.add(self.uploads / "a.jpg", "database.sqlite3")
            tar.add(self.uploads / "a.jpg", "uploads/../../../escaped.jpg")
        with self.assertRaises(NotABackup):
            restore(evil, self.database, self.uploads)
        self.assertFalse((self.work / "escaped.jpg").exists())


class Beside(unittest.TestCase):
    """Whoever is at the data at the same time."""

    def setUp(self):
        self.folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.folder, ignore_errors=True)

    def test_a_restore_under_way_is_left_alone_by_a_backup_and_a_start(self):
        from exchange.serving import finish_if_alone
        from shell.lock import hold

        stage = self.folder / "restoring-x"
        stage.mkdir()
        with hold(self.folder, alone=True):
            self.assertFalse(finish_if_alone(self.folder / DATABASE))
            self.assertTrue(stage.exists())
        self.assertFalse(finish_if_alone(self.folder / DATABASE))
        self.assertFalse(stage.exists(), "what an undecided one left is cleared by who is alone")

    def test_a_stage_that_is_gone_is_no_restore(self):
        (self.folder / PENDING).write_text('{"stage": "restoring-gone"}')
        with self.assertRaisesRegex(NotABackup, "is gone"):
            finish(self.folder / DATABASE, self.folder / "uploads")
        self.assertFalse((self.folder / PENDING).exists())
