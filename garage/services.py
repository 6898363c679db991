"""What changes a car and its readings; one transaction each, each can be undone."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from typing import Any

from django.utils import timezone

from garage.corrections import placing, trial_standing
from garage.engine import Brakes, Cooling, Engine, Log
from garage.file import CarFile
from garage.models import (
    Adjuster,
    Axle,
    Car,
    Condition,
    Driveline,
    FrameMarks,
    FrameTrial,
    HardPoint,
    KnownDip,
    OldPart,
    Outfit,
    OutfitAxle,
    Preferences,
    Rack,
    Reading,
    Rub,
    Sighting,
    Skip,
    Springs,
    ToleranceSet,
    Trial,
)
from garage.parts import Part
from rimcore.families import FAMILIES
from rimcore.quantities.errors import CoreError
from rimcore.quantities.limits import LIMITS
from rimcore.steering.axis import Found
from rimcore.well.asked import check_values, check_where
from rimcore.well.seen import predict_mm, prediction_uncertainty_mm
from rimcore.well.stations import CORNER_NAMES, METHOD_UNCERTAINTY_MM, STATIONS
from rimcore.well.tolerance import MARGIN_FIELDS, SCHOOLS
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel
from shell.undo import remember

#: uncertainty of readings that are no lengths, by kind of quantity (common practice)
OTHER_UNCERTAINTY = {"angle": 0.1, "mass": 0.5, "speed": 1.0}


def add_car(owner: Any, values: dict[str, Any]) -> Car:
    """A new car with two empty axles; its baseline is made when the wheels are entered."""
    with remember(owner, f"{values['nickname']} added"):
        car = Car.objects.create(owner=owner, **values)
        for end in ("F", "R"):
            Axle.objects.create(car=car, end=end)
    return car


def change_car(car: Car, values: dict[str, Any]) -> Car:
    """Change what is written of a car."""
    with remember(car.owner, f"{car.nickname} changed"):
        for name, value in values.items():
            setattr(car, name, value)
        car.save()
    return car


def remove_car(car: Car) -> None:
    """Remove a car with everything that hangs on it; files go when that can't be undone any more."""
    with remember(car.owner, f"{car.nickname} removed"):
        remove_car_for_good(car)


def remove_car_for_good(car: Car) -> None:
    """Remove a car without the way back; readings first, since outfits are held by them."""
    car.readings.all().delete()
    car.delete()


def set_odometer(car: Car, odometer_km: int) -> None:
    """The newest odometer reading; follow-ups come due by it."""
    with remember(car.owner, "odometer noted"):
        car.odometer_km = odometer_km
        car.save(update_fields=["odometer_km"])


def set_hub(axle: Axle, values: dict[str, Any]) -> None:
    """Hub data of one end; what is left blank and was read off the wheel that stands there goes on counting so."""
    with remember(axle.car.owner, f"{axle.get_end_display()} hub kept"):
        axle.off_wheel = [name for name in axle.off_wheel if values.get(name) is None]
        for name, value in values.items():
            if name not in axle.off_wheel:
                setattr(axle, name, value)
        axle.noted_on = timezone.localdate()
        axle.save()


#: what a wheel that stands on a hub says of it
_OFF_WHEEL = ("bolts", "pcd_mm", "bore_mm")


def _hub_off_wheel(car: Car, end: str, stands: OutfitAxle) -> None:
    """Bolt circle and bore typed with the standing wheel count for its hub where nobody read them there."""
    axle, said = car.axles.filter(end=end).first(), stands.wheel_part.spec
    if axle is None:
        return
    for name in _OFF_WHEEL:
        value = said.get(name)
        if value is not None and (getattr(axle, name) is None or name in axle.off_wheel):
            setattr(axle, name, value)
            axle.off_wheel = sorted({*axle.off_wheel, name})
    axle.save()


def set_driveline(car: Car, values: dict[str, Any]) -> Driveline:
    """Gear and axle ratios of a car."""
    with remember(car.owner, "gear ratios kept"):
        found = Driveline.objects.filter(car=car).first() or Driveline(car=car)
        for name, value in values.items():
            setattr(found, name, value)
        found.noted_on = timezone.localdate()
        found.save()
    return found


