"""The few errors the core raises; each names the field and what is accepted."""

from __future__ import annotations


class CoreError(ValueError):
    """Base of all errors the core raises on purpose.

    Parameters
    ----------
    message : what was wrong and what is accepted, in a sentence a user can read
    field : dotted path of the value at fault, empty when there is only one
    """

    def __init__(self, message: str, field: str = "") -> None:
        super().__init__(message)
        self.message = message
        self.field = field

    def under(self, parent: str) -> CoreError:
        """The same error with its field placed under ``parent``.

        >>> BadInput("too wide", "width_in").under("to.wheel").field
        'to.wheel.width_in'
        """
        path = ".".join(part for part in (parent, self.field) if part)
        return type(self)(self.message, path)


class BadInput(CoreError):
    """A value that can't be read or lies outside what is accepted."""


class DoesNotFit(CoreError):
    """Two parts that can't go together whatever is done about it."""
