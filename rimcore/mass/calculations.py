"""Mass on the command line: balance and the best set to take out."""

from __future__ import annotations

from typing import Any

from rimcore.mass.balance import Item, Stands, after, behind_front_mm, right_of_centre_mm
from rimcore.mass.lighten import LEAST, Limits, lighten
from rimcore.mass.lighten import Item as Out
from rimcore.quantities.contract import Calculation, Key, number_key
from rimcore.quantities.errors import BadInput
from rimcore.tables.facts import CORNERS

PLACE_MM, KG, MOST_ITEMS = (-20_000.0, 20_000.0), (-100_000.0, 100_000.0), 200


def _balance(given: dict[str, Any]) -> dict[str, Any]:
    track = given["track_mm"]
    before = Stands(
        tuple(given["pads_kg"][name] for name in CORNERS),
        given["wheelbase_mm"],
        (track["front"], track["rear"]),
        given["cg_height_mm"],
    )
    items = [Item(one["name"], one["kg"], one["x_mm"], one["y_mm"], one["z_mm"]) for one in given["items"]]
    found = after(before, items)
    if found.total_kg <= 0:
        raise BadInput(f"leave {found.total_kg:.1f} kg of car; accepted: less taken out", "items")
    lifted = [name for name, load in zip(CORNERS, found.pads_kg, strict=True) if load < 0]
    fl, fr, rl, rr = found.pads_kg
    return {
        "pads_after_kg": dict(zip(CORNERS, found.pads_kg, strict=True)),
        "total_kg": found.total_kg,
        "front_pct": 100 * (fl + fr) / found.total_kg,
        "left_pct": 100 * (fl + rl) / found.total_kg,
        "cross_pct": 100 * (fr + rl) / found.total_kg,
        "cg_after_mm": {
            "behind_front_axle": behind_front_mm(found),
            "right_of_centre": right_of_centre_mm(found),
            "height": found.cg_height_mm,
        },
        "warnings": [f"{', '.join(lifted)} lifts: its pad comes out below 0."] if lifted else [],
    }


_CORNER_KEYS = tuple(number_key(name, f"at {name}", "kg", 0.0, 100_000.0, required=True) for name in CORNERS)
BALANCE = Calculation(
    "balance",
    "four corners and centre of gravity after items went in or out",
    "a rigid body on four equal springs (statics); linear beyond axles and track",
    (
        Key("pads_kg", "object", "loads of the four pads before", required=True, keys=_CORNER_KEYS),
        number_key("wheelbase_mm", "between the axles", "mm", 100.0, 20_000.0, required=True),
        Key(
            "track_mm",
            "object",
            "track of both ends",
            required=True,
            keys=tuple(number_key(end, end, "mm", 100.0, 20_000.0, required=True) for end in ("front", "rear")),
        ),
        number_key("cg_height_mm", "centre of gravity above the ground before", "mm", 0.0, 5000.0),
        Key(
            "items",
            "list",
            "what goes in or out",
            required=True,
            most=MOST_ITEMS,
            item=Key(
                "",
                "object",
                "one",
                required=True,
                keys=(
                    Key("name", "text", "what it is", required=True),
                    number_key("kg", "added is plus", "kg", *KG, required=True),
                    number_key("x_mm", "behind the front axle", "mm", *PLACE_MM, required=True),
                    number_key("y_mm", "right of the centre line", "mm", *PLACE_MM, required=True),
                    number_key("z_mm", "above the ground", "mm", *PLACE_MM),
                ),
            ),
        ),
    ),
    (
        Key("pads_after_kg", "object", "loads after", "kg"),
        number_key("total_kg", "of the car after", "kg"),
        number_key("front_pct", "share of the front axle", "%"),
        number_key("left_pct", "share of the left side", "%"),
        number_key("cross_pct", "front right and rear left", "%"),
        Key(
            "cg_after_mm",
            "object",
            "behind_front_axle, right_of_centre, height (null unless cg_height_mm and every z_mm are given)",
            "mm",
        ),
        Key("warnings", "list", "corners that lift"),
    ),
    _balance,
)


