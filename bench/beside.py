"""What the benches judge of the build in hand beside gaps and parts, for the tally board and for what a sheet promises."""

from __future__ import annotations

from bench import airing, aligned, braked, breathed, cooled, lifted, links, massed, sounded, squared, steered, stood, weighed
from bench.logged import logs_of
from garage.file import CarFile
from rimcore.quantities.judgement import Judgement


def judgements(file: CarFile) -> list[Judgement]:
    """Of every bench on which something was read or written down; a bench nobody has begun says nothing."""
    found: list[Judgement] = []
    if _ridden(file):
        found += stood.judgements(file)
    found += lifted.judgements(file)
    if any(corner[0] == "F" for corner, _, _ in file.extra["points"]) or file.extra["rack"] is not None:
        found += steered.judgements(file)
    if file.extra["points"]:
        found += links.judgements(file)
    if any(one.code in ("camber", "toe") for one in file.latest):
        found += aligned.judgements(file)
    if any(one.code == "corner_mass" for one in file.latest):
        found += weighed.judgements(file)
    if file.extra["marks"] or file.extra["trials"]:
        found += squared.judgements(file)
    return found + _run(file)


def _run(file: CarFile) -> list[Judgement]:
    """Of engine, cooling and brakes."""
    found: list[Judgement] = []
    if breathed.begun(file):
        found += breathed.judgements(file)
    if logs_of(file, "sound"):
        found += sounded.judgements(file)
    if cooled.begun(file):
        found += cooled.judgements(file)
    if braked.begun(file):
        found += braked.judgements(file)
    if airing.begun(file):
        found += airing.judgements(file)
    if massed.begun(file):
        found += massed.judgements(file)
    return found


def _ridden(file: CarFile) -> bool:
    return bool(file.extra["springs"] or file.extra["dips"]) or any(one.code in ("bump", "droop") for one in file.latest)
