"""Every model of the garage, for Django; each is kept by its topic."""

from garage.air.models import AirPanel, AirUnder, PanelPicture
from garage.car.models import Axle, Car, Driveline, Outfit, OutfitAxle
from garage.car.parts import Part, Tyre, Wheel
from garage.chassis.models import Adjuster, FrameMarks, FrameTrial, HardPoint, KnownDip, OldPart, Rack, Springs
from garage.engine.models import Brakes, Cooling, Engine
from garage.logs.models import Log
from garage.mass.models import MassGoal, MassItem
from garage.person.models import Preferences, ToleranceSet
from garage.readings.models import Condition, Reading, Rub, Sighting, Skip, Trial

__all__ = [
    "Adjuster",
    "AirPanel",
    "AirUnder",
    "Axle",
    "Brakes",
    "Car",
    "Condition",
    "Cooling",
    "Driveline",
    "Engine",
    "FrameMarks",
    "FrameTrial",
    "HardPoint",
    "KnownDip",
    "Log",
    "MassGoal",
    "MassItem",
    "OldPart",
    "Outfit",
    "OutfitAxle",
    "PanelPicture",
    "Part",
    "Preferences",
    "Rack",
    "Reading",
    "Rub",
    "Sighting",
    "Skip",
    "Springs",
    "ToleranceSet",
    "Trial",
    "Tyre",
    "Wheel",
]
