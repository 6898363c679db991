"""A car's revision: one number that rises with every write of anything its pages show, kept by the database itself.

Triggers raise it in the transaction of the write, whoever writes: a service, an undo, a command, another process or
machine on the same database. What was read and worked out of a car may therefore be kept by (car, revision).
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, NamedTuple

from django.apps import apps
from django.db import connection, models

from shell.models import Revision
from shell.undo import ROOMS

#: the table of all cars; its rows are what rows of other tables belong to
CARS = "garage_car"
OWNER = "owner_id"
PREFIX = "revision_"
#: It rises also past every number it had before data were restored: the clock [ms] is always further on.
_CLOCK_MS = {
    "sqlite": "CAST((julianday('now') - 2440587.5) * 86400000 AS INTEGER)",
    "postgresql": "CAST(extract(epoch FROM clock_timestamp()) * 1000 AS bigint)",
}
_LARGER = {"sqlite": "max", "postgresql": "greatest"}
_EVENTS = {"insert": ("NEW",), "delete": ("OLD",), "update": ("OLD", "NEW")}


def numbers_of(user_id: int) -> dict[int, int]:
    """The revision of each car of a person, by car; one query."""
    told = (
        f'SELECT car, number FROM "{Revision._meta.db_table}" WHERE car IN (SELECT id FROM "{CARS}" WHERE {OWNER} = %s)'  # noqa: S608
    )
    with connection.cursor() as cursor:
        cursor.execute(told, [user_id])
        return dict(cursor.fetchall())


def triggers() -> dict[str, Trigger]:
    """Every trigger by name: three for each table whose rows belong to a car or to a person."""
    found: dict[str, Trigger] = {}
    for model in apps.get_models():
        table = model._meta.db_table
        if model._meta.app_label not in ROOMS or model._meta.proxy:
            continue
        owned = list(cars_of(model))
        for event, rows in _EVENTS.items():
            raised = " ".join(_raise(cars.format(row=row)) for cars in owned for row in rows)
            found[f"{PREFIX}{table}_{event}"] = Trigger(table, event, raised)
    return found


class Trigger(NamedTuple):
    """What a write of one kind to a table sets off."""

    table: str
    #: insert, update or delete
    event: str
    #: statements of the database's own language
    does: str

    def made(self, name: str) -> list[str]:
        """Statements that make it, in the language of the database at hand."""
        when = f'CREATE TRIGGER "{name}" AFTER {self.event.upper()} ON "{self.table}"'
        if connection.vendor == "sqlite":
            return [f"{when} BEGIN {self.does} END"]
        body = f"BEGIN {self.does} RETURN NULL; END"
        return [
            f'CREATE OR REPLACE FUNCTION "{name}"() RETURNS trigger LANGUAGE plpgsql AS $tally${body}$tally$',
            f'{when} FOR EACH ROW EXECUTE FUNCTION "{name}"()',
        ]

    def stands_as(self, name: str) -> str:
        """How the database tells it (``_standing``)."""
        made = self.made(name)[0]
        return made if connection.vendor == "sqlite" else made.split("$tally$")[1]


def _raise(cars: str) -> str:
    """Raise the numbers of the cars; those of several always in the same order, so that no two writers wait for each
    other.
    """
    table, clock = Revision._meta.db_table, _CLOCK_MS[connection.vendor]
    larger = _LARGER[connection.vendor]
    made = (
        f'INSERT INTO "{table}" (car, number) SELECT id, {larger}(1, {clock}) FROM ({cars}) AS cars '  # noqa: S608
        "WHERE id IS NOT NULL ORDER BY id"
    )
    return f'{made} ON CONFLICT (car) DO UPDATE SET number = {larger}("{table}".number + 1, {clock});'


def cars_of(model: type[models.Model]) -> Iterator[str]:
    """Selects of the cars that a row belongs to; ``{row}`` stands for the row.

    All cars of a person for what is a person's.

    Raises
    ------
    LookupError : nothing leads from its rows to a car or a person
    """
    if model._meta.db_table == CARS:
        # One car's name stands on the pages of the others.
        yield "SELECT {row}.id AS id"
        yield f'SELECT id FROM "{CARS}" WHERE {OWNER} = {{row}}.{OWNER}'  # noqa: S608  names of our own tables
        return
    path = way_to_car(model)
    if path is None:
        raise LookupError(f"no way from {model.__name__} to a car or a person")
    steps, person = path
    inner = f"{{row}}.{steps[0].column}"
    for step, following in zip(steps, steps[1:], strict=False):
        parent: Any = step.related_model
        inner = f'(SELECT {following.column} FROM "{parent._meta.db_table}" WHERE id = {inner})'  # noqa: S608
    if person:
        yield f'SELECT id FROM "{CARS}" WHERE {OWNER} = {inner}'  # noqa: S608
    else:
        yield f"SELECT {inner} AS id"


def way_to_car(model: type[models.Model]) -> tuple[list[models.ForeignKey], bool] | None:
    """The shortest way of foreign keys from a row to its car, else to its person; (keys, does it end at a person)."""
    ways: list[list[models.ForeignKey]] = [[]]
    persons: list[list[models.ForeignKey]] = []
    for _ in range(4):
        longer = []
        for way in ways:
            at: Any = way[-1].related_model if way else model
            for key in (field for field in at._meta.concrete_fields if isinstance(field, models.ForeignKey)):
                parent: Any = key.related_model
                if parent._meta.db_table == CARS:
                    return [*way, key], False
                if parent._meta.label == "auth.User":
                    persons.append([*way, key])
                elif parent is not at:
                    longer.append([*way, key])
        ways = longer
    return (persons[0], True) if persons else None


def install(**_: Any) -> int:
    """See that the database has today's triggers and no others; gives the number that were made.

    Heard after every ``migrate``.
    """
    tables = set(connection.introspection.table_names())
    wanted = {name: one for name, one in triggers().items() if {one.table, Revision._meta.db_table} <= tables}
    standing = _standing()
    missing = {name: one for name, one in wanted.items() if standing.get(name) != one.stands_as(name)}
    with connection.cursor() as cursor:
        for name in standing:
            if name in missing or name not in wanted:
                cursor.execute(_dropped(name))
        for name, one in missing.items():
            for told in one.made(name):
                cursor.execute(told)
    return len(missing)


def drop(**_: Any) -> None:
    """Without triggers, as tables are rebuilt by a migration; heard before every ``migrate``."""
    with connection.cursor() as cursor:
        for name in _standing():
            cursor.execute(_dropped(name))


def _dropped(name: str) -> str:
    if connection.vendor == "sqlite":
        return f'DROP TRIGGER "{name}"'
    return f'DROP FUNCTION "{name}"() CASCADE'


#: name and text of what stands
_TOLD = {
    "sqlite": "SELECT name, sql FROM sqlite_master WHERE type = 'trigger' AND substr(name, 1, %s) = %s",
    "postgresql": (
        "SELECT p.proname, p.prosrc FROM pg_proc p JOIN pg_trigger t ON t.tgfoid = p.oid "
        "WHERE p.pronamespace = current_schema()::regnamespace AND left(p.proname, %s) = %s"
    ),
}


def _standing() -> dict[str, str]:
    with connection.cursor() as cursor:
        cursor.execute(_TOLD[connection.vendor], [len(PREFIX), PREFIX])
        return dict(cursor.fetchall())
