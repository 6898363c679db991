"""One pasted line or one table row of a part of any family; its grammar comes from the family's declaration.

Quantities stand in any order, with units as people write them. What was not understood is said: nothing is dropped.
Longer than other files: lines and rows are read by one declaration.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cache
from typing import Any

from rimcore.families import FAMILIES, PAIRED
from rimcore.kits import Kit, kit_of, pieces_of
from rimcore.limits import LIMITS
from rimcore.parts.declared import FIGURE, SOLD_FOR, Family, Spec
from rimcore.quantities.errors import BadInput, CoreError
from rimcore.quantities.units import parse_quantity
from rimcore.shop import METRIC, Bare, Taken, fields_of, in_core, placed, priced, same_money, weighed
from rimcore.wheels import paste
from rimcore.wheels.tyre import Tyre
from rimcore.wheels.wheel import Wheel

LONGEST = 500
#: words that join others and say nothing themselves
FILLERS = frozenset(
    [
        "a",
        "an",
        "the",
        "and",
        "of",
        "for",
        "with",
        "mm",
        "each",
        "pair",
        "pairs",
        "set",
        "seat",
        "class",
        "grade",
        "hub",
        "to",
        "hole",
        "drop",
        "lower",
        "lowering",
        "lowered",
        "front",
        "rear",
        "kit",
        "new",
        "part",
        "price",
        "weight",
        "size",
    ]
)
_UNIT = r"(?:\s*(?:mm|cm|inches|inch|in|\"|°|deg|kg|g|lbs|lb|oz))?"
_SIGNED_MASS = re.compile(r"^[-−+]\s*\d+(?:[.,]\d+)?\s*(?:kg|g|lbs?|oz)$", re.IGNORECASE)


@dataclass(frozen=True)
class PartLine:
    """What a line said. Masses in kg, price in minor units, lead time in days; None was not said.

    ``unread`` is what has a figure in it and was not understood.
    """

    family: str
    spec: Mapping[str, Any] = field(default_factory=dict)
    mass_kg: float | None = None
    price_minor: int | None = None
    lead_days: int | None = None
    supplier: str = ""
    link: str = ""
    note: str = ""
    name: str = ""
    unread: tuple[str, ...] = ()
    #: the kit that it is the first piece of, and the others
    kit: str = ""
    pieces: tuple[PartLine, ...] = ()

    @property
    def fault(self) -> str | None:
        """Why it makes no part yet; None where it does."""
        return FAMILIES[self.family].fault(self.spec)


def parse_line(line: str, family: str = "", bare: Bare = METRIC, currency: str = "") -> PartLine:
    """Read one pasted line of a part of any family.

    Parameters
    ----------
    line : as shops write it, at most ``LONGEST`` characters
    family : the one it is taken for where the line names none; blank reads a wheel or a tyre
    bare : unit of a bare figure by kind, as a person reads them; else the family's own
    currency : the money that is counted in; a price in another stays a note

    Raises
    ------
    BadInput : nothing that can be read, a value said twice, or one out of range

    Examples
    --------
    >>> found = parse_line("ring 63.4 → 72.6 solid aluminium, 6.00, 4 days, Nook Lane")
    >>> found.spec["outer_mm"], found.price_minor, found.supplier
    (72.6, 600, 'Nook Lane')
    >>> parse_line("studs 45 mm M12x1.5 10.9, set of 20, 58, ask for 7/16 drive").unread
    ('ask for 7/16 drive',)
    """
    text = " ".join(re.sub(r"\t+", " ; ", str(line).strip()).split())
    if len(text) > LONGEST:
        raise BadInput(f"the line is too long ({LONGEST} characters at most)", "line")
    if not text:
        raise BadInput(f"nothing was written; accepted: {FAMILIES[family or 'wheel'].example}", "line")
    kit = kit_of(text)
    if kit is not None and family in ("", *kit[0].families):
        return _of_kit(*kit, bare, currency)
    named, rest = _named(text)
    key = named or family or ("other" if _is_words(text) else "wheel")
    if key in PAIRED:
        return _of_pair(rest if named in PAIRED else text, key if named or family else "", currency)
    return _of_family(FAMILIES[key], rest if named else text, bare, currency)


def _of_kit(kit: Kit, text: str, bare: Bare, currency: str) -> PartLine:
    """The first piece of a kit with the kit's price and weight, and the others, which cost nothing of their own."""
    shop = priced(text)
    heavy = weighed(shop.rest, changes=False)

    def read(piece: str, family: str) -> PartLine:
        if not piece:
            return PartLine(family)
        return _of_family(FAMILIES[family], piece, bare, "") if family else parse_line(piece, "", bare)

    name, pieces = pieces_of(kit, heavy.rest, read)
    first, *others = pieces
    if first.family in PAIRED or any(one.family in PAIRED for one in others):
        raise BadInput("wheels and tyres are no pieces of a kit; paste them by themselves", "line")
    of_last = pieces[-1]
    if shop.price_minor is None and of_last.price_minor is not None:
        # a bare price at the end of the line stands with the last piece, and is the kit's
        shop = replace(shop, price_minor=of_last.price_minor)
    first = replace(first, mass_kg=None, price_minor=None, lead_days=None, link="")
    head = _with_shop(first, replace(shop, mass_kg=heavy.mass_kg), text, currency)
    named = " ".join(part for part in (name or first.name, kit.name) if part)
    beside = tuple(
        replace(one, price_minor=0, lead_days=head.lead_days, kit=kit.name, name=one.name or named) for one in others
    )
    return replace(head, name=named[:80], kit=kit.name, pieces=beside)


