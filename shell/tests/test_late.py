"""Entries that come late, as the phone sends them: once each, clashes told, refusals in words, nobody else's."""

import uuid
from datetime import timedelta

from django.utils import timezone

from garage.readings.models import Reading
from shell.models import Sent
from shell.offline import KEPT_FOR, forget_sent
from shell.tests.base import ScenarioCase
from workshop.models import Job, Pull


class Late(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.job = Job.objects.get(build__name="Hill season")
        self.torque = self.job.steps.filter(kind="torque", joint__name="Wheel nuts").first()
        self.tick = self.job.steps.filter(kind="do", state="todo").first()

    def send(self, step, key=None, user=None, force=False, **data):
        headers = {"X-Tally-Key": key or str(uuid.uuid4()), "X-Tally-User": str(user or self.user.pk)} | (
            {"X-Tally-Force": "1"} if force else {}
        )
        return self.client.post(self.url(f"fit/job/{self.job.pk}/{step.place}/"), data, headers=headers)

    def pull(self, lug=1, read="55", **more):
        return self.send(self.torque, what="pull", lug=lug, read=read, **more)

    def test_once_however_often_it_is_sent(self):
        key = str(uuid.uuid4())
        for _ in range(3):
            answer = self.pull(key=key)
            self.assertEqual((answer.status_code, answer.json()), (200, {"state": "kept"}))
        self.assertEqual(Pull.objects.filter(step=self.torque).count(), 1)
        self.assertEqual(Sent.objects.filter(user=self.user, key=key).count(), 1)

    def test_a_clash_is_told_and_nothing_is_overwritten(self):
        self.pull(read="54")
        answer = self.pull(read="70")
        self.assertEqual(answer.status_code, 409)
        self.assertIn("54 N·m was read there", answer.json()["now"])
        self.assertEqual(Pull.objects.get(step=self.torque).read_nm, 54)
        self.assertEqual(self.pull(read="56", force=True).json(), {"state": "kept"})
        self.assertEqual(Pull.objects.get(step=self.torque).read_nm, 56)

    def test_a_step_that_was_done_meanwhile(self):
        self.job.steps.filter(pk=self.tick.pk).update(state="skipped", skipped_why="rain", done_at=timezone.now())
        answer = self.send(self.tick, what="done", note="by lamp")
        self.assertEqual((answer.status_code, answer.json()["now"]), (409, "skipped: rain"))
        self.tick.refresh_from_db()
        self.assertEqual((self.tick.state, self.tick.note), ("skipped", ""))
        self.assertFalse(Sent.objects.exists(), "it may be sent again once it is decided")

    def test_refused_in_words_and_not_half_kept(self):
        answer = self.pull(read="tight")
        self.assertEqual((answer.status_code, answer.json()["state"]), (422, "refused"))
        self.assertIn("tight", answer.json()["why"])
        gone = self.client.post(
            self.url(f"fit/job/{self.job.pk}/999/"),
            {"what": "done"},
            headers={"X-Tally-Key": str(uuid.uuid4()), "X-Tally-User": str(self.user.pk)},
        )
        self.assertIn("no such step", gone.json()["why"])
        self.assertFalse(Sent.objects.exists())

    def test_another_persons_entry_is_not_sent_for_this_one(self):
        other = self.person()
        self.assertEqual(self.pull(user=other.pk).json(), {"state": "another"})
        self.client.logout()
        answer = self.pull()
        self.assertEqual((answer.status_code, answer.json()), (401, {"state": "signed_out"}))
        self.assertFalse(Pull.objects.filter(step=self.torque).exists())

    def test_a_reading_meets_one_that_came_meanwhile(self):
        address = self.url("walk/?at=FL.arch_10")
        headers = lambda: {"X-Tally-Key": str(uuid.uuid4()), "X-Tally-User": str(self.user.pk)}  # noqa: E731
        shown = self.client.get(address)
        form = {name: shown.context["form"][name].value() for name in ("method", "who", "taken_on")} | {
            "seen": shown.context["seen"],
            "value2": "61",
        }
        form = {name: value for name, value in form.items() if value is not None}
        self.assertEqual(
            self.client.post(address, {**form, "value": "24"}, headers=headers()).json(), {"state": "kept"}
        )
        late = self.client.post(address, {**form, "value": "31"}, headers=headers())
        self.assertEqual(late.status_code, 409)
        self.assertIn("24", late.json()["now"])
        self.assertEqual([r.value for r in Reading.objects.filter(car=self.car, corner="FL", code="arch_10")], [24.0])

    def test_without_a_key_all_is_as_before(self):
        self.assertEqual(
            self.client.post(self.url(f"fit/job/{self.job.pk}/{self.tick.place}/"), {"what": "done"}).status_code, 302
        )
        short = self.client.post(
            self.url(f"fit/job/{self.job.pk}/{self.tick.place}/"), {"what": "undo"}, headers={"X-Tally-Key": "short"}
        )
        self.assertEqual(short.status_code, 302)

    def test_old_keys_are_forgotten(self):
        Sent.objects.create(user=self.user, key="k" * 20)
        self.assertEqual(forget_sent(), 0)
        Sent.objects.update(at=timezone.now() - KEPT_FOR - timedelta(hours=1))
        self.assertEqual(forget_sent(), 1)


class Around(ScenarioCase):
    def test_the_worker_and_the_ping(self):
        self.client.logout()
        worker = self.client.get("/worker.js")
        self.assertEqual(
            (worker["Content-Type"], worker["Cache-Control"]), ("text/javascript; charset=utf-8", "no-cache")
        )
        self.assertEqual(self.client.get("/ping/").status_code, 204)

    def test_signing_out_clears_what_the_browser_keeps(self):
        self.assertEqual(self.client.post("/sign-out/")["Clear-Site-Data"], '"cache"')
