"""All calculations of the command line, by name."""

from rimcore.calculations import AT_REST
from rimcore.calculations_choice import CHOICE
from rimcore.calculations_motion import MOTION
from rimcore.driveline.calculations import DRIVELINE

CALCULATIONS = {**AT_REST, **MOTION, **CHOICE, **DRIVELINE}
