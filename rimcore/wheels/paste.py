"""One pasted line or one table row of an offer: specification, mass, price, lead time, supplier, link."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace

from rimcore.limits import LIMITS
from rimcore.quantities.errors import BadInput, CoreError
from rimcore.quantities.units import parse_quantity
from rimcore.wheels.hub import parse_seat
from rimcore.wheels.tyre import Tyre, parse_tyre
from rimcore.wheels.wheel import Wheel, parse_wheel

ACCEPTED = "18x9.5 +22 5x114.3 73.1, 8.4 kg, 310, 6 weeks, supplier, link"
#: longest cell of a table that is read, in characters
LONGEST_CELL = 500
DAYS = {"day": 1, "week": 7, "month": 30}


@dataclass(frozen=True)
class Offer:
    """What a line said. Masses in kg, price in minor units, lead time in days; None was not said."""

    wheel: Wheel | None = None
    tyre: Tyre | None = None
    mass_kg: float | None = None
    price_minor: int | None = None
    lead_days: int | None = None
    seat: str = ""
    pad_thickness_mm: float | None = None
    load_kg: float | None = None
    supplier: str = ""
    link: str = ""
    note: str = ""


def parse_offer(line: str) -> Offer:
    """Read one pasted line.

    The first part is the wheel or the tyre; the rest, in any order: a mass (with its unit), a price,
    a lead time (days, weeks, months or in stock), a lug seat, ``pad 12 mm``, ``load 690 kg``, a link;
    the first other words are the supplier, the rest a note.

    Raises
    ------
    BadInput : no wheel or tyre at the start, or a value said twice

    Examples
    --------
    >>> offer = parse_offer("18x9.5 +22 5x114.3 73.1, 8.4 kg, 310, 6 weeks")
    >>> offer.mass_kg, offer.price_minor, offer.lead_days
    (8.4, 31000, 42)
    """
    if len(line) > 500:
        raise BadInput("the line is too long (500 characters at most)", "line")
    parts = parted(line)
    if not parts:
        raise BadInput(f"nothing was written; accepted: {ACCEPTED}", "line")
    offer = _headed(parts[0])
    for part in parts[1:]:
        offer = _with_part(offer, part)
    return offer


def parted(line: str) -> list[str]:
    """Parts of a line between commas, semicolons, bars or tabs; a comma in a figure parts nothing.

    >>> parted("18x9,5 +22, 8,4 kg;Nook Lane")
    ['18x9,5 +22', '8,4 kg', 'Nook Lane']
    """
    return [part.strip() for part in re.split(r",(?=\s)|(?<!\d),|,(?!\d)|[;\t|]", line) if part.strip()]


#: column names that are understood, lower case
COLUMNS = {
    "spec": "spec",
    "wheel": "spec",
    "tyre": "spec",
    "tire": "spec",
    "size": "spec",
    "specification": "spec",
    "mass": "mass",
    "weight": "mass",
    "kg": "mass",
    "mass_kg": "mass",
    "weight_kg": "mass",
    "price": "price",
    "cost": "price",
    "lead": "lead",
    "lead time": "lead",
    "delivery": "lead",
    "lead_time": "lead",
    "supplier": "supplier",
    "shop": "supplier",
    "seller": "supplier",
    "link": "link",
    "url": "link",
    "seat": "seat",
    "pad": "pad",
    "load": "load",
    "note": "note",
    "name": "note",
}


def parse_row(row: Mapping[str, str]) -> Offer:
    """Read one table row by its column names (see ``COLUMNS``); unknown columns are left out.

    >>> parse_row({"size": "225/45R17 94W", "price": "96.50", "lead time": "5"}).lead_days
    5
    """
    cells = {
        COLUMNS[name.strip().lower()]: cell.strip()
        for name, cell in row.items()
        if name and cell and name.strip().lower() in COLUMNS and cell.strip()
    }
    long = next((name for name, cell in cells.items() if len(cell) > LONGEST_CELL), None)
    if long is not None:
        raise BadInput(f"the cell is too long ({LONGEST_CELL} characters at most)", long)
    if "spec" not in cells:
        raise BadInput("no wheel or tyre in this row; accepted: a column spec, wheel, tyre or size", "spec")
    offer = _headed(cells["spec"])
    if "mass" in cells:
        offer = replace(offer, mass_kg=read_mass_kg(cells["mass"], "kg"))
    if "price" in cells:
        offer = replace(offer, price_minor=read_price_minor(cells["price"]))
    if "lead" in cells:
        offer = replace(offer, lead_days=read_lead_days(cells["lead"], bare=True))
    if "seat" in cells:
        offer = replace(offer, seat=str(parse_seat(cells["seat"])))
    if "pad" in cells:
        offer = replace(offer, pad_thickness_mm=_pad(cells["pad"]))
    if "load" in cells:
        offer = replace(offer, load_kg=_load(cells["load"]))
    return replace(
        offer,
        supplier=cells.get("supplier", "")[:80],
        link=read_link(cells.get("link", "")),
        note=cells.get("note", "")[:200],
    )


def _headed(text: str) -> Offer:
    if re.search(r"/\s*\d{2,3}\s*Z?\s*[RDB-]|\d[RD]\d{2}", text.upper()) and not re.search(r"\bET|J\b", text.upper()):
        return Offer(tyre=parse_tyre(text))
    return Offer(wheel=parse_wheel(text))


def _with_part(offer: Offer, part: str) -> Offer:
    if re.match(r"[-−–]\s*[\d.,]*\d", part):
        raise BadInput(
            f"“{part}” is below zero; accepted: a weight, price or lead time of 0 or more, as 8.4 kg, 310, 6 weeks",
            "line",
        )
    readers = (as_link, as_lead, _as_pad, _as_load, _as_seat, _as_mass, as_price)
    for reader in readers:
        found = reader(part)
        if found:
            ((name, value),) = found.items()
            if getattr(offer, name) not in (None, ""):
                raise BadInput(f"“{part}”: the {name.split('_')[0]} is said twice", "line")
            return replace(offer, **found)  # type: ignore[arg-type]
    if not offer.supplier:
        return replace(offer, supplier=part[:80])
    return replace(offer, note=f"{offer.note} {part}".strip()[:200])


def as_link(part: str) -> dict[str, object]:
    return {"link": read_link(part)} if re.match(r"https?://", part, re.IGNORECASE) else {}


def as_lead(part: str) -> dict[str, object]:
    days = read_lead_days(part, bare=False)
    return {} if days is None else {"lead_days": days}


def _as_pad(part: str) -> dict[str, object]:
    match = re.match(r"pad\s+(.+)$", part, re.IGNORECASE)
    return {"pad_thickness_mm": _pad(match[1])} if match else {}


def _as_load(part: str) -> dict[str, object]:
    match = re.match(r"(?:load|rated|rating)\s+(.+)$", part, re.IGNORECASE)
    return {"load_kg": _load(match[1])} if match else {}


def _as_seat(part: str) -> dict[str, object]:
    if not re.search(r"\b(cone|conical|taper|ball|flat|spherical)\b", part, re.IGNORECASE):
        return {}
    return {"seat": str(parse_seat(part))}


def _as_mass(part: str) -> dict[str, object]:
    if not re.search(r"\d\s*(kg|g|lbs?|oz)\b", part, re.IGNORECASE):
        return {}
    try:
        return {"mass_kg": read_mass_kg(part, None)}
    except CoreError:
        return {}


def as_price(part: str) -> dict[str, object]:
    if not re.fullmatch(
        r"(?:[A-Z]{3}|[€£$])?\s*\d[\d .]*(?:[.,]\d{1,2})?\s*(?:[A-Z]{3}|[€£$])?(?:\s*(?:each|a piece))?", part
    ):
        return {}
    return {"price_minor": read_price_minor(part)}


def read_mass_kg(text: str, default: str | None) -> float:
    """Mass of a part [kg]; a bare figure is in ``default``, or refused where that is None."""
    value = parse_quantity(text, "mass", default).value
    if not LIMITS["mass_kg"].holds(value):
        raise BadInput(
            f"“{text}” is no weight of a part; accepted: {LIMITS['mass_kg'].accepted}, as 8.4 kg or 18 lb 8 oz", "mass"
        )
    return value


def _load(text: str) -> float:
    value = parse_quantity(text, "mass", "kg").value
    if not LIMITS["load_kg"].holds(value):
        raise BadInput(f"“{text}” is no load rating; accepted: {LIMITS['load_kg'].accepted}", "load")
    return value


def _pad(text: str) -> float:
    value = parse_quantity(text, "length", "mm").value
    if not LIMITS["pad_thickness_mm"].holds(value):
        raise BadInput(f"“{text}” is no pad thickness; accepted: {LIMITS['pad_thickness_mm'].accepted}", "pad")
    return value


def read_price_minor(text: str) -> int:
    """A price [minor units], with or without its currency.

    >>> read_price_minor("310.50 EUR")
    31050
    """
    if re.search(r"[-−–—]\s*[€£$]?\s*\d|\(\s*\d", text):
        raise BadInput(f"“{text}” is below zero; accepted: a price of 0 or more, as 310 or 310.50", "price")
    number = re.sub(r"[^\d.,]", "", text).replace(",", ".")
    try:
        value = round(float(number) * 100)
    except ValueError as error:
        raise BadInput(f"“{text}” is no price; accepted: 310 or 310.50", "price") from error
    if not LIMITS["price_minor"].holds(value):
        raise BadInput("the price is out of range; accepted: 0 to 10 000 000", "price")
    return value


def read_lead_days(text: str, bare: bool) -> int | None:
    """A lead time [days]; ``bare`` takes a figure without its unit for days, else what is no lead time is None.

    >>> read_lead_days("6 weeks", False), read_lead_days("8.4 kg", False)
    (42, None)
    """
    folded = text.strip().lower()
    if folded in ("in stock", "stock", "now"):
        return 0
    match = re.fullmatch(r"(?:about\s+|in\s+)?(\d+(?:[.,]\d+)?)\s*(day|week|month|wk|d|w)s?", folded)
    if match and len(match[1]) > 8:
        raise BadInput("the lead time is over 1000 days", "lead")
    if match:
        unit = {"wk": "week", "d": "day", "w": "week"}.get(match[2], match[2])
        days = round(float(match[1].replace(",", ".")) * DAYS[unit])
    elif bare and re.fullmatch(r"\d{1,6}", folded):
        days = int(folded)
    elif bare:
        raise BadInput(f"“{text}” is no lead time; accepted: 5 days, 6 weeks, 3 months, in stock", "lead")
    else:
        return None
    if not LIMITS["lead_days"].holds(days):
        raise BadInput("the lead time is over 1000 days", "lead")
    return days


def read_link(text: str) -> str:
    """A link to an offer; blank stays blank."""
    if text and not re.match(r"https?://[^\s<>\"']+$", text, re.IGNORECASE):
        raise BadInput(f"“{text}” is no link; accepted: one that begins with http:// or https://", "link")
    if len(text) > 300:
        raise BadInput("the link is too long (300 characters at most)", "link")
    return text
