"""Tokens of forms."""

import secrets

#: stands in a page where a form's token goes; the last thing on its way out puts a new one there
HOLDER = "@once-token@"
#: stands where Django's own token of the session goes, so that a page can be kept for all sessions of a person
CSRF_HOLDER = "@csrf-token@"


def new_token() -> str:
    """A token for one form, so that a second press is known as one."""
    return secrets.token_urlsafe(18)
