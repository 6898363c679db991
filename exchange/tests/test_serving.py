"""The served instance as the network sees it.

Behind a proxy, with slow senders, wrong passwords, a restore beside it.
"""

import http.client
import os
import re
import signal
import socket
import subprocess
import sys
import tempfile
import time
import unittest
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from threading import Thread
from urllib.parse import urlencode

from proofs.fuzz import Forms

ROOT = Path(__file__).resolve().parents[2]
#: the proxy's address as the server sees it; everybody else comes from 127.0.0.1
PROXY = "127.0.0.2"
WORD = "a-long-enough-word"


class Proxy(BaseHTTPRequestHandler):
    """A reverse proxy that ends HTTPS: it says who sent a request, by a header of the test."""

    target = 0

    def _pass_on(self):
        body = self.rfile.read(int(self.headers.get("Content-Length") or 0))
        headers = {
            name: value for name, value in self.headers.items() if name.lower() not in ("x-test-from", "connection")
        }
        headers |= {"X-Forwarded-For": self.headers.get("X-Test-From", "198.51.100.1"), "X-Forwarded-Proto": "https"}
        with closing(
            http.client.HTTPConnection("127.0.0.1", self.target, timeout=20, source_address=(PROXY, 0))
        ) as behind:
            behind.request(self.command, self.path, body, headers)
            answer = behind.getresponse()
            content = answer.read()
        self.send_response(answer.status)
        for name, value in answer.getheaders():
            if name.lower() not in ("transfer-encoding", "connection", "content-length", "date", "server"):
                self.send_header(name, value)
        self.send_header("Content-Length", str(len(content)))
        self.end_headers()
        self.wfile.write(content)

    do_GET = do_POST = _pass_on  # noqa: N815  the library's names

    def log_message(self, *_):
        pass


def free_port():
    with closing(socket.socket()) as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