def set_present(car: Car, end: str, values: dict[str, Any], changed: bool = False) -> OutfitAxle:
    """What stands on an end now.

    The first entry makes the baseline. A correction changes the newest outfit; wheels that were
    changed make a new one, so that earlier readings stay with the wheels they were read against.
    """
    with remember(car.owner, f"{'front' if end == 'F' else 'rear'} wheels and tyres kept"):
        outfit = car.outfits.order_by("since", "id").last()
        if outfit is None:
            outfit = Outfit.objects.create(car=car, name="baseline", is_baseline=True)
        elif changed:
            outfit = _copy_outfit(outfit)
        stands = stand(outfit, end, values)
        if "wheel" in values and not changed:
            _hub_off_wheel(car, end, stands)
        return stands


def keep_points(car: Car, corner: str, layout: str, rows: Mapping[str, Mapping[str, Any]], how: Mapping[str, Any]) -> list[HardPoint]:
    """Points of a corner as they were read, all or none; older ones are kept under them."""
    with remember(car.owner, f"points of the {CORNER_NAMES[corner]} kept"):
        return [HardPoint.objects.create(car=car, corner=corner, layout=layout, name=name, **row, **how) for name, row in rows.items()]


def mirror_points(car: Car, corner: str, points: Sequence[HardPoint]) -> list[HardPoint]:
    """The other side as this one, marked as taken over and not read."""
    other = corner[0] + ("R" if corner[1] == "L" else "L")
    names = ("layout", "name", "across_mm", "ahead_mm", "up_mm", "from_face", "uncertainty_mm", "ride_drop_mm", "who", "taken_on")
    with remember(car.owner, f"points taken over to the {CORNER_NAMES[other]}"):
        return [
            HardPoint.objects.create(car=car, corner=other, mirrored=True, **{name: getattr(one, name) for name in names}) for one in points
        ]


#: what the sheet of corner weights keeps of a spring
SPRING_FIELDS = ("rate_n_per_mm", "free_length_mm", "block_length_mm")


def set_springs(car: Car, end: str, values: Mapping[str, Any]) -> Springs:
    """Springs of an end as they stand."""
    with remember(car.owner, f"{'front' if end == 'F' else 'rear'} springs kept"):
        found = Springs.objects.filter(car=car, end=end).first() or Springs(car=car, end=end)
        for name, value in values.items():
            setattr(found, name, value)
        found.noted_on = timezone.localdate()
        found.save()
    return found


def set_engine(car: Car, values: Mapping[str, Any]) -> None:
    """What is known of the engine."""
    _set_one(car, Engine, values, "engine kept")


def set_cooling(car: Car, values: Mapping[str, Any]) -> None:
    """What is known of the cooling system."""
    _set_one(car, Cooling, values, "cooling kept")


def set_brakes(car: Car, values: Mapping[str, Any]) -> None:
    """What is known of the brakes."""
    _set_one(car, Brakes, values, "brakes kept")


def _set_one(car: Car, model: type[Engine | Cooling | Brakes], values: Mapping[str, Any], said: str) -> None:
    with remember(car.owner, said):
        found = model.objects.filter(car=car).first() or model(car=car)
        for name, value in values.items():
            setattr(found, name, value)
        found.noted_on = timezone.localdate()
        found.save()


def keep_log(log: Log, values: Mapping[str, Any], asked: Mapping[str, Any], found: Mapping[str, Any]) -> None:
    """A log that was looked at is kept with what was found in it."""
    with remember(log.car.owner, f"{values.get('name', log.name)} kept"):
        for name, value in values.items():
            setattr(log, name, value)
        log.asked, log.found, log.draft = dict(asked), dict(found), False
        log.save()


def drop_log(log: Log, user: Any) -> None:
    """A log that does not count; undo brings it back."""
    with remember(user, f"{log.name} removed"):
        log.delete()


def set_cg_height(car: Car, height_mm: float) -> None:
    """Height of the centre of gravity, found by weighing with one end raised."""
    with remember(car.owner, "height of the centre of gravity kept"):
        car.cg_height_mm = height_mm
        car.save(update_fields=["cg_height_mm"])


