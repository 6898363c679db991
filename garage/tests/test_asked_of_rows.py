"""A reading that can't have been taken, though a trial fit speaks of it, breaks no page."""

from garage.readings.models import Reading, Sighting
from shell.tests.base import ScenarioCase


class OddRow(ScenarioCase):
    def test_every_page_stands_and_tells_it(self):
        seen = Sighting.objects.filter(trial__car=self.car).select_related("reading").first()
        Reading.objects.filter(pk=seen.reading_id).update(values=[-900.0])
        corner = seen.reading.corner
        for rest in (
            "",
            "measure/",
            f"measure/{corner}/",
            f"check/{corner}/",
            f"check/{corner}/trial/",
            "choose/",
            "plan/",
            "prove/",
            "walk/",
            "walk/sheet/",
        ):
            self.assertEqual(self.client.get(self.url(rest)).status_code, 200, rest)
        self.assertContains(self.client.get(self.url("measure/")), "the reading is kept and counts for nothing")
