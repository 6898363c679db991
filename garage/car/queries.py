"""What the page of all cars needs."""

from __future__ import annotations

from typing import Any

from django.core.paginator import Page, Paginator
from django.db.models import Q

from garage.car.models import Car

#: cars on a page, words that are looked for at the most
ROWS, MOST_WORDS = 25, 8


def cars_of(user: Any, words: str = "", page: Any = 1) -> Page[Car]:
    """A page of a person's cars: those whose name, description or event has every word."""
    found = Car.objects.filter(owner=user)
    for word in words.split()[:MOST_WORDS]:
        found = found.filter(
            Q(nickname__icontains=word) | Q(description__icontains=word) | Q(event_name__icontains=word)
        )
    return Paginator(found, ROWS).get_page(page)
