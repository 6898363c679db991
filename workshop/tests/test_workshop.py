"""Job sheets: steps, torque, hours, snags, photos, what comes due."""

import io

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import IntegrityError, transaction
from django.utils import timezone
from PIL import Image

from garage.car.models import Axle, Driveline, Outfit
from garage.car.parts import Part
from garage.inhand import as_it_stands
from planner.models import Build
from planner.queries import sums
from planner.services import set_levers
from rimcore.quantities.errors import BadInput
from shell.models import Change
from shell.tests.base import ScenarioCase
from shell.undo import undo
from workshop.composing import make_job
from workshop.models import FollowUp, Job, Photo, Pull, Snag, Spell
from workshop.queries import follow_ups
from workshop.services import finish_job


class Sheets(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.job = Job.objects.get(build__name="Hill season")

    def step(self, kind="do", **more):
        return self.job.steps.filter(kind=kind, state="todo", **more).first()

    def post(self, step, **data):
        return self.client.post(self.url(f"fit/job/{self.job.pk}/{step.place}/"), data)

    def test_done_skipped_with_a_reason_and_undone(self):
        step = self.step()
        self.post(step, what="skip", **{"skip-why": ""})
        step.refresh_from_db()
        self.assertEqual(step.state, "todo")
        self.post(step, what="skip", **{"skip-why": "no helper today"})
        step.refresh_from_db()
        self.assertEqual((step.state, step.skipped_why), ("skipped", "no helper today"))
        self.post(step, what="undo")
        self.post(step, what="done", note="done by lamp")
        step.refresh_from_db()
        self.assertEqual((step.state, step.note, step.skipped_why), ("done", "done by lamp", ""))
        with self.assertRaises(IntegrityError), transaction.atomic():
            self.job.steps.filter(pk=step.pk).update(state="skipped", skipped_why="")

    def test_torque_nut_by_nut_in_crosswise_order(self):
        step = self.step("torque")
        self.assertEqual(step.torque_nm, 55)
        lugs = []
        for _ in range(5):
            now = self.client.get(self.url(f"fit/job/{self.job.pk}/{step.place}/")).context["torque"].now
            lugs.append(now)
            self.post(step, what="pull", lug=now, read="41 lbf·ft")
        self.assertEqual(lugs, [1, 3, 5, 2, 4])
        step.refresh_from_db()
        self.assertEqual(step.state, "done")
        self.assertAlmostEqual(step.pulls.first().read_nm, 55.59, places=2)
        self.assertContains(self.client.get(self.url(f"fit/job/{self.job.pk}/{step.place}/")), "41 lbf·ft")

    def test_torque_refused(self):
        step = self.step("torque")
        for read, words in (("tight", "accepted"), ("5000", "Out of range"), ("", "required"), ("5 mm", "length")):
            response = self.post(step, what="pull", lug=1, read=read)
            self.assertContains(response, words, status_code=422)
        self.assertEqual(self.post(step, what="pull", lug=9, read="55").status_code, 404)
        self.assertFalse(Pull.objects.filter(step=step).exists())

    def test_cautions_stand_at_their_step(self):
        for words, place in (
            ("Never under a car", "jack"),
            ("impact gun", "half"),
            ("Never hang a caliper", "Wheels off"),
        ):
            step = self.job.steps.filter(title__icontains=place).first()
            self.assertContains(self.client.get(self.url(f"fit/job/{self.job.pk}/{step.place}/")), words)

    def test_hours(self):
        step = self.step()
        self.post(step, what="start")
        self.post(step, what="start")
        self.assertEqual(Spell.objects.filter(job=self.job, ended__isnull=True).count(), 1)
        self.post(step, what="stop")
        spell = Spell.objects.filter(job=self.job).last()
        self.assertIsNotNone(spell.ended)
        wrong = self.client.post(
            self.url(f"fit/hours/{spell.pk}/"), {"began": "2026-01-02T10:00", "ended": "2026-01-02T09:00"}
        )
        self.assertContains(wrong, "before the start", status_code=422)
        self.client.post(self.url(f"fit/hours/{spell.pk}/"), {"began": "2026-01-02T10:00", "ended": "2026-01-02T11:30"})
        spell.refresh_from_db()
        self.assertAlmostEqual(spell.hours, 1.5)

    def test_snag_costs_and_cure(self):
        self.post(
            self.step(),
            what="snag",
            **{"snag-kind": "stripped", "snag-what": "stud spins", "snag-cost_minor": "12.50", "snag-hours": "1"},
        )
        snag = Snag.objects.get(what="stud spins")
        self.assertEqual((snag.cost_minor, snag.hours), (1250, 1.0))
        open_ended = self.client.post(
            self.url(f"fit/snag/{snag.pk}/"), {"kind": "stripped", "what": "stud spins", "closed_on": "2026-01-05"}
        )
        self.assertContains(open_ended, "how it was cured", status_code=422)
        self.client.post(
            self.url(f"fit/snag/{snag.pk}/"),
            {"kind": "stripped", "what": "stud spins", "cure": "new stud", "closed_on": "2026-01-05"},
        )
        snag.refresh_from_db()
        self.assertEqual(snag.cure, "new stud")

    def test_a_sheet_needs_a_pair(self):
        Build.objects.filter(car=self.car).update(in_hand=False)
        Build.objects.create(car=self.car, name="Empty", in_hand=True)
        self.assertContains(self.client.post(self.url("fit/"), follow=True), "Nothing changes in this build yet")

    def test_four_and_six_lugs(self):
        for lugs in (4, 6):
            Axle.objects.filter(car=self.car).update(bolts=lugs)
            self.client.post(self.url("fit/"))
            job = Job.objects.first()
            torque = job.steps.filter(kind="torque").first()
            page = self.client.get(self.url(f"fit/job/{job.pk}/{torque.place}/"))
            self.assertEqual(len(page.context["torque"].nuts), lugs)


class Hubs(ScenarioCase):
    def sheet(self, **rear):
        Axle.objects.filter(car=self.car, end="F").update(bolts=5, nut_torque_nm=110)
        Axle.objects.filter(car=self.car, end="R").update(**rear)
        self.client.post(self.url("fit/"))
        return Job.objects.first()

    def test_each_end_has_its_own_nuts_and_torque(self):
        job = self.sheet(bolts=4, nut_torque_nm=90)
        said = {
            (s.corner, s.stage): (s.lugs, s.torque_nm)
            for s in job.steps.filter(kind="torque", joint__name="Wheel nuts")
        }
        self.assertEqual(said["FL", "full"], (5, 110))
        self.assertEqual((said["RR", "half"], said["RR", "full"]), ((4, 45), (4, 90)))

    def test_what_is_not_known_is_asked_and_not_made_up(self):
        job = self.sheet(bolts=None, nut_torque_nm=None)
        step = job.steps.get(corner="RL", stage="full", joint__name="Wheel nuts")
        self.assertEqual((step.lugs, step.torque_nm), (None, None))
        address = self.url(f"fit/job/{job.pk}/{step.place}/")
        asked = self.client.get(address)
        self.assertContains(
            asked, "Not known of this hub: how many nuts or bolts it has, the torque of the car&#x27;s handbook"
        )
        self.assertIsNone(asked.context["torque"])
        refused = self.client.post(address, {"what": "hub", "hub-bolts": "2", "hub-nut_torque_nm": "lots"})
        self.assertContains(refused, "lots", status_code=422)
        self.assertEqual(self.client.post(address, {"what": "pull", "lug": "1", "read": "90"}).status_code, 404)
        self.assertEqual(self.client.post(address, {"what": "done"}).status_code, 404)
        self.client.post(address, {"what": "hub", "hub-bolts": "4", "hub-nut_torque_nm": "90"})
        known = self.client.get(address)
        self.assertEqual((len(known.context["torque"].nuts), known.context["torque"].wanted_nm), (4, 90))
        for _ in range(4):
            now = self.client.get(address).context["torque"].now
            self.client.post(address, {"what": "pull", "lug": now, "read": "90"})
        step.refresh_from_db()
        self.assertEqual((step.state, step.lugs, step.torque_nm), ("done", 4, 90))


class Fitted(ScenarioCase):
    def test_the_whole_wheel_stands_on_the_car_and_a_wrong_seat_stays_wrong(self):
        build = Build.objects.get(name="Hill season")
        choice = build.choices.filter(part__family="wheel").first()
        wheel = choice.part
        wheel.spec.pop("bolts", None)
        wheel.spec |= {
            "pcd_mm": 108.0,
            "seat": "cone 60",
            "load_kg": 700,
            "pad_thickness_mm": 12,
            "barrel_radius_mm": 190,
            "spoke_back_mm": 44,
        }
        wheel.save()
        Axle.objects.filter(car=self.car).update(seat="ball R13")
        seat = {j.code: j.state for j in sums(self.file(), Build.objects.get(pk=build.pk)).judgements}["hub.seat"]
        self.assertEqual(seat, "hit")
        job = Job.objects.get(build=build)
        job.steps.update(state="done")
        self.client.post(
            self.url(f"fit/job/{job.pk}/{job.steps.last().place}/"), {"what": "finish", "finish-odometer_km": "142400"}
        )
        axle = self.car.outfits.order_by("since", "id").last().axles.get(end="F")
        self.assertEqual(
            [axle.said(name) for name in ("load_kg", "pad_thickness_mm", "barrel_radius_mm", "spoke_back_mm")],
            [700, 12, 190, 44],
        )
        self.assertIn("cone 60", axle.said("seat"))
        self.assertEqual(
            (axle.said("pcd_mm"), axle.said("bolts")),
            (108.0, None),
            "a bolt circle stays, also where nobody counted the lugs",
        )
        standing = {j.code: j.state for j in as_it_stands(self.file(), "F")}
        self.assertEqual(standing["hub.seat"], "hit")
        bench = self.page("check/FL/")
        self.assertEqual({j.code: j.state for j in bench.context["others"]}["hub.seat"], "hit")

    def test_what_stands_keeps_its_name_and_who_sold_it(self):
        job = Job.objects.get(build__name="Hill season")
        job.steps.update(state="done")
        Part.objects.filter(choices__build=job.build, family="wheel").update(
            name="Quillet Five", supplier="the shop on the quay"
        )
        finish_job(self.file(), job, self.user, 142400)
        stands = self.file().on(self.file().current, "F")
        self.assertEqual((stands.wheel_part.name, stands.wheel_part.supplier), ("Quillet Five", "the shop on the quay"))
        self.assertFalse(stands.wheel_part.listed)

    def test_an_axle_ratio_of_the_build_becomes_the_cars_own(self):
        job = Job.objects.get(build__name="Hill season")
        before = Driveline.objects.get(car=self.car)
        set_levers(job.build, {("axle_ratio", ""): 4.6})
        job = make_job(self.file(), Build.objects.get(pk=job.build_id), self.user)
        self.assertIn("axle gears", job.modules)
        job.steps.update(state="done")
        finish_job(self.file(), Job.objects.get(pk=job.pk), self.user, 142400)
        kept = Driveline.objects.get(car=self.car)
        self.assertEqual((kept.axle_ratio, kept.gears, kept.noted_on), (4.6, before.gears, timezone.localdate()))
        undo(self.user, Change.objects.first().pk)
        self.assertEqual(Driveline.objects.get(car=self.car).axle_ratio, before.axle_ratio)

    def test_without_one_the_axle_stays(self):
        job = Job.objects.get(build__name="Hill season")
        before = Driveline.objects.get(car=self.car)
        job.steps.update(state="done")
        finish_job(self.file(), job, self.user, 142400)
        self.assertEqual(Driveline.objects.get(car=self.car).noted_on, before.noted_on)

    def test_a_job_is_closed_once(self):
        job = Job.objects.get(build__name="Hill season")
        job.steps.update(state="done")
        file = self.file()
        finish_job(file, job, self.user, 142400)
        outfits = self.car.outfits.count()
        with self.assertRaisesRegex(BadInput, "closed already"):
            finish_job(file, job, self.user, 142400)
        self.assertEqual(self.car.outfits.count(), outfits)


class Closing(ScenarioCase):
    def close(self, km="142400"):
        job = Job.objects.get(build__name="Hill season")
        job.steps.update(state="done")
        last = job.steps.last()
        return job, self.client.post(
            self.url(f"fit/job/{job.pk}/{last.place}/"), {"what": "finish", "finish-odometer_km": km}
        )

    def test_parts_fitted_new_outfit_and_retorque_due(self):
        job, answer = self.close()
        self.assertRedirects(answer, self.url("prove/"))
        build = Build.objects.get(pk=job.build_id)
        self.assertEqual({c.state for c in build.choices.all()}, {"fitted"})
        self.assertEqual(build.outfit.axles.get(end="F").wheel, "17x8 +40 5x108 72.6")
        self.assertEqual(build.outfit.axles.get(end="F").ride_drop_mm, 20)
        self.assertEqual(list(FollowUp.objects.filter(job=job).values_list("due_km", flat=True)), [142480, 143200])
        self.assertEqual(self.file().current.pk, build.outfit_id)

    def test_due_by_odometer_shows_on_the_board_and_is_done(self):
        job, _ = self.close()
        first = FollowUp.objects.filter(job=job).order_by("due_km")[0]
        self.assertFalse(next(d for d in follow_ups(self.file()) if d.follow_up == first).due)
        self.client.post(self.url(""), {"what": "odometer", "odometer-odometer_km": "142480"})
        self.assertTrue(next(d for d in follow_ups(self.file()) if d.follow_up == first).due)
        self.assertContains(self.page("plan/"), "due")
        self.client.post(self.url(f"fit/due/{first.pk}/"), {f"f{first.pk}-odometer_km": "142490"})
        first.refresh_from_db()
        self.assertEqual(first.done_km, 142490)
        self.car.refresh_from_db()
        self.assertEqual(self.car.odometer_km, 142490)

    def test_odometer_does_not_run_back(self):
        _, answer = self.close("100")
        self.assertContains(answer, "Less than the last reading", status_code=422)

    def test_closing_can_be_undone(self):
        outfits = Outfit.objects.count()
        job, _ = self.close()
        undo(self.user, Change.objects.first().pk)
        job.refresh_from_db()
        self.assertEqual(
            (Outfit.objects.count(), job.state, FollowUp.objects.filter(job=job).count()), (outfits, "under_way", 0)
        )


class Photos(ScenarioCase):
    def upload(self, raw, name="a.jpg"):
        job = Job.objects.get(build__name="Hill season")
        return self.client.post(
            self.url(f"fit/job/{job.pk}/6/"),
            {"what": "photo", "photo-image": SimpleUploadedFile(name, raw), "photo-caption": "arch"},
        )

    def test_resized_and_without_metadata(self):
        raw = io.BytesIO()
        image = Image.new("RGB", (3000, 1500), "#336699")
        exif = Image.Exif()
        exif[0x010E] = "secret place"
        image.save(raw, "JPEG", exif=exif)
        self.upload(raw.getvalue(), "../../evil name.php")
        photo = Photo.objects.last()
        self.assertRegex(photo.image.name, r"^photos/\d+/[0-9a-f]{32}\.jpg$")
        served = self.client.get(self.url(f"fit/photo/{photo.pk}/"))
        self.assertEqual(served.headers["Content-Type"], "image/jpeg")
        stored = b"".join(served.streaming_content)
        self.assertNotIn(b"secret place", stored)
        with Image.open(io.BytesIO(stored)) as kept:
            self.assertEqual(kept.size, (1600, 800))
            self.assertFalse(kept.getexif())

    def test_no_picture_is_refused_in_words(self):
        count = Photo.objects.count()
        for raw in (b"<svg xmlns='http://www.w3.org/2000/svg'/>", b"GIF89a", b"\xff\xd8\xff\xe0 broken", b"PK\x03\x04"):
            self.assertContains(self.upload(raw), "accepted: JPEG, PNG or WebP", status_code=422)
        self.assertEqual(Photo.objects.count(), count)
