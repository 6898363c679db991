"""What changes panels and slopes; one transaction each, each can be undone."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.utils import timezone

from garage.air.models import AirPanel, AirUnder, PanelPicture
from garage.car.models import Car
from garage.clicked import keep_picture_of
from rimcore.quantities.errors import BadInput
from shell.undo import remember

#: how low the car stood when something under it was read
DROPS = ("front_drop_mm", "rear_drop_mm")


#: what is read off the car at the height it stands at
READ = {
    AirPanel: ("stations", "front_mm"),
    AirUnder: ("lip_ahead_mm", "lip_up_mm", "tail_behind_mm", "tail_up_mm", "belly_behind_mm", "belly_up_mm"),
}


def put(row: AirPanel | AirUnder, values: Mapping[str, Any]) -> None:
    """Values into a row that is not saved yet.

    How low the car stood goes with what was read, and stays while that does.
    """
    fresh = row.pk is None or any(name in values and getattr(row, name) != values[name] for name in READ[type(row)])
    for name, value in values.items():
        if fresh or name not in DROPS:
            setattr(row, name, value)


def keep_panel(car: Car, user: Any, values: Mapping[str, Any], panel: AirPanel | None = None) -> AirPanel:
    """A panel, whole; how low the car stood is kept with the readings of its card, and stays while they do.

    Raises
    ------
    BadInput : there is one of that name
    """
    found = panel or AirPanel(car=car)
    put(found, values)
    if AirPanel.objects.filter(car=car, name=found.name).exclude(pk=found.pk).exists():
        raise BadInput(f"there is a panel “{found.name}” already; accepted: another name", "name")
    with remember(user, f"{found.name} saved"):
        found.noted_on = timezone.localdate()
        found.save()
    return found


def drop_panel(panel: AirPanel, user: Any) -> None:
    """A panel taken away; undo brings it back."""
    with remember(user, f"{panel.name} removed"):
        panel.delete()


def set_under(car: Car, values: Mapping[str, Any]) -> None:
    """What the car has under it, and its slopes."""
    with remember(car.owner, "lip, belly, tail and slopes saved"):
        found = AirUnder.objects.filter(car=car).first() or AirUnder(car=car)
        put(found, values)
        found.noted_on = timezone.localdate()
        found.save()


def keep_picture(panel: AirPanel, user: Any, raw: bytes) -> PanelPicture:
    """The picture of a panel's card; points of an older picture go with it.

    Raises
    ------
    BadInput : no picture
    """
    return keep_picture_of(PanelPicture, user, f"picture of {panel.name} kept", raw, panel=panel)


def keep_clicked(picture: PanelPicture, user: Any, values: Mapping[str, Any], outline: str) -> None:
    """What was clicked, and the outline that comes of it; the panel is that outline from now on."""
    with remember(user, f"{picture.panel.name} traced"):
        for name in ("bar_mm", "ahead_mm", "right_mm", "from_below"):
            setattr(picture, name, values[name])
        picture.points_px = values["points"]
        picture.traced_on = timezone.localdate()
        picture.save()
        picture.panel.outline, picture.panel.noted_on = outline, timezone.localdate()
        picture.panel.save()
