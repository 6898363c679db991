"""What one's own predictions taught is counted with from then on, is said on the figure, and can be taken back."""

from datetime import timedelta
from unittest.mock import patch

from django.contrib.auth.models import User

from garage.car.models import Car
from garage.file import open_file
from garage.honest import PLAIN, taught
from garage.inhand import judgements_in_hand
from garage.person.models import Preferences
from garage.readings.models import Reading
from planner.dates.models import Said
from proof.honest import date_pairs, learn, rows_of
from rimcore.proof.honesty import Honesty, Pair, honesty_of
from rimcore.proof.learnt import WIDEST, Own, as_worked_out, honestly, own_of
from rimcore.quantities.judgement import Judgement
from shell import kept
from shell.tests.base import ScenarioCase
from workshop.models import Job, Promise
from workshop.promises.make import keep

GAP = Judgement(
    "gap.damper",
    "Damper",
    "clear",
    "6 mm",
    "read",
    value=6.0,
    unit="mm",
    held_against=5.0,
    margin=1.0,
    uncertainty=0.5,
)


class Taught(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.before = judgements_in_hand(self.file())

    def own(self, **kinds):
        preferences = Preferences.objects.get(user=self.user)
        preferences.own_honesty = kinds
        preferences.save()
        kept.forget()

    def test_too_sure_widens_and_leaning_adds(self):
        sure = honesty_of([Pair(0.0, off, 0.5) for off in (1.0, -1.1, 0.9, -0.8, 1.2, -1.2)])
        own = own_of(sure, "2027-05-01")
        self.assertAlmostEqual(own.widen, sure.scatter, places=3)
        leaning = honesty_of([Pair(10.0, 10.0 + off, 2.0) for off in (1.4, 1.6, 1.5, 1.7, 1.3)])
        self.assertAlmostEqual(own_of(leaning, "").add, 1.5)
        # what it adds takes the lean away
        self.assertAlmostEqual(honestly(GAP, {"gap.": own_of(leaning, "")}).value, 7.5)
        self.assertIsNone(own_of(Honesty(4, verdict="too few", bias=3.0), ""))

    def test_a_gap_that_was_clear_turns_tight_by_a_wider_doubt_and_says_why(self):
        wide = honestly(GAP, {"gap.": Own(9, 3.0, 0.0, "2027-05-01")})
        self.assertEqual((wide.state, wide.uncertainty, wide.value), ("tight", 1.5, 6.0))
        self.assertIn("your own 9 predictions", wide.reason)
        self.assertEqual(wide.inputs[-1].date, "2027-05-01")

    def test_what_nobody_measured_stays_unmeasured(self):
        bare = Judgement("gap.damper", "Damper", "unmeasured", "no reading", "not measured")
        self.assertEqual(honestly(bare, {"gap.": Own(9, 3.0, -9.0, "")}), bare)

    def test_every_gap_of_the_car_carries_it(self):
        before = {(j.code, j.where): j.uncertainty for j in judgements_in_hand(self.file())}
        self.own(**{"gap.": {"n": 9, "widen": 2.0, "add": 0.0, "until": "2027-05-01"}})
        file = open_file(self.user, self.car.pk)
        wide = [j for j in judgements_in_hand(file) if j.code.startswith("gap.") and j.value is not None]
        self.assertTrue(wide)
        for judged in wide:
            if before[judged.code, judged.where] is not None:
                self.assertAlmostEqual(judged.uncertainty, 2.0 * before[judged.code, judged.where])
        self.assertContains(self.page("check/FL/"), "your own 9 predictions")
        self.assertEqual(taught(file, [GAP])[0].uncertainty, 1.0)

    def test_gaps_at_a_pose_carry_it_too(self):
        address = "check/FL/?steer=20&travel=20"
        before = {one.reading.code: one for one in self.page(address).context["at_pose"]}
        self.own(**{"gap.": {"n": 9, "widen": 2.0, "add": -1.0, "until": "2027-05-01"}})
        after = self.page(address).context["at_pose"]
        self.assertTrue(after)
        for one in after:
            if one.reading.code in before:
                was = before[one.reading.code]
                self.assertAlmostEqual(one.gap_mm, was.gap_mm - 1.0)
                self.assertAlmostEqual(one.doubt_mm, 2.0 * was.doubt_mm)

    def test_every_car_of_a_person_teaches(self):
        for k in range(9):
            Car.objects.create(owner=self.user, nickname=f"Car {k}")
        said = {"pairs": [["gap.", "mm", 1.0, 2.0, 0.5]], "chances": [[70.0, True]]}
        with patch("proof.honest.said_of", return_value=said):
            rows = rows_of(self.user, most=60)
        count = Car.objects.filter(owner=self.user).count()
        self.assertEqual((len(rows.pairs["gap.", "mm"]), len(rows.chances), rows.waiting), (count, count, 0))
        self.assertGreater(count, 9)

    def test_counted_with_and_taken_back_on_the_page(self):
        """Of the closed sheets' gaps the readings come far outside a ± of a hundredth."""
        Promise.objects.filter(code__startswith="gap.", job__state="done").update(uncertainty=0.01)
        for row in Promise.objects.filter(code__startswith="gap.", job__state="done"):
            row.judged = row.judged | {"uncertainty": 0.01}
            row.save()
        Reading.objects.filter(car=self.car).update(uncertainty=0.01)
        self.client.post(self.url("prove/honest/"), {"what": "count"})
        counted = Preferences.objects.get(user=self.user).own_honesty
        self.assertEqual(counted["gap."]["widen"], WIDEST)
        self.assertContains(self.page("prove/honest/"), "Counted with now")
        self.client.post(self.url("prove/honest/"), {"what": "plain"})
        self.assertEqual(Preferences.objects.get(user=self.user).own_honesty, {PLAIN: {}})
        self.assertEqual(learn(self.user), {}, "closing a sheet teaches nothing until it is asked for again")
        self.client.post(self.url("prove/honest/"), {"what": "count"})
        self.assertEqual(Preferences.objects.get(user=self.user).own_honesty["gap."]["widen"], WIDEST)

    def test_who_has_too_few_goes_by_the_demos_cars_and_never_by_their_lean(self):
        sure = Honesty(11, bias=-3.0, covered_pct=60.0, verdict="too sure", widen_by=1.6)
        with patch("garage.honest.pooled", return_value={"gap.": sure}):
            self.own()
            file = open_file(self.user, self.car.pk)
            wide = taught(file, [GAP])[0]
            self.assertEqual((wide.value, wide.uncertainty), (6.0, 0.5 * 1.6))
            self.assertIn("11 predictions on the demo's cars, until you have 5", wide.reason)
            # enough of one's own that were honest stand before it, and so does who goes by what is worked out
            for own in ({"gap.": {"n": 6, "widen": 1.0, "add": 0.0, "until": "2027-05-01"}}, {PLAIN: {}}):
                self.own(**own)
                self.assertEqual(taught(open_file(self.user, self.car.pk), [GAP])[0], GAP)
        self.own()
        self.assertContains(self.page("prove/honest/"), "On the demo’s cars")

    def test_done_once_and_learnt_from_what_was_worked_out(self):
        """Sums are taught already when a sheet keeps them; what was widened must not teach that it was wide enough."""
        owns = {"gap.": Own(9, 3.0, 1.0, "")}
        once = honestly(GAP, owns)
        self.assertEqual(honestly(once, owns), once)
        self.assertEqual(as_worked_out(once), (6.0, 0.5))
        job = Job.objects.filter(car=self.car, kind="fit").first()
        self.own(**{"gap.": {"n": 9, "widen": 3.0, "add": 0.0, "until": "2027-05-01"}})
        Promise.objects.filter(job=job).delete()
        plain = {(j.code, j.where): j.uncertainty for j in self.before}
        keep(job, "made", open_file(self.user, self.car.pk))
        kept_rows = Promise.objects.filter(job=job, code__endswith=".moving")
        held = [row for row in kept_rows if plain.get((row.code, row.where))]
        self.assertTrue(held)
        for row in held:
            self.assertAlmostEqual(row.uncertainty, 3.0 * plain[row.code, row.where], msg=row.code)
            self.assertAlmostEqual(as_worked_out(row.judgement)[1], plain[row.code, row.where])

    def test_dates_of_plans_are_a_kind_and_teach_no_figure(self):
        Said.objects.all().delete()
        job = Job.objects.filter(car=self.car, kind="fit", state="done", done_on__isnull=False).first()
        said_on = job.done_on - timedelta(days=20)
        Said.objects.create(
            build=job.build,
            said_on=said_on,
            ready_on=job.done_on - timedelta(days=4),
            p80_on=job.done_on - timedelta(days=2),
        )
        (pair,) = date_pairs(self.file())
        self.assertEqual(pair.measured, 4.0)
        self.assertAlmostEqual(pair.pm, 1.96 * 2 / 0.8416, places=6)
        self.assertContains(self.page("prove/honest/"), "Dates of plans")
        self.assertNotIn("plan.ready", learn(self.user))

    def test_learning_looks_at_ones_own_cars_alone(self):
        other = Preferences.objects.create(user=User.objects.create_user("other", password="long enough a word"))
        learn(self.user)
        other.refresh_from_db()
        self.assertEqual(other.own_honesty, {})
