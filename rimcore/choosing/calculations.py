"""Whole builds on the command line."""

from __future__ import annotations

from typing import Any

from rimcore.choosing.compose import BOUNDS, FIGURES, Composed, Option, Slot, Wish, compose, without
from rimcore.quantities.contract import Calculation, Key, id_key, number_key
from rimcore.quantities.errors import BadInput

MOST_SLOTS, MOST_OPTIONS, MOST_TUPLES, MOST_SETS = 30, 100, 20_000, 10
LARGE = 1e9


def _figure(name: str, meaning: str, unit: str, low: float) -> Key:
    return number_key(name, meaning, unit, low, LARGE, default=0.0)


_OPTION = Key(
    "",
    "object",
    "an option",
    keys=(
        id_key(required=True),
        _figure("money", "what it costs", "", -LARGE),
        _figure("kg", "what it adds; minus: off", "kg", -LARGE),
        _figure("hours", "hours to fit it", "h", -LARGE),
        _figure("lead_days", "days until it is there", "days", 0.0),
        _figure("score", "what it is worth to one", "", -LARGE),
    ),
)
_LIMITS = Key(
    "limits",
    "object",
    "sums at the most; lead_days: of every chosen one",
    keys=tuple(
        number_key(name, f"{name} at the most", "", -LARGE, LARGE) for name in ("money", "hours", "lead_days", "kg")
    ),
)
_LEAST = Key(
    "least",
    "object",
    "sums at the least",
    keys=tuple(number_key(name, f"{name} at the least", "", -LARGE, LARGE) for name in ("score", "kg_off")),
)


def _wish(given: dict[str, Any]) -> Wish:
    slots = tuple(
        Slot(one["name"], tuple(Option(**option) for option in one["options"]), one["required"])
        for one in given["slots"]
    )
    seen: dict[str, str] = {}
    names: set[str] = set()
    for k, slot in enumerate(slots):
        if slot.name in names:
            raise BadInput(f"“{slot.name}” stands twice; accepted: each slot once", f"slots.{k}.name")
        names.add(slot.name)
        for n, option in enumerate(slot.options):
            if option.id in seen:
                raise BadInput(
                    f"“{option.id}” stands twice; accepted: each id once over all slots", f"slots.{k}.options.{n}.id"
                )
            seen[option.id] = slot.name
    groups = [tuple(dict.fromkeys(group)) for group in given["not_together"]]
    for k, group in enumerate(given["not_together"]):
        if not 2 <= len(group) <= 4:
            raise BadInput("accepted: two to four ids", f"not_together.{k}")
        _known(group, seen, f"not_together.{k}")
    for k, need in enumerate(given["needs"]):
        _known([need["if"]], seen, f"needs.{k}.if")
        _known(need["any"], seen, f"needs.{k}.any")
    if len(given["not_together"]) + len(given["needs"]) > MOST_TUPLES:
        raise BadInput(f"accepted: {MOST_TUPLES} with needs at most", "not_together")
    return Wish(
        slots,
        tuple(groups),
        needs=tuple((need["if"], tuple(need["any"])) for need in given["needs"]),
        limits={name: value for name, value in (given["limits"] or {}).items() if value is not None},
        least={name: value for name, value in (given["least"] or {}).items() if value is not None},
        goal=given["goal"],
        top=given["top"],
        differ=given["differ"],
    )


def _known(ids: list[str], seen: dict[str, str], path: str) -> None:
    for one in ids:
        if one not in seen:
            raise BadInput(f"no “{one}” there; accepted: ids of the slots' options", path)


def _compose(given: dict[str, Any]) -> dict[str, Any]:
    wish = _wish(given)
    found: Composed = compose(wish)
    told = without(wish) if given["without"] else ()
    return {
        "sets": [{"chosen": dict(one.chosen), **{name: one.figures[name] for name in FIGURES}} for one in found.sets],
        "proven": found.proven,
        "without": [{"limit": name, "goal": value} for name, value in told],
    }


COMPOSE = Calculation(
    "compose",
    "the best sets of choices out of a list, one a slot",
    "mixed-integer linear programming, HiGHS (Huangfu and Hall, 2018)",
    (
        Key(
            "slots",
            "list",
            "what is to be chosen",
            required=True,
            most=MOST_SLOTS,
            item=Key(
                "",
                "object",
                "a slot",
                keys=(
                    id_key("name", required=True),
                    Key("required", "boolean", "exactly one; else at the most one", default=True),
                    Key("options", "list", "what it may hold", required=True, most=MOST_OPTIONS, item=_OPTION),
                ),
            ),
        ),
        Key(
            "not_together",
            "list",
            "groups that are never all chosen",
            most=MOST_TUPLES,
            item=Key("", "list", "two to four ids", most=4, item=id_key("", required=True)),
            default=[],
        ),
        Key(
            "needs",
            "list",
            "where one is chosen, one of others is",
            most=MOST_TUPLES,
            item=Key(
                "",
                "object",
                "a need",
                keys=(
                    id_key("if", required=True),
                    Key("any", "list", "ids", required=True, most=3000, item=id_key("", required=True)),
                ),
            ),
            default=[],
        ),
        _LIMITS,
        _LEAST,
        Key("goal", "choice", "what is to be best: least, score most", required=True, choices=FIGURES),
        Key("top", "integer", "how many sets", low=1, high=MOST_SETS, default=1),
        Key("without", "boolean", "what the goal would be without each limit", default=True),
        Key("differ", "integer", "slots in which sets differ at the least", low=1, high=MOST_SLOTS, default=1),
    ),
    (
        Key("sets", "list", "chosen {slot: id or null}, money, kg, hours, lead_days, score; best first"),
        Key("proven", "boolean", "no better set is there"),
        Key("without", "list", f"limit, goal; in the order {', '.join(BOUNDS)}"),
    ),
    _compose,
)
COMPOSED = {COMPOSE.name: COMPOSE}