def _lighten(given: dict[str, Any]) -> dict[str, Any]:
    if (given["minimise"] is None) == (given["maximise"] is None):
        raise BadInput(
            "exactly one of minimise and maximise is wanted; accepted: minimise with goal_kg, or maximise",
            "minimise" if given["minimise"] is None else "maximise",
        )
    if given["minimise"] is not None and given["goal_kg"] is None:
        raise BadInput("is missing; accepted: a goal, which minimise needs", "goal_kg")
    if not given["items"]:
        raise BadInput("is empty; accepted: at least one item", "items")
    limits = given["limits"] or {"money": None, "hours": None, "reversible_only": False}
    items = [
        Out(
            name=one["name"],
            kg=one["kg"],
            put_back_kg=one["put_back_kg"],
            money=one["money"],
            hours=one["hours"],
            reversible=one["reversible"],
            allowed=one["allowed"],
            needs=tuple(one["needs"] or ()),
            not_with=tuple(one["not_with"] or ()),
        )
        for one in given["items"]
    ]
    found = lighten(
        items,
        Limits(limits["money"], limits["hours"], limits["reversible_only"]),
        given["goal_kg"],
        given["minimise"],
        given["frontier"],
        given["time_limit_s"],
    )
    pairs = None if found.frontier is None else [{"kg": kg, "money": money} for kg, money in found.frontier]
    return {
        "chosen": list(found.chosen),
        "kg": found.kg,
        "money": found.money,
        "hours": found.hours,
        "reached": found.reached,
        "best_possible_kg": found.best_possible_kg,
        "proven": found.proven,
        "bound_kg": found.bound_kg,
        "frontier": pairs,
        "warnings": list(found.warnings),
    }


_NAMES = Key("", "text", "another item's name", required=True)
LIGHTEN = Calculation(
    "lighten",
    "which items to take out: the cheapest set that reaches a goal, or the most kilograms within limits",
    "integer programming with gap 0 (HiGHS); compared to 1e-6",
    (
        Key(
            "items",
            "list",
            "what could come out",
            required=True,
            most=MOST_ITEMS,
            item=Key(
                "",
                "object",
                "one",
                required=True,
                keys=(
                    Key("name", "text", "once", required=True),
                    number_key("kg", "what comes out", "kg", 0.0, 100_000.0, required=True),
                    number_key("put_back_kg", "what goes in its place", "kg", 0.0, 100_000.0, default=0.0),
                    number_key("money", "cost; minus where it is sold", "", -1e9, 1e9, default=0.0),
                    number_key("hours", "work", "h", 0.0, 1e6, default=0.0),
                    Key("reversible", "boolean", "can go back in", default=True),
                    Key("allowed", "boolean", "may come out", default=True),
                    Key("needs", "list", "items that have to come out too", item=_NAMES, most=MOST_ITEMS),
                    Key(
                        "not_with",
                        "list",
                        "items that may not come out too; holds both ways",
                        item=_NAMES,
                        most=MOST_ITEMS,
                    ),
                ),
            ),
        ),
        Key(
            "limits",
            "object",
            "most money and hours",
            keys=(
                number_key("money", "most money", "", 0.0, 1e9),
                number_key("hours", "most hours", "h", 0.0, 1e9),
                Key("reversible_only", "boolean", "only what can go back", default=False),
            ),
        ),
        number_key("goal_kg", "net kilograms wanted", "kg", 0.0, 1e6),
        Key("minimise", "choice", "with goal_kg", choices=LEAST),
        Key("maximise", "choice", "within the limits", choices=("kg",)),
        Key("frontier", "boolean", "work out the undominated pairs; unasked up to 60 items"),
        number_key("time_limit_s", "longest search", "s", 0.1, 600.0, default=5.0),
    ),
    (
        Key("chosen", "list", "names in the order of items"),
        number_key("kg", "net", "kg"),
        number_key("money", "of them", ""),
        number_key("hours", "of them", "h"),
        Key("reached", "boolean", "is the goal reached; null without one"),
        number_key("best_possible_kg", "most within the limits", "kg"),
        Key("proven", "boolean", "nothing better exists"),
        number_key("bound_kg", "nothing beyond this exists; null where proven", "kg"),
        Key("frontier", "list", "undominated pairs of kg and money, money rising"),
        Key("warnings", "list", "what ran out of time"),
    ),
    _lighten,
)

WEIGHED = {one.name: one for one in (BALANCE, LIGHTEN)}
