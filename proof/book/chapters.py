"""What stands in each chapter of a build book, from the car's file; nothing unmeasured is left out, it is listed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from garage.car.models import OutfitAxle
from garage.file import CarFile
from garage.honest import taught
from garage.inhand import as_it_stands, beside
from garage.kept import once
from garage.readings.models import Reading
from garage.readings.queries import reading_text
from planner.chosen import build_in_hand, builds_of, choices_of
from planner.dates.models import ClaimPicture, ReceiptPicture
from planner.models import Choice
from proof.planned.queries import Planned, planned, plans_of
from proof.queries import (
    Row,
    Strip,
    dates_said,
    fitted_build,
    measured_twice,
    not_read_yet,
    promises,
    series_of,
    strips,
)
from rimcore.drawing.planes import Scene
from rimcore.quantities.judgement import Judgement
from rimcore.tables.facts import CORNER_NAMES, CORNERS
from rimcore.well.draw.scene import well_scene
from rimcore.well.judge import at_rest
from rimcore.well.read.stations import STATIONS
from rimcore.work.ledger import THERE_STATES
from workshop.models import Photo, Step
from workshop.queries import BookRow, jobs_of, torque_book, work_of

#: chapters in their order: code, title
CHAPTERS: dict[str, str] = {
    "car": "The car, and what stands on it",
    "readings": "What was read",
    "drawings": "Drawings",
    "torque": "Torque record",
    "parts": "Parts",
    "photos": "Photographs and receipts",
    "proof": "Before and after",
    "held": "What was predicted, and what came",
    "cautions": "Cautions, and what an inspection body will ask",
    "open": "Not measured, not known",
}
#: who it is for -> chapters, and whether money stands in it
FOR: dict[str, tuple[str, tuple[str, ...], bool]] = {
    "whole": ("Everything", tuple(CHAPTERS), True),
    "owner": (
        "For the next owner, without prices",
        ("car", "readings", "torque", "parts", "proof", "cautions", "open"),
        False,
    ),
    "inspector": ("For an inspection", ("car", "drawings", "torque", "parts", "cautions", "open"), False),
}
#: photographs in a book at the most
MOST_PHOTOS = 60


@dataclass(frozen=True)
class End:
    """An end of the car as it stood and as it stands."""

    name: str
    before: OutfitAxle | None
    now: OutfitAxle | None


@dataclass(frozen=True)
class Read:
    """A station with its newest reading, and how often it was read before."""

    name: str
    where: str
    text: str
    reading: Reading
    before: int


@dataclass(frozen=True)
class Sheet:
    """A section drawn to scale."""

    corner: str
    scene: Scene


@dataclass(frozen=True)
class Torqued:
    """Joints of one sheet."""

    title: str
    done_on: Any
    rows: list[BookRow]


@dataclass(frozen=True)
class Part:
    """A part that is on the car, with what was said and paid for it."""

    choice: Choice
    where: str
    number: str


@dataclass(frozen=True)
class Asked:
    """What an inspection body will ask, with what is on record of it."""

    question: str
    answer: str
    state: str


@dataclass(frozen=True)
class Book:
    """A car's book; chapters that were not chosen stay empty."""

    chapters: tuple[str, ...]
    money: bool
    ends: list[End] = field(default_factory=list)
    readings: list[Read] = field(default_factory=list)
    sheets: list[Sheet] = field(default_factory=list)
    torque: list[Torqued] = field(default_factory=list)
    parts: list[Part] = field(default_factory=list)
    removed: list[Any] = field(default_factory=list)
    photos: list[Photo] = field(default_factory=list)
    claims: list[ClaimPicture] = field(default_factory=list)
    receipts: list[ReceiptPicture] = field(default_factory=list)
    strips: list[Strip] = field(default_factory=list)
    planned: list[Planned] = field(default_factory=list)
    twice: list[Any] = field(default_factory=list)
    held: list[Row] = field(default_factory=list)
    waiting: list[Row] = field(default_factory=list)
    dates: list[Any] = field(default_factory=list)
    cautions: list[str] = field(default_factory=list)
    asked: list[Asked] = field(default_factory=list)
    unmeasured: list[tuple[str, str]] = field(default_factory=list)
    questions: list[str] = field(default_factory=list)

    @property
    def contents(self) -> list[tuple[int, str, str]]:
        """Chapters that stand in it: number, code, title."""
        return [(k + 1, code, CHAPTERS[code]) for k, code in enumerate(self.chapters)]


