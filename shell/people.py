"""How a person is called where what they did is noted."""

from __future__ import annotations

from typing import Any


def called(user: Any) -> str:
    """The first name, else the name of the account."""
    return str(user.get_short_name() or user.username)
