"""An air meter in another housing: what it reads afterwards, and until when that is a stop."""

from __future__ import annotations

from dataclasses import dataclass

from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State

CODE, NAME = "breathing.meter", "Airflow meter housing"
#: bores that differ by less are one housing [mm]
SAME_MM = 0.3
KEEP = "keep the original housing with reducers until the tuning day"


@dataclass(frozen=True)
class Housing:
    """Bores of a meter's housing before and after [mm]."""

    from_mm: float
    to_mm: float

    @property
    def area_ratio(self) -> float:
        """Area after over area before."""
        return (self.to_mm / self.from_mm) ** 2

    @property
    def area_change_pct(self) -> float:
        """How much more area it has [%].

        >>> round(Housing(76.2, 88.9).area_change_pct, 1)
        36.1
        """
        return 100.0 * (self.area_ratio - 1.0)

    @property
    def under_read_pct(self) -> float:
        """How much of the air it does not see: it reads the speed at its middle, the flow grows with the area [%].

        Negative reads too much.

        >>> round(Housing(76.2, 88.9).under_read_pct, 1)
        26.5
        """
        return 100.0 * (1.0 - 1.0 / self.area_ratio)

    @property
    def advice(self) -> str:
        """What to do about it, in words."""
        if abs(self.to_mm - self.from_mm) < SAME_MM:
            return "The same bore: the meter reads as before."
        if self.under_read_pct > 0:
            return f"The meter sees {self.under_read_pct:.1f} % too little and the engine runs lean until it is calibrated: {KEEP}, then swap the housing."
        return f"The meter sees {-self.under_read_pct:.1f} % too much and the engine runs rich until it is calibrated: {KEEP}, then swap the housing."


@dataclass(frozen=True)
class Stage:
    """One of two steps of work with its shopping list."""

    when: str
    what: str
    buy: tuple[str, ...]


def order_of_work(housing: Housing, pipe_mm: float | None = None) -> tuple[Stage, Stage]:
    """The run first on the original housing, the larger one on the tuning day; what each takes.

    Source: common practice.

    Parameters
    ----------
    housing : the metering housings before and after
    pipe_mm : bore of the pipe behind it; None where not read [mm]

    >>> now, then = order_of_work(Housing(70.0, 80.0), 76.0)
    >>> now.buy[0]
    '2 reducers 76 to 70 mm, at both ends of the original housing'
    >>> then.buy[0][:17]
    'the 80 mm housing'
    """
    pipe = pipe_mm or housing.to_mm
    reducers = f"2 reducers {pipe:g} to {housing.from_mm:g} mm, at both ends of the original housing"
    on_the_day: tuple[str, ...] = (
        f"the {housing.to_mm:g} mm housing with the car's own sensor",
        "the tuner's time, booked before the first drive",
    )
    if abs(pipe - housing.to_mm) >= SAME_MM:
        on_the_day = (*on_the_day, f"2 reducers {pipe:g} to {housing.to_mm:g} mm")
    return (
        Stage(
            "now",
            "everything but the housing, which stays the original",
            (reducers, "pipe, couplers, T-bolt clamps, filter, bracket as drawn"),
        ),
        Stage(
            "on the tuning day",
            "the housing swapped and the meter calibrated; the reducers come off and are kept",
            on_the_day,
        ),
    )


def judge_meter(housing: Housing | None, tuned_first: bool | None, inputs: tuple[InputUsed, ...] = ()) -> Judgement:
    """A housing larger than the engine's calibration knows: ``hit`` unless it is tuned before the first drive.

    Parameters
    ----------
    housing : None where a bore is not known
    tuned_first : is a tuning date set, before the first drive? None where no drive is planned either

    Source: common practice; the sum is the housing's area.

    Examples
    --------
    >>> judge_meter(Housing(76.2, 88.9), False).state, judge_meter(Housing(76.2, 88.9), True).state, judge_meter(Housing(70, 70), False).state
    ('hit', 'tight', 'clear')
    """
    if housing is None:
        return Judgement(
            CODE,
            NAME,
            "unmeasured",
            "the bore of the original housing, or of the new one, is not known",
            COMMON_PRACTICE,
            missing=("meter bore",),
            remedies=("measure the bore of the original housing",),
            inputs=inputs,
        )
    larger = housing.to_mm - housing.from_mm >= SAME_MM
    state: State = "clear" if abs(housing.to_mm - housing.from_mm) < SAME_MM else "tight"
    reason = housing.advice.removesuffix(".")
    if larger and not tuned_first:
        state, reason = "hit", f"{reason}; no tuning date stands before the first drive"
    elif larger:
        reason = f"{reason}; tuned before the first drive"
    return Judgement(
        CODE,
        NAME,
        state,
        reason,
        f"{COMMON_PRACTICE}; the area of the housing",
        value=housing.under_read_pct,
        unit="%",
        held_against=0.0,
        margin=-abs(housing.under_read_pct),
        formula=f"1 − ({housing.from_mm:g} ÷ {housing.to_mm:g})² = {housing.under_read_pct:.1f} %".replace("-", "−"),
        inputs=inputs,
        remedies=() if state == "clear" else (KEEP, "set a tuning date before the first drive"),
    )
