"""Parts that come together, days on which the car is wanted, what is renewed with it, pictures and snags of claims."""

from __future__ import annotations

from datetime import timedelta

from django.core.files.uploadedfile import SimpleUploadedFile

from demo.pictures import card_picture, card_section
from planner.dates.bundled import due_beside, needed_beside, wear_beside
from planner.dates.facts import part_id
from planner.dates.models import Claim, ClaimPicture, PersonWeek
from planner.dates.reckoned import likely_of
from planner.dates.tests.test_dates import TODAY, Dated
from planner.models import Build, Choice
from planner.services import duplicate_build
from workshop.models import FollowUp, Job, Snag


def picture():
    return card_picture(card_section("17x8 +40", "225/45R17", 0.0), 200.0)[0]


class Parcels(Dated):
    def setUp(self):
        super().setUp()
        self.one, self.other = self.build.choices.filter(part__family__in=("wheel", "tyre", "nut"))[:2]
        for row, days in ((self.one, 3), (self.other, 40)):
            row.state, row.ordered_on, row.arrived_on, row.lead_days, row.supply = "wanted", None, None, days, ""
            row.save()

    def arrival(self, choice):
        return next(one.arrives for one in likely_of(self.found().plan).parts if one.id == part_id(choice))

    def test_what_comes_in_one_parcel_comes_with_the_slowest(self):
        self.assertEqual(self.arrival(self.one), TODAY() + timedelta(days=3))
        answer = self.client.post(
            self.url(f"plan/orders/{self.one.pk}/"), {"comes_with": self.other.pk, "lead_days": 3, "supply": ""}
        )
        self.assertEqual(answer.status_code, 302)
        self.assertEqual(self.arrival(self.one), TODAY() + timedelta(days=40))
        self.assertContains(self.page("plan/orders/"), f"comes with {self.other.label}")

    def test_a_copy_of_the_build_has_parcels_of_its_own(self):
        self.one.comes_with = self.other
        self.one.save()
        fresh = Build.objects.prefetch_related("choices__part", "levers").get(pk=self.build.pk)
        copy = duplicate_build(fresh, self.user)
        row = copy.choices.get(part=self.one.part, comes_with__isnull=False)
        self.assertEqual((row.comes_with.part_id, row.comes_with.build_id), (self.other.part_id, copy.pk))

    def test_a_chain_of_parcels_is_refused_in_words(self):
        self.other.comes_with = self.one
        self.other.save()
        page = self.client.post(self.url(f"plan/orders/{self.one.pk}/"), {"comes_with": self.other.pk, "lead_days": 3})
        self.assertEqual(page.status_code, 422)

    def test_another_builds_part_is_no_answer(self):
        stranger = Choice.objects.exclude(build=self.build).first()
        page = self.client.post(self.url(f"plan/orders/{self.one.pk}/"), {"comes_with": stranger.pk, "lead_days": 3})
        self.assertEqual(page.status_code, 422)


class Driven(Dated):
    def test_nothing_is_done_on_days_on_which_the_car_is_wanted(self):
        PersonWeek.objects.update(drive_weekdays=[0, 1, 2, 3, 4])
        found = self.found().plan
        self.assertEqual([found.calendar.week_hours[day] for day in range(7)], [0, 0, 0, 0, 0, 2, 2])
        timed = {one.id for one in found.tasks if one.hours and one.hours[1] > one.worked_hours}
        starts = [one.start for one in likely_of(found).tasks if one.start is not None and one.id in timed]
        self.assertTrue(starts)
        self.assertEqual([day for day in starts if day.weekday() < 5], [], found.calendar)

    def test_days_on_which_it_stands_apart_all_the_same_are_told(self):
        self.assertEqual(needed_beside(self.file(), self.build), ())
        PersonWeek.objects.update(drive_weekdays=[0, 1, 2, 3, 4], week_hours=[0, 0, 0, 0, 0, 1, 1])
        needed = needed_beside(self.file(), self.build)
        self.assertTrue(needed)
        self.assertTrue(all(day.weekday() < 5 for day in needed))
        self.assertContains(self.page("plan/"), "on which it is wanted to drive")

    def test_a_week_of_such_days_alone_is_refused(self):
        days = {f"day_{day}": 2 for day in range(7)}
        answer = self.client.post(
            self.url("plan/week/person/"), {**days, "wet_pct": 0, "drive_weekdays": list(range(7))}
        )
        self.assertContains(answer, "on which the car may stand", status_code=422)


class With(Dated):
    def test_what_wears_is_told_and_what_the_build_has_is_not(self):
        rows = wear_beside(self.file(), self.build)
        self.assertTrue(rows)
        part = self.build.choices.first().part
        part.family, part.name, part.spec = "other", rows[0].name, {}
        part.save()
        self.assertNotIn(rows[0].name, [one.name for one in wear_beside(self.file(), self.build)])

    def test_what_comes_due_soon_is_told(self):
        FollowUp.objects.filter(car=self.car).delete()
        FollowUp.objects.create(car=self.car, what="Gearbox oil", due_on=TODAY() + timedelta(days=30))
        FollowUp.objects.create(car=self.car, what="Belt", due_on=TODAY() + timedelta(days=300))
        self.assertEqual([what for _, what, _ in due_beside(self.file())], ["Gearbox oil"])
        self.assertContains(self.page("plan/"), "Gearbox oil")


class Claims(Dated):
    def post(self, **more):
        choice = self.build.choices.first()
        said = {"what": "Crack at a spoke", "seen_on": TODAY().isoformat(), **more}
        return choice, self.client.post(self.url(f"plan/orders/{choice.pk}/claim/"), said)

    def test_a_picture_is_kept_shown_and_taken_away(self):
        _, answer = self.post(image=SimpleUploadedFile("a.jpg", picture()))
        self.assertEqual(answer.status_code, 302)
        kept = ClaimPicture.objects.get()
        shown = self.client.get(self.url(f"plan/claim-picture/{kept.pk}/"))
        self.assertEqual(shown["Content-Type"], "image/jpeg")
        self.assertTrue(b"".join(shown.streaming_content).startswith(b"\xff\xd8"))
        self.client.post(self.url(f"plan/claim-picture/{kept.pk}/"))
        self.assertFalse(ClaimPicture.objects.exists())

    def test_what_is_no_picture_is_refused_and_nothing_is_kept(self):
        _, answer = self.post(image=SimpleUploadedFile("a.jpg", b"no picture"))
        self.assertContains(answer, "JPEG, PNG or WebP", status_code=422)
        self.assertContains(answer, "Crack at a spoke", status_code=422)
        self.assertFalse(Claim.objects.exists())

    def test_it_opens_a_snag_of_the_open_sheet_and_counts_on_the_board(self):
        Job.objects.filter(car=self.car).update(state="open", build=self.build)
        before = Snag.objects.count()
        self.post()
        self.assertEqual(Snag.objects.count(), before + 1)
        self.assertIn("Crack at a spoke", Snag.objects.latest("id").what)
        self.assertContains(self.page("plan/"), "1 claim")
