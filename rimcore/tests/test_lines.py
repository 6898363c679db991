"""Pasted lines and table rows of every family: any order, units as written, nothing dropped in silence."""

import itertools
import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from rimcore.families import FAMILIES
from rimcore.lines import FILLERS, parse_line, parse_part_row
from rimcore.quantities.errors import BadInput, CoreError


class AnyOrder(unittest.TestCase):
    def test_the_parts_of_a_line_stand_in_any_order(self):
        wanted = parse_line("studs M12x1.5 45 mm 10.9, set of 20, 58, 1 week, Yard")
        for order in itertools.permutations(["M12x1.5", "45 mm", "10.9", "set of 20"]):
            said = parse_line("studs " + " ".join(order) + ", 58, 1 week, Yard")
            self.assertEqual((dict(said.spec), said.unread), (dict(wanted.spec), ()), order)

    def test_commons_in_any_order(self):
        for order in itertools.permutations(["6.00", "4 days", "0.05 kg", "Nook Lane"]):
            said = parse_line("ring 63.4 to 72.6, " + ", ".join(order))
            self.assertEqual(
                (said.price_minor, said.lead_days, said.mass_kg, said.supplier), (600, 4, 0.05, "Nook Lane"), order
            )


class Units(unittest.TestCase):
    def test_as_people_write_them(self):
        for line, code, value in (
            ("ring 63,4 - 72,6", "outer_mm", 72.6),
            ("ring 63.4/72.6 mm", "inner_mm", 63.4),
            ("72.6 outer 63.4 inner ring", "inner_mm", 63.4),
            ("stud 1/2-20 2 in long", "length_mm", 50.8),
            ("studs M14x1.5 1 3/4 in", "length_mm", 44.45),
            ("spacer 0.5 in", "thickness_mm", 12.7),
            ("15mm spacers", "thickness_mm", 15.0),
            ("rotors 12 in", "diameter_mm", 304.8),
            ("caliper radius 6.5 in face 31", "radius_mm", 165.1),
            ("caliper radius 165 face −4", "face_mm", -4.0),
            ("other coil springs, −0.4 kg", "mass_change_kg", -0.4),
            ("other box, +2 lb", "mass_change_kg", 0.907185),
        ):
            self.assertAlmostEqual(parse_line(line).spec[code], value, places=5, msg=line)

    def test_words(self):
        for line, code, value in (
            ("spacer 20 mm bolt-on", "kind", "bolted"),
            ("spacer 20 mm slip on", "kind", "slip"),
            ("ring 57.1-72.6 hollow", "build", "hollow"),
            ("ring 57.1-72.6 aluminum", "material", "aluminium"),
            ("sensors 433.92 MHz", "band", "433"),
            ("valves snap-in", "style", "rubber"),
            ("nuts M12x1.5 R13 ball", "seat", "ball R13"),
            ("nuts M12x1.5 60 cone class 8", "grade", "8"),
            ("rotors 300x24 left and right", "hand", "pair"),
            ("nuts M12x1.5 cone 60 x20", "pieces", 20),
            ("nuts M12x1.5 cone 60, 16 pcs", "pieces", 16),
            ("studs M14 x 1.5 45 mm", "thread", "M14x1.5"),
        ):
            self.assertEqual(parse_line(line).spec[code], value, line)


class Words(unittest.TestCase):
    def test_the_longest_word_names_the_family(self):
        """“brake caliper” is no “brake”, “centre cap” no “cap” with a stray word."""
        for line, family in (
            ("brake discs 300 mm", "rotor"),
            ("centre caps 60 mm", "cap"),
            ("wheel studs M12x1.5 45 mm", "stud"),
            ("lug nuts M12x1.5 cone 60", "nut"),
            ("wheel spacers 5 mm", "spacer"),
        ):
            said = parse_line(line)
            self.assertEqual((said.family, said.name), (family, ""), line)

    def test_the_first_words_are_the_name_and_later_ones_supplier_and_note(self):
        said = parse_line("other Harl bracket, Yard, ask for Jo, and pay at the door")
        self.assertEqual(
            (said.name, said.supplier, said.note), ("Harl bracket", "Yard", "ask for Jo and pay at the door")
        )

    def test_words_beside_figures_are_the_name_once_fillers_left_out(self):
        found = parse_line("studs M12x1.5 45 mm with the Harl knurl, 58")
        self.assertEqual((found.name, found.unread), ("Harl knurl", ()))
        again = parse_line("studs M12x1.5 45 mm Harl, knurl 12.4 pressed, 58")
        self.assertEqual((again.name, again.note, again.spec["knurl_mm"]), ("Harl", "pressed", 12.4))
        long = parse_line(f"studs M12x1.5 45 mm {'n' * 90}, 58")
        self.assertEqual(len(long.name), 80)

    def test_words_after_the_name_are_the_note(self):
        found = parse_line("other, Seat rail, 2 kg, left hand one")
        self.assertEqual((found.name, "left hand one" in (found.note, found.supplier)), ("Seat rail", True))

    def test_cells_are_cut_to_what_is_kept(self):
        said = parse_part_row({"family": "cap", "supplier": "s" * 100, "note": "n" * 300, "name": "m" * 100})
        self.assertEqual((len(said.supplier), len(said.note), len(said.name)), (80, 200, 80))


