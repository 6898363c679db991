"""The fasteners' part of the command line."""

from __future__ import annotations

from typing import Any

from rimcore.fastening.bolts import CLASSES, read_thread, tension, wrench_setting_nm
from rimcore.quantities.contract import Calculation, Key, number_key
from rimcore.quantities.errors import BadInput

USE_PCT = 75.0


def _bolt(given: dict[str, Any]) -> dict[str, Any]:
    use, torque, angle = given["use_pct"], given["torque_Nm"], given["angle_deg"]
    if use is not None and torque is not None:
        raise BadInput("use_pct and torque_Nm are both given; accepted: one of them", "torque_Nm")
    if angle is not None and torque is None:
        raise BadInput("needs torque_Nm: the turn follows it", "angle_deg")
    found = tension(
        given["thread"], given["class"], given["nut_factor"], USE_PCT if use is None else use, torque, angle
    )
    lengths = given["wrench_mm"], given["adapter_mm"]
    setting = None if None in lengths else wrench_setting_nm(found.torque_nm, *lengths)
    return {
        "stress_area_mm2": found.stress_area_mm2,
        "proof_MPa": found.proof_mpa,
        "proof_load_N": found.proof_load_n,
        "preload_N": found.preload_n,
        "torque_Nm": found.torque_nm,
        "of_proof_pct": found.of_proof_pct,
        "load": found.load.as_dict(),
        "wrench_setting_Nm": setting,
        "stated": None if angle is None else f"{torque:g} N·m + {angle:g}°",
    }


BOLT = Calculation(
    "bolt",
    "preload, torque and share of the proof load of a bolt, and the setting of a wrench with an adapter",
    "T = K F d; stress areas ISO 898-1 and ASME B1.1, proof stresses ISO 898-1 and SAE J429, coarse pitches ISO 261",
    (
        Key("thread", "text", "M12x1.5, M12 (coarse), 1/2-20", required=True, read=read_thread),
        Key("class", "choice", "property class or grade", required=True, choices=CLASSES),
        number_key("nut_factor", "K of T = K F d: 0.2 dry", "", 0.01, 1.0, default=0.2),
        number_key("use_pct", "share of the proof load; 75 without it and without torque_Nm", "%", 0.0, 100.0),
        number_key("torque_Nm", "torque instead of a share", "N·m", 0.01, 5000.0),
        number_key("angle_deg", "further turn after torque_Nm", "°", 0.0, 1080.0),
        number_key("adapter_mm", "length of an adapter in line with the wrench", "mm", 0.0, 2000.0),
        number_key("wrench_mm", "length of the wrench, hand to square", "mm", 1.0, 3000.0),
    ),
    (
        number_key("stress_area_mm2", "tensile stress area", "mm²"),
        number_key("proof_MPa", "proof stress", "MPa"),
        number_key("proof_load_N", "proof load", "N"),
        number_key("preload_N", "tension; null with an angle", "N"),
        number_key("torque_Nm", "torque, given or reckoned", "N·m"),
        number_key("of_proof_pct", "preload over proof load; null with an angle", "%"),
        Key("load", "object", "judgement: tight over 80 %, hit over 100 %"),
        number_key("wrench_setting_Nm", "what the wrench is set to; null without both lengths", "N·m"),
        Key("stated", "text", "torque and angle as they are written; null without an angle"),
    ),
    _bolt,
)

FASTENING = {"bolt": BOLT}
