"""Parts of every family and jobs that compose themselves, in a real browser."""

import json
import re

from playwright.sync_api import expect

from garage.car.parts import Part
from journeys.browser import Journey
from planner.models import Choice
from workshop.models import Job, JobTemplate, Snag


class Parts(Journey):
    def test_a_ring_dragged_along_to_the_torque_book(self):
        """Wheels want a ring: one press wants it, it is fitted on the sheet, and the nuts behind it stand in the torque
        book.
        """
        Choice.objects.get(build__name="Hill season", part__family="ring").delete()
        page = self.sign_in()
        self.go(self.at("plan/"))
        expect(page.locator("#drags")).to_contain_text("Centring ring 63.4 → 72.6")
        page.get_by_role("button", name="Add everything needed").click()
        expect(page.locator("#drags")).to_contain_text("wanted")
        expect(page.locator("main")).to_contain_text("to ask: Both diameters measured on the part")
        page.get_by_role("link", name="Centring rings, solid aluminium").first.click()
        page.get_by_label("Both diameters measured on the part").select_option("yes")
        page.get_by_role("button", name="Save the answers").click()
        self.go(self.at("fit/"))
        for name in ("Height", "Other", "Alignment"):
            page.get_by_role("checkbox", name=re.compile(f"^{name}")).uncheck()
        page.get_by_role("button", name="Make a sheet from Hill season").click()
        expect(page.locator(".step-list")).to_contain_text(
            "Front left: Centring rings, solid aluminium on the collar by hand"
        )
        job = Job.objects.first()
        torque = job.steps.filter(kind="torque").first()
        self.go(self.at(f"fit/job/{job.pk}/{torque.place}/"))
        page.locator("#read").fill("55")
        page.get_by_role("button", name="Done, next one").click()
        expect(page.locator("main")).to_contain_text("nut 2 of 5")
        page.get_by_role("button", name="Pull with: Torque wrench (simulation)").click()
        expect(page.locator("main")).to_contain_text("nut 3 of 5")
        page.get_by_role("link", name="torque record").click()
        expect(page.get_by_role("heading", level=1)).to_have_text("Torque record")
        expect(page.locator("tbody tr").first).to_contain_text("2 of 5")

    def test_a_line_of_each_kind_is_judged_at_once(self):
        page = self.sign_in()
        self.go(self.at("choose/"))
        page.get_by_role("link", name="Wheels and hubs").click()
        page.get_by_role("link", name="Nut sets").click()
        page.get_by_label("Paste a line").fill("nuts M12x1.5 ball R13 class 10, 16 pcs, 30, 9zz")
        page.get_by_role("button", name="Add it").click()
        expect(page.locator("main")).to_contain_text("Not understood, kept in its note: 9zz")
        row = page.locator("tbody tr", has_text="ball R13")
        expect(row).to_contain_text("ball R13 in a cone 60° seat")
        row.get_by_role("button", name=re.compile("^Duplicate")).click()
        page.locator("#id_seat").fill("oval")
        page.get_by_role("button", name="Save it").click()
        expect(page.locator("#id_seat")).to_have_value("oval")
        page.locator("#id_seat").fill("cone 60")
        page.get_by_role("button", name="Save it").click()
        expect(page.locator("tbody tr", has_text="copy")).to_contain_text("both cone 60°")
        page.get_by_role("button", name=re.compile("^Remove ")).last.click()
        page.get_by_role("button", name="Undo").click()
        self.assertTrue(Part.objects.filter(name__endswith="copy").exists())


class Jobs(Journey):
    def test_two_jobs_sharing_a_removal(self):
        page = self.sign_in()
        self.go(self.at("choose/parts/stud/"))
        page.locator("tbody tr", has_text="Long studs").get_by_role("link", name="Add to build").click()
        page.get_by_role("button", name="Add to build").click()
        self.go(self.at("fit/"))
        expect(page.locator("main")).to_contain_text("what the jobs share is done once")
        for name in ("Height", "Rings", "Other", "Alignment"):
            page.get_by_role("checkbox", name=re.compile(f"^{name}")).uncheck()
        page.get_by_role("button", name="Make a sheet from Hill season").click()
        steps = page.locator(".step-list")
        expect(steps.locator("a", has_text=re.compile("^Wheels off"))).to_have_count(1)
        expect(steps.locator("a", has_text=re.compile("^Front left: old studs out"))).to_have_count(1)
        off = Job.objects.first().steps.get(title__startswith="Wheels off")
        self.go(self.at(f"fit/job/{off.job_id}/{off.place}/"))
        expect(page.locator("main")).to_contain_text("Wait until the car is on stands, shake-tested")
        page.get_by_role("button", name="Done, next step").click()
        expect(page.locator("main")).to_contain_text("Do that first, or tick and say why")

    def test_a_template_out_and_in(self):
        page = self.sign_in()
        job = Job.objects.get(build__name="Hill season")
        self.go(self.at(f"fit/job/{job.pk}/6/"))
        page.locator("summary", has_text="Edit this job sheet").click()
        page.get_by_label("Title").fill("Tea")
        page.get_by_role("button", name="Add it after this one").click()
        expect(page.get_by_role("heading", level=1)).to_have_text("Tea")
        page.locator("summary", has_text="Edit this job sheet").click()
        page.get_by_label("Save the sheet as a template named").fill("With tea")
        page.get_by_role("button", name="Save the template").click()
        with page.expect_download() as waiting:
            page.locator("li", has_text="With tea").get_by_role("link", name="as JSON").click()
        text = json.loads(waiting.value.path().read_text())
        self.assertIn("Tea", [step["title"] for step in text["steps"]])
        text["name"] = "With tea, again"
        page.get_by_label("Template, a JSON file").set_input_files(
            {"name": "t.json", "mimeType": "application/json", "buffer": b"{}"}
        )
        page.get_by_role("button", name="Read it").click()
        expect(page.locator("main")).to_contain_text("not a job template")
        page.get_by_label("Template, a JSON file").set_input_files(
            {"name": "t.json", "mimeType": "application/json", "buffer": json.dumps(text).encode()}
        )
        page.get_by_role("button", name="Read it").click()
        page.get_by_role("button", name="Make a sheet from With tea, again").click()
        expect(page.locator(".step-list")).to_contain_text("Tea")
        self.assertEqual(JobTemplate.objects.filter(name__startswith="With tea").count(), 2)

    def test_a_snag_weighed_and_what_came_off_labelled(self):
        page = self.sign_in()
        snag = Snag.objects.get(closed_on__isnull=True, job__build__name="Hill season")
        self.go(self.at(f"fit/snag/{snag.pk}/"))
        expect(page.locator("tbody")).to_contain_text("within budget and time")
        page.get_by_label("Decided").select_option("replace")
        page.get_by_label("Part that replaces it").fill("Rings 72.6, again")
        page.get_by_role("button", name="Compare").click()
        self.go(self.at("plan/"))
        expect(page.locator("main")).to_contain_text("Rings 72.6, again")
        self.go(self.at("fit/removed/labels/"))
        expect(page.locator(".bag-labels svg.code")).to_have_count(5)
        self.go(self.at("fit/tools/"))
        with page.expect_navigation():
            page.get_by_role("button", name="spring compressor is missing").press("Enter")
        self.go(self.at("fit/"))
        expect(page.locator("main")).to_contain_text("spring compressor missing")

    def test_stations_round_the_drawing_lead_to_their_card(self):
        page = self.sign_in()
        self.go(self.at("measure/FL/"))
        page.get_by_role("link", name=re.compile("^2: Spring seat above the tread, missing")).click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Spring seat above the tread")
