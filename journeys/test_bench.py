"""The bench by keyboard, with the address holding the state."""

import re

from playwright.sync_api import expect

from journeys.browser import Journey


class BenchKeys(Journey):
    def test_arrows_nudge_the_value_in_hand(self):
        page = self.sign_in()
        self.go(self.at("check/FL/?width=8&offset=40&drop=0&camber=0"))
        page.locator("#bench-offset").focus()
        page.keyboard.press("ArrowUp")
        expect(page.locator("#bench")).to_contain_text("solid 17×8 +41")
        expect(page).to_have_url(re.compile("offset=41"))
        page.keyboard.press("Shift+ArrowUp")
        expect(page.locator("#bench")).to_contain_text("solid 17×8 +46")
        page.keyboard.press("ArrowDown")
        expect(page.locator("#bench")).to_contain_text("solid 17×8 +45")
        page.reload()
        expect(page.locator("#bench")).to_contain_text("solid 17×8 +45")

    def test_the_field_stays_in_hand_after_the_drawing_is_swapped(self):
        page = self.sign_in()
        self.go(self.at("check/FL/?spacer=0"))
        page.locator("#bench-spacer").focus()
        for wanted in (1, 2, 3):
            page.keyboard.press("ArrowUp")
            expect(page.locator("#bench-spacer")).to_have_value(str(wanted))
            expect(page).to_have_url(re.compile(f"spacer={wanted}&"))

    def test_stage_corner_and_help_keys_but_not_while_typing(self):
        page = self.sign_in()
        self.go(self.at("check/FL/"))
        page.keyboard.press(".")
        page.wait_for_url("**/check/FR/**")
        page.keyboard.press(",")
        page.wait_for_url("**/check/FL/**")
        page.keyboard.press("?")
        expect(page.locator("#key-sheet")).to_be_visible()
        page.keyboard.press("Escape")
        page.locator("#bench-tyre").focus()
        page.keyboard.press("1")
        self.assertIn("/check/FL/", page.url)
        page.locator("h1").first.click()
        page.keyboard.press("1")
        page.wait_for_url("**/measure/")
        page.keyboard.press("n")
        page.wait_for_url(re.compile("/measure/[FR][LR]/"))

    def test_schools_pin_and_undo(self):
        page = self.sign_in()
        self.go(self.at("check/FL/?width=8&offset=43"))
        page.get_by_role("navigation", name="Margins").get_by_role("link", name="Tow").click()
        expect(page.locator("#bench")).to_contain_text("wants 15 mm")
        page.get_by_role("button", name="Add to shortlist").click()
        expect(page.locator("main")).to_contain_text("Added to the shortlist: 17×8 +43")
        page.get_by_role("button", name="Undo").click()
        expect(page.locator("main")).to_contain_text("Undone: setting pinned")
        self.go(self.at("choose/"))
        expect(page.locator("main")).not_to_contain_text("Pinned setting")
