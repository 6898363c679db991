"""What several tests make alike."""

from dataclasses import fields

from rimcore.well.levers import Levers
from rimcore.well.read.measured import Candidate

LEVERS = {field.name for field in fields(Levers)}


def with_levers(fitted, **more):
    """A candidate; what is a lever goes to its levers."""
    levers = {name: more.pop(name) for name in LEVERS & set(more)}
    return Candidate(fitted, levers=Levers(**levers), **more)
