"""Kits: one line, one price, one weight; each piece is checked by its own family and goes into the build with the rest."""

import unittest

from garage.car.parts import Part
from planner.chosen import build_in_hand
from planner.models import Choice
from rimcore.lines import parse_line
from shell.tests.base import ScenarioCase
from shell.undo import last_change, undo


class Lines(unittest.TestCase):
    def test_pieces_behind_a_colon(self):
        said = parse_line(
            "Varnholt big brake kit: calipers radius 165 mm face 31 mm + discs 330x28 mm + pads track + brake hoses 480 mm;"
            " $1,290, 62 lb, 3 weeks"
        )
        self.assertEqual([one.family for one in (said, *said.pieces)], ["caliper", "rotor", "brake_pads", "hose"])
        self.assertEqual((said.price_minor, said.lead_days, said.name), (129000, 21, "Varnholt big brake kit"))
        self.assertAlmostEqual(said.mass_kg, 28.123, places=3)
        self.assertEqual((said.spec["radius_mm"], said.pieces[0].spec["diameter_mm"]), (165.0, 330.0))
        self.assertEqual({one.price_minor for one in said.pieces}, {0})

    def test_the_usual_pieces_where_none_are_named(self):
        said = parse_line("coilover kit Varnholt street 520 to 350 mm, $1,190, 46 lb")
        self.assertEqual([one.family for one in (said, *said.pieces)], ["damper", "spring", "top_mount"])
        self.assertEqual((said.spec["extended_mm"], said.price_minor), (520.0, 119000))
        self.assertIn("coilover kit", said.name)

    def test_a_bare_price_at_the_end_is_the_kits(self):
        said = parse_line("coilover kit: dampers 520 to 350 mm + springs 60 N/mm, 890")
        self.assertEqual((said.price_minor, said.pieces[0].price_minor), (89000, 0))

    def test_what_is_no_kit(self):
        for line in ("coilovers 520 to 350 mm", "bushes 44 x 12 x 60 mm, set of 4", "brake pads track"):
            self.assertEqual(parse_line(line).pieces, (), line)


class InABuild(ScenarioCase):
    def paste(self, line):
        return self.client.post(self.url("choose/"), {"line": line}, follow=True)

    def test_a_kit_is_put_whole_and_taken_back_whole(self):
        self.paste("Varnholt cat-back: mid-pipe 2.5 in stainless + silencer 2.5 in + tail tips 2.5 in; 890 EUR, 14 kg")
        head = Part.objects.get(name="Varnholt cat-back", family="mid_pipe", car=self.car)
        self.assertEqual((head.price_minor, head.mass_kg), (89000, 14.0))
        self.assertIn("in the kit: exhaust pipes, silencers, tail tips", head.note)
        before = Choice.objects.count()
        build = build_in_hand(self.file())
        self.client.post(self.url(f"plan/put/{head.pk}/"), {"build": build.pk, "position": "R", "quantity": 1})
        kinds = list(Choice.objects.filter(build=build).order_by("-pk")[:3].values_list("part__family", flat=True))
        self.assertEqual(sorted(kinds), ["mid_pipe", "silencer", "tail_tip"])
        self.assertEqual(sum(one.part.price_minor for one in Choice.objects.order_by("-pk")[:3]), 89000)
        self.assertContains(self.page("choose/parts/silencer/"), "in Varnholt cat-back")
        undo(self.user, last_change(self.user).pk)
        self.assertEqual(Choice.objects.count(), before)

    def test_bad_lines_keep_nothing(self):
        count = Part.objects.count()
        for line in ("big brake kit: 17x8 +40 5x108 + pads track, 99", "lift kit: wheels 17x8 +40, 99"):
            page = self.client.post(self.url("choose/"), {"line": line})
            self.assertEqual(page.status_code, 422, line)
        self.assertEqual(Part.objects.count(), count)
