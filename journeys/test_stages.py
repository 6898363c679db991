"""Smaller paths of each stage in the browser: CSV, parts, outliers, units, undo, assumptions."""

import re

from playwright.sync_api import expect

from journeys.browser import Journey, titled
from shelf.queries import AT_ONCE

CSV = b"wheel,mass,price,lead time\n17x7 +48 5x108 63.4,8.8 kg,150,2 weeks\n17x7.5 5x108,9 kg,160,1 week\n"


class Stages(Journey):
    def test_csv_with_preview(self):
        page = self.sign_in()
        self.go(self.at("choose/table/"))
        page.get_by_label("CSV or XLSX file").set_input_files(
            {"name": "list.csv", "mimeType": "text/csv", "buffer": CSV}
        )
        page.get_by_role("button", name="Show what is understood").click()
        expect(page.locator("main")).to_contain_text("1 understood, 1 refused")
        expect(page.locator("main")).to_contain_text("The offset is missing")
        page.get_by_role("button", name=re.compile("Put the 1 understood")).click()
        expect(page.locator("main")).to_contain_text("1 part is on the list")
        expect(page.locator("main")).to_contain_text("17×7 +48")

    def test_the_shortlist_goes_on_as_one_scrolls(self):
        page = self.sign_in()
        self.go(self.at("choose/"))
        expect(page.locator("tbody.pair").nth(AT_ONCE - 1)).to_be_visible()
        self.assertLess(page.locator("tbody.pair").count(), 23, "not all at once")
        for count in range(2 * AT_ONCE, 24, AT_ONCE):
            if page.locator("tbody.pair").count() < count:
                self.scroll_to(".pairs-next")
            expect(page.locator("tbody.pair").nth(count - 1)).to_be_attached()
        self.scroll_to("tbody.pair, .pairs-next")
        expect(page.locator("tbody.pair")).to_have_count(23)
        expect(page.locator(".pairs-next")).to_have_count(0)

    def test_a_part_arrives_and_the_board_follows(self):
        page = self.sign_in()
        self.go(self.at("plan/"))
        before = page.locator(".board").inner_text()
        page.get_by_role("link", name="Moorgrip 2 225/45R17 91W").click()
        page.get_by_label("State").select_option("arrived")
        page.get_by_role("button", name="Note it").click()
        expect(page.locator(".board")).to_contain_text("still to spend 336")
        page.get_by_role("button", name="Undo").click()
        expect(page.locator(".board")).to_contain_text("still to spend 752")
        self.assertEqual(page.locator(".board").inner_text(), before)

    def test_an_outlier_is_kept_and_marked(self):
        page = self.sign_in()
        self.go(self.at("prove/"))
        page.get_by_role("link", name="Hill sprint, s").click()
        row = page.locator("li", has_text="39.30").filter(has_not_text="planned")
        row.locator("summary").click()
        row.get_by_role("textbox").fill("missed a gear")
        row.get_by_role("button", name="Leave out").click()
        expect(page.locator("main")).to_contain_text("left out: missed a gear")
        page.get_by_role("button", name="Include").click()
        expect(page.locator("main")).not_to_contain_text("left out: missed a gear")

    def test_pounds_and_inches(self):
        page = self.sign_in()
        self.go("/settings/")
        page.get_by_label("Weight").select_option("lb")
        page.get_by_label("Gaps and lengths").select_option("in")
        page.get_by_role("button", name="Save the units").click()
        self.go(self.at("measure/FR/liner_rear/"))
        page.get_by_role("textbox", name=titled("Gap")).fill("1 1/4")
        page.get_by_role("button", name="Save the reading").click()
        expect(page.locator("main")).to_contain_text("1.250 in · typed 1 1/4".replace(" in", "\u2009in"))
        expect(page.locator(".board")).to_contain_text("lb")

    def test_assumed_across_stays_marked(self):
        page = self.sign_in()
        self.go(self.at("measure/FL/liner_rear/"))
        page.get_by_role("button", name="Copy across as assumed").first.click()
        expect(page.locator("main")).to_contain_text("assumed from the other side")
        self.go(self.at("check/FR/"))
        page.locator("#bench-rest li", has_text="Liner behind").first.locator(".known").click()
        expect(page.locator(".known-card:popover-open")).to_contain_text("mirrored from the other side and assumed")
