"""Proof on the command line: compare, calibrate, laps, stop."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from rimcore.proof.braked import stops_of
from rimcore.proof.change import Asked, as_dict, change_of, family_of
from rimcore.proof.honesty import Honesty, Pair, by_group, honesty_of
from rimcore.proof.positions import Gate, runs_of
from rimcore.quantities.contract import Calculation, Key, check_object, number_key
from rimcore.quantities.errors import BadInput

Floats = NDArray[np.float64]
LARGE, MOST_RUNS, MOST_SAMPLES, MOST_FAMILY = 1e9, 100_000, 1_000_000, 200


def _runs_key(name: str, meaning: str, **more: Any) -> Key:
    return Key(
        name, "list", meaning, most=MOST_RUNS, item=number_key("", "a figure", "", -LARGE, LARGE, required=True), **more
    )


def _covariates(value: Any) -> dict[str, tuple[tuple[float, ...], tuple[float, ...]]]:
    if not isinstance(value, dict) or len(value) > 20:
        raise BadInput("must be an object of 20 names at the most; accepted: {name: {before: […], after: […]}}")
    found = {}
    for name, sides in value.items():
        keys = (_runs_key("before", "of each run", required=True), _runs_key("after", "of each run", required=True))
        both = check_object(sides, keys, str(name)[:80])
        found[str(name)] = (tuple(both["before"]), tuple(both["after"]))
    return found


_SIDES = (
    _runs_key("before", "runs before, one at least"),
    _runs_key("after", "runs after, one at least"),
    Key(
        "design",
        "choice",
        "how they were driven",
        choices=("unpaired", "paired", "drift"),
        default="unpaired",
    ),
    _runs_key("before_at", "with drift: time or number of each run before"),
    _runs_key("after_at", "with drift: time or number of each run after"),
    Key("covariates", "any", "{name: {before: […], after: […]}}; not with paired", read=_covariates),
    number_key("confidence", "of the interval", "", 0.01, 0.999999, default=0.95),
    Key("better", "choice", "which way is better", choices=("less", "more")),
    number_key("useful", "smallest change worth having, more than 0", "", 1e-12, LARGE),
    number_key("resolution", "step in which the runs are read, more than 0", "", 1e-12, LARGE),
)


def _asked(given: dict[str, Any], path: str = "") -> Asked:
    """One comparison, with what belongs together checked together."""

    def at(name: str) -> str:
        return f"{path}.{name}" if path else name

    for name in ("before", "after"):
        if not given[name]:
            raise BadInput("is missing; accepted: one run at least", at(name))
    counts = {name: len(given[name]) for name in ("before", "after")}
    if given["design"] == "paired":
        if counts["before"] != counts["after"]:
            raise BadInput("has another length than before; accepted: pairs, in order", at("after"))
        if given["covariates"]:
            raise BadInput("is not taken with paired runs", at("covariates"))
    for side in ("before", "after"):
        when = given[f"{side}_at"]
        if given["design"] == "drift" and (when is None or len(when) != counts[side]):
            raise BadInput("accepted: one time for each run", at(f"{side}_at"))
        for name, sides in (given["covariates"] or {}).items():
            if len(sides[side == "after"]) != counts[side]:
                raise BadInput("accepted: one value for each run", at(f"covariates.{name}.{side}"))
    return Asked(
        tuple(given["before"]),
        tuple(given["after"]),
        design=given["design"],
        before_at=tuple(given["before_at"] or ()),
        after_at=tuple(given["after_at"] or ()),
        covariates=given["covariates"] or {},
        confidence=given["confidence"],
        better=given["better"] or "",
        useful=given["useful"],
        resolution=given["resolution"],
    )


def _compare(given: dict[str, Any]) -> dict[str, Any]:
    if given["family"] is None:
        return as_dict(change_of(_asked(given)))
    for name in ("before", "after"):
        if given[name] is not None:
            raise BadInput("is not taken beside a family", name)
    asked = [_asked(one, f"family.{k}") for k, one in enumerate(given["family"])]
    names = [one["name"] for one in given["family"]]
    return {
        "results": [
            {"name": name, **as_dict(found), "p_holm": p, "real_of_family": real}
            for name, (found, p, real) in zip(names, family_of(asked), strict=True)
        ]
    }


_CHANGE_KEYS = (
    Key("change", "number", "after less before"),
    Key("low", "number", "of the interval"),
    Key("high", "number", "of the interval"),
    Key("se", "number", "standard error"),
    Key("df", "number", "degrees of freedom"),
    Key("p", "number", "two-sided"),
    Key("real", "boolean", "the interval does not hold 0"),
    Key("mean_before", "number", "of the runs before"),
    Key("mean_after", "number", "of the runs after"),
    Key("change_pct", "number", "of the mean before", "%"),
    Key("worth", "text", "yes, no or open, with useful and better"),
    Key("shown_from", "number", "the least change that these runs show"),
    Key("runs_for", "integer", "least runs a side, or pairs, for a power of 0.8"),
    Key("odd", "list", "side, index of odd runs; none is left out"),
    Key("not_told_apart", "list", "covariates and time that do not overlap"),
    Key("warnings", "list", "in words"),
)
COMPARE = Calculation(
    "compare",
    "is the change real, and is it worth anything",
    "Welch (1947); t; least squares; Holm (1979); noncentral t (Cohen, 1988); Iglewicz and Hoaglin (1993)",
    (
        *_SIDES,
        Key(
            "family",
            "list",
            "comparisons that are claimed together, each with a name, instead of the rest",
            most=MOST_FAMILY,
            item=Key("", "object", "one", keys=(Key("name", "text", "of it", required=True), *_SIDES)),
        ),
    ),
    (*_CHANGE_KEYS, Key("results", "list", "of a family: name, the above, p_holm, real_of_family")),
    _compare,
)


def _honest(found: Honesty) -> dict[str, Any]:
    return {name: getattr(found, name) for name in _HONEST}


_HONEST = {
    "n": "pairs",
    "bias": "mean of measured less promised",
    "bias_low": "of its 95 % interval",
    "bias_high": "of its 95 % interval",
    "scale": "root mean square of the errors, 1 as stated",
    "scale_low": "of its 95 % interval",
    "scale_high": "of its 95 % interval",
    "covered_pct": "within what was stated",
    "scatter": "standard deviation of the errors, 1 as stated",
    "scatter_low": "of its 95 % interval",
    "scatter_high": "of its 95 % interval",
    "verdict": "too few, leaning, too sure, too careful or honest",
    "correct_by": "to be added to what is promised",
    "widen_by": "factor of the stated ±",
}


def _calibrate(given: dict[str, Any]) -> dict[str, Any]:
    pairs = [Pair(one["promised"], one["measured"], one["pm"], one["group"] or "") for one in given["pairs"]]
    return {
        **_honest(honesty_of(pairs)),
        "groups": {name: _honest(found) for name, found in by_group(pairs).items()},
    }


CALIBRATE = Calculation(
    "calibrate",
    "are our promises honest",
    "t and χ² intervals of a normal sample (NIST/SEMATECH e-Handbook of Statistical Methods, § 1.3.5)",
    (
        Key(
            "pairs",
            "list",
            "what was promised and what came",
            required=True,
            most=MOST_RUNS,
            item=Key(
                "",
                "object",
                "a pair",
                keys=(
                    number_key("promised", "as it was said", "", -LARGE, LARGE, required=True),
                    number_key("measured", "as it came", "", -LARGE, LARGE, required=True),
                    number_key(
                        "pm", "95 % half-width of their difference, more than 0", "", 1e-12, LARGE, required=True
                    ),
                    Key("group", "text", "kind of promise", longest=80),
                ),
            ),
        ),
    ),
    (
        *(Key(name, "text" if name == "verdict" else "number", meaning) for name, meaning in _HONEST.items()),
        Key("groups", "object", "{group: the same}"),
    ),
    _calibrate,
)


def _samples(columns: tuple[tuple[str, float, float], ...]) -> Any:
    """Reads rows of numbers: the first column rises."""
    accepted = f"accepted: rows of {len(columns)} numbers ({', '.join(name for name, _, _ in columns)}), two at least"

    def read(value: Any) -> Floats:
        if not isinstance(value, list) or not 2 <= len(value) <= MOST_SAMPLES:
            raise BadInput(accepted)
        width = len(columns)
        for place, row in enumerate(value):
            if not isinstance(row, list) or len(row) != width:
                raise BadInput(accepted, str(place))
            for one in row:
                if type(one) is not float and type(one) is not int:
                    raise BadInput(accepted, str(place))
        try:
            found = np.array(value, dtype=float)
        except (OverflowError, ValueError) as error:
            raise BadInput(accepted) from error
        for column, (name, low, high) in enumerate(columns):
            wrong = np.flatnonzero(~((found[:, column] >= low) & (found[:, column] <= high)))
            if wrong.size:
                raise BadInput(f"{name} is out of range; accepted: {low:g} to {high:g}", str(int(wrong[0])))
        back = np.flatnonzero(np.diff(found[:, 0]) <= 0)
        if back.size:
            raise BadInput("time does not rise; accepted: each later than the one before", str(int(back[0]) + 1))
        return found

    return read


def _gate(value: Any) -> Gate:
    good = isinstance(value, list) and len(value) == 2 and all(isinstance(one, list) and len(one) == 2 for one in value)
    if not good or any(isinstance(x, bool) or not isinstance(x, (int, float)) for one in value for x in one):
        raise BadInput("accepted: [[lat, lon], [lat, lon]]")
    if any(not -90 <= lat <= 90 or not -180 <= lon <= 180 for lat, lon in value):
        raise BadInput("is out of range; accepted: latitude −90 to 90, longitude −180 to 180")
    if value[0] == value[1]:
        raise BadInput("has no length; accepted: two different points")
    (a, b), (c, d) = value
    return (float(a), float(b)), (float(c), float(d))


def _laps(given: dict[str, Any]) -> dict[str, Any]:
    found = runs_of(given["samples"], given["start"], given["finish"], given["least_s"])
    names = ("start_s", "time_s", "distance_m", "mean_kmh", "top_kmh", "gap")
    return {
        "runs": [{name: getattr(run, name) for name in names} for run in found.runs],
        "best": found.best,
        "delta": [{"run": k, "at": at} for k, at in found.delta],
        "warnings": list(found.warnings),
    }


LAPS = Calculation(
    "laps",
    "runs out of a position log",
    "plane about the gate, R = 6,371,008.8 m; crossings by proportion",
    (
        Key(
            "samples",
            "any",
            "[[time s, latitude, longitude]], time rising",
            required=True,
            read=_samples((("time", -LARGE, LARGE), ("latitude", -90, 90), ("longitude", -180, 180))),
        ),
        Key("start", "any", "gate, [[lat, lon], [lat, lon]]", required=True, read=_gate),
        Key("finish", "any", "another gate; absent: laps over start", read=_gate),
        number_key("least_s", "what follows sooner does not count", "s", 0.0, 100_000.0, default=10.0),
    ),
    (
        Key("runs", "list", "start_s, time_s, distance_m, mean_kmh, top_kmh, gap"),
        Key("best", "integer", "index of the quickest without a gap"),
        Key("delta", "list", "run, at: 21 values of time less the best's at the same share of the distance"),
        Key("warnings", "list", "in words"),
    ),
    _laps,
)


def _stop(given: dict[str, Any]) -> dict[str, Any]:
    if given["to_kmh"] >= given["from_kmh"]:
        raise BadInput("accepted: less than from_kmh", "to_kmh")
    found = stops_of(given["samples"], given["from_kmh"], given["to_kmh"], given["slope_pct"])
    names = ("start_s", "time_s", "distance_m", "mean_g", "level_m")
    return {"stops": [{name: getattr(one, name) for name in names} for one in found]}


STOP = Calculation(
    "stop",
    "braking distance out of a speed log",
    "trapezoidal rule; v² = 2 a s",
    (
        Key(
            "samples",
            "any",
            "[[time s, speed km/h]], time rising",
            required=True,
            read=_samples((("time", -LARGE, LARGE), ("speed", 0, 1000))),
        ),
        number_key("from_kmh", "from this speed", "km/h", 0.0, 1000.0, required=True),
        number_key("to_kmh", "to this speed; 0: to rest", "km/h", 0.0, 1000.0, required=True),
        number_key("slope_pct", "of the road, uphill plus", "%", -100.0, 100.0),
    ),
    (Key("stops", "list", "start_s, time_s, distance_m, mean_g, level_m"),),
    _stop,
)
PROVEN = {one.name: one for one in (COMPARE, CALIBRATE, LAPS, STOP)}
