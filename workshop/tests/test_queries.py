"""Ten times the data, the same number of queries, on every page of parts and jobs."""

from django.db import connection
from django.test.utils import CaptureQueriesContext

from planner.models import Build, Choice
from rimcore.lines import parse_line
from shelf.models import Quote
from shelf.services import add_line
from shell.tests.base import ScenarioCase, read_anew
from workshop.composing import make_job
from workshop.ledger import log_removed
from workshop.models import FollowUp, Job, JobTemplate, Pull, Snag, Tool


class Flat(ScenarioCase):
    def pages(self):
        job = Job.objects.filter(build__name="Hill season").last()
        snag = Snag.objects.filter(closed_on__isnull=True).order_by("id").first()
        part = self.car.parts.get(name="Long studs")
        return (
            "fit/",
            "fit/tools/",
            "fit/removed/",
            "fit/removed/labels/",
            "fit/templates/",
            f"fit/job/{job.pk}/5/",
            f"fit/job/{job.pk}/torque/",
            f"fit/snag/{snag.pk}/",
            "open/",
            "plan/",
            "choose/",
            "choose/parts/stud/",
            "choose/parts/ring/",
            f"choose/part/{part.pk}/quotes/",
            f"plan/put/{part.pk}/",
            "measure/FL/",
            "rules/",
            "walk/",
        )

    @read_anew
    def counted(self):
        found = {}
        for rest in self.pages():
            self.page(rest)
            with CaptureQueriesContext(connection) as asked:
                self.page(rest)
            found[rest] = len(asked)
        return found

    def grow(self):
        build = Build.objects.get(name="Hill season")
        for k in range(30):
            for line in (
                f"ring 63.4 → {70 + k / 10:g}, 6, Yard",
                f"studs M12x1.5 {40 + k} mm 10.9, set of 20, 58, Yard",
            ):
                part = add_line(self.car, self.user, parse_line(line))
                Quote.objects.create(part=part, supplier=f"s{k}", price_minor=100, lead_days=k)
                if k < 10:
                    Choice.objects.create(build=build, part=part, position="F", quantity=1)
            log_removed(self.car, self.user, {"what": f"thing {k}"})
            JobTemplate.objects.create(owner=self.user, name=f"t{k}", text="{}")
            Tool.objects.create(owner=self.user, name=f"tool {k}", have=True)
            FollowUp.objects.create(car=self.car, what=f"look {k}", due_track_days=k)
        for _ in range(8):
            job = make_job(self.file(), Build.objects.get(pk=build.pk), self.user)
            step = job.steps.filter(kind="torque").first()
            Pull.objects.create(step=step, lug=1, wanted_nm=55, read_nm=55)
            Snag.objects.create(job=job, what="more", options={"use": {"note": "so"}}, decision="use")

    def test_the_same_number_whatever_there_is(self):
        before = self.counted()
        self.grow()
        after = self.counted()
        self.assertEqual({rest: (count, after[rest]) for rest, count in before.items() if after[rest] != count}, {})
        self.assertLess(max(after.values()), 60)


class Open(ScenarioCase):
    def test_what_is_open_is_named_grouped_and_leads_somewhere(self):
        """No key of the core is a name, every row has a page, and the group for which most waits comes first."""
        from workshop.opened import open_groups

        groups = open_groups(self.file())
        self.assertGreater(len(groups), 2)
        self.assertEqual([one.waits for one in groups], sorted((one.waits for one in groups), reverse=True))
        for group in groups:
            for row in group.rows:
                self.assertNotRegex(row.name, r"_mm|_kg|_deg|\w\.\w", row)
                self.assertLess(self.client.get(row.url).status_code, 400, row)
        self.assertNotContains(self.page("open/"), "from\n        the maker")
