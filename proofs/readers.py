"""Many readers at once, and slow senders beside them, against a served demo on this machine.

Run by hand: ``python -m proofs.readers [READERS] [SECONDS]``. Nothing but 127.0.0.1 is asked.
"""

from __future__ import annotations

import http.client
import os
import random
import re
import signal
import socket
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from contextlib import closing
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
PAGES = ("measure/", "measure/FL/", "choose/", "check/FL/", "plan/", "fit/", "prove/", "")
#: a reader's pause between pages [s]
PAUSE_S = 10.0


def free_port() -> int:
    with closing(socket.socket()) as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Instance:
    """A demo of its own, served as ``./tally demo`` does."""

    def __init__(self, folder: str) -> None:
        self.port = free_port()
        environment = {**os.environ, "TALLY_DATA": folder, "DJANGO_SETTINGS_MODULE": "rimtally.settings.demo"}
        self.process = subprocess.Popen(  # noqa: S603  our own server
            [sys.executable, "manage.py", "demo", "--port", str(self.port)], cwd=ROOT, env=environment
        )
        for _ in range(600):
            try:
                self.ask("GET", "/sign-in/")
            except OSError:
                time.sleep(0.1)
            else:
                break
        self.cookie = self._sign_in()

    def ask(self, method: str, path: str, body: str | None = None, **headers: str) -> tuple[int, str, str]:
        with closing(http.client.HTTPConnection("127.0.0.1", self.port, timeout=120)) as connection:
            connection.request(method, path, body, {name.replace("_", "-"): value for name, value in headers.items()})
            answer = connection.getresponse()
            cookies = "; ".join(one.split(";")[0] for one in answer.headers.get_all("Set-Cookie") or [])
            return answer.status, answer.read().decode(errors="replace"), cookies

    def _sign_in(self) -> str:
        _, page, cookie = self.ask("GET", "/sign-in/")
        found = re.search(r'name="csrfmiddlewaretoken" value="([^"]+)"', page)
        token = found[1] if found else ""
        form = {"Cookie": cookie, "Content_Type": "application/x-www-form-urlencoded"}
        return self.ask("POST", "/demo-sign-in/", f"csrfmiddlewaretoken={token}", **form)[2]

    def stop(self) -> None:
        self.process.send_signal(signal.SIGTERM)
        self.process.wait(20)


def read(instance: Instance, seconds: float, taken: list[float], wrong: list[int]) -> None:
    """One reader: a page, a pause, another page."""
    time.sleep(random.uniform(0, PAUSE_S))
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        page = random.choice(PAGES)
        began = time.monotonic()
        try:
            status, _, _ = instance.ask("GET", f"/car/1/{page}", Cookie=instance.cookie)
        except OSError:
            status = 0
        taken.append(time.monotonic() - began)
        if status != 200:
            wrong.append(status)
        time.sleep(random.uniform(0.5, 1.5) * PAUSE_S)


def held_open(port: int, count: int) -> list[socket.socket]:
    """Connections that sent half of a request."""
    held = []
    for _ in range(count):
        slow = socket.create_connection(("127.0.0.1", port), timeout=5)
        slow.sendall(b"POST /sign-in/ HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 900\r\n\r\nhalf")
        held.append(slow)
    return held


def said(name: str, taken: list[float], wrong: list[int]) -> None:
    taken.sort()
    print(
        f"{name}: {len(taken)} pages, median {statistics.median(taken):.2f} s, 95 % under {taken[int(0.95 * len(taken)) - 1]:.2f} s, "
        f"longest {taken[-1]:.2f} s, {len(wrong)} not answered well {sorted(set(wrong))}"
    )


def main(readers: int, seconds: float) -> None:
    with tempfile.TemporaryDirectory() as folder:
        instance = Instance(folder)
        try:
            for page in PAGES * 3:
                instance.ask("GET", f"/car/1/{page}", Cookie=instance.cookie)
            for slow in (0, 105):
                taken: list[float] = []
                wrong: list[int] = []
                held = held_open(instance.port, slow)
                threads = [threading.Thread(target=read, args=(instance, seconds, taken, wrong), daemon=True) for _ in range(readers)]
                for thread in threads:
                    thread.start()
                for thread in threads:
                    thread.join()
                for one in held:
                    one.close()
                said(f"{readers} readers, {slow} half-sent connections", taken, wrong)
        finally:
            instance.stop()


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 200, float(sys.argv[2]) if len(sys.argv) > 2 else 60.0)