def write_down(car: Car, end: str, family: str, spec: Mapping[str, Any], who: str, noted_on: date) -> OldPart:
    """A part of the chassis as it stands; springs are told to the sheet of corner weights too. Older notes stay under it."""
    with remember(car.owner, f"{FAMILIES[family].name}, {'front' if end == 'F' else 'rear'}: written down"):
        found: OldPart = OldPart.objects.create(car=car, end=end, family=family, spec=dict(spec), who=who, noted_on=noted_on)
        kept = Springs.objects.filter(car=car, end=end).first()
        told: dict[str, Any] = {name: spec[name] for name in SPRING_FIELDS if spec.get(name) is not None}
        if kept is not None and told.get("free_length_mm", kept.free_length_mm) != kept.free_length_mm:
            told["preload_mm"] = None  # of the spring before: another length is wound up otherwise, and nobody has read it
        if family == "spring" and (kept is not None or "rate_n_per_mm" in told):
            set_springs(car, end, told)
    return found


def drop_old(kept: OldPart, user: Any) -> None:
    """What was written down of a part that does not count."""
    with remember(user, f"{kept}: removed"):
        kept.delete()


#: an angle of a wheel as it was read: corner, station, value [deg], as typed, ± [deg], where the gauge went
Angle = tuple[str, str, float, str, float, Mapping[str, Any]]


def take_angles(file: CarFile, angles: Sequence[Angle], how: Mapping[str, Any]) -> list[Reading]:
    """Angles of wheels read together, all or none."""
    with remember(file.user, "alignment, kept"):
        return [
            take_reading(
                file, corner, code, {"where": dict(where), "values": [value], "repeats": [], "typed": typed, "uncertainty": doubt, **how}
            )
            for corner, code, value, typed, doubt, where in angles
        ]


def learn_adjuster(
    file: CarFile,
    corner: str,
    name: str,
    turns: float,
    effects: Mapping[str, float],
    angles: Sequence[Angle],
    how: Mapping[str, Any],
    more: Mapping[str, Any],
) -> Adjuster:
    """What turning something changed: the new angles as readings, and the effect of a turn.

    Parameters
    ----------
    more : ``doubts``, the ± of each effect, and turns left: ``turns_back``, ``turns_on``; what is not named stays
    """
    with remember(file.user, f"{name} learnt"):
        take_angles(file, angles, how)
        found = Adjuster.objects.filter(car=file.car, corner=corner, name=name).first() or Adjuster(car=file.car, corner=corner, name=name)
        found.effects, found.turns, found.noted_on = dict(effects), turns, how["taken_on"]
        for field, value in more.items():
            setattr(found, field, value)
        found.save()
    return found


def set_alignment(car: Car, user: Any, school: str, targets: Mapping[str, float]) -> None:
    """The school that a car is aligned by, and targets of one's own by end and angle [deg]."""
    with remember(user, "alignment targets kept"):
        car.alignment_school, car.alignment_targets = school, dict(targets)
        car.save()


def drop_adjuster(adjuster: Adjuster, user: Any) -> None:
    """An adjuster off the sheet."""
    with remember(user, f"{adjuster.name} off the sheet"):
        adjuster.delete()


def keep_dip(car: Car, values: Mapping[str, Any]) -> KnownDip:
    """A known dip as it was driven; older drives stay under it."""
    with remember(car.owner, f"{values['name']} kept"):
        return KnownDip.objects.create(car=car, **values)


def drop_dip(dip: KnownDip, user: Any) -> None:
    """A drive through a dip that does not count."""
    with remember(user, f"{dip.name} removed"):
        dip.delete()


def keep_frame_trial(car: Car, values: Mapping[str, Any]) -> FrameTrial:
    """A trial beside the frame; older ones stay under it."""
    with remember(car.owner, f"{values['what']}, {values['corner']}: tried"):
        return FrameTrial.objects.create(car=car, **values)


def keep_marks(car: Car, values: Mapping[str, Any]) -> FrameMarks:
    """Four marks as they were read; older ones stay under them."""
    with remember(car.owner, f"marks of {values['what']} kept"):
        return FrameMarks.objects.create(car=car, **values)


