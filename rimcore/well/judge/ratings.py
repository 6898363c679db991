"""What tyre, rim, wheel and speedometer say of a pair: rim widths, load ratings, speed shown."""

from __future__ import annotations

from rimcore.quantities.judgement import (
    InputUsed,
    Judgement,
    State,
    unmeasured,
)
from rimcore.well.read.measured import Axle, Candidate
from rimcore.wheels.swap import legal_r39, true_kmh
from rimcore.wheels.tyre import rim_fit


def tyre_on_rim(candidate: Candidate) -> Judgement:
    tyre, width = candidate.fitted.tyre, candidate.fitted.wheel.width_in
    low, high = tyre.rim_range_in
    fit = rim_fit(tyre, width)
    states: dict[str, State] = {"ok": "clear", "stretched": "tight", "pinched": "tight", "outside": "hit"}
    margin = min(width - low, high - width)
    return Judgement(
        "tyre.rim",
        "Tyre on rim",
        states[fit],
        f"{fit}: {width:g} in rim, {low:g} to {high:g} in approved",
        "handbook, from memory; check the maker's table",
        value=width,
        unit="in",
        held_against=low if width < low else high,
        margin=margin,
        formula=f"approved rim range of the size: {low:g} ≤ {width:g} ≤ {high:g} in",
        inputs=(InputUsed("tyre", tyre.size), InputUsed("rim", f"{width:g} in")),
        remedies=() if fit == "ok" else (f"a rim of {low:g} to {high:g} in",),
    )


def loads(axle: Axle, candidate: Candidate) -> list[Judgement]:
    return [
        _load(
            "tyre.load",
            "Tyre load",
            candidate.fitted.tyre.load_kg,
            axle.axle_load_kg,
            "ISO 4000-1 load index",
            "load index of the tyre",
        ),
        _load(
            "wheel.load",
            "Wheel load",
            candidate.wheel_load_kg,
            axle.axle_load_kg,
            "SAE J2530 idea: at least half of the axle",
            "load rating of the wheel",
        ),
    ]


def _load(code: str, name: str, rated_kg: float | None, axle_kg: float | None, basis: str, what: str) -> Judgement:
    if rated_kg is None or axle_kg is None:
        missing = what if rated_kg is None else "axle load"
        return unmeasured(
            code,
            name,
            f"the {missing} is not known",
            [code if rated_kg is None else "car.axle_load"],
            [f"find the {missing}"],
        )
    wanted = axle_kg / 2
    state: State = "hit" if rated_kg < wanted else "tight" if rated_kg < wanted * 1.05 else "clear"
    return Judgement(
        code,
        name,
        state,
        f"carries {rated_kg:.0f} kg; half of the axle is {wanted:.0f} kg",
        basis,
        value=rated_kg,
        unit="kg",
        held_against=wanted,
        margin=rated_kg - wanted,
        formula=f"rating − axle load ÷ 2 = {rated_kg:.0f} − {axle_kg:.0f} ÷ 2 = {rated_kg - wanted:.0f} kg",
        inputs=(InputUsed(what, f"{rated_kg:.0f} kg"), InputUsed("axle load", f"{axle_kg:.0f} kg")),
        remedies=("a higher load rating",) if state != "clear" else (),
    )


def speed(axle: Axle, candidate: Candidate) -> Judgement:
    """The speedometer with another tyre: from what a logger said, else as if it had been exact."""
    old, new = axle.present.tyre.diameter_mm, candidate.fitted.tyre.diameter_mm
    read = axle.true_at_100_kmh
    exact_with = old if read is None else old * 100.0 / read
    true_speed = true_kmh(100.0, exact_with, new)
    legal = legal_r39(exact_with, new)
    known = (
        "if it was exact before" if read is None else f"from {read:g} km/h by the logger with what stands on the car"
    )
    inputs = [InputUsed("diameter now", f"{old:.1f} mm"), InputUsed("diameter then", f"{new:.1f} mm")]
    return Judgement(
        "tyre.speed",
        "Speedometer",
        "clear" if legal else "tight",
        f"true {true_speed:.1f} km/h when it shows 100, {known}",
        "UN R39",
        value=true_speed,
        unit="km/h",
        held_against=100.0,
        margin=100.0 - true_speed,
        formula=f"{100.0 if read is None else read:g} × {new:.1f} ÷ {old:.1f}; 0 ≤ indicated − true ≤ true/10 + 4 km/h at 40, 80, 120",
        inputs=(*inputs, *([axle.true_speed_read] if axle.true_speed_read is not None else [])),
        remedies=()
        if legal
        else ("have the speedometer set to the new tyre",)
        if read is not None
        else ("check the speedometer against a logger; most read high when new",),
    )
