"""Many readers at once, and slow senders beside them, against a served demo on this machine.

Run by hand: ``python -m proofs.readers [READERS] [SECONDS]``. Nothing but 127.0.0.1 is asked. With
``python -m proofs.postgres python -m proofs.readers`` two servers stand on one PostgreSQL, and are asked in turns.
"""

from __future__ import annotations

import http.client
import itertools
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
from urllib.parse import urlencode

PASSWORD = "hill-climb-demo"  # noqa: S105  the demo's own, printed by it

ROOT = Path(__file__).resolve().parents[1]
PAGES = ("measure/", "measure/FL/", "choose/", "check/FL/", "plan/", "fit/", "prove/", "")
#: a reader's pause between pages [s]
PAUSE_S = 10.0
#: persons that share the readers among them, each with a garage of their own
PEOPLE = 12


def free_port() -> int:
    with closing(socket.socket()) as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Instance:
    """A demo of its own, served as ``./tally demo`` does."""

    def __init__(self, folder: str, persons: int = PEOPLE) -> None:
        self.port = free_port()
        environment = {**os.environ, "TALLY_DATA": folder, "DJANGO_SETTINGS_MODULE": "rimtally.settings.demo"}
        if address := environment.pop("TALLY_DATABASE", ""):
            environment["TALLY_DEMO_DATABASE"] = address
        people = f"from proofs.readers import people; people({persons})"
        subprocess.run([sys.executable, "manage.py", "demo", "--load-only"], cwd=ROOT, env=environment, check=True)
        subprocess.run([sys.executable, "manage.py", "shell", "-c", people], cwd=ROOT, env=environment, check=True)  # noqa: S603
        self.ports = [self.port, free_port()] if address else [self.port]
        self.processes = []
        for port in self.ports:
            # One after the other: the first lays down the demo's own person anew.
            self.turns = itertools.cycle((port,))
            self.processes.append(
                subprocess.Popen(  # noqa: S603  our own server
                    [sys.executable, "manage.py", "demo", "--port", str(port)], cwd=ROOT, env=environment
                )
            )
            self._wait()
        self.turns = itertools.cycle(self.ports)
        self.people = [self._sign_in(f"reader-{k}") for k in range(persons)]

    def _wait(self) -> None:
        for _ in range(1800):
            try:
                self.ask("GET", "/sign-in/")
            except OSError:
                time.sleep(0.1)
            else:
                return

    def ask(self, method: str, path: str, body: str | None = None, **headers: str) -> tuple[int, str, str]:
        with closing(http.client.HTTPConnection("127.0.0.1", next(self.turns), timeout=120)) as connection:
            connection.request(method, path, body, {name.replace("_", "-"): value for name, value in headers.items()})
            answer = connection.getresponse()
            cookies = "; ".join(one.split(";")[0] for one in answer.headers.get_all("Set-Cookie") or [])
            return answer.status, answer.read().decode(errors="replace"), cookies

    def _sign_in(self, name: str) -> tuple[str, int]:
        """Cookies of a person and the number of their car."""
        _, page, cookie = self.ask("GET", "/sign-in/")
        found = re.search(r'name="csrfmiddlewaretoken" value="([^"]+)"', page)
        form = {"Cookie": cookie, "Content_Type": "application/x-www-form-urlencoded"}
        values = {"csrfmiddlewaretoken": found[1] if found else "", "username": name, "password": PASSWORD}
        cookies = self.ask("POST", "/sign-in/", urlencode(values), **form)[2]
        car = re.search(r'href="/car/(\d+)/', self.ask("GET", "/", Cookie=cookies)[1])
        return cookies, int(car[1]) if car else 0

    def stop(self) -> None:
        for process in self.processes:
            process.send_signal(signal.SIGTERM)
        for process in self.processes:
            process.wait(30)


def people(count: int) -> None:
    """Persons with the demo's garage each; runs inside the instance."""
    from demo.scenario import load

    for k in range(count):
        owner = load().owner
        owner.username = f"reader-{k}"
        owner.save()


def read(instance: Instance, seconds: float, taken: list[float], wrong: list[int]) -> None:
    """One reader: a page, a pause, another page."""
    cookies, car = random.choice(instance.people)
    time.sleep(random.uniform(0, PAUSE_S))
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        page = random.choice(PAGES)
        began = time.monotonic()
        try:
            status, _, _ = instance.ask("GET", f"/car/{car}/{page}", Cookie=cookies)
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
            # Each server makes each page once.
            for cookies, car in instance.people:
                for page in [page for page in PAGES for _ in range(2 * len(instance.ports) + 1)]:
                    instance.ask("GET", f"/car/{car}/{page}", Cookie=cookies)
            for slow in (0, 105):
                taken: list[float] = []
                wrong: list[int] = []
                held = held_open(instance.port, slow)
                threads = [
                    threading.Thread(target=read, args=(instance, seconds, taken, wrong), daemon=True)
                    for _ in range(readers)
                ]
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
