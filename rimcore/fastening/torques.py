"""Is a torque one for its thread and class; what was read against what was wanted."""

from __future__ import annotations

from dataclasses import replace

from rimcore.fastening.bolts import CLASSES, TIGHT_PCT, proof_mpa, read_thread, tension
from rimcore.quantities.judgement import InputUsed, Judgement, unmeasured

#: of the proof load, below which a torque is little for its bolt: the unit may be another (common practice)
LITTLE_PCT = 15.0
#: K of dry steel (handbook, from memory)
DRY_K = 0.2


def plausible(
    torque_nm: float, thread: str, grade: str, angle_deg: float | None = None, nut_factor: float = DRY_K
) -> Judgement:
    """Is a typed torque one for its thread and class.

    Beyond proof is a hit, over 80 % tight, and so little that the unit may be wrong tight too.

    With an angle after it nothing can be said of the preload; what thread and class bear before the turn still is.

    Source: ISO 898-1 and SAE J429 by :func:`rimcore.fastening.bolts.tension`; the lower bound is common practice.

    Where the class is not known it is held against the strongest one: what not even that bears is said, and never
    ``clear``.

    Parameters
    ----------
    torque_nm : over 0 [N·m]
    thread : as ``M12x1.5`` or ``1/2-20``
    grade : class or grade; empty where not known
    angle_deg : turned after the torque, 0 or more; None without [deg]
    nut_factor : torque over tension and diameter, over 0; 0.2 dry

    >>> plausible(110.0, "M12x1.5", "10.9").state, plausible(200.0, "M12x1.5", "8.8").state, plausible(9.0, "M12x1.5", "10.9").state
    ('clear', 'hit', 'tight')
    >>> [plausible(torque_nm, "M12", "").state for torque_nm in (90.0, 165.0, 200.0)]
    ['unmeasured', 'tight', 'hit']
    """
    code, name = "torque.plausible", "Torque for its thread and class"
    if not thread:
        return unmeasured(
            code,
            name,
            "the thread is not known, so nothing holds the figure up",
            ["joint.thread"],
            ["read the thread on the bolt"],
        )
    if grade not in CLASSES:
        return _of_no_class(code, name, torque_nm, thread, nut_factor)
    found = tension(read_thread(thread), grade, nut_factor, None, torque_nm)
    judged = replace(found.load, code=code, name=name)
    share = found.of_proof_pct or 0.0
    if judged.state == "clear" and share < LITTLE_PCT and angle_deg is None:
        reason = f"{share:.0f} % of the proof load: little for {thread} of {grade}; is the unit right?"
        return replace(judged, state="tight", reason=reason, remedies=("read the figure and its unit again",))
    if angle_deg is not None and judged.state != "hit":
        return replace(
            judged, reason=f"{share:.0f} % of the proof load before the turn of {angle_deg:g}°, which decides the rest"
        )
    return judged


def strongest_nm(thread: str, nut_factor: float = DRY_K) -> tuple[str, float]:
    """The class that bears the most in a thread, and the torque [N·m] that takes it to its proof load.

    Source: ISO 898-1 and SAE J429 by :func:`rimcore.fastening.bolts.tension`.

    Parameters
    ----------
    thread : as ``M12x1.5`` or ``1/2-20``
    nut_factor : torque over tension and diameter, over 0; 0.2 dry

    >>> grade, bears_nm = strongest_nm("M12")
    >>> grade, round(bears_nm)
    ('12.9', 196)
    """
    bolt = read_thread(thread)
    of_kind = [one for one in CLASSES if one.startswith("SAE") == bolt.inch]
    best = max(of_kind, key=lambda one: proof_mpa(one, bolt.thread.diameter_mm))
    return best, tension(bolt, best, nut_factor, 100.0, None).torque_nm


def _of_no_class(code: str, name: str, torque_nm: float, thread: str, nut_factor: float) -> Judgement:
    """A torque whose class nobody read, against the strongest class there is."""
    best, bears_nm = strongest_nm(thread, nut_factor)
    read = ("read the class on the bolt's head", "look the torque up again")
    if torque_nm <= bears_nm * TIGHT_PCT / 100:
        reason = f"the class is not known; even {best} in {thread} bears no more than {bears_nm:.0f} N·m to its proof load, a lower class less"
        return unmeasured(code, name, reason, ["joint.class"], list(read))
    over = torque_nm > bears_nm
    says = "is beyond" if over else f"is over {TIGHT_PCT:.0f} % of"
    return Judgement(
        code,
        name,
        "hit" if over else "tight",
        f"{torque_nm:.0f} N·m {says} what even {best} in {thread} bears: {bears_nm:.0f} N·m to its proof load",
        "ISO 898-1, SAE J429; 80 % common practice",
        value=torque_nm,
        unit="N·m",
        held_against=bears_nm,
        margin=bears_nm - torque_nm,
        formula=f"{bears_nm:.0f} N·m = K F d of {best}, K {nut_factor:g}",
        inputs=(InputUsed("thread", thread), InputUsed("class", "not known")),
        remedies=read,
    )


def over_torqued(read_nm: float, wanted_nm: float, thread: str, grade: str) -> str:
    """What to do with a fastener that was turned too far; empty where it was not.

    Source: common practice: beyond a tenth over the figure it is loosened and tightened again, beyond proof it is
    replaced.

    Parameters
    ----------
    read_nm : 0 or more [N·m]
    wanted_nm : over 0 [N·m]
    thread : as ``M12x1.5``; empty where not known
    grade : class or grade; empty where not known

    >>> over_torqued(112.0, 110.0, "M12x1.5", "10.9"), over_torqued(130.0, 110.0, "M12x1.5", "10.9")
    ('', 'loosen it and tighten it again')
    """
    if read_nm <= wanted_nm * 1.1:
        return ""
    if (
        thread
        and grade in CLASSES
        and (tension(read_thread(thread), grade, DRY_K, None, read_nm).of_proof_pct or 0.0) > 100.0
    ):
        return "beyond its proof load: a new bolt, stud and nut"
    return "loosen it and tighten it again"
