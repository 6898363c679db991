"""Moist air, the standard atmosphere, and the viscosity of air."""

from __future__ import annotations

import math
from dataclasses import dataclass

from rimcore.quantities.errors import BadInput
from rimcore.tables.facts import G_M_PER_S2

#: gas constants of dry air and of water vapour [J/(kg·K)], and the ratio of dry air's heats
R_DRY, R_VAPOUR, GAMMA = 287.05, 461.5, 1.4
#: 0 °C [K]
ZERO_C_K = 273.15
#: standard atmosphere, ISO 2533: sea level [K, kPa], gradient [K/m], gas constant, top of the lower layer [m]
T0_K, P0_KPA, LAPSE_K_PER_M, R_ISO, TROPOPAUSE_M = 288.15, 101.325, 0.0065, 287.05287, 11_000.0
#: relative humidity that is reckoned with where nobody noted it; anything from dry to wet is its ± [%]
HALF_PCT = 50.0


@dataclass(frozen=True)
class Air:
    """Moist air at a place: temperature [°C], absolute pressure and its share of vapour [kPa]."""

    temperature_c: float
    pressure_kpa: float
    vapour_kpa: float

    @property
    def dry_kpa(self) -> float:
        """Pressure of the dry share [kPa]."""
        return self.pressure_kpa - self.vapour_kpa

    @property
    def density_kg_per_m3(self) -> float:
        """Of an ideal mixture [kg/m³].

        >>> round(Air(15.0, 101.325, 0.0).density_kg_per_m3, 4)
        1.225
        """
        kelvin = self.temperature_c + ZERO_C_K
        return 1000.0 * (self.dry_kpa / R_DRY + self.vapour_kpa / R_VAPOUR) / kelvin

    @property
    def speed_of_sound_m_per_s(self) -> float:
        """√(1.4 p ÷ ρ) [m/s].

        >>> round(Air(15.0, 101.325, 0.0).speed_of_sound_m_per_s, 1)
        340.3
        """
        return math.sqrt(GAMMA * self.pressure_kpa * 1000.0 / self.density_kg_per_m3)


def saturation_kpa(temperature_c: float) -> float:
    """Pressure of saturated vapour over liquid water [kPa], −90 to 100 °C.

    Source: Sonntag 1990, as in WMO and VDI/VDE 3514 practice; steam tables within 0.02 % from 0 to 100 °C.

    Parameters
    ----------
    temperature_c : −90 to 100 [°C]

    >>> round(saturation_kpa(20.0), 4)
    2.3392
    """
    kelvin = temperature_c + ZERO_C_K
    logarithm = (
        -6096.9385 / kelvin + 21.2409642 - 2.711193e-2 * kelvin + 1.673952e-5 * kelvin**2 + 2.433502 * math.log(kelvin)
    )
    return math.exp(logarithm) / 1000.0


def moist_air(temperature_c: float, pressure_kpa: float, humidity_pct: float = 0.0) -> Air:
    """Air of a relative humidity.

    Source: ideal mixture of dry air and vapour (ISO 2533 for dry air's constant).

    Parameters
    ----------
    temperature_c : −90 to 100 [°C]
    pressure_kpa : absolute, over the vapour's [kPa]
    humidity_pct : relative, 0 to 100 [%]

    Raises
    ------
    BadInput : its vapour alone would reach the pressure

    Examples
    --------
    >>> round(moist_air(30.0, 101.325, 100.0).density_kg_per_m3, 3)
    1.146
    """
    vapour = humidity_pct / 100.0 * saturation_kpa(temperature_c)
    if vapour >= pressure_kpa:
        most = 100.0 * pressure_kpa / saturation_kpa(temperature_c)
        raise BadInput(
            f"{vapour:.3g} kPa of vapour is no less than the air's pressure of {pressure_kpa:g} kPa; accepted: below {most:.1f} %",
            "humidity_pct",
        )
    return Air(temperature_c, pressure_kpa, vapour)


def standard_air(altitude_m: float, humidity_pct: float = 0.0) -> Air:
    """The standard atmosphere at a geopotential altitude, −2,000 to 20,000 m (ISO 2533).

    Parameters
    ----------
    altitude_m : geopotential, −2,000 to 20,000 [m]
    humidity_pct : relative, 0 to 100 [%]

    >>> standard = standard_air(1000.0)
    >>> round(standard.temperature_c, 2), round(standard.pressure_kpa, 3), round(standard.density_kg_per_m3, 3)
    (8.5, 89.875, 1.112)
    """
    low = min(altitude_m, TROPOPAUSE_M)
    kelvin = T0_K - LAPSE_K_PER_M * low
    pressure = P0_KPA * (kelvin / T0_K) ** (G_M_PER_S2 / (R_ISO * LAPSE_K_PER_M))
    if altitude_m > TROPOPAUSE_M:
        pressure *= math.exp(-G_M_PER_S2 * (altitude_m - TROPOPAUSE_M) / (R_ISO * kelvin))
    return moist_air(kelvin - ZERO_C_K, pressure, humidity_pct)


def viscosity_pa_s(kelvin: float) -> float:
    """Dynamic viscosity of air by Sutherland's formula [Pa·s] (ISO 2533).

    Parameters
    ----------
    kelvin : absolute temperature, over 0 [K]

    >>> round(viscosity_pa_s(288.15) * 1e5, 4)
    1.7894
    """
    return float(1.458e-6 * kelvin**1.5 / (kelvin + 110.4))
