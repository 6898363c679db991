"""All calculations of the command line, by name: each topic adds its own."""

from rimcore.aero.calculations import AIRED
from rimcore.braking.calculations import BRAKED
from rimcore.breathing.calculations import BREATHING
from rimcore.breathing.calculations_runs import RUN_OF_PIPE
from rimcore.choosing.calculations import COMPOSED
from rimcore.cooling.calculations import COOLED
from rimcore.driveline.calculations import DRIVELINE
from rimcore.fastening.calculations import FASTENING
from rimcore.mass.calculations import WEIGHED
from rimcore.planning.calculations import PLANNED
from rimcore.proof.calculations import PROVEN
from rimcore.quantities.calculations import QUANTITIES
from rimcore.ride.calculations import RIDE
from rimcore.ride.calculations_weights import PADDED
from rimcore.steering.calculations import STEER
from rimcore.steering.calculations_setting import SETTING
from rimcore.well.calculations_choice import CHOICE
from rimcore.well.calculations_motion import MOTION
from rimcore.well.calculations_rest import AT_REST
from rimcore.well.calculations_window import WINDOWS
from rimcore.wheels.calculations import WHEELS

CALCULATIONS = {
    **QUANTITIES,
    **WHEELS,
    **AT_REST,
    **MOTION,
    **WINDOWS,
    **CHOICE,
    **DRIVELINE,
    **FASTENING,
    **RIDE,
    **PADDED,
    **STEER,
    **SETTING,
    **BREATHING,
    **RUN_OF_PIPE,
    **COOLED,
    **BRAKED,
    **AIRED,
    **WEIGHED,
    **PLANNED,
    **PROVEN,
    **COMPOSED,
}