def _is_words(text: str) -> bool:
    """Is a line that names no family one of another part, and no wheel or tyre?

    >>> _is_words("exhaust gasket 2.5 in, $9"), _is_words("18x9.5 +22"), _is_words("ET22 5x114.3")
    (True, False, False)
    """
    named = re.match(r"(?!ET\b)[A-Za-z]{3,}\b", text) is not None and re.search(r"\d", text) is not None
    return named and not (
        re.search(r"\b(?:wheel|rim|tyre|tire)s?\b", text, re.IGNORECASE)
        or _TYRE_HEAD.search(text)
        or _WHEEL_HEAD.search(text)
        or re.search(r"\d\s*[x×/]\s*\d", text)
    )


@cache
def _heads() -> list[tuple[re.Pattern[str], str]]:
    """Every word that names a family at the head of a line, the longest first."""
    words = [(word, family.key) for family in FAMILIES.values() for word in (*family.words, *family.heads)]
    words.sort(key=lambda one: -len(one[0]))
    return [(re.compile(rf"{re.escape(word)}\b[\s:,]*", re.IGNORECASE), key) for word, key in words]


def _named(text: str) -> tuple[str, str]:
    """The family that a line names, at its head or in its first part, and the line without that word."""
    for pattern, key in _heads():
        found = pattern.match(text)
        if found:
            stays = FAMILIES[key].heads.get(found[0].strip(" \t:,").lower(), "")
            return key, f"{stays} {text[found.end() :]}" if stays else text[found.end() :]
    first = next(iter(paste.parted(text)), "")
    for pattern, key in _heads():
        found = re.search(rf"(?<=\s){pattern.pattern}|(?<=\d){pattern.pattern}", first, re.IGNORECASE)
        if found and key not in (*PAIRED, "other"):
            return key, text.replace(first, first[: found.start()] + " " + first[found.end() :], 1)
    return "", text