class Served(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        work = tempfile.TemporaryDirectory()
        cls.addClassCleanup(work.cleanup)
        cls.data, cls.port = Path(work.name, "data"), free_port()
        kept = {name: value for name, value in os.environ.items() if not name.startswith(("DJANGO_", "TALLY_"))}
        cls.environment = kept | {
            "TALLY_DATA": str(cls.data),
            "TALLY_HTTPS": "1",
            "TALLY_PROXY": PROXY,
            "TALLY_PROCESSES": "2",
            "DJANGO_SETTINGS_MODULE": "rimtally.settings.production",
            **cls.told(),
        }
        cls.server = cls.manage("serve", "--port", str(cls.port))
        cls.addClassCleanup(cls.stop)
        cls.wait_until_it_answers()
        cls.proxy = ThreadingHTTPServer(("127.0.0.1", 0), cls.between())
        cls.addClassCleanup(cls.proxy.server_close)
        cls.addClassCleanup(cls.proxy.shutdown)
        Thread(target=cls.proxy.serve_forever, daemon=True).start()

    @classmethod
    def told(cls):
        """What the environment says besides."""
        return {}

    @classmethod
    def between(cls):
        """What stands between the network and the server."""
        return type("ToOne", (Proxy,), {"target": cls.port})

    @classmethod
    def manage(cls, *arguments, **told):
        return subprocess.Popen(
            [sys.executable, "manage.py", *arguments],
            cwd=ROOT,
            env=cls.environment | told,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
        )

    @classmethod
    def stop(cls, server=None):
        server = server or cls.server
        server.send_signal(signal.SIGTERM)
        server.communicate(timeout=20)

    @classmethod
    def wait_until_it_answers(cls, server=None, port=None):
        server, port = server or cls.server, port or cls.port
        for _ in range(1500):
            if server.poll() is not None:
                raise RuntimeError(server.communicate()[0])
            try:
                cls.ask(port, "GET", "/sign-in/")
            except OSError:
                time.sleep(0.1)
            else:
                return
        raise RuntimeError("the server does not answer")

    @staticmethod
    def ask(port, method, path, body=None, **headers):
        with closing(http.client.HTTPConnection("127.0.0.1", port, timeout=20)) as connection:
            connection.request(method, path, body, {name.replace("_", "-"): value for name, value in headers.items()})
            answer = connection.getresponse()
            return answer, answer.read().decode(errors="replace")

    def through(self, method, path, body=None, **headers):
        return self.ask(self.proxy.server_port, method, path, body, **headers)

    def post(self, path, sender, **values):
        """A form as a browser would send it, from an address."""
        answer, page = self.through("GET", path, X_Test_From=sender)
        token = re.search(r'name="csrfmiddlewaretoken" value="([^"]+)"', page)[1]
        cookie = answer.getheader("Set-Cookie").split(";")[0]
        host = f"127.0.0.1:{self.proxy.server_port}"
        return self.through(
            "POST",
            path,
            urlencode({"csrfmiddlewaretoken": token, **values}),
            X_Test_From=sender,
            Cookie=cookie,
            Content_Type="application/x-www-form-urlencoded",
            Origin=f"https://{host}",
            Referer=f"https://{host}{path}",
        )

    def test_behind_the_proxy_pages_are_shown_and_cookies_are_secure(self):
        answer, page = self.through("GET", "/sign-in/")
        self.assertEqual(answer.status, 200)
        self.assertIn("Sign in", page)
        self.assertIn("Secure", answer.getheader("Set-Cookie"))

    def test_a_stranger_is_not_believed_to_be_the_proxy(self):
        answer, _ = self.ask(self.port, "GET", "/sign-in/", X_Forwarded_Proto="https")
        self.assertEqual(
            (answer.status, answer.getheader("Location")), (301, f"https://127.0.0.1:{self.port}/sign-in/")
        )

    def test_wrong_passwords_from_elsewhere_do_not_lock_a_person_out(self):
        opened, _ = self.post("/sign-up/", "203.0.113.5", username="ina", password1=WORD, password2=WORD)
        self.assertEqual(opened.status, 302)
        wrong = [
            self.post("/sign-in/", "203.0.113.66", username="ina", password="wrong-one")[0].status for _ in range(7)
        ]
        self.assertEqual(wrong[-1], 429)
        self.assertEqual(self.post("/sign-in/", "203.0.113.5", username="ina", password=WORD)[0].status, 302)

    def test_one_password_over_many_names_is_stopped(self):
        for k in range(30):
            self.post("/sign-in/", "203.0.113.77", username=f"name-{k}", password="the-same-word")
        self.assertEqual(
            self.post("/sign-in/", "203.0.113.77", username="one-more", password="the-same-word")[0].status, 429
        )
        self.assertEqual(
            self.post("/sign-in/", "203.0.113.78", username="one-more", password="the-same-word")[0].status, 200
        )

    def test_one_address_opens_ten_accounts_an_hour(self):
        for k in range(10):
            self.assertEqual(
                self.post("/sign-up/", "203.0.113.99", username=f"many-{k}", password1=WORD, password2=WORD)[0].status,
                302,
            )
        self.assertEqual(
            self.post("/sign-up/", "203.0.113.99", username="many-10", password1=WORD, password2=WORD)[0].status, 429
        )

    def signed_in(self, name, sender):
        """Cookies of a new person."""
        opened, _ = self.post("/sign-up/", sender, username=name, password1=WORD, password2=WORD)
        return "; ".join(cookie.split(";")[0] for cookie in opened.headers.get_all("Set-Cookie"))

    def send(self, path, cookies, values):
        host = f"https://127.0.0.1:{self.proxy.server_port}"
        kind = "application/x-www-form-urlencoded"
        return self.through(
            "POST", path, urlencode(values), Cookie=cookies, Content_Type=kind, Origin=host, Referer=f"{host}{path}"
        )[0]

    def all_at_once(self, path, cookies, each):
        """The same address from several threads at the same moment."""
        with ThreadPoolExecutor(len(each)) as threads:
            return list(threads.map(lambda values: self.send(path, cookies, values), each))

    def test_pressed_at_the_same_moment_one_thing_is_made(self):
        cookies = self.signed_in("presser", "203.0.113.41")
        page = self.through("GET", "/car/new/", Cookie=cookies)[1]
        token, once = (
            re.search(rf'name="{name}" value="([^"]+)"', page)[1] for name in ("csrfmiddlewaretoken", "once")
        )
        car = {
            "nickname": "Pressed",
            "use": "street",
            "drive": "F",
            "currency": "EUR",
            "odometer_km": "0",
            "hours_per_week": "4",
        }
        answers = self.all_at_once("/car/new/", cookies, [car | {"csrfmiddlewaretoken": token, "once": once}] * 5)
        self.assertEqual({answer.status for answer in answers}, {302})
        self.assertEqual(len({answer.getheader("Location") for answer in answers}), 1)
        garage = self.through("GET", "/", Cookie=cookies)[1]
        self.assertEqual(len(set(re.findall(r'href="/car/(\d+)/', garage))), 1)
        plan = answers[0].getheader("Location").split("/")[2]
        built = [
            {"csrfmiddlewaretoken": token, "once": f"each-its-own-token-{k}", "name": "One build", "tolerance": "daily"}
            for k in range(5)
        ]
        answers = self.all_at_once(f"/car/{plan}/plan/", cookies, built)
        self.assertLessEqual({answer.status for answer in answers}, {302, 422})
        page = self.through("GET", f"/car/{plan}/plan/", Cookie=cookies)[1]
        self.assertEqual(len(set(re.findall(rf"/car/{plan}/plan/build/(\d+)/", page))), 1)

    def test_two_windows_at_the_same_moment_both_keep_what_they_changed(self):
        cookies = self.signed_in("windows", "203.0.113.42")
        page = self.through("GET", "/car/new/", Cookie=cookies)[1]
        token = re.search(r'name="csrfmiddlewaretoken" value="([^"]+)"', page)[1]
        start = {
            "nickname": "Both",
            "use": "street",
            "drive": "F",
            "currency": "EUR",
            "odometer_km": "0",
            "hours_per_week": "4",
        }
        car = self.send("/car/new/", cookies, start | {"csrfmiddlewaretoken": token}).getheader("Location")
        path = f"/car/{car.split('/')[2]}/"
        for k in range(10):
            shown = self.fields_of(self.through("GET", path, Cookie=cookies)[1], "car")
            both = [shown | {"once": f"window-{one}-token-{k:04}"} for one in ("first", "second")]
            both[0]["car-nickname"], both[1]["car-description"] = f"Both {k}", f"said in round {k}"
            answers = self.all_at_once(path, cookies, both)
            self.assertEqual([answer.status for answer in answers], [302, 302])
            kept = self.fields_of(self.through("GET", path, Cookie=cookies)[1], "car")
            self.assertEqual((kept["car-nickname"], kept["car-description"]), (f"Both {k}", f"said in round {k}"))
        for k in range(5):
            shown = self.fields_of(self.through("GET", path, Cookie=cookies)[1], "car")
            both = [
                shown | {"car-nickname": f"{name} {k}", "once": f"{name}-window-token-{k:04}"}
                for name in ("One", "Other")
            ]
            answers = self.all_at_once(path, cookies, both)
            self.assertEqual(
                sorted(answer.status for answer in answers),
                [302, 422],
                "one field changed by both: the later one is told",
            )

    def fields_of(self, page, what):
        """Fields of the page's form of that name with what they show."""
        found = Forms()
        found.feed(page)
        fields = next(form["fields"] for form in found.found if form["fields"].get("what") == what)
        token = re.search(r'name="csrfmiddlewaretoken" value="([^"]+)"', page)[1]
        return {name: value or "" for name, value in fields.items()} | {"csrfmiddlewaretoken": token}

    def test_slow_senders_hold_nobody(self):
        held = []
        try:
            for _ in range(250):
                slow = socket.create_connection(("127.0.0.1", self.port), timeout=5)
                slow.sendall(b"POST /sign-in/ HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 900\r\n\r\nhalf")
                held.append(slow)
            began = time.monotonic()
            answer, _ = self.through("GET", "/sign-in/")
            self.assertEqual(answer.status, 200)
            self.assertLess(time.monotonic() - began, 10, "and not the minutes until they give up")
        finally:
            for slow in held:
                slow.close()

    def test_too_large_is_told_in_our_words(self):
        answer, page = self.through("POST", "/sign-in/", b"x" * (17 * 1024 * 1024))
        self.assertEqual(answer.status, 413)
        self.assertIn("16 MB at the most", page)

    def test_a_restore_beside_the_server_is_refused(self):
        file = self.data.parent / "b.tar.gz"
        self.assertIn("Backed up", self.manage("backup", str(file)).communicate(timeout=60)[0])
        said = self.manage("restore", str(file)).communicate(timeout=60)[0]
        self.assertIn("Stop it first", said)

    def test_the_data_are_for_their_owner_alone(self):
        for path in (self.data, *self.data.glob("tally*")):
            self.assertEqual(path.stat().st_mode & 0o077, 0, path)

    def test_a_killed_process_is_replaced(self):
        children = Path(f"/proc/{self.server.pid}/task/{self.server.pid}/children").read_text().split()
        self.assertGreaterEqual(len(children), 2)
        for child in children:
            os.kill(int(child), signal.SIGKILL)
        time.sleep(0.5)
        self.wait_until_it_answers()
        self.assertEqual(self.through("GET", "/sign-in/")[0].status, 200)


#: a server whose processes are too large after every five answers
GROWS = """
import os, socket
import django
django.setup()
from exchange import serving
from shell.warm import between
listener = socket.create_server(("127.0.0.1", 0), backlog=1024)
family = serving._Family(listener, 1)
family.most_mb, between.every = 1, 5
print(listener.getsockname()[1], flush=True)
family.watch()
"""


class GivesWay(unittest.TestCase):
    def test_a_process_that_has_grown_is_replaced_and_everybody_is_answered(self):
        work = tempfile.TemporaryDirectory()
        self.addCleanup(work.cleanup)
        server = subprocess.Popen(
            [sys.executable, "-c", GROWS],
            cwd=ROOT,
            env=os.environ | {"TALLY_DATA": work.name, "DJANGO_SETTINGS_MODULE": "rimtally.settings.production"},
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            text=True,
        )
        self.addCleanup(server.wait, 30)
        self.addCleanup(server.stdout.close)
        self.addCleanup(server.terminate)
        port = int(server.stdout.readline())
        ours = Path(f"/proc/{server.pid}/task/{server.pid}/children")
        seen = set()

        def ask_often(_):
            status = []
            for _ in range(15):
                status.append(Served.ask(port, "GET", "/healthz")[0].status)
                seen.update(ours.read_text().split())
            return status

        with ThreadPoolExecutor(4) as pool:
            answers = [status for each in pool.map(ask_often, range(4)) for status in each]
        self.assertEqual(answers, [200] * 60)
        self.assertGreater(len(seen), 4)
        self.assertLessEqual(len(ours.read_text().split()), 12)


class Refusals(unittest.TestCase):
    def start(self, data, **environment):
        done = subprocess.run(
            [sys.executable, "manage.py", "serve", "--port", str(free_port())],
            cwd=ROOT,
            capture_output=True,
            text=True,
            timeout=60,
            check=False,
            env={
                **os.environ,
                "TALLY_DATA": str(data),
                "DJANGO_SETTINGS_MODULE": "rimtally.settings.production",
                **environment,
            },
        )
        self.assertNotEqual(done.returncode, 0)
        self.assertNotIn("Traceback", done.stdout + done.stderr)
        return done.stdout + done.stderr

    def test_where_a_database_was_no_empty_one_is_opened(self):
        with tempfile.TemporaryDirectory() as work:
            Path(work, "tally.kept").touch()
            self.assertIn("now there is none", self.start(work))
            Path(work, "tally.sqlite3").touch()
            self.assertIn("now there is none", self.start(work))

    def test_a_time_zone_that_is_none_and_a_number_of_processes_that_is_none(self):
        with tempfile.TemporaryDirectory() as work:
            self.assertIn("no time zone", self.start(work, TALLY_TIME_ZONE="Atlantis/Capital"))
            self.assertIn("accepted: 1 to 64", self.start(work, TALLY_PROCESSES="many"))
            self.assertIn("accepted: 250 or more", self.start(work, TALLY_PROCESS_MB="40"))


if __name__ == "__main__":
    unittest.main()