class Pairs(unittest.TestCase):
    """A wheel and a tyre have a grammar of their own; one is not taken for the other, whichever way it comes."""

    def test_named_or_not(self):
        for line, family, key in (
            ("wheel 17x8 +40 5x108", "", "wheel"),
            ("17x8 +40 5x108", "", "wheel"),
            ("tyre 225/45R17", "", "tyre"),
            ("225/45R17", "", "tyre"),
            ("225/45R17", "tyre", "tyre"),
            ("17x8 +40", "wheel", "wheel"),
            ("rims 17x8 +40", "tyre", "wheel"),
        ):
            self.assertEqual(parse_line(line, family).family, key, line)

    def test_one_for_the_other_is_refused(self):
        for line, family in (
            ("17x8 +40", "tyre"),
            ("225/45R17", "wheel"),
            ("tyre 17x8 +40", ""),
            ("wheel 225/45R17", ""),
        ):
            with self.subTest(line), self.assertRaises(BadInput) as refused:
                parse_line(line, family)
            self.assertIn("that is a", refused.exception.message)

    def test_rows_too(self):
        self.assertEqual(parse_part_row({"size": "225/45R17"}, "tyre").family, "tyre")
        for row, family in (
            ({"size": "225/45R17"}, "wheel"),
            ({"diameter": "17", "width": "8", "offset": "40"}, "tyre"),
        ):
            with self.subTest(row), self.assertRaises(BadInput):
                parse_part_row(row, family)

    def test_the_family_may_stand_after_the_figures_once(self):
        said = parse_line("57.1 → 72.6 ring solid, 6, ring for the front")
        self.assertEqual((said.family, said.spec["inner_mm"], said.spec["outer_mm"]), ("ring", 57.1, 72.6))
        self.assertIn("ring", f"{said.name} {said.supplier} {said.note}")
        self.assertEqual(said.spec["end"], "F")