_WHEEL_HEAD = re.compile(r"\d{2}(?:[.,]\d)?\s*[\"″”]?\s*[x×*]\s*\d{1,2}|\d{1,2}(?:[.,]\d+)?\s*J", re.IGNORECASE)
_TYRE_HEAD = re.compile(
    r"(?:\b(?:LT|P)\s*)?\d{3}\s*/\s*\d{2,3}\s*Z?\s*[RDB-]|\d{2,3}\s*[x×]\s*\d+(?:[.,]\d+)?\s*R|\d{3}\s*R\s*\d{2}",
    re.IGNORECASE,
)


def _of_pair(text: str, key: str, currency: str = "") -> PartLine:
    """A wheel or a tyre, by the grammar of their own; a wheel may not be pasted as a tyre."""
    shop = priced(text)
    placing = placed(shop.rest, sets=True)
    rest, brand = _without_brand(placing.rest)
    heavy = weighed(rest, changes=False) if "," not in rest and ";" not in rest else Taken(rest)
    offer = paste.parse_offer(_parted_head(heavy.rest))
    found = _from_offer(offer)
    if key and found.family != key:
        raise BadInput(f"that is a {found.family}, not a {key}; accepted: {FAMILIES[key].example}", "line")
    if placing.end:
        found = replace(found, note=f"{found.note} {SOLD_FOR.choices[placing.end]}".strip())
    found = _with_shop(found, replace(shop, mass_kg=heavy.mass_kg), text, currency)
    if placing.pieces and found.price_minor is not None and not shop.each:
        each = f"{found.price_minor / 100:.2f} for {placing.pieces}"
        found = replace(
            found, price_minor=round(found.price_minor / placing.pieces), note=f"{found.note} {each}".strip()
        )
    return replace(found, name=found.name or brand)


def _without_brand(text: str) -> tuple[str, str]:
    """A line from its size on, and the words before it."""
    tyre, wheel = _TYRE_HEAD.search(text), _WHEEL_HEAD.search(text)
    head = tyre or wheel
    if head is None or head.start() == 0:
        return text, ""
    before = text[: head.start()].strip(" ,;:")
    return (
        (text, "")
        if re.search(r"(?<![^\W\d_])(?<!\d)\d", before) or not before
        else (text[head.start() :], before[:80])
    )


def _parted_head(text: str) -> str:
    """Words right behind a size without a comma, parted from it: they are the shop's or the maker's."""
    first = next(iter(paste.parted(text)), "")
    hit = re.search(
        r"\s(?P<words>(?!ET|CB|PCD|XL|LT|RF|MM|IN\b|INCH|ALLOY|WHEEL|H2|J\b)[A-Za-z][^\W\d_]{2,}\b[^\d]*)$", first
    )
    if hit is None or re.search(r"[+]|\bET\b", hit["words"]):
        return text
    return text.replace(first, f"{first[: hit.start()]}, {hit['words']}", 1)


def _with_shop(found: PartLine, shop: Taken, text: str, currency: str) -> PartLine:
    """A line with what the shop said beside the part; a price in other money stays a note."""
    said = fields_of(shop)
    if "price_minor" in said and not same_money(shop.currency, currency):
        price = said.pop("price_minor")
        found = replace(found, note=f"{found.note} price in {shop.currency}: {price / 100:.2f}".strip()[:200])
    for name in said:
        if getattr(found, name) not in (None, "") or name.split("_")[0] in shop.twice:
            raise BadInput(f"“{text[:60]}”: the {name.split('_')[0]} is said twice", "line")
    return replace(found, **said)


def of_pair(wheel: Wheel, tyre: Tyre) -> tuple[PartLine, PartLine]:
    """A wheel and a tyre that were read already, as two lines."""
    return _from_offer(paste.Offer(wheel=wheel)), _from_offer(paste.Offer(tyre=tyre))


