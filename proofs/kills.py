"""Processes killed while they write, and restores killed half way: nothing acknowledged is lost, nothing is half kept.

Run by hand: ``python -m proofs.kills [KILLS] [RESTORES]``. Nothing but 127.0.0.1 is asked.
"""

from __future__ import annotations

import os
import random
import signal
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
from contextlib import closing
from pathlib import Path
from urllib.parse import urlencode

from proofs.readers import ROOT, Instance

#: acknowledged writes that are waited for, for each kill that was asked
WRITES_A_KILL = 4
SETTINGS = {"DJANGO_SETTINGS_MODULE": "rimtally.settings.demo"}


def write(instance: Instance, number: int, token: str, kept: list[str], stop: threading.Event) -> None:
    """Put candidates on a list, one after the other; note those that were acknowledged."""
    cookies, car = instance.people[0]
    form = {"Cookie": cookies, "Content_Type": "application/x-www-form-urlencoded"}
    count = 0
    while not stop.is_set():
        count += 1
        name = f"written-{number}-{count}"
        values = {"csrfmiddlewaretoken": token, "line": f"17x7 +{count % 40 + 10} 5x108 63.4", "name": name}
        try:
            if instance.ask("POST", f"/car/{car}/choose/", urlencode(values), **form)[0] == 302:
                kept.append(name)
        except OSError:
            time.sleep(0.05)


def children(parent: int) -> list[int]:
    return [int(child) for child in Path(f"/proc/{parent}/task/{parent}/children").read_text().split()]


def sound(database: Path) -> bool:
    with closing(sqlite3.connect(database)) as connection:
        whole = connection.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
        return whole and connection.execute("PRAGMA foreign_key_check").fetchone() is None


def under_writing(kills: int) -> None:
    """Serving processes killed while two writers write."""
    with tempfile.TemporaryDirectory() as folder:
        instance = Instance(folder, 1)
        kept: list[str] = []
        stop = threading.Event()
        cookies, car = instance.people[0]
        page = instance.ask("GET", f"/car/{car}/choose/", Cookie=cookies)[1]
        token = page.split('name="csrfmiddlewaretoken" value="')[1].split('"')[0]
        writers = [threading.Thread(target=write, args=(instance, k, token, kept, stop), daemon=True) for k in range(2)]
        for writer in writers:
            writer.start()
        done = 0
        while done < kills or len(kept) < WRITES_A_KILL * kills:
            time.sleep(random.uniform(0.2, 1.0))
            for child in children(instance.processes[0].pid):
                os.kill(child, signal.SIGKILL)
                done += 1
        time.sleep(2)
        stop.set()
        for writer in writers:
            writer.join()
        instance.stop()
        database = Path(folder, "demo.sqlite3")
        with closing(sqlite3.connect(database)) as connection:
            names = {name for (name,) in connection.execute("SELECT name FROM garage_part")}
        lost = [name for name in kept if name not in names]
        print(
            f"{done} kills under writing: {len(kept)} acknowledged, {len(lost)} lost, database sound: {sound(database)}",
            flush=True,
        )


def state(folder: Path) -> tuple[str, bytes]:
    """Which garage stands: the name of its first car, and a picture."""
    with closing(sqlite3.connect(folder / "demo.sqlite3")) as connection:
        name = str(connection.execute("SELECT nickname FROM garage_car ORDER BY id LIMIT 1").fetchone()[0])
    mark = folder / "demo-uploads" / "mark"
    return name, mark.read_bytes() if mark.exists() else b""


def restores(count: int) -> None:
    """A restore killed at a random moment, then a start: always the old or the new garage, whole."""
    with tempfile.TemporaryDirectory() as work:
        folder, file = Path(work, "data"), Path(work, "new.tar.gz")
        environment = {**os.environ, **SETTINGS, "TALLY_DATA": str(folder)}

        def manage(*arguments: str) -> subprocess.Popen[bytes]:
            return subprocess.Popen(  # noqa: S603  our own commands
                [sys.executable, "manage.py", *arguments],
                cwd=ROOT,
                env=environment,
                stdout=subprocess.DEVNULL,
                stderr=subprocess.DEVNULL,
            )

        def become(name: str) -> None:
            with closing(sqlite3.connect(folder / "demo.sqlite3")) as connection:
                connection.execute(
                    "UPDATE garage_car SET nickname = ? WHERE id = (SELECT min(id) FROM garage_car)", (name,)
                )
                connection.commit()
            (folder / "demo-uploads").mkdir(exist_ok=True)
            (folder / "demo-uploads" / "mark").write_bytes(name.encode() * 200_000)

        manage("demo", "--load-only").wait()
        become("new")
        manage("backup", str(file)).wait()
        began = time.monotonic()
        manage("restore", str(file)).wait()
        whole = time.monotonic() - began
        found = {"old": 0, "new": 0, "half": 0}
        for _ in range(count):
            become("old")
            restoring = manage("restore", str(file))
            time.sleep(random.uniform(0.3, 1.05) * whole)
            restoring.kill()
            restoring.wait()
            manage("demo", "--load-only").wait()
            name, mark = state(folder)
            good = (
                mark == name.encode() * 200_000 and sound(folder / "demo.sqlite3") and not list(folder.glob("restor*"))
            )
            found[name if good else "half"] += 1
            for kept in folder.glob("before-restore-*"):
                kept.unlink()
        print(f"{count} restores killed within {whole:.1f} s: {found}", flush=True)


if __name__ == "__main__":
    under_writing(int(sys.argv[1]) if len(sys.argv) > 1 else 500)
    restores(int(sys.argv[2]) if len(sys.argv) > 2 else 100)
