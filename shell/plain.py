"""Text that goes into files of other programs."""

from __future__ import annotations

import re

#: what XML 1.0 (section 2.2) has no place for
_NO_XML = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\ud800-\udfff\ufffe\uffff]")


def for_xml(text: str) -> str:
    """Text without the characters that no XML file may hold.

    >>> for_xml("a\\x0bb\\x00 é")
    'ab é'
    """
    return _NO_XML.sub("", text)


def one_line(text: str) -> str:
    """Text on one line, without control characters.

    >>> one_line("a\\nb\\x1fc")
    'a b c'
    """
    return re.sub(r"[\x00-\x1f\x7f]+", " ", text).strip()


#: characters that would make a table's cell a formula
FORMULA = ("=", "+", "-", "@", "\t", "\r")


def as_cell(text: str) -> str:
    """Text for a table's cell, on one line; what a table program would take for a formula stays text.

    >>> as_cell("=1+1"), as_cell("a\nb")
    ("'=1+1", 'a b')
    """
    line = one_line(text)
    return f"'{line}" if line.startswith(FORMULA) else line