def _from_offer(offer: paste.Offer) -> PartLine:
    common = PartLine(
        family="tyre",
        spec={},
        mass_kg=offer.mass_kg,
        price_minor=offer.price_minor,
        lead_days=offer.lead_days,
        supplier=offer.supplier,
        link=offer.link,
        note=offer.note,
    )
    if offer.tyre is not None:
        tyre = offer.tyre
        spec = {"size": tyre.size, "diameter_in": tyre.rim_diameter_in, "section_width_mm": tyre.section_width_mm}
        return replace(common, spec=spec)
    wheel = offer.wheel
    if wheel is None or wheel.offset_mm is None:
        raise BadInput("the offset is missing; write it as +22 or ET22", "line")
    said = {
        name: getattr(wheel, name) for name in ("diameter_in", "width_in", "offset_mm", "bolts", "pcd_mm", "bore_mm")
    }
    said |= {"seat": offer.seat or None, "pad_thickness_mm": offer.pad_thickness_mm, "load_kg": offer.load_kg}
    return replace(common, family="wheel", spec={code: value for code, value in said.items() if value is not None})


def _of_family(family: Family, text: str, bare: Bare, currency: str) -> PartLine:
    shop = priced(text)
    ends = placed(shop.rest) if len(family.ends) > 1 else Taken(shop.rest)
    known = any(spec.code == SOLD_FOR.code for spec in family.specs)
    found = PartLine(family.key, {SOLD_FOR.code: ends.end} if ends.end and known else {})
    found = _with_shop(found, shop, text, currency)
    for place, chunk in enumerate(paste.parted(ends.rest)):
        found = _with_chunk(found, family, chunk, place == 0, bare)
    pieces = found.spec.get("pieces")
    if shop.each and pieces and found.price_minor is not None:
        told = f"{found.note} {found.price_minor / 100:.2f} each".strip()
        found = replace(found, price_minor=found.price_minor * int(pieces), note=told)
    return _whole(family, found)


def _whole(family: Family, found: PartLine) -> PartLine:
    try:
        family.check(found.spec)
    except CoreError as error:
        names = {spec.code: spec.name for spec in family.specs}
        what = f"the {names[error.field]} " if error.field in names and error.message.startswith("is ") else ""
        raise BadInput(f"{what}{error.message}; write it as: {family.example}", "line") from error
    return found


def _with_chunk(found: PartLine, family: Family, chunk: str, first: bool, bare: Bare) -> PartLine:
    """One part of the line between commas: a thing every part has, else what the family declares, else words."""
    common = _common(chunk, first)
    if common:
        ((name, value),) = common.items()
        if getattr(found, name) not in (None, ""):
            raise BadInput(f"“{chunk}”: the {name.split('_')[0]} is said twice", "line")
        return replace(found, **common)
    changes = any(spec.code == "mass_change_kg" for spec in family.specs)
    if _SIGNED_MASS.match(chunk) and changes:
        return _said(found, family, {"mass_change_kg": _signed(chunk)}, chunk)
    heavy = weighed(chunk, changes)
    if heavy.mass_change_kg is not None:
        found = _said(found, family, {"mass_change_kg": heavy.mass_change_kg}, chunk)
    if heavy.mass_kg is not None:
        if found.mass_kg is not None:
            raise BadInput(f"“{chunk}”: the mass is said twice", "line")
        found = replace(found, mass_kg=heavy.mass_kg)
    spec, rest = _matched(family, heavy.rest, set(found.spec), bare)
    if spec:
        found = _said(found, family, spec, chunk)
    if spec or heavy.rest != chunk:
        return _leftover(found, rest)
    if re.search(r"\d", chunk):
        return replace(found, unread=(*found.unread, chunk))
    filler = all(word in FILLERS for word in chunk.lower().split())
    if not found.supplier and not first and not filler:
        return replace(found, supplier=chunk[:80])
    return (
        replace(found, name=chunk[:80])
        if first and not found.name
        else replace(found, note=f"{found.note} {chunk}".strip()[:200])
    )