def take_pads(
    file: CarFile, loads_kg: Mapping[str, tuple[float, str]], condition: Mapping[str, Any], how: Mapping[str, Any]
) -> list[Reading]:
    """Four pads read together, with how the car stood; all or none."""
    with remember(file.user, "four pads, kept"):
        stood = Condition.objects.create(car=file.car, noted_on=how["taken_on"], **condition)
        return [
            take_reading(
                file,
                corner,
                "corner_mass",
                {"where": {}, "values": [load], "repeats": [], "typed": typed, "condition": stood, **how},
            )
            for corner, (load, typed) in loads_kg.items()
        ]


def set_rack(car: Car, values: Mapping[str, Any]) -> Rack:
    """What was read of the rack."""
    with remember(car.owner, "rack kept"):
        found = Rack.objects.filter(car=car).first() or Rack(car=car)
        for name, value in values.items():
            setattr(found, name, value)
        found.noted_on = timezone.localdate()
        found.save()
    return found


#: what of an end is its own; the rest is the wheel's and the tyre's
_OWN = ("spacer_mm", "camber_deg", "ride_drop_mm", "left_more_mm", "right_more_mm")
_WHEEL_SPEC = ("bolts", "pcd_mm", "bore_mm", "seat", "pad_thickness_mm", "load_kg", "barrel_radius_mm", "spoke_back_mm")
_TYRE_SPEC = ("measured_section_mm", "profile")


def stand(outfit: Outfit, end: str, values: dict[str, Any]) -> OutfitAxle:
    """Put wheel and tyre on an end of an outfit: parts of their own, not on the list. What is not named stays as it is.

    Parameters
    ----------
    values : ``wheel`` and ``tyre`` as text, masses, what is known of the wheel as a part, spacer, camber, height

    Raises
    ------
    BadInput : wheel or tyre can't be read
    """
    axle = outfit.axles.select_related("wheel_part", "tyre_part").filter(end=end).first() or OutfitAxle(outfit=outfit, end=end)
    fresh = axle.pk is None
    wheel = Part(car=outfit.car, family="wheel", listed=False) if fresh else axle.wheel_part
    tyre = Part(car=outfit.car, family="tyre", listed=False) if fresh else axle.tyre_part
    if "wheel" in values:
        read = parse_wheel(values["wheel"])
        wheel.family, wheel.line = "wheel", values["wheel"]
        wheel.diameter_in, wheel.width_in, wheel.offset_mm = read.diameter_in, read.width_in, read.offset_mm
        _say(wheel, {name: getattr(read, name) for name in ("bolts", "pcd_mm", "bore_mm")})
    if "tyre" in values:
        size = parse_tyre(values["tyre"])
        tyre.family, tyre.diameter_in, tyre.section_width_mm = "tyre", size.rim_diameter_in, size.section_width_mm
        _say(tyre, {"size": values["tyre"]})
    for part, mass, names in ((wheel, "wheel_kg", _WHEEL_SPEC), (tyre, "tyre_kg", _TYRE_SPEC)):
        part.mass_kg = values.get(mass, part.mass_kg)
        _say(part, {name: values[name] for name in names if name in values})
        part.save()
    axle.wheel_part, axle.tyre_part = wheel, tyre
    for name in _OWN:
        if name in values:
            setattr(axle, name, values[name])
    axle.save()
    return axle


def _say(part: Part, values: dict[str, Any]) -> None:
    """Put values into a specification; blank ones out of it."""
    for name, value in values.items():
        if value in (None, ""):
            part.spec.pop(name, None)
        else:
            part.spec[name] = value


def _copy_outfit(outfit: Outfit) -> Outfit:
    copied = Outfit.objects.create(car=outfit.car, name=f"as changed {timezone.localdate():%-d %b %Y}")
    for axle in outfit.axles.select_related("wheel_part", "tyre_part"):
        for name in ("wheel_part", "tyre_part"):
            part = getattr(axle, name)
            part.pk, part._state.adding = None, True
            part.save()
            setattr(axle, name, part)
        axle.pk, axle._state.adding, axle.outfit = None, True, copied
        axle.save()
    return copied


def default_uncertainty(code: str, method: str, own_mm: Mapping[str, float] | None = None) -> float:
    """± that a method is good for, in the unit of the station's quantity; a person's own ± stands before the stated one."""
    kind = STATIONS[code].kind
    if kind != "length":
        return OTHER_UNCERTAINTY[kind]
    own = (own_mm or {}).get(method)
    return float(own) if isinstance(own, (int, float)) and LIMITS["uncertainty"].holds(own) else METHOD_UNCERTAINTY_MM.get(method, 1.0)


