"""Air and power against published tables: ISO 2533, steam tables, the standards' own reference air."""

import math
import unittest

from iapws.iapws97 import _PSat_T

from rimcore.breathing.air import moist_air, saturation_kpa, standard_air, viscosity_pa_s
from rimcore.quantities.errors import BadInput
from rimcore.registry import CALCULATIONS

#: ISO 2533, geopotential altitude [m]: temperature [°C], pressure [kPa], density [kg/m³]
ISO_2533 = {0.0: (15.0, 101.325, 1.2250), 1000.0: (8.5, 89.875, 1.1116), 2000.0: (2.0, 79.495, 1.0065)}


def asked(name, **given):
    return CALCULATIONS[name].answer(given)


class Atmosphere(unittest.TestCase):
    def test_table_of_iso_2533(self):
        for altitude, (temperature, pressure, density) in ISO_2533.items():
            found = asked("air", altitude_m=altitude)
            self.assertAlmostEqual(found["temperature_C"], temperature, places=6)
            self.assertAlmostEqual(found["pressure_kPa"], pressure, delta=0.0006)
            self.assertAlmostEqual(found["density_kg_per_m3"], density, delta=0.0001)
        self.assertAlmostEqual(asked("air", altitude_m=0)["speed_of_sound_m_per_s"], 340.294, delta=0.01)

    def test_the_upper_layer_joins_the_lower_and_keeps_its_temperature(self):
        """ISO 2533: 216.65 K and 22.632 kPa at 11,000 m, 5.4749 kPa at 20,000 m."""
        self.assertAlmostEqual(standard_air(11_000.0).pressure_kpa, 22.632, delta=0.001)
        self.assertAlmostEqual(standard_air(20_000.0).pressure_kpa, 5.4749, delta=0.0005)
        self.assertAlmostEqual(standard_air(20_000.0).temperature_c, 216.65 - 273.15, places=9)
        self.assertAlmostEqual(standard_air(-2000.0).pressure_kpa, 127.774, delta=0.01)

    def test_saturation_is_that_of_the_steam_tables(self):
        """IAPWS-IF97, region 4, by another library."""
        for celsius in (0.01, 5.0, 20.0, 40.0, 60.0, 99.0):
            self.assertAlmostEqual(saturation_kpa(celsius) / (1000.0 * _PSat_T(celsius + 273.15)), 1.0, delta=2e-4)

    def test_moist_air_is_lighter_by_the_share_of_its_vapour(self):
        dry, moist = moist_air(30.0, 100.0), moist_air(30.0, 100.0, 60.0)
        self.assertAlmostEqual(moist.vapour_kpa, 0.6 * saturation_kpa(30.0))
        lost = moist.vapour_kpa * 1000 / 303.15 * (1 / 287.05 - 1 / 461.5)
        self.assertAlmostEqual(dry.density_kg_per_m3 - moist.density_kg_per_m3, lost, places=12)

    def test_viscosity_of_iso_2533(self):
        self.assertAlmostEqual(viscosity_pa_s(288.15) * 1e5, 1.7894, delta=0.0001)
        self.assertAlmostEqual(viscosity_pa_s(216.65) * 1e5, 1.4216, delta=0.0001)

    def test_what_is_refused(self):
        for given, field in (
            ({}, "temperature_C"),
            ({"temperature_C": 20}, "pressure_kPa"),
            ({"pressure_kPa": 100}, "temperature_C"),
            ({"altitude_m": 0, "temperature_C": 5}, "temperature_C"),
            ({"altitude_m": 0, "pressure_kPa": 5}, "pressure_kPa"),
            ({"altitude_m": 20_001}, "altitude_m"),
            ({"temperature_C": 99, "pressure_kPa": 90, "humidity_pct": 100}, "humidity_pct"),
            ({"temperature_C": 20, "pressure_kPa": 0}, "pressure_kPa"),
            ({"temperature_C": 20, "pressure_kPa": 90, "humidity_pct": 101}, "humidity_pct"),
        ):
            with self.subTest(given=given), self.assertRaises(BadInput) as refused:
                CALCULATIONS["air"].answer(given)
            self.assertEqual(refused.exception.field, field)


class Power(unittest.TestCase):
    def test_one_at_each_standards_own_air(self):
        for standard, celsius, pressure in (
            ("SAE J1349", 24.85, 99.0),
            ("ISO 1585", 24.85, 99.0),
            ("DIN 70020", 19.85, 101.3),
        ):
            self.assertAlmostEqual(
                asked("power-correction", temperature_C=celsius, pressure_kPa=pressure, standard=standard)["factor"],
                1.0,
                places=9,
            )

    def test_written_out(self):
        vapour = 0.5 * saturation_kpa(30.0)
        day = {"temperature_C": 30.0, "pressure_kPa": 98.0, "humidity_pct": 50.0, "measured_kW": 120.0}
        wanted = {
            "SAE J1349": 1.18 * 99.0 / (98.0 - vapour) * math.sqrt(303.15 / 298.0) - 0.18,
            "ISO 1585": (99.0 / (98.0 - vapour)) ** 1.2 * (303.15 / 298.0) ** 0.6,
            "DIN 70020": 101.3 / 98.0 * math.sqrt(303.15 / 293.0),
        }
        for standard, factor in wanted.items():
            found = asked("power-correction", standard=standard, **day)
            self.assertAlmostEqual(found["factor"], factor, places=8)
            self.assertAlmostEqual(found["corrected_kW"], 120.0 * factor, places=6)
            self.assertEqual(found["within_range"], None if standard == "DIN 70020" else True)
            self.assertIn("spark ignition, naturally aspirated", found["basis"])

    def test_out_of_range_and_without_a_figure(self):
        found = asked("power-correction", temperature_C=30.0, pressure_kPa=85.0, standard="SAE J1349")
        self.assertFalse(found["within_range"])
        self.assertIsNone(found["corrected_kW"])

    def test_no_other_name_is_taken(self):
        for given, field in (({"standard": "SAE"}, "standard"), ({}, "standard")):
            with self.assertRaises(BadInput) as refused:
                asked("power-correction", temperature_C=20, pressure_kPa=100, **given)
            self.assertEqual(refused.exception.field, field)