def _common(chunk: str, first: bool) -> dict[str, Any]:
    """Mass, price, lead time or link: what every part has."""
    if re.match(r"[-−–]\s*[\d.,]+\s*(?:[€£$]|$)", chunk):
        raise BadInput(f"“{chunk}” is below zero; accepted: a price of 0 or more, as 310 or 310.50", "line")
    readers = (
        (paste.as_link, paste.as_lead, _as_mass) if first else (paste.as_link, paste.as_lead, _as_mass, paste.as_price)
    )
    for reader in readers:
        found: dict[str, Any] = reader(chunk)
        if found:
            return found
    return {}


def _as_mass(chunk: str) -> dict[str, Any]:
    if not re.fullmatch(r"\d[\d.,/ ]*\s*(?:kg|g|lbs?|oz)(?:\s*\d[\d.,/ ]*\s*oz)?(?:\s*each)?", chunk, re.IGNORECASE):
        return {}
    return {"mass_kg": paste.read_mass_kg(re.sub(r"\s*each$", "", chunk, flags=re.IGNORECASE), None)}


def _signed(chunk: str) -> float:
    plain = chunk.replace("−", "-").replace(" ", "")
    value = parse_quantity(plain.lstrip("+-"), "mass").value
    return -value if plain.startswith("-") else value


def _said(found: PartLine, family: Family, said: Mapping[str, Any], chunk: str) -> PartLine:
    specs = {spec.code: spec for spec in family.specs}
    for code in said:
        if code in found.spec and found.spec[code] != said[code]:
            raise BadInput(f"“{chunk}”: the {specs[code].name} is said twice", "line")
    return replace(found, spec={**found.spec, **said})


def _leftover(found: PartLine, rest: str) -> PartLine:
    """What a chunk has beside its quantities: figures were not understood, words are a name or a note."""
    figures = re.findall(r"\S*\d\S*", rest)
    words = [
        word for word in re.findall(r"[^\W\d_][\w'’-]*", re.sub(r"\S*\d\S*", " ", rest)) if word.lower() not in FILLERS
    ]
    if words:
        text = " ".join(words)
        found = (
            replace(found, name=text[:80])
            if not found.name
            else replace(found, note=f"{found.note} {text}".strip()[:200])
        )
    return replace(found, unread=(*found.unread, *figures)) if figures else found


def _matched(family: Family, chunk: str, known: set[str], bare: Bare) -> tuple[dict[str, Any], str]:
    """What the family's declaration finds in a chunk, and what is left of it."""
    specs = {spec.code: spec for spec in family.specs}
    said: dict[str, Any] = {}
    rest, said_with = in_core(chunk)
    for pattern in _shapes(family.key):
        hit = pattern.search(rest)
        if hit is None:
            continue
        groups = {code.rstrip("_"): text for code, text in hit.groupdict().items() if text is not None}
        if set(groups) & (set(said) | known):
            continue
        said |= {
            code: _value(specs[code], text, _unit(family, specs[code], text, said_with, bare))
            for code, text in groups.items()
        }
        rest = rest[: hit.start()] + " " + rest[hit.end() :]
    for spec in family.specs:
        if spec.code not in said and spec.code not in known:
            value, rest = _worded(family, spec, rest, said_with, bare)
            if value is not None:
                said[spec.code] = value
    return said, rest


def unit_of_bare(family: Family, spec: Spec, bare: Bare) -> str:
    """The unit that a bare figure is in: millimetres where all the trade writes them, else the person's.

    Source: common practice.

    Parameters
    ----------
    family : that declares it
    spec : what the figure says
    bare : the person's units for bare figures

    >>> ring = FAMILIES["ring"]
    >>> unit_of_bare(ring, ring.specs[0], {"length": "in"})
    'mm'
    """
    return spec.unit if spec.kind == "length" and (family.trade or spec.trade) else bare.get(spec.kind, spec.unit)


def _unit(family: Family, spec: Spec, text: str, said_with: frozenset[str], bare: Bare) -> str:
    """The unit that a bare figure of a line is in: millimetres where the line says so, too."""
    return spec.unit if text.strip().lstrip("-−+") in said_with else unit_of_bare(family, spec, bare)


