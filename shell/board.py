"""The tally board and the spine: rooms say what stands on them, the shell draws them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

STAGES = (
    ("measure", "Measure"),
    ("choose", "Choose"),
    ("check", "Check"),
    ("plan", "Plan"),
    ("fit", "Fit"),
    ("prove", "Prove"),
)


@dataclass(frozen=True)
class Cell:
    """One number that is always in sight. ``parts`` shows beneath it."""

    label: str
    figure: str
    unit: str = ""
    state: str = ""
    parts: str = ""
    url: str = ""


@dataclass(frozen=True)
class Stage:
    """One mark of the spine; ``share`` 0 to 1 is how far the stage is done."""

    number: int
    key: str
    name: str
    url: str
    share: float
    here: bool


NameMaker = Callable[[Any], str]
CellMaker = Callable[[Any], Cell]
ShareMaker = Callable[[Any], float]

_cells: dict[str, CellMaker] = {}
_shares: dict[str, tuple[str, ShareMaker]] = {}

_name: list[NameMaker] = []

CELL_ORDER = ("gap", "mass", "money", "ready", "open")


def put_cell(key: str, maker: CellMaker) -> None:
    """A room registers what it puts on the board; ``maker`` gets the car's file."""
    _cells[key] = maker


def put_name(maker: NameMaker) -> None:
    """A room registers how the build in hand is called."""
    _name[:] = [maker]


def name_in_hand(car_file: Any) -> str:
    """The build in hand, in words; blank where there is none."""
    return _name[0](car_file) if _name else ""


def put_stage(key: str, url_name: str, share: ShareMaker) -> None:
    """A room registers its stage: where it lives and how far it is done."""
    _shares[key] = (url_name, share)


def cells(car_file: Any) -> list[Cell]:
    """The board of a car, in order."""
    return [_cells[key](car_file) for key in CELL_ORDER if key in _cells]


def stages(car_file: Any, here: str) -> list[Stage]:
    """The spine of a car."""
    from django.urls import reverse

    found = []
    for number, (key, name) in enumerate(STAGES, start=1):
        if key in _shares:
            url_name, share = _shares[key]
            done = min(1.0, max(0.0, share(car_file)))
            found.append(Stage(number, key, name, reverse(url_name, args=[car_file.car.pk]), done, key == here))
    return found
