"""Each person's garage is their own: every address as a stranger, and signed out."""

from django.contrib.auth.models import User
from django.core.files.base import ContentFile
from django.test import override_settings
from django.urls import get_resolver, reverse
from django.utils import timezone

from demo.pictures import card_picture, card_section
from garage.air.models import AirPanel
from garage.air.services import keep_picture
from garage.car.parts import Part, Tyre, Wheel
from garage.chassis.models import Adjuster, KnownDip
from garage.logs.models import Log
from garage.mass.models import MassItem
from garage.person.models import ToleranceSet
from garage.readings.models import Reading, Rub, Skip, Trial
from planner.dates.models import Claim, ClaimPicture, ReceiptPicture
from planner.models import Build, Choice, Search
from proof.models import Run, RunPlan, Series
from sharing.models import Helper, Link
from shelf.cards import keep_card
from shelf.models import WheelSet
from shell.tests.base import ScenarioCase
from workshop.composing import keep_template
from workshop.models import FollowUp, Job, JobTemplate, Photo, Removed, Snag, Spell

#: a search that found nothing
NO_STATE = {"facts": {}, "judged": {}, "whole": {}, "sets": [], "out": [], "rounds": 1, "phase": "done"}
OPEN = {
    "sign-in",
    "sign-up",
    "demo-sign-in",
    "theme",
    "worker",
    "ping",
    "healthz",
    "readyz",
    "shared",
    "shared-picture",
}
OWN = {"start", "garage", "export", "import", "leave", "settings", "car-new", "password", "sign-out", "undo"}
#: pages of nobody's car
OWN |= {"status", "others", "leave-car", "offer-answer", "help", "help-bench", "help-work", "guide-leave"}


def every_pattern(among=None):
    """All names with their arguments, however deep they stand."""
    for pattern in get_resolver().url_patterns if among is None else among:
        deeper = getattr(pattern, "url_patterns", None)
        if deeper is None:
            yield pattern
        else:
            yield from every_pattern(deeper)


class EveryAddress(ScenarioCase):
    def setUp(self):
        super().setUp()
        keep_card(Tyre.objects.first(), card_picture(card_section("17x8 +40", "225/45R17", 0.0), 200.0)[0])
        Skip.objects.create(car=self.car, corner="FL", code="joint")
        keep_picture(
            AirPanel.objects.filter(car=self.car).first(),
            self.user,
            card_picture(card_section("17x8 +40", "225/45R17", 0.0), 200.0)[0],
        )
        keep_template(Job.objects.filter(car=self.car).first(), self.user, "Wheels")

    def arguments(self, name, wanted):
        car = self.car.pk
        known = {
            "car_id": car,
            "corner": "FL",
            "code": "damper",
            "reading_id": Reading.objects.filter(car=car).first().pk,
            "search_id": Search.objects.get_or_create(
                car=self.car, defaults={"asked": {"goal": "money", "change": []}, "state": NO_STATE, "done": True}
            )[0].pk,
            "plan_id": RunPlan.objects.first().pk,
            "wheel_id": Wheel.objects.first().pk,
            "tyre_id": Tyre.objects.first().pk,
            "kind": "wheel",
            "candidate_id": Wheel.objects.first().pk,
            "build_id": Build.objects.first().pk,
            "what": "hold",
            "choice_id": Choice.objects.first().pk,
            "job_id": Job.objects.filter(car=self.car).first().pk,
            "place": 1,
            "snag_id": Snag.objects.filter(job__car=self.car).first().pk,
            "spell_id": Spell.objects.first().pk,
            "photo_id": Photo.objects.first().pk,
            "follow_up_id": FollowUp.objects.first().pk,
            "series_id": Series.objects.first().pk,
            "run_id": Run.objects.first().pk,
            "change_id": 1,
            "link_id": Link.objects.get_or_create(car=self.car, what="book", until=timezone.localdate())[0].pk,
            "helper_id": Helper.objects.get_or_create(
                car=self.car, person=User.objects.get_or_create(username="third")[0]
            )[0].pk,
            "set_id": WheelSet.objects.first().pk,
            "trial_id": Trial.objects.first().pk,
            "rub_id": Rub.objects.first().pk,
            "skip_id": Skip.objects.first().pk,
            "family": "ring",
            "part_id": Part.objects.filter(family="ring").first().pk,
            "dip_id": KnownDip.objects.first().pk,
            "adjuster_id": Adjuster.objects.first().pk,
            "log_id": Log.objects.filter(kind="pull").first().pk,
            "template_id": JobTemplate.objects.first().pk,
            "label": Removed.objects.first().label,
            "panel_id": AirPanel.objects.filter(car=self.car).first().pk,
        }
        if name in ("stands-part", "stands-remove"):
            known |= {"end": "F", "family": "damper"}
        known |= {"whose": "own", "key": "own:", "claim_id": Claim.objects.first().pk}
        if name == "lap-log":
            known["log_id"] = Log.objects.filter(kind="run").first().pk
        if name == "claim-picture":
            row = ClaimPicture(claim=Claim.objects.first())
            row.image.save("claim.jpg", ContentFile(card_picture(card_section("17x8 +40", "225/45R17", 0.0), 200.0)[0]))
            known["picture_id"] = row.pk
        if name == "receipt":
            known["picture_id"] = ReceiptPicture.objects.first().pk
        if name == "claim":
            known |= {"choice_id": Claim.objects.first().choice_id}
        if name == "guide":
            known |= {"key": "lower"}
        if name.startswith("mass-"):
            known |= {"label": MassItem.objects.filter(car=self.car).first().label}
        return [known[one] for one in wanted]

    def test_a_stranger_gets_404_everywhere(self):
        self.client.force_login(self.person())
        tried = 0
        for pattern in every_pattern():
            if pattern.name in OPEN | OWN:
                continue
            wanted = list(pattern.pattern.converters)
            self.assertEqual(wanted[0], "car_id", pattern.name)
            address = reverse(pattern.name, args=self.arguments(pattern.name, wanted))
            for method in (self.client.get, self.client.post):
                with self.subTest(address=address, method=method.__name__):
                    self.assertIn(method(address).status_code, (404, 405))
            tried += 1
        self.assertGreater(tried, 25)

    def test_my_own_car_with_a_strangers_parts_is_404(self):
        from garage.car.services import add_car

        other = self.person()
        mine = add_car(other, {"nickname": "mine"})
        self.client.force_login(other)
        theirs = {"part": Choice.objects.first().pk, "build": Build.objects.first().pk}
        for rest in (
            f"plan/part/{theirs['part']}/",
            f"plan/build/{theirs['build']}/",
            f"fit/job/{Job.objects.filter(car=self.car).first().pk}/1/",
            f"choose/wheel/{Wheel.objects.first().pk}/",
        ):
            self.assertEqual(self.client.get(f"/car/{mine.pk}/{rest}").status_code, 404, rest)
        posted = self.client.post(
            f"/car/{mine.pk}/plan/choose/",
            {
                "build": theirs["build"],
                "wheel": Wheel.objects.first().pk,
                "tyre": Tyre.objects.first().pk,
                "position": "A",
            },
        )
        self.assertEqual(posted.status_code, 404)

    def test_a_strangers_tolerance_set_is_not_shown_or_changed(self):
        one = ToleranceSet.objects.get()
        self.client.force_login(self.person())
        self.assertNotContains(self.client.get("/settings/"), one.name)
        self.client.post("/settings/", {"what": f"remove-{one.pk}"})
        self.assertTrue(ToleranceSet.objects.filter(pk=one.pk).exists())

    def test_signed_out_goes_to_the_sign_in(self):
        self.client.logout()
        for address in ("/", "/settings/", self.url("measure/"), self.url(f"fit/photo/{Photo.objects.first().pk}/")):
            response = self.client.get(address)
            self.assertRedirects(response, f"/sign-in/?next={address}")

    def test_the_owner_reaches_every_page(self):
        for pattern in every_pattern():
            if pattern.name in OPEN | OWN:
                continue
            address = reverse(pattern.name, args=self.arguments(pattern.name, list(pattern.pattern.converters)))
            with self.subTest(address=address):
                self.assertIn(
                    self.client.get(address).status_code, (200, 302, 404 if pattern.name == "pair" else 200, 405)
                )


