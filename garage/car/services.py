"""What changes a car and what stands on it; one transaction each, each can be undone."""

from __future__ import annotations

from datetime import date
from typing import Any

from django.utils import timezone

from garage.car.models import Axle, Car, Driveline, Outfit, OutfitAxle
from garage.car.parts import Part
from garage.file import CarFile
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel
from shell.undo import remember


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
    with remember(axle.car.owner, f"{axle.get_end_display()} hub saved"):
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
    with remember(car.owner, "gear ratios saved"):
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
    with remember(car.owner, f"{'front' if end == 'F' else 'rear'} wheels and tyres saved"):
        outfit = car.outfits.order_by("since", "id").last()
        if outfit is None:
            outfit = Outfit.objects.create(car=car, name="baseline", is_baseline=True)
        elif changed:
            outfit = _copy_outfit(outfit)
        stands = stand(outfit, end, values)
        if "wheel" in values and not changed:
            _hub_off_wheel(car, end, stands)
        return stands


def set_cg_height(car: Car, height_mm: float) -> None:
    """Height of the centre of gravity, found by weighing with one end raised."""
    with remember(car.owner, "height of the centre of gravity saved"):
        car.cg_height_mm = height_mm
        car.save(update_fields=["cg_height_mm"])


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
    axle = outfit.axles.select_related("wheel_part", "tyre_part").filter(end=end).first() or OutfitAxle(
        outfit=outfit, end=end
    )
    fresh = axle.pk is None
    pair = None if fresh else (axle.wheel_part, axle.tyre_part)
    wheel, tyre = wheel_values(outfit.car, values, pair)
    axle.wheel_part, axle.tyre_part = wheel, tyre
    for name in _OWN:
        if name in values:
            setattr(axle, name, values[name])
    axle.save()
    return axle


def wheel_values(car: Car, values: dict[str, Any], pair: tuple[Part, Part] | None = None) -> tuple[Part, Part]:
    """A wheel and a tyre as parts of their own, saved, from what was typed and is known of them.

    Parameters
    ----------
    values : ``wheel`` and ``tyre`` as text, masses, what is known of the wheel as a part
    pair : the ones that are changed; None makes new ones

    Raises
    ------
    BadInput : wheel or tyre can't be read
    """
    wheel, tyre = pair or (
        Part(car=car, family="wheel", listed=False),
        Part(car=car, family="tyre", listed=False),
    )
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
        _say(part, {name: values[name] for name in (*names, *_GOES_ALONG) if name in values})
        part.save()
    return wheel, tyre


#: what goes with a set of wheels beside what its parts declare: tread and date code of the tyre, the spacer behind the wheel
_GOES_ALONG = ("tread_mm", "date_code", "with_spacer_mm")


def known_of(wheel: Part, tyre: Part) -> dict[str, Any]:
    """All that is known of a wheel and a tyre that stand or lie somewhere, as :func:`wheel_values` takes it back."""
    return {
        "wheel": wheel.line or str(wheel),
        "tyre": str(tyre.spec.get("size", tyre.name)),
        "wheel_kg": wheel.mass_kg,
        "tyre_kg": tyre.mass_kg,
        **{name: wheel.spec[name] for name in (*_WHEEL_SPEC, *_GOES_ALONG) if name in wheel.spec},
        **{name: tyre.spec[name] for name in (*_TYRE_SPEC, *_GOES_ALONG) if name in tyre.spec},
    }


def change_wheels(car: Car, name: str, since: date, values: dict[str, dict[str, Any]]) -> Outfit:
    """Other wheels stand on the car from a day on; springs, heights and camber stay, spacers go with their own wheels.

    Parameters
    ----------
    since : not before the newest outfit, which stays as it was
    values : by end, as :func:`wheel_values` takes them
    """
    with remember(car.owner, f"{name} put on"):
        newest = car.outfits.order_by("since", "id").last()
        outfit = (
            Outfit.objects.create(car=car, name="baseline", is_baseline=True)
            if newest is None
            else _copy_outfit(newest)
        )
        if newest is not None:
            outfit.name = name
        outfit.since = since
        outfit.save()
        for end, said in values.items():
            axle = outfit.axles.select_related("wheel_part", "tyre_part").filter(end=end).first() or OutfitAxle(
                outfit=outfit, end=end
            )
            came_off = [] if axle.pk is None else [axle.wheel_part, axle.tyre_part]
            axle.wheel_part, axle.tyre_part = wheel_values(car, said)
            axle.spacer_mm = float(said.get("with_spacer_mm") or 0.0)
            axle.save()
            for part in came_off:
                part.delete()
        return outfit


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


def outfit_now(file: CarFile) -> Outfit:
    """What stands on the car now; the baseline without any wheels where nobody has written them down."""
    if file.current is None:
        file.outfits.append(Outfit.objects.create(car=file.car, name="baseline", is_baseline=True))
    found: Outfit = file.outfits[-1]
    return found
