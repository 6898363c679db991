"""The corner in motion for the bench: the setting of an address, its drawings, its map."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.http import Http404, HttpRequest

from bench.well.forms import BenchForm
from bench.well.setting import Setting, read, start
from garage.file import CarFile, open_file
from garage.honest import taught_at
from garage.readings.models import Rub
from planner.chosen import build_in_hand, candidate
from rimcore.drawing.planes import Scene
from rimcore.quantities.judgement import Judgement
from rimcore.tables.facts import CORNERS
from rimcore.well.draw.rubbed import rub_scene, says_of_rub
from rimcore.well.draw.scene import well_scene
from rimcore.well.draw.scene_map import map_scene
from rimcore.well.draw.scene_motion import above_scene, moving_scene
from rimcore.well.judge.altered import altered
from rimcore.well.judge.in_motion import pose_text
from rimcore.well.judge.narrowing import what_narrows
from rimcore.well.judge.posegaps import gaps_at
from rimcore.well.judge.ranges import range_of
from rimcore.well.judge.wellmap import axle_map
from rimcore.well.levers import Levers
from rimcore.well.read import measured as core
from rimcore.wheels.stance import Stance, stance

#: traces that are drawn at one corner, the newest
MOST_RUBS = 6


def asked_of(request: HttpRequest) -> dict[str, str]:
    """What an address says of the bench's fields."""
    return {name: request.GET[name] for name in BenchForm.base_fields if name in request.GET}


def axle_or_404(file: CarFile, corner: str) -> core.Axle:
    """The core's axle of a corner that exists and carries wheels."""
    axle = file.core_axle(corner[0]) if corner in CORNERS else None
    if axle is None:
        raise Http404
    return axle


def setting_of(request: HttpRequest, car_id: int, corner: str) -> tuple[CarFile, Setting]:
    """The setting that an address asks for; what can't be read falls back to where the bench starts."""
    file = open_file(request.user, car_id)
    axle_or_404(file, corner)
    values = start(file, corner[0], None, None)
    if values is None:
        raise Http404
    form = BenchForm(
        {**{k: v for k, v in values.items() if v not in (None, "") and v is not False}, **asked_of(request)}
    )
    return file, read(file, corner[0], form.cleaned_data if form.is_valid() else values)


def worst_of_each(gaps: list[Judgement]) -> list[Judgement]:
    """One row a station, at rest or in motion: the one with the smaller margin; what is not a gap stays."""
    found: dict[str, Judgement] = {}
    for judged in gaps:
        key = (
            judged.code.removesuffix(".moving").removesuffix(".sideways")
            if judged.code.startswith("gap.arch")
            else judged.code.removesuffix(".moving")
        )
        held = found.get(key)
        if held is None or (judged.margin is not None and (held.margin is None or judged.margin < held.margin)):
            found[key] = judged
    return sorted(found.values(), key=lambda j: (j.margin is None, j.margin or 0.0))


def in_motion(file: CarFile, corner: str, setting: Setting, gaps: list[Judgement]) -> dict[str, Any]:
    """Drawings and map of a corner at the pose that the setting asks for."""
    axle, candidate = altered(axle_or_404(file, corner), setting.candidate), setting.candidate.at(corner)
    motion = axle.motion(corner)
    here = [r for r in axle.readings if r.corner == corner]
    reach = range_of(motion, candidate)
    rest = candidate.levers.ride_drop_mm
    steer, travel = setting.values["steer"], rest + setting.values["travel"]
    if reach is not None:
        steer = min(max(steer, -reach.steer_in_deg), reach.steer_out_deg)
        travel = min(max(travel, -reach.droop_mm), reach.bump_mm)
    tolerances = file.tolerances(setting.school)
    at_pose = taught_at(file, gaps_at(corner, here, motion, candidate, tolerances, steer, travel))
    moved = abs(steer) > 0.01 or abs(travel - rest) > 0.01
    whole = axle_map(axle, corner, candidate, tolerances)
    rubs = [(rub.steer_deg, rub.travel_mm, rub.get_when_display()) for rub in file.rubs if rub.corner == corner]
    worst = next((j for j in gaps if j.pose is not None), None)
    return {
        "moved": moved,
        "scene": moving_scene(corner, axle.present, candidate, motion, at_pose, steer, travel)
        if moved
        else well_scene(corner, axle.present, candidate, here, gaps),
        "above": above_scene(corner, axle.present, candidate, motion, at_pose, steer, travel),
        "map": map_scene(whole, steer, travel, rest, rubs) if whole else None,
        "whole": whole,
        "reach": reach,
        "steer": steer,
        "travel": travel - rest,
        "pose": pose_text(steer, travel - rest),
        "at_pose": at_pose[:4],
        "limits": _limits(reach, rest),
        "worst": worst,
        "worst_at": (worst.pose[0], worst.pose[1] - rest) if worst and worst.pose else None,
        "motion": motion,
        "rubs": [rub_seen(file, corner, setting, rub) for rub in file.rubs if rub.corner == corner][:MOST_RUBS],
    }


