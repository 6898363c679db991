"""A bleed run judged by its two hoses: when the thermostat opened, and when it is done."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.judgement import State

Array = NDArray[np.float64]

#: slower than this is heat along the metal, no flow [K/min]
CONDUCTION_K_PER_MIN = 2.0
#: over which the rate is taken, and how long a fall to half of the rise takes a burp to show [s]
WINDOW_S, BURP_S = 60.0, 30.0
#: how long both hoses have to hold still where nothing else is said [s]
STEADY_S = 120.0
#: readings counted as steady: share of them, within so much of their median [K]
STEADY_SHARE, STEADY_K = 0.95, 1.5
#: top hose so hot for the time of a steady run without an opening is a stuck thermostat or an air lock [°C]
STUCK_C = 85.0
#: least top hose at which a rise below is an opening [°C]; thermostats open from about 75 (common practice)
OPENS_C = 70.0
#: longest silence in a stretch that is said to have held still [s]
SILENCE_S = 30.0
#: a top hose so far under what it was at the opening has cooled with an engine that is off [K]
COOLED_K = 5.0
#: over this nothing is said without knowing where the coolant boils [°C]: water boils there with no cap
WATER_BOILS_C = 100.0
#: least noise of a thermocouple that is reckoned with [K], and how many of it rise and rate have to leave
NOISE_K, TIMES = 0.1, 4.0


@dataclass(frozen=True)
class Opened:
    """When the lower hose began to follow [s], and the top hose at that moment [°C]; None where it was not read."""

    t_s: float
    top_hose_c: float | None


@dataclass(frozen=True)
class Bled:
    """What a log shows, in words."""

    opened: Opened | None
    settled: bool
    state: State
    reason: str


def judge_bleed(
    t_s: Sequence[float],
    top_c: Sequence[float | None],
    lower_c: Sequence[float | None],
    steady_s: float = STEADY_S,
    boil_c: float | None = None,
    coolant_c: Sequence[float | None] | None = None,
) -> Bled:
    """A log of both hoses.

    Parameters
    ----------
    t_s : rising strictly (n,) [s]
    top_c, lower_c : (n,) None where a reading dropped out [°C]
    steady_s : how long it has to hold still, over 0 [s]
    boil_c : where the coolant boils; None where not known [°C]
    coolant_c : (n,) at the engine, where it was read; it boils there first [°C]

    Source: common practice: top hose hot and lower hose cool means shut; steady is done. The thresholds are ours and
    stated above.

    Examples
    --------
    >>> judge_bleed([0.0, 10.0], [20.0, 20.0], [20.0, 20.0]).state
    'unmeasured'
    >>> judge_bleed([0.0, 10.0], [99.0, 99.0], [20.0, 20.0], boil_c=110.0, coolant_c=[104.0, 111.0]).reason[:40]
    'the coolant at the engine reached 111 °C'
    """
    time = np.asarray(t_s, dtype=float)
    top, lower = _row(top_c), _row(lower_c)
    opened = opening(time, top, lower)
    settled = opened is not None and _settled(time, top, lower, steady_s, opened)
    over = _boiling(top, coolant_c, boil_c)
    span = float(time[-1] - time[0]) if len(time) else 0.0
    stuck = opened is None and _longest_s(time, top > STUCK_C, np.isfinite(top)) >= steady_s
    state, reason = _said(
        over=over, span=span, steady_s=steady_s, opened=opened, settled=settled, stuck=stuck, boil_c=boil_c, top=top
    )
    if (
        state == "clear"
        and boil_c is None
        and (hot := hottest_at_end_c(time, top, coolant_c, steady_s)) > WATER_BOILS_C
    ):
        state, reason = "unmeasured", f"{reason}; {hot:.0f} °C there, and where the coolant boils is not known"
    return Bled(opened, settled, state, reason)


def hottest_at_end_c(time: Array, top: Array, coolant_c: Sequence[float | None] | None, steady_s: float) -> float:
    """Most that top hose or coolant read over the last stretch [°C]; −∞ where nothing was read.

    Source: common practice.

    Parameters
    ----------
    time : rising (n,) [s]
    top : top hose (n,) [°C], NaN where lost
    coolant_c : (n,), None where lost or not read [°C]
    steady_s : length of the last stretch, over 0 [s]

    >>> hottest_at_end_c(np.array([0.0, 60.0, 120.0]), np.array([101.0, 90.0, np.nan]), [None, 95.0, None], 60.0)
    95.0
    """
    last = time >= time[-1] - steady_s
    rows = [top[last], _row(coolant_c)[last]] if coolant_c is not None else [top[last]]
    return max((float(np.nanmax(row)) for row in rows if np.isfinite(row).any()), default=-np.inf)


def _row(values: Sequence[float | None]) -> Array:
    return np.array([np.nan if one is None else one for one in values], dtype=float)


def _boiling(top: Array, coolant_c: Sequence[float | None] | None, boil_c: float | None) -> str:
    """What was read over where the coolant boils, in words; empty where nothing was."""
    rows = {"the top hose": top}
    if coolant_c is not None:
        rows["the coolant at the engine"] = _row(coolant_c)
    over = {name: float(np.nanmax(row)) for name, row in rows.items() if boil_c is not None and (row > boil_c).any()}
    return f"{max(over, key=over.__getitem__)} reached {max(over.values()):.0f} °C" if over else ""


def _said(
    over: str,
    span: float,
    steady_s: float,
    opened: Opened | None,
    settled: bool,
    stuck: bool,
    boil_c: float | None,
    top: Array,
) -> tuple[State, str]:
    if over:
        return (
            "hit",
            f"{over} and the coolant boils at {boil_c:.0f} °C: stop the engine, let it cool, open nothing",
        )
    if span < steady_s:
        return "unmeasured", f"the log spans {span:.0f} s; {steady_s:g} s are needed to tell"
    if opened is not None:
        began = f"the thermostat opened at {opened.t_s:.0f} s" + (
            f", top hose {opened.top_hose_c:.0f} °C" if opened.top_hose_c is not None else ""
        )
        if settled:
            return "clear", f"{began}; both hoses have held still for {steady_s:g} s"
        return "tight", f"{began}; not steady yet: top up, go on, wait for the fan"
    if stuck:
        return (
            "tight",
            f"the top hose has been over {STUCK_C:g} °C for {steady_s:g} s and the lower hose does not follow: stuck thermostat or air lock",
        )
    hottest = f"{np.nanmax(top):.0f} °C" if np.isfinite(top).any() else "nothing"
    return "unmeasured", f"the top hose has reached {hottest}; the thermostat is still shut"


#: top hose from which a thermostat is about to open [°C] (common practice)
WARM_C = 60.0


def look_at(found: Bled, top_c: float | None) -> str:
    """What to look at now, in words.

    Source: common practice.

    Parameters
    ----------
    found : what the log shows
    top_c : hottest at the end; None where not read [°C]

    >>> look_at(Bled(None, False, "unmeasured", ""), 40.0)
    'Heater hot, funnel on, nose of the car up. Watch the level and the top hose.'
    """
    if found.state == "hit":
        return "Engine off. Let it cool by itself; open nothing."
    if found.settled:
        return "Done. Look at the level again when it is cold."
    if found.opened is not None:
        return "It has opened: keep the funnel filled as the level drops; wait for the fan, and for both hoses to hold still."
    if found.state == "tight":
        return "Hot above, cool below, and it does not follow: engine off, let it cool; then the bleed screw and the thermostat."
    if top_c is None or top_c < WARM_C:
        return "Heater hot, funnel on, nose of the car up. Watch the level and the top hose."
    return "Hot above, cool below: still shut. Watch the lower hose; bubbles are air on its way out."


def opening(time: Array, top: Array, lower: Array) -> Opened | None:
    """The moment at which the lower hose begins to follow, or None.

    A rise counts that is faster than conduction over a minute, stands out of the noise, does not fall back to within
    half of
    itself for more than 30 s, and has the top hose at 70 °C or more when it begins (common practice: a thermostat opens
    from
    about 75). A rise under a cold top hose is heat from somewhere else; it is looked past.

    Parameters
    ----------
    time : rising (n,) [s]
    top : top hose (n,) [°C]
    lower : lower hose (n,) [°C]
    """
    known = np.isfinite(lower)
    t, y = time[known], lower[known]
    if len(t) < 4:
        return None
    noise = _noise(y)
    begin = 0
    while (found := _rise(t, y, noise, begin)) is not None:
        began, base, detected = found
        above = _at(time, top, began)
        if above is None or above < OPENS_C:
            begin = detected
            continue
        fell = _falls_back(t, y, base, began, detected)
        if fell is None:
            return Opened(began, above)
        begin = fell
    return None


def _noise(y: Array) -> float:
    """Scatter of neighbouring readings [K], from second differences; a tenth of a kelvin at least."""
    second = np.diff(y, 2)
    return float(max(NOISE_K, 1.4826 * np.median(np.abs(second - np.median(second))) / np.sqrt(6.0)))


def _rise(t: Array, y: Array, noise: float, begin: int) -> tuple[float, float, int] | None:
    """First window from a row on that rises as flow does.

    When it began [s], from where [°C], and the row that showed it.
    """
    starts = np.searchsorted(t, t - WINDOW_S)
    for k in range(begin + 2, len(t)):
        first = max(begin, int(starts[k]))
        if k - first < 2:
            first = max(begin, k - 2)
        if t[k] - t[first] < WINDOW_S / 2:
            continue
        window, values = t[first : k + 1], y[first : k + 1]
        middle = window - window.mean()
        spread = float(middle @ middle)
        slope = float(middle @ values) / spread
        sure = TIMES * noise / np.sqrt(spread)
        risen = (
            float(np.median(values[-3:]) - np.median(values[:3])) if len(values) > 5 else float(values[-1] - values[0])
        )
        if (slope - sure) * 60.0 > CONDUCTION_K_PER_MIN and risen > TIMES * noise:
            began, base = _bend(t, y, begin, first, k)
            return began, base, k
    return None


def _bend(t: Array, y: Array, begin: int, first: int, last: int) -> tuple[float, float]:
    """Where a line with a bend fits best round a rise: the time of the bend, and the line's height there."""
    low = max(begin, int(np.searchsorted(t, t[first] - WINDOW_S)))
    high = min(len(t), last + 2)
    window, values = t[low:high] - t[first], y[low:high]
    best: tuple[float, float, float] | None = None
    for at in np.unique(
        np.r_[window[first - low : last - low + 1], np.linspace(window[first - low], window[last - low], 25)]
    ):
        after = np.maximum(window - at, 0.0)
        rows = np.stack([np.ones_like(window), window, after], 1)
        fit, *_ = np.linalg.lstsq(rows, values, rcond=None)
        if fit[2] <= 0 or fit[1] * 60.0 > CONDUCTION_K_PER_MIN:
            continue
        rest = float(((rows @ fit - values) ** 2).sum())
        if best is None or rest < best[0]:
            best = (rest, float(at), float(fit[0] + fit[1] * at))
    if best is None:
        return float(t[first]), float(y[first])
    return best[1] + float(t[first]), best[2]


