"""A bolt's tension: stress area, proof load, torque for a preload, what a torque stretches it to, a wrench with an
adapter.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass

from rimcore.fastening.threads import Thread, parse_thread
from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import InputUsed, Judgement, State, unmeasured

#: coarse pitches [mm] by nominal diameter [mm] (ISO 261)
COARSE_MM = {
    4: 0.7,
    5: 0.8,
    6: 1.0,
    7: 1.0,
    8: 1.25,
    10: 1.5,
    12: 1.75,
    14: 2.0,
    16: 2.0,
    18: 2.5,
    20: 2.5,
    22: 2.5,
    24: 3.0,
    27: 3.0,
    30: 3.5,
    33: 3.5,
    36: 4.0,
    39: 4.0,
}
#: one thousand pounds-force per square inch [MPa] (NIST SP 811)
KSI_MPA = 6.894757293168361
INCH_MM = 25.4
CLASSES = ("8.8", "10.9", "12.9", "SAE 5", "SAE 8")
#: of proof under which a joint is hardly clamped [%] (common practice: 50 to 80 is usual)
LITTLE_PCT = 20.0
#: of the proof load, what a torque may use up (common practice): beyond the first it is a matter for the maker, beyond
#: the second the bolt stays long
TIGHT_PCT, HIT_PCT = 80.0, 100.0

_METRIC_ALONE = re.compile(r"^M\s*(\d+)$", re.IGNORECASE)


@dataclass(frozen=True)
class BoltThread:
    """A thread with its series: what is subtracted from the diameter differs between metric and inch."""

    thread: Thread
    inch: bool

    @property
    def stress_area_mm2(self) -> float:
        """Tensile stress area [mm²]: π/4 (d − 0.9382 P)² metric (ISO 898-1), π/4 (d − 0.9743 P)² inch (ASME B1.1).

        >>> round(read_thread("M12x1.75").stress_area_mm2, 1), round(read_thread("1/2-20").stress_area_mm2 / 25.4**2, 4)
        (84.3, 0.16)
        """
        less = (0.9743 if self.inch else 0.9382) * self.thread.pitch_mm
        return math.pi / 4 * (self.thread.diameter_mm - less) ** 2


def read_thread(text: str) -> BoltThread:
    """Read a bolt's thread; a metric one without its pitch has the coarse one (ISO 261).

    Raises
    ------
    BadInput : no thread, or no coarse pitch for that diameter

    Examples
    --------
    >>> read_thread("M10").thread.pitch_mm, read_thread("3/8-24").inch
    (1.5, True)
    """
    alone = _METRIC_ALONE.match(str(text).strip())
    if alone is None:
        return BoltThread(parse_thread(text), "/" in str(text))
    pitch = COARSE_MM.get(int(alone[1]))
    if pitch is None:
        raise BadInput(
            f"M{alone[1]} has no coarse pitch; accepted: M{', M'.join(map(str, COARSE_MM))}, or with its pitch",
            "thread",
        )
    return BoltThread(Thread(float(alone[1]), pitch), False)


def proof_mpa(property_class: str, diameter_mm: float) -> float:
    """Proof stress [MPa]: ISO 898-1 for 8.8, 10.9, 12.9; SAE J429 for grades 5 and 8.

    Parameters
    ----------
    property_class : ``8.8``, ``10.9``, ``12.9``, ``grade 5`` or ``grade 8``
    diameter_mm : nominal, over 0 [mm]

    >>> proof_mpa("8.8", 16), proof_mpa("8.8", 18), round(proof_mpa("SAE 8", 12.7), 1)
    (580.0, 600.0, 827.4)
    """
    if property_class not in CLASSES:
        raise BadInput(f"no such class; accepted: {', '.join(CLASSES)}", "class")
    small = diameter_mm <= 16 if property_class == "8.8" else diameter_mm <= INCH_MM
    table = {
        "8.8": 580.0 if small else 600.0,
        "10.9": 830.0,
        "12.9": 970.0,
        "SAE 5": (85.0 if small else 74.0) * KSI_MPA,
        "SAE 8": 120.0 * KSI_MPA,
    }
    return table[property_class]


@dataclass(frozen=True)
class Tension:
    """What a bolt is tightened to; None where a torque and an angle together don't say it."""

    stress_area_mm2: float
    proof_mpa: float
    proof_load_n: float
    preload_n: float | None
    torque_nm: float
    of_proof_pct: float | None
    load: Judgement


