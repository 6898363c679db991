"""How far a step goes and what counts as reached, where links are followed."""

#: a rotation's weight against a length, so that both are of a size [mm]
SCALE_MM = 100.0
#: longest step of travel or rack, and the one below which a pose counts as lost [mm]
STEP_MM, LEAST_MM = 4.0, 1e-7
#: what may be left of a link's length: on the way, and in the end [mm]
NEAR_MM, EXACT_MM = 1e-7, 1e-10
#: largest correction that is still the same branch, and longest movement of one step; more is close to a singular pose
#: [mm]
JUMP_MM, LARGEST_MM = 6.0, 300.0
NEWTONS = 8
#: share of the way to a singular pose, as it is foreseen, that one step takes
TOWARDS = 0.9
