"""The breathing bench, as declared, and what it judges: intake, exhaust, meter, hangers."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache

from rimcore.breathing.air import Air
from rimcore.breathing.bill import Piece, said
from rimcore.breathing.meter import Housing, judge_meter
from rimcore.breathing.runs import (
    MACH_MOST,
    SMOOTH_MM,
    STEEL_MM,
    Lost,
    air_kg_per_s,
    exhaust_gas,
    gas_of,
    losses,
    temperatures_c,
)
from rimcore.quantities.declared import Bench
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured

BREATHING_BENCH = Bench(
    "breathing",
    "Intake and exhaust",
    "intake and exhaust drawn as they run: velocity, loss, the airflow meter housing, room beside the exhaust",
    (),
    ("exhaust_body", "exhaust_shaft", "exhaust_heat"),
    ("air", "power-correction", "meter", "intake", "exhaust"),
)
SOUND_BENCH = Bench(
    "sound", "Sound", "a recording before and one after: levels, spectrum, firing orders, drone", (), (), ("sound",)
)

#: what a run may lose at the engine's limit before it is tight, and before it is a hit [kPa] (common practice)
INTAKE_KPA, EXHAUST_KPA = (3.0, 6.0), (15.0, 30.0)
#: room that an exhaust keeps at the engine's rock [mm] (common practice): bodywork, a turning shaft, what heat harms
ROOM_MM = {"exhaust_body": 15.0, "exhaust_shaft": 20.0, "exhaust_heat": 40.0}
#: speed of the air in a pipe [m/s], for orientation (common practice)
FAST_M_PER_S = 90.0


@dataclass(frozen=True)
class Breath:
    """An engine on a day: what it draws and what its exhaust carries."""

    displacement_l: float
    rpm: float
    ve_pct: float
    air: Air
    manifold_ratio: float = 1.0
    afr: float = 12.8


@dataclass(frozen=True)
class Flowed:
    """A run that is flowed through: its pieces, what each loses, and all together [kPa]."""

    pieces: tuple[Piece, ...]
    lost: tuple[Lost, ...] = field(repr=False)
    flow_kg_per_s: float

    @property
    def total_kpa(self) -> float:
        """Of all pieces."""
        return sum(one.loss_kpa for one in self.lost)

    @property
    def rows(self) -> list[tuple[str, Lost]]:
        """Each piece in words with what it loses."""
        return [(said(piece), lost) for piece, lost in zip(self.pieces, self.lost, strict=True)]

    @property
    def fastest(self) -> float | None:
        """Largest Mach number; None where no piece has a bore."""
        return max((one.mach for one in self.lost if one.mach is not None), default=None)


@lru_cache(maxsize=128)
def intake_flow(pieces: tuple[Piece, ...], breath: Breath) -> Flowed:
    """The intake at an engine speed.

    Raises
    ------
    BadInput : the flow would reach the speed of sound
    """
    flow = air_kg_per_s(
        breath.displacement_l, breath.rpm, breath.ve_pct, breath.manifold_ratio, breath.air.density_kg_per_m3
    )
    gases = [gas_of(breath.air)] * len(pieces)
    return Flowed(tuple(pieces), tuple(losses([one.section for one in pieces], flow, gases, SMOOTH_MM)), flow)


@lru_cache(maxsize=128)
def exhaust_flow(
    pieces: tuple[Piece, ...], breath: Breath, gas_in_c: float, gas_out_c: float, pipes: int = 1
) -> Flowed:
    """The exhaust at an engine speed; one of ``pipes`` runs side by side.

    Raises
    ------
    BadInput : the flow would reach the speed of sound
    """
    drawn = air_kg_per_s(
        breath.displacement_l, breath.rpm, breath.ve_pct, breath.manifold_ratio, breath.air.density_kg_per_m3
    )
    flow = drawn * (1.0 + 1.0 / breath.afr) / pipes
    sections = [one.section for one in pieces]
    gases = [exhaust_gas(hot, breath.air.pressure_kpa) for hot in temperatures_c(sections, gas_in_c, gas_out_c)]
    return Flowed(tuple(pieces), tuple(losses(sections, flow, gases, STEEL_MM)), flow)


def judge_loss(
    kind: str,
    flowed: Flowed | None,
    rpm: float,
    before: Flowed | None,
    missing: Sequence[str] = (),
    inputs: tuple[InputUsed, ...] = (),
) -> Judgement:
    """What a run loses at the engine's limit against what is usual, and how fast the gas gets.

    >>> judge_loss("intake", None, 6000, None, ["the engine"]).state
    'unmeasured'
    """
    code, name = f"breathing.{kind}", f"{kind.capitalize()}, loss at the limit"
    if flowed is None:
        return unmeasured(
            code,
            name,
            f"not known: {', '.join(missing)}",
            [f"breathing.{kind}"],
            [f"draw the {kind} as it runs", "say what the engine is, and its limit on Gearing"],
        )
    tight, hit = INTAKE_KPA if kind == "intake" else EXHAUST_KPA
    total, mach = flowed.total_kpa, flowed.fastest or 0.0
    state: State = "hit" if total > hit else "tight" if total > tight or mach > MACH_MOST else "clear"
    against = f", {before.total_kpa:.2f} kPa as it stands" if before is not None and before is not flowed else ""
    fast = f"; Mach {mach:.2f} at its narrowest, beyond what the sums are good for" if mach > MACH_MOST else ""
    worst = max(range(len(flowed.lost)), key=lambda row: flowed.lost[row].loss_kpa) if flowed.lost else 0
    remedies = () if state == "clear" else (f"a larger bore, or less of line {worst + 1}, which loses the most",)
    return Judgement(
        code,
        name,
        state,
        f"{total:.2f} kPa at {rpm:.0f} rpm{against}; {tight:g} kPa is usual{fast}",
        f"{COMMON_PRACTICE}; losses by Darcy and Rennels",
        value=total,
        unit="kPa",
        held_against=tight,
        margin=tight - total,
        before=before.total_kpa if against and before is not None else None,
        formula=" + ".join(f"{one.loss_kpa:.2f}" for one in flowed.lost) + f" = {total:.2f} kPa",
        inputs=inputs,
        remedies=remedies,
    )


def judge_housing(
    original_mm: float | None, run: Sequence[Piece] | None, tuned_first: bool | None, inputs: tuple[InputUsed, ...] = ()
) -> Judgement:
    """The meter of a build's intake against the housing that the engine is calibrated for.

    >>> from rimcore.breathing.typed import parse_run
    >>> judge_housing(70.0, parse_run("meter 0.3 kPa at 0.1 kg/s bore 80"), False).state
    'hit'
    """
    meter = next((one for one in run or () if one.section.kind == "meter"), None)
    if run is None or meter is None or meter.bore_mm is None or original_mm is None:
        return judge_meter(None, tuned_first, inputs)
    return judge_meter(Housing(original_mm, meter.bore_mm), tuned_first, inputs)


def judge_room(read: Mapping[str, tuple[float, float]], inputs: Mapping[str, InputUsed]) -> tuple[Judgement, ...]:
    """Room beside the exhaust at the engine's rock: gap and its ± [mm] by station.

    >>> [one.state for one in judge_room({"exhaust_body": (30.0, 1.0), "exhaust_shaft": (20.5, 1.0)}, {})]
    ['clear', 'tight', 'unmeasured']
    """
    names = {
        "exhaust_body": "Exhaust to the body",
        "exhaust_shaft": "Exhaust to the shaft",
        "exhaust_heat": "Exhaust to what heat harms",
    }
    found = []
    for code, wanted in ROOM_MM.items():
        if code not in read:
            found.append(
                unmeasured(
                    f"breathing.{code}",
                    names[code],
                    "no reading at the engine's rock",
                    [code],
                    ["rock the engine and read the least gap"],
                )
            )
            continue
        gap, doubt = read[code]
        state: State = "hit" if gap <= 0 else "tight" if gap - doubt < wanted else "clear"
        found.append(
            Judgement(
                f"breathing.{code}",
                names[code],
                state,
                f"{gap:g} ± {doubt:g} mm at the engine's rock; {wanted:g} mm wanted",
                COMMON_PRACTICE,
                value=gap,
                unit="mm",
                held_against=wanted,
                margin=gap - wanted,
                uncertainty=doubt,
                inputs=(inputs[code],) if code in inputs else (),
                remedies=() if state == "clear" else ("a hanger moved", "a bend turned in its joint", "a heat shield"),
            )
        )
    return tuple(found)
