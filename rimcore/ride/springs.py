"""A spring or a spring with its helper on a corner: force, deflection, frequency, what is left to coil bind."""

from __future__ import annotations

import math
from dataclasses import dataclass

from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured
from rimcore.tables.facts import G_M_PER_S2

#: one pound-force per inch [N/mm] (NIST SP 811)
LBF_PER_IN = 0.1751268
#: room that should be left between bump stop and coil bind, at the wheel [mm] (common practice)
BIND_ROOM_MM = 5.0


def wheel_rate_n_per_mm(rate_n_per_mm: float, motion_ratio: float) -> float:
    """A spring's rate at the wheel [N/mm]: rate × motion ratio².

    Source: Milliken & Milliken, Race Car Vehicle Dynamics, ch. 16.

    Parameters
    ----------
    rate_n_per_mm : of the spring, 0 or more [mm]
    motion_ratio : spring travel over wheel travel, over 0

    >>> wheel_rate_n_per_mm(60.0, 0.5)
    15.0
    """
    return rate_n_per_mm * motion_ratio**2


def frequency_hz(wheel_rate_n_per_mm: float, sprung_kg: float) -> float:
    """Natural frequency of a mass on a spring [Hz]: √(k ÷ m) ÷ 2π.

    Source: Milliken & Milliken, Race Car Vehicle Dynamics, ch. 16.

    Parameters
    ----------
    wheel_rate_n_per_mm : over 0 [mm]
    sprung_kg : on that corner, over 0 [kg]

    >>> round(frequency_hz(60.0, 300.0), 3)
    2.251
    """
    return math.sqrt(wheel_rate_n_per_mm * 1000.0 / sprung_kg) / (2 * math.pi)


@dataclass(frozen=True)
class Coil:
    """A coil: rate, length at rest, length with every coil on the next.

    Raises
    ------
    BadInput : the block length is not below the free length
    """

    rate_n_per_mm: float
    free_length_mm: float
    block_length_mm: float

    def __post_init__(self) -> None:
        if self.block_length_mm >= self.free_length_mm:
            raise BadInput(
                f"must be below the free length; accepted: less than {self.free_length_mm:g} mm", "block_length_mm"
            )

    @property
    def stroke_mm(self) -> float:
        """From rest to block [mm]."""
        return self.free_length_mm - self.block_length_mm

    @property
    def rate_kgf_per_mm(self) -> float:
        """As springs are sold by weight [kgf/mm].

        >>> round(Coil(137.29, 170, 80).rate_kgf_per_mm, 2)
        14.0
        """
        return self.rate_n_per_mm / G_M_PER_S2

    @property
    def rate_lbf_per_in(self) -> float:
        """In pounds-force per inch.

        >>> round(Coil(14 * G_M_PER_S2, 170, 80).rate_lbf_per_in)
        784
        """
        return self.rate_n_per_mm / LBF_PER_IN


@dataclass(frozen=True)
class Stack:
    """A main spring, with or without a helper in series that goes solid first.

    Source: springs in series; until the helper is solid 1/k = 1/k₁ + 1/k₂, then the main spring alone.
    """

    main: Coil
    helper: Coil | None = None

    @property
    def open_rate_n_per_mm(self) -> float:
        """While the helper is open [N/mm].

        >>> Stack(Coil(60, 200, 80), Coil(30, 60, 20)).open_rate_n_per_mm
        20.0
        """
        if self.helper is None:
            return self.main.rate_n_per_mm
        one, two = self.main.rate_n_per_mm, self.helper.rate_n_per_mm
        return one * two / (one + two)

    @property
    def free_length_mm(self) -> float:
        """Of the whole stack with no load [mm].

        >>> Stack(Coil(60, 200, 80), Coil(30, 60, 20)).free_length_mm
        260
        """
        return self.main.free_length_mm + (self.helper.free_length_mm if self.helper else 0.0)

    @property
    def closing_n(self) -> float:
        """Force at which the helper is solid [N]; infinite without a helper."""
        return math.inf if self.helper is None else self.helper.rate_n_per_mm * self.helper.stroke_mm

    @property
    def stroke_mm(self) -> float:
        """From rest until every coil is solid [mm]."""
        return self.main.stroke_mm + (self.helper.stroke_mm if self.helper else 0.0)

    def compression_mm(self, force_n: float) -> float:
        """How far a force compresses the stack [mm].

        >>> stack = Stack(Coil(60, 200, 80), Coil(30, 60, 20))
        >>> stack.compression_mm(600), stack.compression_mm(2400)
        (30.0, 80.0)
        """
        if self.helper is None or force_n < self.closing_n:
            return force_n / self.open_rate_n_per_mm
        return self.helper.stroke_mm + force_n / self.main.rate_n_per_mm

    def force_n(self, compression_mm: float) -> float:
        """Force of a compression [N].

        >>> Stack(Coil(60, 200, 80), Coil(30, 60, 20)).force_n(80.0)
        2400.0
        """
        if self.helper is None or compression_mm * self.open_rate_n_per_mm < self.closing_n:
            return compression_mm * self.open_rate_n_per_mm
        return (compression_mm - self.helper.stroke_mm) * self.main.rate_n_per_mm

    def rate_n_per_mm(self, force_n: float) -> float:
        """Tangent rate at a force [N/mm]."""
        return self.open_rate_n_per_mm if force_n < self.closing_n else self.main.rate_n_per_mm