def book_of(file: CarFile, chapters: tuple[str, ...], money: bool) -> Book:
    """Every chosen chapter, filled."""
    filled: dict[str, Any] = {}
    for code in chapters:
        filled |= _FILL[code](file)
    if not money:
        # What a receipt says nobody can black out: it goes where prices go.
        filled["receipts"] = []
    return Book(chapters, money, **filled)


def _car(file: CarFile) -> dict[str, Any]:
    ends = [
        End(name, file.on(file.baseline, end), file.on(file.current, end))
        for end, name in (("F", "Front"), ("R", "Rear"))
    ]
    return {"ends": [one for one in ends if one.before is not None or one.now is not None]}


def _readings(file: CarFile) -> dict[str, Any]:
    count: dict[tuple[str, str, str], int] = {}
    for one in file.readings:
        count[_place(one)] = count.get(_place(one), 0) + 1
    rows = [
        Read(
            STATIONS[one.code].name if one.code in STATIONS else one.code,
            CORNER_NAMES.get(one.corner, ""),
            reading_text(one, file.preferences),
            one,
            count[_place(one)] - 1,
        )
        for one in file.latest
    ]
    return {"readings": sorted(rows, key=lambda row: (row.reading.corner, row.name))}


def _place(one: Reading) -> tuple[str, str, str]:
    return one.corner, one.code, repr(one.where)


def _drawings(file: CarFile) -> dict[str, Any]:
    """A section of every corner that has wheels and readings: what stands there now, its gaps on the drawing."""
    sheets = []
    for corner in CORNERS:
        axle, stands = file.core_axle(corner[0]), file.standing(corner[0])
        here = [one for one in axle.readings if one.corner == corner] if axle is not None else []
        if axle is None or stands is None or not here:
            continue
        gaps = at_rest.judge_corner(corner, here, stands, file.tolerances(_school(file)))
        sheets.append(Sheet(CORNER_NAMES[corner], well_scene(corner, axle.present, stands, here, gaps)))
    return {"sheets": sheets}


def _school(file: CarFile) -> str:
    build = fitted_build(file)
    return build.tolerance if build is not None else next(iter(file.tolerance_names))


@once
def _torque(file: CarFile) -> dict[str, Any]:
    steps = Step.objects.filter(job__car=file.car, kind="torque").prefetch_related("pulls").order_by("job_id", "place")
    by_job: dict[int, list[Step]] = {}
    for step in steps[:2000]:
        by_job.setdefault(step.job_id, []).append(step)
    return {
        "torque": [
            Torqued(job.title, job.done_on, torque_book(by_job[job.pk])) for job in jobs_of(file) if job.pk in by_job
        ]
    }


@once
def _parts(file: CarFile) -> dict[str, Any]:
    rows = [
        Part(
            choice,
            choice.get_position_display(),
            str(choice.part.spec.get("number") or choice.part.whole.get("marking") or ""),
        )
        for build in builds_of(file)
        for choice in choices_of(build)
        if choice.state in THERE_STATES or choice.state == "fitted"
    ]
    return {"parts": rows, "removed": list(work_of(file).removed)}


def _photos(file: CarFile) -> dict[str, Any]:
    photos = Photo.objects.filter(job__car=file.car).select_related("job", "step")[:MOST_PHOTOS]
    claims = ClaimPicture.objects.filter(claim__choice__build__car=file.car).select_related("claim__choice__part")
    receipts = ReceiptPicture.objects.filter(choice__build__car=file.car).select_related("choice__part")
    return {
        "photos": list(photos),
        "claims": list(claims[:MOST_PHOTOS]),
        "receipts": list(receipts[:MOST_PHOTOS]),
    }


