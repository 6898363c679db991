"""A tyre card from its picture to the gaps: upload, points, outline, another rim."""

import io

from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from demo.pictures import card_picture, card_section
from garage.car.parts import Tyre
from garage.car.services import stand
from garage.file import open_file
from rimcore.wheels.tyre import parse_tyre
from shelf.assemble import measured_of, outline_known
from shelf.models import Card
from shell.tests.base import ScenarioCase
from shell.undo import last_change, undo

BAR_MM = 205.0


class Tracing(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.tyre = Tyre.objects.get(car=self.car, spec__size__startswith="225/45R17")
        self.section = card_section("17x8 +40", self.tyre.size, 6.0)
        self.picture, self.pixels = card_picture(self.section, BAR_MM)

    def send(self, raw, name="card.jpg"):
        return self.client.post(
            self.url(f"choose/tyre/{self.tyre.pk}/trace/"), {"what": "picture", "image": SimpleUploadedFile(name, raw)}
        )

    def trace(self, pixels=None, **changed):
        crown = max(radius for _, radius in self.section)
        points = "\n".join(f"{x} {y}" for x, y in (self.pixels if pixels is None else pixels))
        values = {"what": "points", "points": points, "bar_mm": f"{BAR_MM}", "crown_mm": f"{crown}", "rim_in": "8"}
        return self.client.post(self.url(f"choose/tyre/{self.tyre.pk}/trace/"), values | changed)

    def test_from_picture_to_gap(self):
        before = self.page("check/FL/?width=8&offset=40&tyre=225/45R17 91W").context["by_key"]["gap.damper"]
        self.assertEqual(self.send(self.picture).status_code, 302)
        self.assertEqual(self.trace().status_code, 302)
        self.tyre.refresh_from_db()
        for found, true in zip(self.tyre.profile, self.section, strict=True):
            self.assertAlmostEqual(found[0], true[0], delta=0.1)
            self.assertAlmostEqual(found[1], true[1], delta=0.1)
        page = self.page(f"choose/tyre/{self.tyre.pk}/trace/")
        nominal = parse_tyre(self.tyre.size)
        on_rim = nominal.section_width_mm + 0.4 * (8 - nominal.measuring_rim_in) * 25.4
        self.assertAlmostEqual(page.context["section"], on_rim + 6.0, delta=0.3)
        after = self.page("check/FL/?width=8&offset=40&tyre=225/45R17 91W").context["by_key"]["gap.damper"]
        self.assertAlmostEqual(before.value - after.value, 3.0, delta=0.8)
        self.assertLess(after.uncertainty, before.uncertainty)
        self.assertContains(self.page("check/FL/?width=8&offset=40&tyre=225/45R17 91W"), "measured outline")

    def test_on_another_rim_only_the_width_is_carried_over(self):
        self.send(self.picture)
        self.trace()
        self.tyre.refresh_from_db()
        section, shape = measured_of(self.tyre, 8.5)
        self.assertIsNone(shape)
        width = max(u for u, _ in self.section) - min(u for u, _ in self.section)
        self.assertAlmostEqual(section, width + 0.4 * 12.7, delta=0.2)
        self.assertIsNotNone(measured_of(self.tyre, 8.0)[1])

    def test_the_tyre_that_stays_keeps_its_measured_width_on_another_wheel(self):
        """205 measured on 6.5 in is 210.1 on 7 in; a listed tyre of the size knows nothing of it."""
        present = self.car.outfits.order_by("since", "id").last().axles.get(end="F")
        stand(present.outfit, "F", {"wheel": "16x6.5 +50", "measured_section_mm": 205.0})
        self.assertAlmostEqual(outline_known(self.file(), "F", None, present.tyre, 7.0)[0], 205.0 + 0.4 * 12.7)
        listed = Tyre.objects.get(car=self.car, spec__size=present.tyre)
        self.assertEqual(outline_known(self.file(), "F", listed, present.tyre, 7.0), (None, None))
        self.assertEqual(outline_known(self.file(), "F", None, "195/55R16", 7.0), (None, None))

    def test_what_is_no_picture_is_refused(self):
        for raw in (b"", b"<svg xmlns='http://www.w3.org/2000/svg'/>", b"\xff\xd8\xff\xe0 broken"):
            self.assertEqual(self.send(raw).status_code, 422)
        self.assertFalse(Card.objects.filter(tyre=self.tyre).exists())

    def test_points_that_make_no_section_are_refused_in_words_and_stay(self):
        self.send(self.picture)
        edge = self.pixels[2:]
        for changed, words in (
            ({"pixels": self.pixels[:4]}, "4 points; accepted"),
            ({"pixels": [(1.0, 1.0), (2.0, 1.0), *edge]}, "both ends of the control bar"),
            ({"pixels": [*self.pixels[:2], *edge[::-1]]}, "inner side"),
            ({"pixels": [*self.pixels[:2], *edge[:6], edge[15], edge[10], *edge[16:]]}, "cross"),
            ({"points": "12 40\nhere"}, "is not a point"),
            ({"points": "5000 40\n" + "\n".join(f"{x} {y}" for x, y in self.pixels)}, "outside the picture"),
            ({"bar_mm": "a foot or so"}, "read"),
            ({"crown_mm": "40"}, "Out of range"),
        ):
            with self.subTest(words=words):
                answer = self.trace(**changed)
                self.assertContains(answer, words, status_code=422)
                if "points" in changed:
                    self.assertContains(answer, changed["points"].splitlines()[0], status_code=422)
        self.tyre.refresh_from_db()
        self.assertIsNone(self.tyre.profile)

    def test_a_new_picture_takes_the_old_points_away_and_can_be_undone(self):
        self.send(self.picture)
        self.trace()
        old = Card.objects.get(tyre=self.tyre)
        self.send(self.picture)
        new = Card.objects.get(tyre=self.tyre)
        self.assertNotEqual(old.image.name, new.image.name)
        self.assertTrue(old.image.storage.exists(old.image.name), "until it can't be undone any more")
        undo(self.user, last_change(self.user).pk)
        self.assertEqual(Card.objects.get(tyre=self.tyre).image.name, old.image.name)
        self.send(self.picture)
        new = Card.objects.get(tyre=self.tyre)
        self.assertEqual(new.points_px, [])
        self.assertIsNotNone(
            Tyre.objects.get(pk=self.tyre.pk).profile, "the outline that was traced stays until another is kept"
        )

    def test_the_picture_is_ours_and_only_the_owners(self):
        self.send(self.picture, "../../evil.php")
        served = self.client.get(self.url(f"choose/tyre/{self.tyre.pk}/card.jpg"))
        with Image.open(io.BytesIO(b"".join(served.streaming_content))) as kept:
            self.assertEqual(kept.size, Image.open(io.BytesIO(self.picture)).size)
        self.assertRegex(Card.objects.get(tyre=self.tyre).image.name, r"^cards/\d+/[0-9a-f]{32}\.jpg$")

    def test_the_roadsters_traced_tyre_stands_in_the_demo(self):
        tyre = Tyre.objects.get(spec__size__startswith="225/45R15")
        self.assertGreaterEqual(len(tyre.profile), 15)
        file = open_file(self.car.owner, tyre.car_id)
        self.assertIsNotNone(measured_of(tyre, 9.0)[1])
        self.assertEqual(file.car.nickname, "Gannel, the roadster")
