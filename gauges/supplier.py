"""A simulated supplier: answers price and lead time after a while, is out of stock, or offers the wrong variant."""

from __future__ import annotations

import hashlib
import random
from dataclasses import dataclass
from datetime import timedelta

NAME = "Supplier stand-in (simulation)"
#: shares of what happens to a question
OUT_OF_STOCK, WRONG_VARIANT, NO_ANSWER = 0.15, 0.12, 0.05
#: an answer takes from to [s]
DELAY_S = (5.0, 90.0)
#: a quote of it is good for [days]
GOOD_DAYS = 14


@dataclass(frozen=True)
class Answer:
    """What the supplier says and when: ``offered``, ``out_of_stock``, ``wrong_variant`` or ``silent``."""

    kind: str
    after: timedelta
    price_minor: int | None = None
    lead_days: int | None = None
    variant: str = ""
    good_days: int = GOOD_DAYS


def ask(what: str, price_minor: int | None, variants: tuple[str, ...] = (), turn: int = 0) -> Answer:
    """Ask for a part; the same question at the same turn gets the same answer, so that it can be replayed.

    Parameters
    ----------
    what : the part in words
    price_minor : what it is known to cost elsewhere; the answer lies within 15 % of it, a price of its own without
    variants : other variants it might send instead
    turn : how often it was asked before

    >>> ask("ring 63.4", 600).kind == ask("ring 63.4", 600).kind
    True
    """
    seed = hashlib.sha256(f"{what}|{turn}".encode()).digest()
    draw = random.Random(seed)
    after = timedelta(seconds=round(draw.uniform(*DELAY_S), 1))
    chance = draw.random()
    price = round((price_minor if price_minor else draw.uniform(800, 30000)) * draw.uniform(0.85, 1.15))
    lead = draw.choice((1, 2, 3, 5, 7, 10, 14, 21, 42))
    if chance < NO_ANSWER:
        return Answer("silent", after)
    if chance < NO_ANSWER + OUT_OF_STOCK:
        return Answer("out_of_stock", after, lead_days=lead + 28)
    if chance < NO_ANSWER + OUT_OF_STOCK + WRONG_VARIANT and variants:
        return Answer("wrong_variant", after, price, lead, draw.choice(variants))
    return Answer("offered", after, price, lead)