#: no rule in a hand is said to be better than this [mm] (common practice)
LEAST_OWN_MM = 0.02


def own_doubt_mm(found_mm: float) -> float:
    """A ± from repeats as it is kept: to a hundredth, and never nothing."""
    return max(LEAST_OWN_MM, round(found_mm, 2))


def keep_own_doubt(preferences: Preferences, method: str, doubt_mm: float | None) -> None:
    """A person's own ± of a method; None goes back to the stated one."""
    with remember(preferences.user, "± of a method"):
        kept = {name: value for name, value in preferences.own_doubts.items() if name != method}
        preferences.own_doubts = kept if doubt_mm is None else kept | {method: doubt_mm}
        preferences.save()


def outfit_now(file: CarFile) -> Outfit:
    """What stands on the car now; the baseline without any wheels where nobody has written them down."""
    if file.current is None:
        file.outfits.append(Outfit.objects.create(car=file.car, name="baseline", is_baseline=True))
    found: Outfit = file.outfits[-1]
    return found


def take_reading(file: CarFile, corner: str, code: str, values: dict[str, Any]) -> Reading:
    """Keep a reading against what stands on the car now."""
    values = {"method": STATIONS[code].method} | values
    if values.get("uncertainty") is None:
        values = values | {"uncertainty": default_uncertainty(code, values["method"], file.preferences.own_doubts)}
    kind = STATIONS[code]
    values = values | {"where": check_where(kind, values["where"]), "values": list(check_values(kind, values["values"]))}
    with remember(file.user, f"{kind.name.lower()}, {CORNER_NAMES[corner]}, kept"):
        Skip.objects.filter(car=file.car, corner=corner, code=code).delete()
        return Reading.objects.create(car=file.car, outfit=outfit_now(file), corner=corner, code=code, **values)


def take_sheet(file: CarFile, rows: Sequence[tuple[str, str, dict[str, Any]]], how: dict[str, Any]) -> list[Reading]:
    """Keep the readings of a floor sheet together, or none of them.

    Parameters
    ----------
    rows : corner, code, and the reading's values
    how : who took them, when, and how the car stood
    """
    with remember(file.user, f"{len(rows)} reading{'' if len(rows) == 1 else 's'} of the floor sheet, kept"):
        return [take_reading(file, corner, code, values | how) for corner, code, values in rows]


def skip_station(file: CarFile, corner: str, code: str, values: dict[str, Any]) -> Skip:
    """Pass a station over; what is not measured stays unmeasured."""
    with remember(file.user, f"{STATIONS[code].name.lower()}, {CORNER_NAMES[corner]}, passed over"):
        Skip.objects.filter(car=file.car, corner=corner, code=code).delete()
        return Skip.objects.create(car=file.car, corner=corner, code=code, **values)


def take_up_again(skip: Skip, user: Any) -> None:
    """A station that was passed over is on the walk again."""
    with remember(user, f"{STATIONS[skip.code].name.lower()}, {CORNER_NAMES[skip.corner]}, on the walk again"):
        skip.delete()


def keep_axis(file: CarFile, corner: str, found: list[Found], typed: str, who: str, taken_on: Any) -> list[Reading]:
    """Keep what was worked out of a steering axis as readings, together."""
    with remember(file.user, f"steering axis, {CORNER_NAMES[corner]}, kept"):
        return [
            Reading.objects.create(
                car=file.car, outfit=outfit_now(file), corner=corner, code=one.station, values=[round(one.value, 2)], typed=typed, method="worked",
                uncertainty=round(one.uncertainty, 2), who=who, taken_on=taken_on,
            )
            for one in found
        ]  # fmt: skip


def mirror_reading(reading: Reading, user: Any) -> Reading:
    """Copy a reading to the other side because the person asked; it stays marked as assumed."""
    other = reading.corner[0] + ("R" if reading.corner[1] == "L" else "L")
    with remember(user, f"{STATIONS[reading.code].name.lower()} assumed at the {CORNER_NAMES[other]}"):
        copied = Reading.objects.get(pk=reading.pk)
        copied.pk, copied._state.adding = None, True
        copied.corner, copied.mirrored_from = other, reading
        copied.save()
    return copied