class Accounts(ScenarioCase):
    def test_sign_up_sign_out_sign_in_change_password(self):
        self.client.logout()
        self.client.post(
            "/sign-up/", {"username": "jory", "password1": "tape-measure-9", "password2": "tape-measure-9"}
        )
        self.assertContains(self.client.get("/"), "No car yet")
        self.client.post("/sign-out/")
        self.assertEqual(self.client.get("/").status_code, 302)
        self.assertRedirects(self.client.post("/sign-in/", {"username": "jory", "password": "tape-measure-9"}), "/")
        changed = self.client.post(
            "/password/",
            {"old_password": "tape-measure-9", "new_password1": "longer-tape-10", "new_password2": "longer-tape-10"},
        )
        self.assertRedirects(changed, "/settings/")

    def test_bad_sign_up_keeps_the_name(self):
        self.client.logout()
        response = self.client.post("/sign-up/", {"username": "jory", "password1": "short", "password2": "short"})
        self.assertContains(response, 'value="jory"', status_code=422)
        self.assertContains(response, "too short", status_code=422)

    def test_demo_sign_in_exists_only_on_the_demo(self):
        self.client.logout()
        self.assertContains(self.client.get("/sign-in/"), "demo garage")
        self.assertRedirects(self.client.post("/demo-sign-in/"), "/")
        with override_settings(DEMO=False):
            self.client.logout()
            self.assertNotContains(self.client.get("/sign-in/"), "demo garage")
            self.assertEqual(self.client.post("/demo-sign-in/").status_code, 404)

    @override_settings(AXES_ENABLED=True)
    def test_too_many_wrong_passwords_lock_for_a_while(self):
        self.client.logout()
        for _ in range(6):
            last = self.client.post("/sign-in/", {"username": "demo", "password": "wrong"})
        self.assertEqual(last.status_code, 429)
        self.assertContains(
            self.client.post("/sign-in/", {"username": "demo", "password": "wrong"}),
            "Locked for a while",
            status_code=429,
        )

    def test_pages_forbid_foreign_and_inline_scripts(self):
        policy = self.page("measure/").headers["Content-Security-Policy"]
        self.assertIn("script-src 'self'", policy)
        self.assertNotIn("unsafe", policy)
        for rest in ("measure/", "choose/", "check/FL/", "plan/", "fit/", "prove/"):
            html = self.page(rest).content.decode()
            for forbidden in ("<script>", " onclick=", " style=", "javascript:"):
                self.assertNotIn(forbidden, html, rest)