def _limits(reach: Any, rest_mm: float) -> dict[str, float]:
    """Ends of the two sliders, from where the build stands."""
    if reach is None:
        return {"in": -40.0, "out": 40.0, "droop": -60.0, "bump": 60.0}
    return {
        "in": -reach.steer_in_deg,
        "out": reach.steer_out_deg,
        "droop": -reach.droop_mm - rest_mm,
        "bump": reach.bump_mm - rest_mm,
    }


@dataclass(frozen=True)
class RubSeen:
    """A trace, what the bench says where it was seen with what stood on the car then, and both drawn."""

    row: Rub
    says: str
    scene: Scene | None = None


def rub_seen(file: CarFile, corner: str, setting: Setting, rub: Rub) -> RubSeen:
    """A trace against the bench: the gap that it predicted there, and a drawing of tyre and obstacle at that pose."""
    axle = axle_or_404(file, corner)
    outfit_axle = file.outfit_axles.get((rub.outfit_id, corner[0]))
    fitted = file.fitted(next((o for o in file.outfits if o.pk == rub.outfit_id), None), corner[0])
    if fitted is None or outfit_axle is None:
        return RubSeen(rub, "what stood on the car then is not known")
    then = core.Candidate(fitted, levers=Levers(ride_drop_mm=outfit_axle.drop_at(corner)))
    here, motion = tuple(reading for reading in axle.readings if reading.corner == corner), axle.motion(corner)
    near = tuple(reading for reading in here if reading.code == rub.code) or here
    tolerances = file.tolerances(setting.school)
    found = gaps_at(corner, near, motion, then, tolerances, rub.steer_deg, rub.travel_mm)
    if not found:
        return RubSeen(rub, "nothing is measured there; measure it")
    return RubSeen(
        rub,
        says_of_rub(found[0].gap_mm),
        rub_scene(corner, axle.present, then, motion, found[0], (rub.steer_deg, rub.travel_mm)),
    )


def measure_first(file: CarFile, corner: str, setting: Setting) -> dict[str, Any] | None:
    """What of steering axis and camber gain to measure, where gaps hang on it; None where nothing does."""
    axle = axle_or_404(file, corner)
    rows = what_narrows(
        corner, axle.readings, axle.motion(corner), setting.candidate, axle.beside(setting.candidate.fitted)
    )
    if not rows:
        return None
    names = ", ".join(row.name for row in rows)
    return {
        "rows": rows,
        "said": f"Not measured: {names}. Gaps are reckoned over all that is usual; this is what each reading takes off the widest range.",
    }


def stance_rows(file: CarFile, corner: str, setting: Setting) -> Stance | None:
    """Scrub radius, track, lever, revolutions against what stood on the car as a baseline."""
    base = file.fitted(file.baseline, corner[0])
    if base is None:
        return None
    motion = file.motions[corner]
    other = "R" if corner[0] == "F" else "F"
    across = file.fitted(file.baseline, other)
    return stance(base, setting.candidate.fitted, motion, across, _other_end(file, other))


def _other_end(file: CarFile, end: str) -> Any:
    """What the build in hand puts on the other end, else what stands there."""
    build = build_in_hand(file)
    found = candidate(file, build, end) if build else None
    return found.fitted if found else file.fitted(file.current, end)