def _proof(file: CarFile) -> dict[str, Any]:
    series = series_of(file)
    every = [one for row in series for one in plans_of(row) if one.given_up_on is None]
    return {
        "strips": strips(file, series),
        "planned": [planned(file, one, every) for one in every],
        "twice": measured_twice(file),
    }


def _held(file: CarFile) -> dict[str, Any]:
    return {"held": promises(file), "waiting": not_read_yet(file), "dates": dates_said(file)}


def _cautions(file: CarFile) -> dict[str, Any]:
    said = Step.objects.filter(job__car=file.car).exclude(caution="").values_list("caution", flat=True)
    return {"cautions": list(dict.fromkeys(said[:2000])), "asked": _inspection(file)}


def _inspection(file: CarFile) -> list[Asked]:
    """What is asked of a car that was changed (common practice), with what is on record; the body itself decides."""
    judged = _judged(file)
    parts = [row.choice for row in _parts(file)["parts"] if row.choice.state == "fitted"]
    marked = [one for one in parts if one.part.whole.get("marking") or one.part.whole.get("approval")]
    torqued = [row for one in _torque(file)["torque"] for row in one.rows]
    read = sum(row.state == "clear" for row in torqued)
    gaps = [one for one in judged if one.code.startswith("gap.")]
    return [
        Asked(
            "Papers of the parts: approval, load rating, marking",
            f"{len(marked)} of {len(parts)} parts that are fitted have a marking on record; nobody checked the papers",
            "unmeasured",
        ),
        Asked(
            "Room for wheels and tyres, at full lock and full bump",
            f"{sum(one.state == 'clear' for one in gaps)} of {len(gaps)} gaps clear",
            _worst(gaps),
        ),
        _one("Speedometer with these tyres", judged, "tyre.speed"),
        _one("Load that tyres and wheels carry", judged, ".load"),
        _one("Tyres within the body", judged, ".sideways"),
        Asked(
            "Fasteners tightened to a figure",
            f"{read} of {len(torqued)} joints read and within the figure",
            "clear" if torqued and read == len(torqued) else "unmeasured",
        ),
        _one("Alignment", judged, "align."),
        _one("Sound", judged, "sound."),
        _one("Brakes", judged, "braking."),
    ]


@once
def _judged(file: CarFile) -> list[Judgement]:
    """Of what stands on the car; what the benches judge only where the current build is the one that is on it."""
    stands = taught(file, (one for end in ("F", "R") if end in file.axles for one in as_it_stands(file, end)))
    held, fitted = build_in_hand(file), fitted_build(file)
    return [*stands, *(beside(file) if held is not None and fitted is not None and held.pk == fitted.pk else ())]


def _worst(rows: list[Judgement]) -> str:
    for state in ("hit", "tight", "unmeasured"):
        if any(one.state == state for one in rows):
            return state
    return "clear" if rows else "unmeasured"


def _one(question: str, judged: list[Judgement], word: str) -> Asked:
    rows = [one for one in judged if word in one.code.lower()]
    if not rows:
        return Asked(question, "nothing on record", "unmeasured")
    state = _worst(rows)
    first = next((one for one in rows if one.state == state), rows[0])
    return Asked(question, f"{first.name}: {first.reason}", state)


def _open(file: CarFile) -> dict[str, Any]:
    rows = [
        (f"{one.name}{f', {one.where}' if one.where else ''}", one.reason)
        for one in _judged(file)
        if one.state == "unmeasured"
    ]
    asks = [
        f"{choice.label}: {ask.ask}"
        for build in builds_of(file)
        for choice in choices_of(build)
        for ask in choice.counter_questions
    ]
    return {"unmeasured": list(dict.fromkeys(rows)), "questions": asks}


_FILL: dict[str, Callable[[CarFile], dict[str, Any]]] = {
    "car": _car,
    "readings": _readings,
    "drawings": _drawings,
    "torque": _torque,
    "parts": _parts,
    "photos": _photos,
    "proof": _proof,
    "held": _held,
    "cautions": _cautions,
    "open": _open,
}
