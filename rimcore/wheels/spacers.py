"""Spacers: what a slip-on or a bolt-on, two-piece spacer asks of hub, studs and wheel."""

from __future__ import annotations

from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured
from rimcore.wheels.hub import Hub

KINDS = {"slip": "slip-on", "bolted": "bolt-on, two-piece"}
#: collar a wheel needs to be centred while it is bolted up [mm] (common practice)
COLLAR_WANTED_MM = 5.0
#: least thickness of a bolt-on spacer: its nuts lie inside it [mm] (common practice)
BOLTED_LEAST_MM = 15.0


def spacer_findings(hub: Hub, spacer_mm: float, kind: str, collar_mm: float | None) -> tuple[Judgement, ...]:
    """Judgements of a spacer; none without one.

    Parameters
    ----------
    hub : its studs and face
    spacer_mm : under the wheel, 0 or more [mm]
    kind : ``bolted`` with its own studs, or another kind of the list
    collar_mm : height of the hub's collar beyond its mounting face [mm]

    Examples
    --------
    >>> [j.state for j in spacer_findings(Hub(stud_length_mm=29.0), 5.0, "slip", 12.0)]
    ['clear']
    >>> [j.state for j in spacer_findings(Hub(stud_length_mm=29.0), 20.0, "bolted", 12.0)]
    ['clear', 'hit']
    """
    if spacer_mm <= 0:
        return ()
    if kind == "bolted":
        return _bolted_centring(spacer_mm, collar_mm), _studs_inside(hub, spacer_mm)
    return (_slip_centring(spacer_mm, collar_mm),)


def _judged(
    code: str,
    name: str,
    state: State,
    reason: str,
    value: float | None,
    wanted: float | None,
    formula: str,
    remedies: tuple[str, ...],
) -> Judgement:
    margin = value - wanted if value is not None and wanted is not None else None
    inputs = (InputUsed(name, f"{value:g} mm"),) if value is not None else ()
    return Judgement(
        code,
        name,
        state,
        reason,
        COMMON_PRACTICE,
        value=value,
        unit="mm" if value is not None else "",
        held_against=wanted,
        margin=margin,
        formula=formula,
        inputs=inputs,
        remedies=remedies if state != "clear" else (),
    )


def _slip_centring(spacer_mm: float, collar_mm: float | None) -> Judgement:
    """A slip-on spacer covers the hub's collar; what is left of it still centres the wheel."""
    name = "Collar beyond the spacer"
    if collar_mm is None:
        return unmeasured(
            "spacer.collar",
            name,
            "the collar's height is not measured",
            ["hub.collar"],
            ["measure the hub spigot beyond its face"],
        )
    left = collar_mm - spacer_mm
    state: State = "clear" if left >= COLLAR_WANTED_MM else "tight" if left > 0 else "hit"
    reason = (
        f"{max(left, 0):g} mm of collar reach the wheel"
        if left > 0
        else "the spacer hides the collar: only a hub-centric spacer with its own collar centres the wheel"
    )
    return _judged(
        "spacer.collar",
        name,
        state,
        reason,
        value=left,
        wanted=COLLAR_WANTED_MM,
        formula="collar height − spacer",
        remedies=(
            "a hub-centric spacer with its own collar",
            "a thinner spacer",
        ),
    )


def _bolted_centring(spacer_mm: float, collar_mm: float | None) -> Judgement:
    """A bolt-on spacer must swallow the hub's collar and the car's nuts."""
    name = "Bolt-on spacer's thickness"
    least = max(BOLTED_LEAST_MM, collar_mm or 0.0)
    if collar_mm is None and spacer_mm >= BOLTED_LEAST_MM:
        return unmeasured(
            "spacer.collar",
            name,
            "the collar's height is not measured",
            ["hub.collar"],
            ["measure the hub spigot beyond its face"],
        )
    state: State = "clear" if spacer_mm >= least else "hit"
    reason = f"{spacer_mm:g} mm; its nuts and the hub spigot need {least:g} mm"
    return _judged(
        "spacer.collar",
        name,
        state,
        reason,
        value=spacer_mm,
        wanted=least,
        formula="the larger of 15 mm and the collar",
        remedies=(
            "a thicker spacer",
            "a slip-on one with longer studs",
        ),
    )


def _studs_inside(hub: Hub, spacer_mm: float) -> Judgement:
    """The car's own studs must end inside a bolt-on spacer, or the wheel's back needs pockets for them."""
    name = "Studs inside the bolt-on spacer"
    if hub.stud_length_mm is None:
        return unmeasured(
            "spacer.studs",
            name,
            "the stud's length is not measured",
            ["hub.stud"],
            ["measure the stud beyond the hub's face"],
        )
    over = hub.stud_length_mm - spacer_mm
    state: State = "clear" if over <= 0 else "hit"
    reason = "they end inside it" if over <= 0 else f"they stand {over:g} mm out of it into the wheel's back"
    return _judged(
        "spacer.studs",
        name,
        state,
        reason,
        value=-over,
        wanted=0.0,
        formula="spacer − stud beyond the hub's face",
        remedies=(
            "a wheel with pockets between its lug holes",
            "shorter studs",
        ),
    )


def spacer_cautions(spacer_mm: float, kind: str) -> tuple[str, ...]:
    """What a spacer brings whatever is measured.

    Source: common practice.

    Parameters
    ----------
    spacer_mm : 0 or more [mm]
    kind : ``bolted`` with its own studs, or another kind of the list

    >>> len(spacer_cautions(5.0, "slip")), len(spacer_cautions(20.0, "bolted"))
    (1, 2)
    """
    if spacer_mm <= 0:
        return ()
    law = "spacers and track changes are regulated: check local law, inspection body and insurer"
    if kind == "bolted":
        return ("its own nuts are hidden under the wheel: torque them first, and again after 80 km", law)
    return (law,)
