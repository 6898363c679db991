"""A tyre as it lies there: how old it is by its date code, and how much tread is left."""

from __future__ import annotations

import re
from dataclasses import replace
from datetime import date

from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import InputUsed, Judgement, State, unmeasured

#: a tyre is looked at closely from so many years on, and not driven on from so many [years] (common practice, from
#: memory)
OLD_YEARS, TOO_OLD_YEARS = 6.0, 10.0
#: least tread in many countries, and what is left where a tyre is due [mm]: directive 89/459/EEC for 1.6 mm; 3 mm, and
#: 4 mm in winter, common practice
LEAST_TREAD_MM, DUE_MM = 1.6, {"winter": 4.0}
USUAL_DUE_MM = 3.0
PRACTICE = "common practice, from memory; local law decides"


def made_on(code: str, today: date) -> date:
    """The Monday of the week in which a tyre was made.

    Parameters
    ----------
    code : the last four figures of the code on the side: week and year, such as ``2319``
    today : nothing is made later than this

    Raises
    ------
    BadInput : no such week, or one to come

    Source: 49 CFR 574.5, tyre identification number; weeks as in ISO 8601.

    >>> made_on("2319", date(2026, 12, 1))
    datetime.date(2019, 6, 3)
    """
    found = re.fullmatch(r"\D*(\d{2})[\s/]?(\d{2})", code.strip())
    if found is None or not 1 <= int(found[1]) <= 53:
        raise BadInput(f"“{code.strip()[:20]}” is no date code; accepted: week and year, as 2319", "code")
    try:
        made = date.fromisocalendar(2000 + int(found[2]), int(found[1]), 1)
    except ValueError as error:
        raise BadInput(f"“{code.strip()[:20]}”: that year has no week {found[1]}", "code") from error
    if made > today:
        raise BadInput(f"“{code.strip()[:20]}” is a week to come; accepted: week and year, as 2319", "code")
    return made


def judge_age(code: str, today: date, where: str = "") -> Judgement:
    """Is a tyre too old to drive on?

    Parameters
    ----------
    code : week and year, or empty where it was not read
    today : the day on which it is asked
    where : front, rear, or empty

    Source: common practice, from memory.

    >>> judge_age("2319", date(2026, 12, 1)).state, judge_age("", date(2026, 12, 1)).state
    ('tight', 'unmeasured')
    """
    name = "Age of the tyres"
    if not code:
        how = ["read the last four figures of the code on the side"]
        return replace(unmeasured("set.age", name, "date code not read", ["tyre.code"], how), where=where)
    made = made_on(code, today)
    years = (today - made).days / 365.25
    state: State = "hit" if years > TOO_OLD_YEARS else "tight" if years > OLD_YEARS else "clear"
    words = {
        "clear": "",
        "tight": f"; over {OLD_YEARS:g} years: look for cracks every year",
        "hit": f"; over {TOO_OLD_YEARS:g} years: replace them",
    }
    return Judgement(
        "set.age",
        name,
        state,
        f"{years:.1f} years, made in week {made.isocalendar().week} of {made.isocalendar().year}{words[state]}",
        PRACTICE,
        value=years,
        unit="years",
        held_against=OLD_YEARS,
        margin=None,
        where=where,
        formula=f"{today:%-d %b %Y} − {made:%-d %b %Y}",
        inputs=(InputUsed("date code", code, "read off the side"),),
        remedies=() if state == "clear" else ("other tyres",),
    )


def judge_tread(tread_mm: float | None, purpose: str, where: str = "") -> Judgement:
    """Is there tread enough, for what the set is used for?

    Parameters
    ----------
    tread_mm : least depth that was read, 0 to 25 [mm]; None where nobody did
    purpose : ``winter`` wants more; anything else the usual
    where : front, rear, or empty

    Source: Council Directive 89/459/EEC for 1.6 mm, from memory; what is due before, common practice.

    >>> [judge_tread(mm, "winter").state for mm in (5.0, 3.5, 1.5)], judge_tread(3.5, "summer").state
    (['clear', 'tight', 'hit'], 'clear')
    """
    name, due = "Tread", DUE_MM.get(purpose, USUAL_DUE_MM)
    if tread_mm is None:
        how = ["a depth gauge, at the least place"]
        return replace(unmeasured("set.tread", name, "not read", ["tyre.tread"], how), where=where)
    state: State = "hit" if tread_mm < LEAST_TREAD_MM else "tight" if tread_mm < due else "clear"
    return Judgement(
        "set.tread",
        name,
        state,
        f"{tread_mm:g} mm; {due:g} mm wanted, {LEAST_TREAD_MM:g} mm the least in many countries",
        PRACTICE,
        value=tread_mm,
        unit="mm",
        held_against=due,
        margin=tread_mm - due,
        where=where,
        inputs=(InputUsed("tread", f"{tread_mm:g} mm", "depth gauge"),),
        remedies=() if state == "clear" else ("other tyres",),
    )