@cache
def _shapes(key: str) -> tuple[re.Pattern[str], ...]:
    return tuple(re.compile(rf"(?<![\w./])(?:{shape})(?![\w])", re.IGNORECASE) for shape in FAMILIES[key].shapes)


def _worded(family: Family, spec: Spec, text: str, said_with: frozenset[str], bare: Bare) -> tuple[Any, str]:
    """A value that stands beside one of its words, or is one of them."""
    for word in sorted(spec.words, key=len, reverse=True):
        if spec.choices:
            hit = re.search(rf"\b{re.escape(word)}\b", text, re.IGNORECASE)
            value: Any = _choice(spec, word) if hit else None
        else:
            hit = re.search(
                rf"\b{re.escape(word)}\b\s*[:=]?\s*(?P<after>{FIGURE}{_UNIT})|(?P<before>{FIGURE}{_UNIT})\s*{re.escape(word)}\b",
                text,
                re.IGNORECASE,
            )
            figure = (hit["after"] or hit["before"]) if hit else ""
            value = _value(spec, figure, _unit(family, spec, figure, said_with, bare)) if hit else None
        if hit is not None and value is not None:
            return value, text[: hit.start()] + " " + text[hit.end() :]
    return None, text


def _choice(spec: Spec, word: str) -> str | None:
    """The choice that a word stands for.

    >>> from rimcore.parts.hubware import SPACER
    >>> _choice(next(spec for spec in SPACER.specs if spec.code == "kind"), "bolt on")
    'bolted'
    """
    folded = word.lower().replace("-", " ")
    aliases = {
        "aluminum": "aluminium",
        "alloy": "aluminium",
        "nylon": "plastic",
        "bolt on": "bolted",
        "two piece": "bolted",
        "slip on": "slip",
        "snap in": "rubber",
        "clamped": "metal",
        "left and right": "pair",
    }
    folded = aliases.get(folded, folded)
    return next((key for key, name in spec.choices.items() if folded in (key, name.lower().replace("-", " "))), None)


def _value(spec: Spec, text: str, unit: str = "") -> Any:
    """A value of the specification from its writing; ``unit`` is that of a bare figure.

    Raises
    ------
    BadInput : out of range, or not of its kind
    """
    text = text.strip()
    if spec.choices:
        return _choice(spec, text) or text
    if spec.read is not None:
        spec.read(text)
        return re.sub(r"\s*[x×]\s*", "x", text) if spec.code == "thread" else str(spec.read(text))
    value = _number(spec, text, unit or spec.unit)
    try:
        spec.check(value)
    except CoreError as error:
        if spec.kind and unit not in ("", spec.unit) and not re.search(r"[^\d.,/\s+−-]", text):
            said = f"“{text}” without a unit is read as {text} {unit}: {error.message}; or write {text} {spec.unit}"
            raise BadInput(said, spec.code) from error
        raise
    return value


def _number(spec: Spec, text: str, unit: str) -> Any:
    if spec.kind:
        return round(parse_quantity(text.replace("−", "-"), spec.kind, unit).value, 6)
    plain = text.replace("−", "-").replace(",", ".")
    if not re.fullmatch(r"[-+]?\d{1,9}(?:\.\d{1,9})?", plain):
        raise BadInput(f"“{text}” is no number; accepted: {LIMITS[spec.limit].accepted}", spec.code)
    return int(float(plain)) if spec.counted else float(plain)