@dataclass(frozen=True)
class Sprung:
    """A stack on a corner.

    Parameters
    ----------
    stack : the springs
    corner_kg : on the pad [kg]
    unsprung_kg : of it, what moves with the wheel [kg]
    motion_ratio : spring movement ÷ wheel movement
    preload_mm : compression of the stack with the damper at full extension [mm]

    Raises
    ------
    BadInput : nothing is left to carry, or the preload is more than the springs have

    Source: Milliken & Milliken, Race Car Vehicle Dynamics, ch. 16: wheel rate = rate × motion ratio².

    Examples
    --------
    >>> corner = Sprung(Stack(Coil(60, 200, 80)), 340, 40)
    >>> round(corner.deflection_mm, 2), round(corner.natural_frequency_hz, 3)
    (49.03, 2.251)
    """

    stack: Stack
    corner_kg: float
    unsprung_kg: float = 0.0
    motion_ratio: float = 1.0
    preload_mm: float = 0.0

    def __post_init__(self) -> None:
        if self.unsprung_kg >= self.corner_kg:
            raise BadInput(
                f"must be below what the corner weighs; accepted: less than {self.corner_kg:g} kg", "unsprung_kg"
            )
        if self.preload_mm > self.stack.stroke_mm:
            raise BadInput(f"is more than the coils have; accepted: 0 to {self.stack.stroke_mm:g} mm", "preload_mm")

    @property
    def sprung_kg(self) -> float:
        """What the spring carries [kg]."""
        return self.corner_kg - self.unsprung_kg

    @property
    def loaded_length_mm(self) -> float:
        """Of the stack under its corner [mm].

        >>> round(Sprung(Stack(Coil(60, 200, 80)), 340, 40).loaded_length_mm, 2)
        150.97
        """
        return self.stack.free_length_mm - self.deflection_mm

    @property
    def static_force_n(self) -> float:
        """Force in the spring that carries the corner [N]."""
        return self.sprung_kg * G_M_PER_S2 / self.motion_ratio

    @property
    def preload_n(self) -> float:
        """Force in the stack at full extension [N]."""
        return self.stack.force_n(self.preload_mm)

    @property
    def topped_out(self) -> bool:
        """Does the damper stand at full extension, the preload being more than the load?

        >>> Sprung(Stack(Coil(60, 200, 80)), 200, 0, 1.0, 40).topped_out
        True
        """
        return self.static_force_n <= self.preload_n

    @property
    def deflection_mm(self) -> float:
        """From free to ride height [mm]."""
        return self.preload_mm if self.topped_out else self.stack.compression_mm(self.static_force_n)

    @property
    def droop_mm(self) -> float:
        """What the wheel drops to full extension [mm]."""
        return max(0.0, self.deflection_mm - self.preload_mm) / self.motion_ratio

    @property
    def wheel_rate_n_per_mm(self) -> float:
        """Tangent rate at the wheel, at ride height [N/mm]."""
        return wheel_rate_n_per_mm(
            self.stack.rate_n_per_mm(max(self.static_force_n, self.preload_n)), self.motion_ratio
        )

    @property
    def natural_frequency_hz(self) -> float | None:
        """Of the body on this corner [Hz]; None while it is topped out."""
        if self.topped_out:
            return None
        return frequency_hz(self.wheel_rate_n_per_mm, self.sprung_kg)

    @property
    def helper_closed(self) -> bool | None:
        """Is the helper solid at ride height? None without one."""
        return None if self.stack.helper is None else max(self.static_force_n, self.preload_n) >= self.stack.closing_n

    @property
    def bump_to_block_mm(self) -> float:
        """What the wheel rises until every coil is solid [mm]."""
        return (self.stack.stroke_mm - self.deflection_mm) / self.motion_ratio

    def height_change_mm(self, perch_up_mm: float) -> float:
        """What raising the perch does to the ride height [mm]; topped out, nothing until it comes off its stop.

        Examples
        --------
        >>> corner = Sprung(Stack(Coil(60, 200, 80)), 300, 0, 1.0, 0)
        >>> corner.height_change_mm(10), round(corner.height_change_mm(80), 2)
        (10.0, 49.03)
        """
        if self.topped_out:
            settled = self.stack.compression_mm(self.static_force_n)
            return min(0.0, perch_up_mm + self.preload_mm - settled) / self.motion_ratio
        return min(perch_up_mm, self.deflection_mm - self.preload_mm) / self.motion_ratio

    def coil_bind(self, bump_mm: float | None) -> Judgement:
        """Is there room between the bump stop and coil bind?

        Examples
        --------
        >>> Sprung(Stack(Coil(60, 200, 80)), 300).coil_bind(68).state
        'tight'
        """
        if bump_mm is None:
            return unmeasured(
                "spring.bind",
                "Coil bind",
                "the travel to the bump stop is not given",
                ["bump_mm"],
                ["measure the bump travel left"],
            )
        room = self.bump_to_block_mm - bump_mm
        state: State = "hit" if room < 0 else "tight" if room < BIND_ROOM_MM else "clear"
        said = f"{abs(room):.1f} mm at the wheel {'lacking: the coils bind before the stop' if room < 0 else 'left between stop and coil bind'}"
        return Judgement(
            "spring.bind",
            "Coil bind",
            state,
            said,
            f"{COMMON_PRACTICE}: {BIND_ROOM_MM:g} mm to spare",
            value=room,
            unit="mm",
            held_against=BIND_ROOM_MM,
            margin=room - BIND_ROOM_MM,
            formula=f"(({self.stack.stroke_mm:.1f} − {self.deflection_mm:.1f}) ÷ {self.motion_ratio:g}) − {bump_mm:g} = {room:.1f} mm",
            inputs=(InputUsed("bump", f"{bump_mm:g} mm"), InputUsed("motion ratio", f"{self.motion_ratio:g}")),
            remedies=()
            if state == "clear"
            else ("a longer bump stop", "a spring with more travel", "a higher ride height"),
        )
