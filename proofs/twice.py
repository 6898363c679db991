"""Every form sent twice at once: no duplicate, no 500.

    python -m proofs.twice [SEED]

Walks the pages of the demo garage in this process, fills every form as it stands, and sends it twice with the same
once-only token from two threads. What the second send made is told. On a temporary database; no network.
"""

from __future__ import annotations

import os
import re
import sys
import tempfile
import threading
from collections import Counter
from copy import copy
from pathlib import Path
from typing import Any

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "rimtally.settings.test")

#: forms that are meant to act again, or that end the walk
LEFT_OUT = ("sign-out", "password", "/leave", "/theme", "/remove", "/undo", "archive")
#: what a form without a value in a needed field gets
FILLED = {
    "name": "twice",
    "line": "17x7 +41 5x108 63.4",
    "what": "seen twice",
    "nickname": "Twice",
    "note": "twice",
    "part-name": "A part pressed twice",
}


def rows() -> Counter[str]:
    """How many rows every table of the rooms holds."""
    from django.apps import apps

    from shell.undo import ROOMS

    models = [model for model in apps.get_models() if model._meta.app_label in ROOMS and not model._meta.proxy]
    return Counter({model._meta.label: model._default_manager.count() for model in models})


def press_twice(client: Any, address: str, data: dict[str, str]) -> list[int]:
    """Both answers of two presses at once."""
    from django.db import connection
    from django.test import Client

    found: list[int] = []

    def press() -> None:
        own = Client(raise_request_exception=False, headers={"host": "127.0.0.1"})
        own.cookies = copy(client.cookies)
        found.append(own.post(address, data).status_code)
        connection.close()

    both = [threading.Thread(target=press) for _ in range(2)]
    for one in both:
        one.start()
    for one in both:
        one.join()
    return found


def main(seed: int = 1) -> int:
    import django

    django.setup()
    import logging

    logging.disable(logging.CRITICAL)
    from django.conf import settings
    from django.core.management import call_command
    from django.db import connection
    from django.test import Client

    from demo.scenario import load
    from proofs.fuzz import Fuzz

    with tempfile.TemporaryDirectory() as work:
        connection.close()
        connection.settings_dict["NAME"] = str(Path(work, "twice.sqlite3"))
        settings.MEDIA_ROOT = Path(work, "uploads")
        call_command("migrate", verbosity=0)
        car = load()
        fuzz = Fuzz(car.pk, car.owner, seed)
        pages = fuzz.pages()
        forms: dict[tuple[str, str], tuple[str, dict[str, Any]]] = {}
        for address, found in pages.items():
            for form in found:
                action = (form["action"] or address).split("#")[0]
                shape = re.sub(r"\d+", "#", action), str(form["fields"].get("what", ""))
                if form["method"] == "post" and not any(word in action for word in LEFT_OUT):
                    forms.setdefault(shape, (action, form["fields"]))
        client = Client(headers={"host": "127.0.0.1"})
        client.force_login(car.owner, backend="django.contrib.auth.backends.ModelBackend")
        client.get("/")
        doubled, broken, made = [], [], 0
        for place, ((shape, what), (action, fields)) in enumerate(sorted(forms.items())):
            data = {name: value or FILLED.get(name, "") for name, value in fields.items()}
            data["once"] = f"twice-{seed}-{place:04d}-token-of-some-length"
            before = rows()
            answers = press_twice(client, action, data)
            once = rows() - before
            # The same again, alone and with a token of its own, makes what one press makes.
            again_before = rows()
            again = client.post(action, data | {"once": f"again-{seed}-{place:04d}-token-of-some-length"}).status_code
            single = rows() - again_before
            made += sum(once.values())
            if any(answer >= 500 for answer in (*answers, again)):
                broken.append(f"{shape} {what}: {answers}, {again}")
            more = {name: count for name, count in once.items() if count > max(single.get(name, 0), 1)}
            if more and sum(once.values()) > sum(single.values()) > 0:
                doubled.append(f"{shape} {what}: {dict(once)} where one press makes {dict(single)}")
            if not single and any(count > 1 for count in once.values()):
                print(f"  look: {shape} {what}: {dict(once)}, once more makes nothing")
        print(f"{len(forms)} forms, {made} rows made; {len(doubled)} doubled, {len(broken)} answered 500 or worse")
        for line in (*doubled, *broken):
            print(" ", line)
        connection.close()
    return 1 if doubled or broken else 0


if __name__ == "__main__":
    sys.exit(main(*(int(word) for word in sys.argv[1:])))
