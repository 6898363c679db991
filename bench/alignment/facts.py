"""The angles of four wheels as they stand, and what is judged of them."""

from __future__ import annotations

from garage.file import CarFile
from garage.inhand import in_hand
from garage.kept import once
from garage.readings.models import Reading
from rimcore.quantities.judgement import InputUsed, Judgement
from rimcore.steering.schools import ALIGNMENT_SCHOOLS, ANGLE_NAMES, School, judge_alignment
from rimcore.steering.setting import ANGLES
from rimcore.tables.facts import CORNER_NAMES, CORNERS
from rimcore.tables.facts import ENDS as END_NAMES

#: what can be aimed at: end and angle
TARGETS = tuple(ALIGNMENT_SCHOOLS["street"].targets)


#: station of each angle
STATION_OF = {"camber_deg": "camber", "caster_deg": "caster", "toe_deg": "toe"}


#: ± of a camber gauge, and of toe by string or plate, where nobody says [deg] (common practice)
GAUGE_DEG, TOE_DEG = 0.1, 0.05


def angles_of(file: CarFile) -> tuple[dict[tuple[str, str], float | None], dict[tuple[str, str], Reading]]:
    """Newest angle of every wheel on what stands now, and the readings behind them."""
    codes = {code: angle for angle, code in STATION_OF.items()}
    read: dict[tuple[str, str], Reading] = {}
    for reading in file.latest:
        if (
            reading.code in codes
            and reading.corner
            and reading.outfit_id == (file.current.pk if file.current else None)
        ):
            read.setdefault((reading.corner, codes[reading.code]), reading)
    values: dict[tuple[str, str], float | None] = {(corner, angle): None for corner in CORNERS for angle in ANGLES}
    values.update({place: reading.value for place, reading in read.items()})
    return values, read


def school_of_use(file: CarFile) -> School:
    """The school that fits the car's use."""
    uses = {"track": "grip", "climb": "grip", "drift": "drift", "show": "look", "tow": "life"}
    return ALIGNMENT_SCHOOLS[uses.get(file.car.use, "street")]


def school_of(file: CarFile, key: str = "") -> School:
    """What is aimed at: a school, the one that was picked or that fits the use.

    Over it the build's camber, over that targets of one's own.
    """
    school = ALIGNMENT_SCHOOLS.get(key) or ALIGNMENT_SCHOOLS.get(file.car.alignment_school) or school_of_use(file)
    held = in_hand(file)
    planned = {(end, "camber_deg"): camber for end in ("F", "R") if (camber := held.end(end).camber_deg) is not None}
    return school.with_own(planned, f"by {held.name}").with_own(own_targets(file), "as you set it")


def aims_of(file: CarFile) -> list[tuple[str, float, str]]:
    """What is aimed at, for the sheet: front and rear angle in words, degrees, whose it is."""
    school = school_of(file)
    return [
        (f"{ANGLE_NAMES[angle]}, {END_NAMES[end]}", wanted, school.why(end, angle))
        for (end, angle), wanted in school.targets.items()
    ]


def own_targets(file: CarFile) -> dict[tuple[str, str], float]:
    """Targets that the person typed [deg]; what is no target any more is left out."""
    said = file.car.alignment_targets
    return {
        (end, angle): float(said[f"{end}.{angle}"])
        for end, angle in TARGETS
        if isinstance(said.get(f"{end}.{angle}"), (int, float))
    }


@once
def judgements(file: CarFile) -> tuple[Judgement, ...]:
    """Four wheels against what is aimed at."""
    return judged_by(file, school_of(file))


def judged_by(file: CarFile, school: School) -> tuple[Judgement, ...]:
    """Four wheels against a school; each angle with the ± of its own reading."""
    values, read = angles_of(file)
    used = tuple(
        InputUsed(
            f"{ANGLE_NAMES[angle]}, {CORNER_NAMES[corner]}",
            f"{one.value:+.2f} ± {one.uncertainty:g}°",
            one.who,
            f"{one.taken_on:%-d %b %Y}",
        )
        for (corner, angle), one in read.items()
    )
    return judge_alignment(values, school, {place: one.uncertainty for place, one in read.items()}, used)


def begun(file: CarFile) -> bool:
    """Is camber or toe read?"""
    return any(one.code in ("camber", "toe") for one in file.latest)
