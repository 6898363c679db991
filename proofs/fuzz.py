"""Odd values in every field of every form and in every address: no 500, nothing slow, nothing kept that is fatal later.

    python -m proofs.fuzz [REQUESTS] [SEED] [small]

With ``small`` the garage holds the same forms but little to judge: more requests in the same time.

In this process, on a temporary database; no network. Prints faults as they come and a summary.
"""

from __future__ import annotations

import ctypes
import math
import os
import random
import resource
import struct
import sys
import tempfile
import time
import traceback
import weakref
from collections import Counter
from dataclasses import dataclass, field
from html.parser import HTMLParser
from pathlib import Path
from typing import Any

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "rimtally.settings.test")

ODD = (
    "",
    " ",
    "0",
    "-0",
    "1",
    "-1",
    "2",
    "12",
    "1000",
    "65536",
    "2147483647",
    "2147483648",
    "-2147483649",
    "9223372036854775808",
    "1" * 40,
    "9" * 4400,
    "1e5",
    "1e200",
    "-1e200",
    "1e-300",
    "nan",
    "NaN",
    "inf",
    "-inf",
    "1/0",
    "0/1",
    "1,5",
    "1,500",
    "½",
    "-3000 deg",
    "-100000",
    "3000 mm",
    "-3000 mm",
    "1e200 mm",
    "2°30'",
    "11/16 in",
    "7 lb 4 oz",
    "true",
    "null",
    "None",
    "[]",
    "{}",
    "'",
    '"',
    "<script>alert(1)</script>",
    "' OR 1=1 --",
    "../../etc/passwd",
    "\0",
    "a\0b",
    "\ud800",
    "\u202e",
    "é" * 300,
    "x" * 5000,
    "\r\n\r\n",
    "2026-02-30",
    "0001-01-01",
    "9999-12-31",
    "2026-11-25T25:61",
    "18x9.5 +22 5x114.3 73.1",
    "18x9 40",
    "225/45R17",
    "35x12.50R17LT",
    "cone 60",
    "cone" + " " * 4000 + "60",
    "M12x1.5",
    "12 weeks",
    "-310",
)

