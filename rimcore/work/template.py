"""A job sheet of one's own as JSON: out, and in again with every figure checked."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any

from rimcore.fastening.bolts import CLASSES, read_thread
from rimcore.quantities.errors import BadInput, CoreError
from rimcore.tables.facts import CORNERS
from rimcore.work.steps import KINDS, PHASES, Joint, StepPlan

FORMAT, VERSION = "rim-tally job", 1
#: longest text that is read [characters], and most steps
LONGEST, MOST_STEPS = 400_000, 300
TEXTS = {"title": 160, "detail": 2000, "caution": 2000, "share": 60, "opens": 40, "module": 200, "stage": 10}
LISTS = ("tools", "consumables", "salvage", "gates", "does", "reads")
JOINT_TEXTS = {"name": 80, "thread": 20, "grade": 10, "source": 80}


@dataclass(frozen=True)
class Template:
    """A job sheet by name, without the car it was made on."""

    name: str
    steps: tuple[StepPlan, ...]


def written(template: Template) -> str:
    """A template as JSON text.

    >>> read(written(Template("Wheels", (StepPlan("Fit", "do", "Wheel on"),)))).steps[0].title
    'Wheel on'
    """
    steps = [_said(step) for step in template.steps]
    return json.dumps(
        {"format": FORMAT, "version": VERSION, "name": template.name, "steps": steps}, ensure_ascii=False, indent=2
    )


def _said(step: StepPlan) -> dict[str, Any]:
    """What a step says; blank is left out."""
    whole = step.as_dict()
    joint = whole.pop("joint")
    found = {
        name: list(value) if isinstance(value, tuple) else value
        for name, value in whole.items()
        if value not in ("", None, 0, (), False)
    }
    if joint is not None:
        found["joint"] = {name: value for name, value in joint.items() if value not in ("", None, False)}
    return found


def read(text: str) -> Template:
    """Read a template; nothing is taken that a sheet could not have.

    Raises
    ------
    BadInput : with the place and what is accepted
    """
    if len(text) > LONGEST:
        raise BadInput(f"the file is over {LONGEST} characters", "file")
    try:
        whole = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise BadInput("no JSON; accepted: a template that was saved here", "file") from error
    if not isinstance(whole, dict) or whole.get("format") != FORMAT or whole.get("version") != VERSION:
        raise BadInput(f"not a job template; accepted: “format”: “{FORMAT}”, “version”: {VERSION}", "file")
    name, rows = whole.get("name"), whole.get("steps")
    if not isinstance(name, str) or not 0 < len(name.strip()) <= 80:
        raise BadInput("a template has a name of 1 to 80 characters", "name")
    if not isinstance(rows, list) or not 0 < len(rows) <= MOST_STEPS:
        raise BadInput(f"accepted: 1 to {MOST_STEPS} steps", "steps")
    return Template(name.strip(), tuple(_step(row, f"steps.{k}") for k, row in enumerate(rows)))


def _step(row: Any, where: str) -> StepPlan:
    known = set(StepPlan.__dataclass_fields__)
    if not isinstance(row, dict) or set(row) - known:
        odd = sorted(map(str, set(row) - known)) if isinstance(row, dict) else []
        raise BadInput(
            f"no step{': ' + ', '.join(odd)[:80] if odd else ''}; accepted: {', '.join(sorted(known))}", where
        )
    if row.get("phase") not in PHASES:
        raise BadInput(f"no such phase; accepted: {', '.join(PHASES)}", f"{where}.phase")
    if row.get("kind", "do") not in KINDS:
        raise BadInput(f"no such kind; accepted: {', '.join(KINDS)}", f"{where}.kind")
    texts: Any = {name: _text(row.get(name, ""), most, f"{where}.{name}") for name, most in TEXTS.items()}
    if not texts["title"]:
        raise BadInput("a step has a title", f"{where}.title")
    if row.get("corner", "") not in ("", *CORNERS):
        raise BadInput(f"no such corner; accepted: {', '.join(CORNERS)}", f"{where}.corner")
    lists: Any = {name: _texts(row.get(name, []), f"{where}.{name}") for name in LISTS}
    joint = _joint(row.get("joint"), f"{where}.joint")
    if row.get("kind") == "torque" and joint is None:
        raise BadInput("a torque step has a joint", f"{where}.joint")
    return StepPlan(
        row["phase"],
        row.get("kind", "do"),
        texts.pop("title"),
        corner=row.get("corner", ""),
        torque_nm=_figure(row.get("torque_nm"), 0.1, 5000, f"{where}.torque_nm"),
        lugs=_count(row.get("lugs"), f"{where}.lugs"),
        helpers=_count(row.get("helpers", 0), f"{where}.helpers", 0) or 0,
        joint=joint,
        late=_flag(row.get("late", False), f"{where}.late"),
        **texts,
        **lists,
    )


def _joint(row: Any, where: str) -> Joint | None:
    if row is None:
        return None
    if not isinstance(row, dict) or set(row) - set(Joint.__dataclass_fields__):
        raise BadInput(f"no joint; accepted: {', '.join(Joint.__dataclass_fields__)}", where)
    texts: Any = {name: _text(row.get(name, ""), most, f"{where}.{name}") for name, most in JOINT_TEXTS.items()}
    if not texts["name"]:
        raise BadInput("a joint has a name", f"{where}.name")
    try:
        _ = read_thread(texts["thread"]) if texts["thread"] else None
    except CoreError as error:
        raise BadInput(error.message, f"{where}.thread") from error
    if texts["grade"] and texts["grade"] not in CLASSES:
        raise BadInput(f"no such class; accepted: {', '.join(CLASSES)}", f"{where}.grade")
    flags: Any = {name: row.get(name, False) for name in ("one_use", "crosswise")}
    if not all(isinstance(flag, bool) for flag in flags.values()):
        raise BadInput("true or false", where)
    return Joint(
        count=_count(row.get("count"), f"{where}.count"),
        torque_nm=_figure(row.get("torque_nm"), 0.1, 5000, f"{where}.torque_nm"),
        angle_deg=_figure(row.get("angle_deg"), 0.0, 1080, f"{where}.angle_deg"),
        **texts,
        **flags,
    )


def _text(value: Any, most: int, where: str) -> str:
    if not isinstance(value, str) or len(value) > most:
        raise BadInput(f"accepted: a text of up to {most} characters", where)
    return value.strip()


def _texts(value: Any, where: str) -> tuple[str, ...]:
    if not isinstance(value, list) or len(value) > 40:
        raise BadInput("accepted: a list of up to 40 texts", where)
    return tuple(_text(one, 120, where) for one in value)


def _flag(value: Any, where: str) -> bool:
    if not isinstance(value, bool):
        raise BadInput("true or false", where)
    return value


def _figure(value: Any, low: float, high: float, where: str) -> float | None:
    if value is None:
        return None
    if isinstance(value, bool) or not isinstance(value, (int, float)) or not low <= value <= high:
        raise BadInput(f"accepted: {low:g} to {high:g}", where)
    return float(value)


def _count(value: Any, where: str, low: int = 1) -> int | None:
    if value is None:
        return None
    if isinstance(value, bool) or not isinstance(value, int) or not low <= value <= 100:
        raise BadInput(f"accepted: a whole number from {low} to 100", where)
    return value
