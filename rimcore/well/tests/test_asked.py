"""Where a rule went and what it read: held to what the stations declare."""

import unittest

from rimcore.quantities.errors import BadInput
from rimcore.well.read.declared import EDGES, PARAMS, VALUES, check_values, check_where, place_of
from rimcore.well.read.stations import STATIONS
from rimcore.well.solid.gap import Station


class Declared(unittest.TestCase):
    def test_every_station_asks_what_is_declared(self):
        for station in STATIONS.values():
            self.assertLessEqual(set(station.params), set(PARAMS), station.code)
            self.assertLessEqual(set(station.values), set(VALUES), station.code)
        self.assertEqual(
            {name for station in STATIONS.values() for name in station.params},
            set(PARAMS),
            "nothing is declared in vain",
        )
        self.assertLessEqual({name for station in STATIONS.values() for name in station.values}, set(VALUES))

    def test_its_ends_are_accepted_and_what_lies_beyond_is_not(self):
        for station in STATIONS.values():
            low, high = station.limits
            for value, good in (
                (low, True),
                (high, True),
                (low - 0.1, False),
                (high + 0.1, False),
                (float("nan"), False),
                (None, False),
                ("5", False),
                (True, False),
            ):
                self.holds(good, check_values, station, [value] * len(station.values))
            self.holds(False, check_values, station, [high] * (len(station.values) + 1))
            self.holds(False, check_values, station, [])

    def holds(self, good, check, station, given):
        if good:
            check(station, given)
        else:
            with self.assertRaises(BadInput) as said:
                check(station, given)
            self.assertIn("accepted: ", said.exception.message)

    def test_height_goes_below_the_hub_only_for_rails_and_arms(self):
        for code, low in (("damper", 0.0), ("rail_inside", -400.0), ("arm_rear_lock", -400.0)):
            for height, good in ((low, True), (low - 1, False), (500.0, True), (501.0, False)):
                self.holds(good, check_where, STATIONS[code], {"height_mm": height})

    def test_across_raised_turned_and_the_part_of_the_tread(self):
        for code, name, low, high in (
            ("perch", "u_mm", -250, 250),
            ("camber_bump", "travel_mm", -300, 300),
            ("arm_rear_lock", "steer_deg", -60, 60),
        ):
            for value, good in ((low, True), (low - 1, False), (high, True), (high + 1, False), ("x", False)):
                self.holds(good, check_where, STATIONS[code], {name: value})
        self.assertEqual(set(EDGES), {"inner", "centre", "outer"})
        self.holds(False, check_where, STATIONS["liner_front"], {"u": "top"})

    def test_what_is_not_said_has_its_default_or_is_left_out(self):
        self.assertEqual(check_where(STATIONS["liner_front"], {}), {"u": "centre"})
        self.assertEqual(check_where(STATIONS["liner_front"], {"u": ""}), {"u": "centre"})
        self.assertEqual(check_where(STATIONS["damper"], {}), {})
        self.assertEqual(check_where(STATIONS["damper"], {"height_mm": None}), {})
        self.assertEqual(check_where(STATIONS["camber_bump"], {}), {"travel_mm": 0.0})

    def test_what_the_station_does_not_ask_is_refused(self):
        for code, where in (
            ("damper", {"u": "outer"}),
            ("arch_12", {"height_mm": 10.0}),
            ("damper", {"depth_mm": 1.0}),
        ):
            with self.assertRaises(BadInput) as said:
                check_where(STATIONS[code], where)
            self.assertEqual(said.exception.field, next(iter(where)))

    def test_where_two_readings_are_the_same_place(self):
        same = (
            ({"steer_deg": 31.0, "u": "outer"}, {"steer_deg": 34.0, "u": "outer"}),
            ({"travel_mm": 0.0}, {}),
            ({"u": "centre"}, {}),
            ({"height_mm": 262.0}, {"height_mm": 262.0}),
            ({"height_mm": None}, {}),
            ({"steer_deg": 0.0}, {}),
        )
        other = (
            ({"steer_deg": 31.0}, {"steer_deg": -31.0}),
            ({"travel_mm": 40.0}, {}),
            ({"u": "inner"}, {"u": "outer"}),
            ({"height_mm": 262.0}, {"height_mm": 240.0}),
            ({"travel_mm": 40.0}, {"travel_mm": 50.0}),
            ({"height_mm": 0.0}, {}),
        )
        for one, another in same:
            self.assertEqual(place_of(one), place_of(another))
        for one, another in other:
            self.assertNotEqual(place_of(one), place_of(another))

    def test_the_core_has_a_field_for_what_places_an_obstacle(self):
        fields = set(Station.__dataclass_fields__)
        self.assertLessEqual({"height_mm", "u_mm", "u"}, fields)


if __name__ == "__main__":
    unittest.main()