#: files of every kind that is taken in, whole, broken, of another kind, and made to be heavy: name and content
FILES: tuple[tuple[str, bytes], ...] = (
    ("empty.csv", b""),
    ("nul.csv", bytes(4000)),
    ("pull.csv", b"time,rpm,speed\n" + b"".join(b"%d,%d,%d\n" % (k, 2000 + 40 * k, 30 + k) for k in range(120))),
    ("odd.csv", b'time,rpm\n1,nan\n2,1e999\n,,,,\n"""\n3,-5\n'),
    ("wide.csv", b"1," * 40_000),
    ("short.csv", b"a\n" * 60_000),
    ("latin.csv", "zeit;drehzahl;öl °C\n0,1;2000;90\n0,2;2100;91\n".encode("latin-1")),
    ("deep.json", b"[" * 50_000),
    ("stations.json", b'{"FL": {"damper": "25 mm", "camber": 1e400}, "rows": [null, true, {}]}'),
    (
        "nan.wav",
        b"RIFF"
        + struct.pack("<I", 36 + 4000)
        + b"WAVEfmt "
        + struct.pack("<IHHIIHH", 16, 3, 1, 8000, 32000, 4, 32)
        + b"data"
        + struct.pack("<I", 4000)
        + struct.pack("<f", math.nan) * 1000,
    ),
    (
        "tone.wav",
        b"RIFF"
        + struct.pack("<I", 36 + 16000)
        + b"WAVEfmt "
        + struct.pack("<IHHIIHH", 16, 1, 1, 8000, 16000, 2, 16)
        + b"data"
        + struct.pack("<I", 16000)
        + bytes(range(250)) * 64,
    ),
    ("cut.wav", b"RIFF\xff\xff\xff\xffWAVEfmt \xff\xff\xff\xff"),
    (
        "track.gpx",
        b'<gpx version="1.1"><trk><trkseg>'
        + b"".join(
            b'<trkpt lat="50.%04d" lon="8.1"><time>2026-11-25T10:%02d:%02dZ</time></trkpt>' % (k, k // 60, k % 60)
            for k in range(300)
        )
        + b"</trkseg></trk></gpx>",
    ),
    ("bomb.gpx", b'<!DOCTYPE gpx [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;">]><gpx>&b;</gpx>'),
    ("nested.gpx", b"<a>" * 30_000),
    ("drawing.dxf", b"0\nSECTION\n2\nENTITIES\n0\nLINE\n10\nnan\n0\nEOF\n"),
    (
        "picture.png",
        b"\x89PNG\r\n\x1a\n" + b"\x00\x00\x00\rIHDR" + struct.pack(">II", 60_000, 60_000) + b"\x08\x02\x00\x00\x00",
    ),
    ("picture.svg", b'<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>'),
    ("archive.zip", b"PK\x03\x04" + bytes(200)),
    ("../../" + "n" * 300 + ".csv", b"x"),
)

#: a page that takes the processor for longer than this is a fault [s]
SLOW_S = 1.0
#: requests between two collections of what is not used any more, as in the server
BETWEEN = 500
#: after so many requests the pages are walked anew
ROUND = 1000


class Forms(HTMLParser):
    """Forms of a page: where they go, and their fields with what stands in them."""

    def __init__(self) -> None:
        super().__init__()
        self.found: list[dict[str, Any]] = []
        self.links: set[str] = set()
        self.select: str | None = None
        self.area: str | None = None

    def handle_starttag(self, tag: str, attributes: list[tuple[str, str | None]]) -> None:
        a = dict(attributes)
        if tag == "a" and (a.get("href") or "").startswith(("/", "?")):
            self.links.add(a["href"] or "")
        for name in ("hx-get",):
            if (a.get(name) or "").startswith("/"):
                self.links.add(a[name] or "")
        if tag == "form":
            self.found.append(
                {
                    "action": a.get("action") or "",
                    "method": (a.get("method") or "get").lower(),
                    "fields": {},
                    "files": [],
                }
            )
        if not self.found:
            return
        fields = self.found[-1]["fields"]
        name = a.get("name")
        if tag in ("input", "button") and name and name not in ("csrfmiddlewaretoken", "once"):
            if a.get("type") in ("checkbox", "radio") and "checked" not in a:
                fields.setdefault(name, "")
            elif a.get("type") == "file":
                self.found[-1]["files"].append(name)
            else:
                fields[name] = a.get("value") or ""
        elif tag == "select" and name:
            self.select = name
            fields.setdefault(name, None)
        elif tag == "option" and self.select and ("selected" in a or fields.get(self.select) is None):
            fields[self.select] = a.get("value") or ""
        elif tag == "textarea" and name:
            self.area = name
            fields[name] = ""

    def handle_endtag(self, tag: str) -> None:
        if tag == "select":
            self.select = None
        if tag == "textarea":
            self.area = None

    def handle_data(self, data: str) -> None:
        if self.area and self.found:
            self.found[-1]["fields"][self.area] += data


def yardstick_s() -> float:
    """Processor time of some fixed work: where other work shares the core it takes longer, as the pages do [s]."""
    best = 9.0
    for _ in range(3):
        began = time.process_time()
        rows = {k: (k * 7 % 1013, str(k)) for k in range(12_000)}
        sorted(rows.values())
        np.sort(np.sin(np.arange(60_000.0))).sum()
        best = min(best, time.process_time() - began)
    return best


@dataclass
class Tally:
    """What came of it."""

    status: Counter[int] = field(default_factory=Counter)
    faults: list[str] = field(default_factory=list)
    slow: list[str] = field(default_factory=list)
    slowest: float = 0.0
    #: the quickest that the yardstick was
    pace_s: float = field(default_factory=yardstick_s)
    #: faults already told whole
    told: set[str] = field(default_factory=set)
    #: processor time by the shape of the address [s]
    spent: Counter[str] = field(default_factory=Counter)

    def note(self, response: Any, seconds: float, said: str) -> None:
        self.status[response.status_code] += 1
        self.slowest = max(self.slowest, seconds)
        if response.status_code >= 500:
            fault = (
                "".join(traceback.format_exception(*response.exc_info)[-3:])
                if getattr(response, "exc_info", None)
                else ""
            )
            if fault not in self.told:
                print(fault, flush=True)
            self.told.add(fault)
            self.faults.append(said)
            print("500", said[:200], flush=True)
        elif seconds > SLOW_S:
            now = yardstick_s()
            self.pace_s = min(self.pace_s, now)
            shared = now / self.pace_s
            print(
                f"{seconds:.2f} s while the core is {shared:.1f} times slower, {seconds / shared:.2f} s",
                said[:200],
                flush=True,
            )
            if seconds / shared > SLOW_S:
                self.slow.append(f"{seconds:.1f} s {said}")


class Fuzz:
    """A signed-in client that walks pages and posts their forms with odd values."""

    def __init__(self, car_id: int, user: Any, seed: int) -> None:
        self.random, self.tally, self.user = random.Random(seed), Tally(), user
        self.start = f"/car/{car_id}/"
        self.count = self.uploads = 0

    def sign_in(self) -> None:
        """A client anew: an old one holds on to something of every request that it made."""
        from django.test import Client

        self.client = Client(raise_request_exception=False, headers={"host": "127.0.0.1"})
        self.client.force_login(self.user, backend="django.contrib.auth.backends.ModelBackend")

    def ask(self, method: str, address: str, data: dict[str, Any] | None = None, said: str = "") -> Any:
        self.count += 1
        if self.count % BETWEEN == 0:
            from shell.warm import tidy_up

            let_go()
            tidy_up()
        began = time.process_time()
        call = self.client.post if method == "post" else self.client.get
        try:
            response = call(address, data or {})
        except (UnicodeError, ValueError) as error:
            # The client itself refuses to send this; a browser can't either.
            if "surrogates" in str(error) or "null" in str(error) or isinstance(error, UnicodeError):
                return None
            raise
        took = time.process_time() - began
        self.tally.spent[f"{method} " + "".join("#" if c.isdigit() else c for c in address.split("?")[0])[:60]] += took  # type: ignore[assignment]
        self.tally.note(response, took, said or f"{method} {address}")
        return response

    def pages(self, most: int = 400) -> dict[str, list[dict[str, Any]]]:
        """Every page reached by links from the car, with its forms."""
        waiting, seen, found = [self.start, "/", "/settings/"], set(), {}
        shapes: Counter[str] = Counter()
        while waiting and len(found) < most:
            address = waiting.pop(0)
            shape = "".join("#" if c.isdigit() else c for c in address.split("?")[0])
            if address in seen or shapes[shape] >= 3 or "sign-out" in address:
                continue
            seen.add(address)
            shapes[shape] += 1
            response = self.ask("get", address)
            if (
                response is None
                or response.status_code != 200
                or "html" not in response.headers.get("Content-Type", "")
            ):
                continue
            parser = Forms()
            parser.feed(response.content.decode())
            found[address] = parser.found
            waiting += sorted(link if link.startswith("/") else address.split("?")[0] + link for link in parser.links)
        return found

    def run(self, requests: int) -> None:
        """Rounds of odd values in the forms as they stand at that time, until so many requests are made."""
        while self.count < requests:
            self.round(min(requests, self.count + ROUND))

    def round(self, until: int) -> None:
        """Odd values, one field at a time or several; now and then the pages that show what was kept."""
        from shell.warm import now_mb

        self.tally.pace_s = min(self.tally.pace_s, yardstick_s())
        self.sign_in()
        pages = self.pages()
        cases = [
            (address, form, name)
            for address, forms in pages.items()
            for form in forms
            for name in [*form["fields"], *form["files"]]
        ]
        wide = [address for address in pages if address.count("/") <= 6][:40]
        print(
            f"{self.count} requests, slowest {self.tally.slowest:.2f} s, {peak_mb():.0f} MB at most, {now_mb():.0f} MB now, {used_mb():.0f} MB of it in use; {len(pages)} pages, {len(cases)} fields, {self.uploads} files sent",
            flush=True,
        )
        most = ", ".join(f"{name} {seconds:.0f} s" for name, seconds in self.tally.spent.most_common(8))
        print(f"  of {sum(self.tally.spent.values()):.0f} s: {most}", flush=True)
        while self.count < until:
            self.random.shuffle(cases)
            for address, form, name in cases:
                if self.count >= until:
                    return
                self.case(address, form, name)
                if self.count % 25 == 0:
                    shown = self.random.choice(wide)
                    self.ask("get", shown, said=f"get {shown} of what was kept")
                if self.count % 40 == 0:
                    self.address()

    def case(self, address: str, form: dict[str, Any], name: str) -> None:
        """One form with an odd value in a field, sometimes in two, sometimes without what the page had seen."""
        action = form["action"] or address
        leaves = "sign-out" in action or "password" in action
        if leaves or "/remove/" in action and self.random.random() < 0.98:
            return
        data: dict[str, Any] = dict(form["fields"])
        if name in form["files"]:
            title, content = self.random.choice(FILES)
            data[name], said = SimpleUploadedFile(title, content), f"{form['method']} {action} {name}=file {title[:40]}"
            self.uploads += 1
        else:
            data[name] = self.random.choice(ODD)
            said = f"{form['method']} {action} {name}={data[name][:40]!r}"
        if form["fields"] and self.random.random() < 0.3:
            other = self.random.choice(list(form["fields"]))
            data[other] = self.random.choice(ODD)
            said += f" {other}={data[other][:40]!r}"
        if self.random.random() < 0.3:
            data.pop("seen", None)
        self.ask(form["method"], action, data, said)

    def address(self) -> None:
        """Odd numbers in addresses."""
        number = self.random.choice(
            ["0", "99999", "9" * 18, "9" * 40, "9" * 4400, "-1", "1.5", "%00", "%F0%28%8C%28", "a" * 300]
        )
        shape = self.random.choice(
            [
                "/car/{}/",
                "/car/{}/measure/",
                "/undo/{}/",
                self.start + "plan/build/{}/",
                self.start + "measure/{}/",
                self.start + "fit/{}/1/",
                self.start + "check/{}/",
                self.start + "choose/{}/{}/",
                self.start + "prove/{}/",
                self.start + "measure/FL/{}/",
            ]
        )
        self.ask("get", shape.format(number, number))


def let_go() -> None:
    """Django's test client connects two lasting functions anew with every request and leaves a mark of each: 0.6 MB for
    1,000 requests, of the client alone.
    """
    from django.db import close_old_connections

    for mark in list(weakref.finalize._registry):  # type: ignore[attr-defined]
        held = mark.peek()
        if held is not None and held[0] is close_old_connections:
            mark.detach()


def used_mb() -> float:
    """What is in use of the heap, without what is free in it [MB]."""
    fields = "arena ordblks smblks hblks hblkhd usmblks fsmblks uordblks fordblks keepcost"

    class Told(ctypes.Structure):
        _fields_ = [(name, ctypes.c_size_t) for name in fields.split()]

    ask = ctypes.CDLL(None).mallinfo2
    ask.restype = Told
    told = ask()
    return float(told.uordblks + told.hblkhd) / 1e6


def peak_mb() -> float:
    """Peak memory of this process [MB]."""
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def thin(car: Any) -> None:
    """Leave a garage with every kind of row and form, and little to judge."""
    from garage.car.models import Car
    from garage.car.parts import Part
    from garage.readings.models import Reading, Trial

    kept = set(
        Reading.objects.filter(car=car, corner="FL", code__in=("damper", "arch_12", "camber")).values_list(
            "pk", flat=True
        )
    )
    Trial.objects.filter(car__owner=car.owner).delete()
    Reading.objects.filter(car__owner=car.owner).exclude(pk__in=kept).delete()
    Part.objects.filter(car=car, listed=True, choices__isnull=True).exclude(
        name__in=("Quillet Five", "Dryline")
    ).delete()
    Car.objects.filter(owner=car.owner).exclude(pk=car.pk).delete()


def main(requests: int = 20000, seed: int = 1, size: str = "whole") -> int:
    import django

    django.setup()
    import logging

    logging.disable(logging.CRITICAL)
    resource.setrlimit(resource.RLIMIT_AS, (4 * 1024**3, 4 * 1024**3))
    from django.conf import settings
    from django.core.management import call_command
    from django.db import connection

    from demo.scenario import load
    from shell.warm import warm

    # As the server does before it forks; it collects between answers, the walk here does.
    warm()
    with tempfile.TemporaryDirectory() as work:
        connection.close()
        connection.settings_dict["NAME"] = str(Path(work, "fuzz.sqlite3"))
        settings.MEDIA_ROOT = Path(work, "uploads")
        call_command("migrate", verbosity=0)
        car = load()
        if size == "small":
            thin(car)
        fuzz = Fuzz(car.pk, car.owner, seed)
        began = time.perf_counter()
        fuzz.run(requests)
        tally = fuzz.tally
        print(
            f"{fuzz.count} requests ({fuzz.uploads} with a file) in {time.perf_counter() - began:.0f} s: {dict(sorted(tally.status.items()))}; {len(tally.faults)} faults, "
            f"{len(tally.slow)} over {SLOW_S:g} s (slowest {tally.slowest:.2f} s), peak {peak_mb():.0f} MB"
        )
        connection.close()
    return 1 if tally.faults or tally.slow else 0


if __name__ == "__main__":
    sys.exit(main(*(int(word) if word.isdigit() else word for word in sys.argv[1:])))