def _falls_back(t: Array, y: Array, base: float, began: float, detected: int) -> int | None:
    """Row at which a rise has been below half of its peak for more than 30 s; None where it holds."""
    start = int(np.searchsorted(t, began))
    peak, since = float(y[start : detected + 1].max()), None
    for k in range(start, len(t)):
        peak = max(peak, float(y[k]))
        if k >= detected and y[k] - base < (peak - base) / 2.0:
            since = t[k] if since is None else since
            if t[k] - since > BURP_S:
                return k
        else:
            since = None
    return None


def _at(time: Array, values: Array, when: float) -> float | None:
    known = np.isfinite(values)
    return float(np.interp(when, time[known], values[known])) if known.any() else None


def _settled(time: Array, top: Array, lower: Array, steady_s: float, opened: Opened) -> bool:
    """Both hoses read and within their band over the last stretch, all of it after the opening, and the engine not
    cooling.
    """
    since = float(time[-1]) - steady_s
    if time[0] > since or since < opened.t_s:
        return False
    last = time >= since
    if not all(_covered(time[np.isfinite(row)], since, float(time[-1])) for row in (top, lower)):
        return False
    if not all(_still(row[last & np.isfinite(row)]) for row in (top, lower)):
        return False
    return opened.top_hose_c is None or float(np.nanmedian(top[last])) >= opened.top_hose_c - COOLED_K


def _covered(read_s: Array, since: float, until: float) -> bool:
    """Readings over a stretch without a silence in it or at its ends."""
    inside = read_s[(read_s >= since) & (read_s <= until)]
    return len(inside) > 0 and float(np.diff(np.r_[since, inside, until]).max()) <= SILENCE_S


def _still(values: Array) -> bool:
    if len(values) < 3:
        return False
    return float((np.abs(values - np.median(values)) <= STEADY_K).mean()) >= STEADY_SHARE


def _longest_s(time: Array, holds: NDArray[np.bool_], known: NDArray[np.bool_]) -> float:
    """Longest stretch over which a condition holds at every known reading [s]."""
    longest, since = 0.0, None
    for when, yes in zip(time[known], holds[known], strict=True):
        since = (when if since is None else since) if yes else None
        if since is not None:
            longest = max(longest, float(when - since))
    return longest
