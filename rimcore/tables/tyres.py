"""Tyre tables.

Load indices and speed symbols: ISO 4000-1 / ETRTO Standards Manual (figures from memory of the
published tables; the ones the tests hold are named there). Approved rims: handbook, from memory.
"""

from __future__ import annotations

#: load index -> kg per tyre, indices 50 to 150 (ISO 4000-1)
_LOADS_FROM_50 = (
    "190 195 200 206 212 218 224 230 236 243 250 257 265 272 280 290 300 307 315 325 "
    "335 345 355 365 375 387 400 412 425 437 450 462 475 487 500 515 530 545 560 580 "
    "600 615 630 650 670 690 710 730 750 775 800 825 850 875 900 925 950 975 1000 1030 "
    "1060 1090 1120 1150 1180 1215 1250 1285 1320 1360 1400 1450 1500 1550 1600 1650 1700 1750 1800 1850 "
    "1900 1950 2000 2060 2120 2180 2240 2300 2360 2430 2500 2575 2650 2725 2800 2900 3000 3075 3150 3250 3350"
)
LOAD_KG = {50 + place: float(load) for place, load in enumerate(_LOADS_FROM_50.split())}

#: speed symbol -> km/h (ISO 4000-1)
SPEED_KMH = {
    "B": 50.0,
    "C": 60.0,
    "D": 65.0,
    "E": 70.0,
    "F": 80.0,
    "G": 90.0,
    "J": 100.0,
    "K": 110.0,
    "L": 120.0,
    "M": 130.0,
    "N": 140.0,
    "P": 150.0,
    "Q": 160.0,
    "R": 170.0,
    "S": 180.0,
    "T": 190.0,
    "U": 200.0,
    "H": 210.0,
    "V": 240.0,
    "W": 270.0,
    "Y": 300.0,
}

#: lowest aspect ratio of the group -> measuring rim width as a share of the section (handbook rule, from memory)
MEASURING_RIM_SHARE = ((70, 0.70), (60, 0.75), (50, 0.80), (45, 0.85), (30, 0.90), (0, 0.92))

#: flotation sizes sit on a wider measuring rim than their aspect suggests (from memory: 31x10.50 on 8.5, 35x12.50 on
#: 10)
FLOTATION_RIM_SHARE = 0.80

#: (section mm, aspect %, rim in) -> approved rim widths in inches (handbook, from memory)
APPROVED_RIM_IN = {
    (195, 65, 15.0): (5.5, 7.0),
    (205, 55, 16.0): (5.5, 7.5),
    (225, 45, 17.0): (7.0, 8.5),
    (245, 40, 18.0): (8.0, 9.5),
    (265, 35, 18.0): (9.0, 10.5),
    (295, 35, 18.0): (10.0, 11.5),
}
