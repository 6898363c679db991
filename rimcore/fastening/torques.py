"""Is a torque one for its thread and class; what was read against what was wanted."""

from __future__ import annotations

from dataclasses import replace

from rimcore.fastening.bolts import CLASSES, read_thread, tension
from rimcore.quantities.judgement import Judgement, unmeasured

#: of the proof load, below which a torque is little for its bolt: the unit may be another (common practice)
LITTLE_PCT = 15.0
#: K of dry steel (handbook, from memory)
DRY_K = 0.2


def plausible(torque_nm: float, thread: str, grade: str, angle_deg: float | None = None, nut_factor: float = DRY_K) -> Judgement:
    """Is a typed torque one for its thread and class: beyond proof is a hit, over 80 % tight, and so little that the unit may be wrong tight too.

    With an angle after it nothing can be said of the preload; what thread and class bear before the turn still is.

    Source: ISO 898-1 and SAE J429 by :func:`rimcore.fastening.bolts.tension`; the lower bound is common practice.

    >>> plausible(110.0, "M12x1.5", "10.9").state, plausible(200.0, "M12x1.5", "8.8").state, plausible(9.0, "M12x1.5", "10.9").state
    ('clear', 'hit', 'tight')
    """
    code, name = "torque.plausible", "Torque for its thread and class"
    if not thread or grade not in CLASSES:
        what = "thread" if not thread else "class"
        return unmeasured(
            code, name, f"the {what} is not known, so nothing holds the figure up", [f"joint.{what}"], [f"read the {what} on the bolt"]
        )
    found = tension(read_thread(thread), grade, nut_factor, None, torque_nm)
    judged = replace(found.load, code=code, name=name)
    share = found.of_proof_pct or 0.0
    if judged.state == "clear" and share < LITTLE_PCT and angle_deg is None:
        reason = f"{share:.0f} % of the proof load: little for {thread} of {grade}; is the unit right?"
        return replace(judged, state="tight", reason=reason, remedies=("read the figure and its unit again",))
    if angle_deg is not None and judged.state != "hit":
        return replace(judged, reason=f"{share:.0f} % of the proof load before the turn of {angle_deg:g}°, which decides the rest")
    return judged


def over_torqued(read_nm: float, wanted_nm: float, thread: str, grade: str) -> str:
    """What to do with a fastener that was turned too far; empty where it was not.

    Source: common practice: beyond a tenth over the figure it is loosened and tightened again, beyond proof it is replaced.

    >>> over_torqued(112.0, 110.0, "M12x1.5", "10.9"), over_torqued(130.0, 110.0, "M12x1.5", "10.9")
    ('', 'loosen it and tighten it again')
    """
    if read_nm <= wanted_nm * 1.1:
        return ""
    if thread and grade in CLASSES and (tension(read_thread(thread), grade, DRY_K, None, read_nm).of_proof_pct or 0.0) > 100.0:
        return "beyond its proof load: a new bolt, stud and nut"
    return "loosen it and tighten it again"