class Told(unittest.TestCase):
    def test_what_was_not_understood_is_told(self):
        self.assertEqual(parse_line("ring 57.1-72.6, foo 77x").unread, ("foo 77x",))
        self.assertEqual(parse_line("spacer 15 mm 0x7f").unread, ("0x7f",))

    def test_what_is_out_of_range_is_named_once(self):
        """“is missing” takes the name of what is missing before it; other words stand alone."""
        with self.assertRaises(BadInput) as missing:
            parse_line("ring 57.1 mm inner")
        self.assertTrue(
            missing.exception.message.startswith("the outer diameter is missing; write it as: "),
            missing.exception.message,
        )
        with self.assertRaises(BadInput) as odd:
            parse_line("calipers radius 165 face 31 inner -40")
        self.assertIn("the inner end must lie inboard of the face", odd.exception.message)
        self.assertTrue(odd.exception.message.startswith("the inner end must"), odd.exception.message)

    def test_a_line_of_500_characters_is_read_and_a_longer_one_is_not(self):
        line = "nuts M12x1.5 60 cone, shop, "
        self.assertEqual(parse_line(line + "x" * (500 - len(line))).family, "nut")
        with self.assertRaises(BadInput):
            parse_line(line + "x" * (501 - len(line)))

    def test_fillers_alone_are_no_supplier_and_names_are_cut(self):
        self.assertEqual(parse_line("nuts M12x1.5 60 cone, a set of each").supplier, "")
        self.assertEqual(parse_line("nuts M12x1.5 60 cone, the Yard").supplier, "the Yard")
        self.assertEqual(parse_line("nuts M12x1.5 60 cone, " + "y" * 90).supplier, "y" * 80)

    def test_refused_in_words(self):
        for line, family, words in (
            ("", "", "nothing was written"),
            ("ring 63.4", "", "inner diameter is missing"),
            ("ring 72.6-63.4", "", "more than the inner"),
            ("ring 63.4-72.6, ring 63.4-72.6, 6, 7", "", "said twice"),
            ("stud M12 45 mm", "", "thread is missing"),
            ("caliper radius 20 face 3", "", "60 to 300"),
            ("nuts M12x1.5 cone 600", "", "out of range"),
            ("225/45R17", "wheel", "that is a tyre"),
            ("17x8 +40 5x108", "tyre", "that is a wheel"),
            ("x" * 501, "", "too long"),
            ("ring 63.4-72.6, -6", "", "below zero"),
            ("17x8 5x108", "", "offset is missing"),
        ):
            with self.subTest(line[:30]), self.assertRaises(BadInput) as refused:
                parse_line(line, family)
            self.assertIn(words, refused.exception.message)

    @settings(max_examples=200, deadline=None)
    @given(st.sampled_from(sorted(FAMILIES)), st.text(max_size=80))
    def test_any_text_is_a_part_or_refused_in_words(self, key, text):
        try:
            said = parse_line(text, key)
        except CoreError as error:
            self.assertTrue(error.message)
        else:
            self.assertIsNone(said.fault)

    @settings(max_examples=100, deadline=None)
    @given(st.lists(st.from_regex(r"[a-z]{1,5}\d{1,3}[a-z]{1,3}", fullmatch=True), min_size=1, max_size=4))
    def test_every_odd_figure_of_a_line_is_still_to_be_found(self, odd):
        odd = [word for word in odd if word not in FILLERS]
        said = parse_line("spacer 15 mm, " + ", ".join(odd)) if odd else None
        kept = (
            " ".join((*said.unread, said.note, said.supplier, said.name, *map(str, said.spec.values()))) if said else ""
        )
        for word in odd:
            digits = "".join(letter for letter in word if letter.isdigit())
            self.assertTrue(
                word in kept or digits.lstrip("0") in kept or said.mass_kg or said.lead_days is not None, (word, kept)
            )


class Rows(unittest.TestCase):
    def test_columns_by_every_name(self):
        row = {
            "kind of part": "Stud set",
            "Thread": "M12x1.5",
            "length": "45",
            "property class": "10.9",
            "pieces": "20",
            "price": "58",
            "lead time": "1 week",
            "shop": "Yard",
        }
        said = parse_part_row(row)
        self.assertEqual(
            (said.family, said.spec["length_mm"], said.spec["grade"], said.price_minor, said.supplier),
            ("stud", 45.0, "10.9", 5800, "Yard"),
        )

    def test_a_choice_in_words_of_a_cell(self):
        """Written as people write it, kept as its code; what is no choice is refused by its words."""
        row = {"radius": "165", "face": "31", "side": "left and right"}
        self.assertEqual(parse_part_row(row, "caliper").spec["hand"], "pair")
        with self.assertRaises(BadInput):
            parse_part_row({**row, "side": "upper"}, "caliper")

    def test_blank_cells_and_heads_say_nothing(self):
        said = parse_part_row({"inner": "57.1", "outer": "72.6", "": "x", "price": " ", "note": ""}, "ring")
        self.assertEqual((said.unread, said.price_minor), ((), None))

    def test_a_column_that_is_not_known_is_told(self):
        self.assertEqual(
            parse_part_row({"inner": "57.1", "outer": "72.6", "colour": "red"}, "ring").unread, ("colour: red",)
        )
        self.assertEqual(parse_part_row({"size": "225/45R17", "mood": "good"}).unread, ("mood: good",))

    def test_refused(self):
        for row, family, words in (
            ({"family": "hat"}, "", "no family"),
            ({"inner": "57.1"}, "ring", "missing"),
            ({"inner": "57.1 kg"}, "ring", "kg"),
            ({"pieces": "many", "thread": "M12x1.5"}, "stud", "no number"),
        ):
            with self.subTest(row), self.assertRaises(BadInput) as refused:
                parse_part_row(row, family)
            self.assertIn(words, refused.exception.message)


if __name__ == "__main__":
    unittest.main()