def strike_reading(reading: Reading, why: str, user: Any) -> None:
    """Strike out a wrong reading; it stays in the history."""
    with remember(user, f"{STATIONS[reading.code].name.lower()} struck out"):
        reading.struck_why = why
        reading.save(update_fields=["struck_why"])


def note_condition(car: Car, values: dict[str, Any]) -> Condition:
    """How the car stands for the readings that follow."""
    with remember(car.owner, "condition noted"):
        return Condition.objects.create(car=car, **values)


def keep_preferences(preferences: Preferences, values: dict[str, Any]) -> None:
    """Units of a person."""
    with remember(preferences.user, "units kept"):
        for name, value in values.items():
            setattr(preferences, name, value)
        preferences.save()


def copy_school(owner: Any, school: str, name: str) -> ToleranceSet:
    """One's own editable copy of a school's margins."""
    margins = {field: getattr(SCHOOLS[school], field) for field in MARGIN_FIELDS}
    with remember(owner, f"tolerance set {name} made"):
        return ToleranceSet.objects.create(owner=owner, school=school, name=name, **margins)


def change_set(one: ToleranceSet, values: dict[str, Any]) -> None:
    """Change the margins of one's own set."""
    with remember(one.owner, f"tolerance set {one.name} changed"):
        for name, value in values.items():
            setattr(one, name, value)
        one.save()


def remove_set(one: ToleranceSet) -> None:
    """Remove one's own set."""
    with remember(one.owner, f"tolerance set {one.name} removed"):
        one.delete()


def keep_trial(file: CarFile, trial: Trial, sightings: list[Sighting]) -> Trial:
    """A trial fit with everything that was seen; what the model expected is worked out first and kept beside it."""
    known = dict(zip((reading.pk for reading in placing(file)), file.core_readings(), strict=True))
    for sighting in sightings:
        sighting.predicted_mm, sighting.predicted_uncertainty_mm = _predicted(file, trial, sighting, known)
    with remember(trial.car.owner, f"trial fit at the {CORNER_NAMES[trial.corner]} kept"):
        trial.save()
        for sighting in sightings:
            sighting.trial = trial
            sighting.save()
    return trial


def _predicted(file: CarFile, trial: Trial, sighting: Sighting, known: dict[int, Any]) -> tuple[float | None, float | None]:
    core = known.get(sighting.reading_id)
    if core is None:
        return None, None
    fitted, pose = trial_standing(file, trial, sighting.steer_deg, sighting.travel_mm)
    standing, bare = (file.tried(fitted), False) if trial.tyre else (fitted, True)
    try:
        gap = predict_mm(core, standing, bare, pose)
    except CoreError:
        return None, None
    return round(gap, 2), round(prediction_uncertainty_mm(core, standing, bare), 2)


def remove_trial(trial: Trial) -> None:
    """Take a trial fit away; what it corrected goes back to the readings."""
    with remember(trial.car.owner, f"trial fit at the {CORNER_NAMES[trial.corner]} removed"):
        for sighting in trial.sightings.all():
            sighting.delete()
        trial.delete()


def note_rub(file: CarFile, corner: str, values: dict[str, Any]) -> Rub:
    """A trace of a rub, with what stood on the car; its travel is counted from the baseline's height."""
    if file.current is None:
        raise ValueError("a rub needs an outfit")
    standing = file.on(file.current, corner[0])
    drop = standing.drop_at(corner) if standing else 0.0
    with remember(file.user, f"rub at the {CORNER_NAMES[corner]} kept"):
        return Rub.objects.create(
            car=file.car, outfit=file.current, corner=corner, code=values["code"], when=values["when"], steer_deg=values.get("steer_deg") or 0.0,
            travel_mm=drop + (values.get("travel_mm") or 0.0), note=values["note"], seen_on=values["seen_on"],
        )  # fmt: skip


def remove_rub(rub: Rub) -> None:
    """Take a trace away."""
    with remember(rub.car.owner, f"rub at the {CORNER_NAMES[rub.corner]} removed"):
        rub.delete()