def tension(
    bolt: BoltThread,
    property_class: str,
    nut_factor: float,
    use_pct: float | None,
    torque_nm: float | None,
    angle_deg: float | None = None,
) -> Tension:
    """Preload and torque of a bolt, from the share of the proof load it may use, or from a torque: T = K F d.

    Parameters
    ----------
    bolt : diameter and pitch
    property_class : as ``proof_mpa``
    nut_factor : K; 0.2 for dry steel, 0.15 and less oiled (handbook, from memory)
    use_pct : share of the proof load; exactly one of this and ``torque_nm`` [%]
    torque_nm : over 0; exactly one of this and ``use_pct`` [N·m]
    angle_deg : a further turn after the torque: what it stretches the bolt to depends on its length, so nothing is
        said of it [deg]

    Examples
    --------
    >>> found = tension(read_thread("M12x1.5"), "10.9", 0.2, None, 110.0)
    >>> round(found.preload_n), round(found.of_proof_pct), found.load.state
    (45833, 63, 'clear')
    """
    area, proof = bolt.stress_area_mm2, proof_mpa(property_class, bolt.thread.diameter_mm)
    load_n, arm_m = area * proof, nut_factor * bolt.thread.diameter_mm / 1000
    if angle_deg is not None and torque_nm is not None:
        reason = "a turn after the torque stretches the bolt by its own length: measure how much longer it is, or keep to the maker's figures"
        return Tension(
            area, proof, load_n, None, torque_nm, None, unmeasured("bolt.load", "Bolt load", reason, ("bolt.length",))
        )
    preload = load_n * (use_pct or 0.0) / 100 if torque_nm is None else torque_nm / arm_m
    share = 100 * preload / load_n if torque_nm is not None else float(use_pct or 0.0)
    torque = preload * arm_m if torque_nm is None else torque_nm
    return Tension(area, proof, load_n, preload, torque, share, _judged(share, preload, load_n, bolt, property_class))


def _judged(share: float, preload: float, load_n: float, bolt: BoltThread, property_class: str) -> Judgement:
    state: State = "hit" if share > HIT_PCT else "tight" if share > TIGHT_PCT else "clear"
    words = {
        "clear": "within what a joint is tightened to",
        "tight": "over 80 % of proof: keep to the maker's torque",
        "hit": "beyond proof: it stays longer",
    }
    said = (
        "little for a joint: it may slip and work loose; look the figure up again"
        if share < LITTLE_PCT
        else words[state]
    )
    return Judgement(
        "bolt.load",
        "Bolt load",
        state,
        f"{share:.0f} % of the proof load; {said}",
        "ISO 898-1, SAE J429; 80 % common practice",
        value=share,
        unit="%",
        held_against=TIGHT_PCT,
        margin=TIGHT_PCT - share,
        formula=f"{preload:.0f} N ÷ {load_n:.0f} N proof load",
        inputs=(InputUsed("thread", str(bolt.thread)), InputUsed("class", property_class)),
        remedies=("look the torque up again",)
        if share < LITTLE_PCT
        else ()
        if state == "clear"
        else ("less torque", "a higher class, if the part it goes into bears it", "the maker's figure"),
    )


def wrench_setting_nm(torque_nm: float, wrench_mm: float, adapter_mm: float) -> float:
    """What a torque wrench is set to with an adapter in line with it: T × L ÷ (L + adapter) [N·m].

    Source: lever law; the wrench's length is from its hand to its square (common practice).

    Parameters
    ----------
    torque_nm : wanted at the bolt, over 0 [N·m]
    wrench_mm : hand to square, over 0 [mm]
    adapter_mm : square to bolt, in line with the wrench [mm]

    >>> wrench_setting_nm(100.0, 400.0, 100.0)
    80.0
    """
    return torque_nm * wrench_mm / (wrench_mm + adapter_mm)


def at_bolt_nm(read_nm: float, wrench_mm: float | None, adapter_mm: float | None) -> float:
    """What a bolt gets where the wrench reads so much: read × (L + adapter) ÷ L [N·m]; without an adapter what is read.

    Source: lever law, as ``wrench_setting_nm``.

    Parameters
    ----------
    read_nm : as the wrench reads, 0 or more [N·m]
    wrench_mm : hand to square, over 0; None without an adapter [mm]
    adapter_mm : square to bolt; None without one [mm]

    >>> at_bolt_nm(80.0, 400.0, 100.0), at_bolt_nm(80.0, None, None)
    (100.0, 80.0)
    """
    return read_nm if wrench_mm is None or adapter_mm is None else read_nm * (wrench_mm + adapter_mm) / wrench_mm
