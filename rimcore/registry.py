"""All calculations of the command line, by name."""

from rimcore.driveline.calculations import DRIVELINE
from rimcore.well.calculations import MOTION
from rimcore.well.calculations_choice import CHOICE
from rimcore.wheels.calculations import AT_REST

CALCULATIONS = {**AT_REST, **MOTION, **CHOICE, **DRIVELINE}
