"""The build book: chapters chosen, no price for the next owner, nothing unmeasured left out, open files."""

import csv
import io
import zipfile

from django.core.files.base import ContentFile
from django.utils.html import escape

from demo.pictures import card_picture, card_section
from garage.car.models import Car
from planner.dates.models import Claim, ClaimPicture
from planner.models import Choice
from proof.book.chapters import CHAPTERS, FOR, book_of
from shell.figures import amount
from shell.tests.base import ScenarioCase


class Book(ScenarioCase):
    def folder(self, query=""):
        answer = self.client.get(self.url(f"prove/book/?as=folder{query}"))
        self.assertEqual(answer["Content-Type"], "application/zip")
        return zipfile.ZipFile(io.BytesIO(b"".join(answer.streaming_content)))

    def table(self, archive, name):
        return list(csv.DictReader(io.StringIO(archive.read(name).decode())))

    def test_every_chapter_stands_in_it(self):
        page = self.page("prove/book/")
        for title in CHAPTERS.values():
            self.assertContains(page, title)
        self.assertContains(page, "Contents")

    def test_every_reading_with_its_day_is_in_it(self):
        book = book_of(self.file(), tuple(CHAPTERS), True)
        self.assertEqual(len(book.readings), len(self.file().latest))
        rows = self.table(self.folder(), "readings.csv")
        self.assertEqual(len(rows), len(book.readings))
        self.assertTrue(all(row["taken on"] and row["as typed"] for row in rows))

    def test_tables_are_in_the_persons_unit(self):
        metric = {row["station"] + row["corner"]: row for row in self.table(self.folder(), "readings.csv")}
        preferences = self.user.preferences
        preferences.length_unit, preferences.torque_unit = "in", "lbf·ft"
        preferences.save()
        archive = self.folder()
        rows = [row for row in self.table(archive, "readings.csv") if row["unit"] == "in"]
        self.assertTrue(rows)
        for row in rows:
            was = metric[row["station"] + row["corner"]]
            self.assertEqual(was["unit"], "mm")
            # 25.4 mm an inch (NIST SP 811)
            self.assertAlmostEqual(float(row["value"]) * 25.4, float(was["value"]), delta=0.01)
        self.assertIn("wanted lbf·ft", self.table(archive, "torque.csv")[0])
        preferences.distance_unit = "mi"
        preferences.save()
        self.assertContains(self.page("prove/book/?for=owner"), "mi")

    def test_papers_that_nobody_checked_are_never_clear(self):
        asked = book_of(self.file(), ("cautions",), False).asked
        self.assertEqual(next(one.state for one in asked if one.question.startswith("Papers")), "unmeasured")

    def test_what_is_unmeasured_is_listed(self):
        book = book_of(self.file(), ("open",), False)
        self.assertTrue(book.unmeasured)
        page = self.page("prove/book/?for=owner")
        for name, _ in book.unmeasured[:5]:
            self.assertContains(page, escape(name))

    def test_the_next_owner_sees_no_price(self):
        prices = {
            amount(row.choice.price, self.car.currency)
            for row in book_of(self.file(), ("parts",), True).parts
            if row.choice.price
        }
        self.assertTrue(prices)
        whole, short = (self.page(f"prove/book/?for={key}") for key in ("whole", "owner"))
        self.assertTrue(any(shown in whole.content.decode() for shown in prices))
        sheet = short.content.decode().partition('<article class="sheet build-book">')[2].partition("</article>")[0]
        self.assertFalse([shown for shown in prices if shown in sheet])
        self.assertNotIn("price of one", self.folder("&for=owner").read("parts.csv").decode())

    def test_chapters_are_chosen(self):
        page = self.page("prove/book/?chapter=torque&chapter=nonsense")
        self.assertEqual([code for _, code, _ in page.context["book"].contents], ["torque"])
        self.assertEqual(tuple(FOR), ("whole", "owner", "inspector"))

    def test_drawings_and_pictures_are_files_of_their_own(self):
        row = ClaimPicture(claim=Claim.objects.first())
        row.image.save("claim.jpg", ContentFile(card_picture(card_section("17x8 +40", "225/45R17", 0.0), 200.0)[0]))
        archive = self.folder()
        drawings = [name for name in archive.namelist() if name.startswith("drawings/")]
        self.assertTrue(drawings)
        self.assertTrue(archive.read(drawings[0]).startswith(b'<svg xmlns="http://www.w3.org/2000/svg"'))
        pictures = [name for name in archive.namelist() if name.startswith("pictures/")]
        self.assertTrue(archive.read(pictures[-1]).startswith(b"\xff\xd8"))
        self.assertIn("README.txt", archive.namelist())

    def test_receipts_stand_where_prices_stand_and_are_kept_with_their_part(self):
        choice = Choice.objects.filter(build__car=self.car, receipts=None).first()
        address = self.url(f"plan/part/{choice.pk}/receipt/")
        bad = self.client.post(address, {"image": ContentFile(b"no picture", "receipt.jpg")}, follow=True)
        self.assertContains(bad, "Not kept")
        self.assertFalse(choice.receipts.exists())
        picture = card_picture(card_section("17x8 +40", "225/45R17", 0.0), 200.0)[0]
        self.client.post(address, {"image": ContentFile(picture, "receipt.jpg")})
        kept = choice.receipts.get()
        self.assertEqual(self.client.get(self.url(f"plan/receipt/{kept.pk}/"))["Content-Type"], "image/jpeg")
        self.assertContains(self.page("prove/book/"), f"Receipt: {choice.label}")
        self.assertFalse(book_of(self.file(), ("photos",), False).receipts, "not in a book without prices")
        self.client.post(self.url(f"plan/receipt/{kept.pk}/"))
        self.assertFalse(choice.receipts.exists())

    def test_text_that_could_be_a_formula_stays_text(self):
        choice = book_of(self.file(), ("parts",), False).parts[0].choice
        choice.part.name = "=1+1"
        choice.part.save()
        names = [row["part"] for row in self.table(self.folder(), "parts.csv")]
        self.assertFalse([name for name in names if name.startswith("=")])

    def test_a_bare_car_has_a_book_that_says_so(self):
        bare = Car.objects.create(owner=self.user, nickname="Bare")
        page = self.client.get(f"/car/{bare.pk}/prove/book/")
        for words in ("No wheels are recorded", "Nothing was read", "No photographs", "nothing on record"):
            self.assertContains(page, words)
