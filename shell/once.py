"""Tokens of forms."""

import secrets


def new_token() -> str:
    """A token for one form, so that a second press is known as one."""
    return secrets.token_urlsafe(18)