def parse_part_row(row: Mapping[str, str], family: str = "", bare: Bare = METRIC) -> PartLine:
    """Read one table row: columns by the names of the family's specification, and by those every part has.

    A column ``family`` or ``kind of part`` says which family a row is of. Columns that are not known are said in
    ``unread``.

    >>> parse_part_row({"family": "ring", "inner": "63.4", "outer": "72.6 mm", "price": "6"}).spec["inner_mm"]
    63.4
    """
    cells = {
        str(name).strip().lower(): str(cell).strip()
        for name, cell in row.items()
        if name and cell and str(cell).strip()
    }
    named = next((cells.pop(word) for word in ("family", "kind of part") if word in cells), family)
    key = next(
        (key for key, one in FAMILIES.items() if named.lower() in (key, one.name, one.plural, *one.words)),
        "" if not named else "?",
    )
    if key == "?":
        raise BadInput(
            f"“{named}” is no family of parts; accepted: {', '.join(one.name for one in FAMILIES.values())}", "family"
        )
    if key in ("", *PAIRED):
        return _pair_row(_with_masses(cells, bare), key)
    return _row(FAMILIES[key], _with_masses(cells, bare), bare)


def _with_masses(cells: Mapping[str, str], bare: Bare) -> dict[str, str]:
    """Cells whose bare masses carry the unit of their column's name, else the person's."""
    found = dict(cells)
    for name, cell in cells.items():
        if paste.COLUMNS.get(name) in ("mass", "load") and re.fullmatch(r"\d[\d.,]*", cell):
            found[name] = f"{cell} {'kg' if 'kg' in name else bare.get('mass', 'kg')}"
    return found


def _pair_row(cells: Mapping[str, str], key: str) -> PartLine:
    named = next((cells[word] for word in ("name", "part") if word in cells), "")
    found = _from_offer(paste.parse_row({name: cell for name, cell in cells.items() if name != "name"}))
    known = {*paste.COLUMNS, "part"}
    strange = tuple(f"{name}: {cell}" for name, cell in cells.items() if name not in known)
    if key and found.family != key:
        raise BadInput(f"that is a {found.family}, not a {key}", "spec")
    return replace(found, name=named[:80], unread=strange)


def _row(family: Family, cells: Mapping[str, str], bare: Bare) -> PartLine:
    found, columns = PartLine(family.key), _columns(family.key)
    for name, cell in cells.items():
        if len(cell) > LONGEST:
            raise BadInput(f"the cell is too long ({LONGEST} characters at most)", name)
        spec = columns.get(name)
        if spec is not None:
            found = _said(
                found, family, {spec.code: _value(spec, cell, _unit(family, spec, cell, frozenset(), bare))}, cell
            )
        elif name in ("name", "part"):
            found = replace(found, name=cell[:80])
        elif paste.COLUMNS.get(name) in ("mass", "price", "lead", "supplier", "link", "note"):
            found = replace(found, **common_cell(paste.COLUMNS[name], cell, bare))
        else:
            found = replace(found, unread=(*found.unread, f"{name}: {cell}"))
    return _whole(family, found)


@cache
def _columns(key: str) -> dict[str, Spec]:
    """Columns of a family by every name they go by."""
    return {
        word: spec
        for spec in FAMILIES[key].specs
        for word in (spec.code, spec.name, *(spec.words if not spec.choices else ()))
    }


def common_cell(column: str, cell: str, bare: Bare) -> dict[str, Any]:
    """What a cell of a column says that every part has: mass, price, lead, supplier, link or note.

    Source: none; a convention of this program.

    Parameters
    ----------
    column : one of those names
    cell : as written
    bare : the person's units for bare figures

    Raises
    ------
    BadInput : it can't be read

    >>> common_cell("price", "96.50", METRIC)
    {'price_minor': 9650}
    """
    if column == "mass":
        return {"mass_kg": paste.read_mass_kg(cell, bare.get("mass", "kg"))}
    if column == "price":
        return {"price_minor": paste.read_price_minor(cell)}
    if column == "lead":
        return {"lead_days": paste.read_lead_days(cell, bare=True)}
    if column == "link":
        return {"link": paste.read_link(cell)}
    return {column: cell[:80] if column == "supplier" else cell[:200]}
