"""What stands on the chassis: written down whole or in part, parts judged against it, bad input in words, undone."""

from django.utils import timezone

from garage.chassis.load import chassis_of
from garage.chassis.models import OldPart, Springs
from shell.tests.base import ScenarioCase
from shell.undo import last_change, undo

DAMPER = {
    "extended_mm": "500",
    "compressed_mm": "13 in",
    "installed_mm": "420",
    "who": "Ina",
    "noted_on": f"{timezone.localdate()}",
}


class Stands(ScenarioCase):
    def test_the_page_lists_both_ends_with_what_is_known(self):
        page = self.page("stands/")
        self.assertContains(page, "528 mm")
        self.assertContains(page, "not recorded")
        rear = next(rows for end, _, rows in page.context["ends"] if end == "R")
        self.assertNotIn("tie_rod", [row["family"].key for row in rear])
        self.assertNotIn("leaf_pack", [row["family"].key for row in rear])

    def test_a_live_axle_has_leaves(self):
        self.car = self.user.cars.get(nickname__startswith="Strath")
        rear = next(rows for end, _, rows in self.page("stands/").context["ends"] if end == "R")
        self.assertIn("leaf_pack", [row["family"].key for row in rear])

    def test_written_down_in_any_unit_judged_at_once_and_undone(self):
        self.assertRedirects(self.client.post(self.url("stands/R/damper/"), DAMPER), self.url("stands/"))
        kept = OldPart.objects.get(car=self.car, end="R", family="damper")
        self.assertAlmostEqual(kept.spec["compressed_mm"], 330.2)
        judged = [
            j
            for row in self.page("choose/parts/damper/").context["rows"]
            for j in row.judgements
            if j.code == "part.damper.bump" and j.where == "rear axle"
        ]
        self.assertNotIn("unmeasured", {j.state for j in judged})
        undo(self.user, last_change(self.user).pk)
        self.assertFalse(OldPart.objects.filter(car=self.car, end="R", family="damper").exists())

    def test_a_newer_note_stands_over_the_older_and_can_be_removed(self):
        self.client.post(self.url("stands/F/damper/"), DAMPER)
        self.assertEqual(chassis_of(self.file()).old["F", "damper"].spec["extended_mm"], 500)
        self.client.post(self.url("stands/F/damper/remove/"))
        self.assertEqual(chassis_of(self.file()).old["F", "damper"].spec["extended_mm"], 528)
        self.client.post(self.url("stands/R/bush/remove/"))
        self.assertEqual(self.client.post(self.url("stands/R/bush/remove/")).status_code, 404)

    def test_springs_are_told_to_the_corner_weights_too(self):
        self.client.post(
            self.url("stands/F/spring/"),
            {"rate_n_per_mm": "4k", "free_length_mm": "300", "who": "", "noted_on": "2026-11-20"},
        )
        self.assertAlmostEqual(Springs.objects.get(car=self.car, end="F").rate_n_per_mm, 39.2266)
        self.assertEqual(Springs.objects.get(car=self.car, end="F").block_length_mm, 118.0)

    def test_bad_input_says_what_is_accepted_and_keeps_what_was_typed(self):
        for data, words in (
            ({**DAMPER, "extended_mm": "300"}, "below the extended length"),
            ({**DAMPER, "extended_mm": "long"}, "accepted"),
            ({"noted_on": "2026-11-20"}, "Nothing was recorded"),
            ({**DAMPER, "noted_on": "2099-01-01"}, "has not come yet"),
            ({**DAMPER, "installed_mm": "9000"}, "Out of range"),
        ):
            page = self.client.post(self.url("stands/R/damper/"), data)
            self.assertEqual(page.status_code, 422, data)
            self.assertContains(page, words, status_code=422)
            for typed in set(data) & {"compressed_mm", "extended_mm", "installed_mm"}:
                self.assertContains(page, f'value="{data[typed]}"', status_code=422, msg_prefix=typed)
        self.assertFalse(OldPart.objects.filter(end="R", family="damper").exists())

    def test_what_is_not_there_is_not_found(self):
        for rest in ("stands/X/damper/", "stands/F/wheel/", "stands/F/nothing/"):
            self.page(rest, 404)
        self.client.force_login(self.person())
        self.page("stands/", 404)
        self.page("stands/F/damper/", 404)

    def test_a_row_that_can_not_be_read_is_told_and_breaks_nothing(self):
        OldPart.objects.filter(car=self.car, end="F", family="damper").update(spec={"extended_mm": "long"})
        self.assertContains(self.page("stands/"), "out of range")
        self.page("choose/parts/damper/")
        self.page("check/ride/")
