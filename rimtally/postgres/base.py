"""JSON in columns of the kind ``json``: in those of the kind ``jsonb`` the order of keys is lost, and the order in which
something was said is the order in which it is shown.

Numbers that the database itself holds to limits are the exception: only ``jsonb`` can be compared. Those are lists.
"""

from __future__ import annotations

from typing import Any

from django.db.backends.postgresql import base, operations
from django.db.models.fields.json import JSONExact, JSONField, KeyTransform, KeyTransformExact, KeyTransformIn
from psycopg.types.string import TextLoader

#: columns whose numbers a constraint compares
COMPARED = frozenset({"values"})


def kind_of(field: Any) -> str:
    """The kind of a JSON column.

    >>> kind_of({"name": "values"}), kind_of({"name": "inputs"})
    ('jsonb', 'json')
    """
    return "jsonb" if field["name"] in COMPARED else "json"


class DatabaseOperations(operations.DatabaseOperations):
    def adapt_json_value(self, value: Any, encoder: Any) -> Any:
        """As text of no kind, which takes that of the column it goes into or is compared with."""
        said: Any = super().adapt_json_value(value, encoder)
        return said.dumps(said.obj)


class Compared:
    """Two that say the same are the same, in whichever order; only ``jsonb`` can be compared at all."""

    def process_lhs(self, compiler: Any, connection: Any, lhs: Any = None) -> tuple[str, Any]:
        left, told = super().process_lhs(compiler, connection, lhs)  # type: ignore[misc]
        return (f"({left})::jsonb" if connection.vendor == "postgresql" else left), told


@JSONField.register_lookup
class Exact(Compared, JSONExact):
    pass


@KeyTransform.register_lookup
class ExactAt(Compared, KeyTransformExact):
    pass


@KeyTransform.register_lookup
class InAt(Compared, KeyTransformIn):
    pass


class DatabaseWrapper(base.DatabaseWrapper):
    data_types: dict[str, Any] = {**base.DatabaseWrapper.data_types, "JSONField": kind_of}
    ops_class = DatabaseOperations

    def get_new_connection(self, conn_params: Any) -> Any:
        made = super().get_new_connection(conn_params)
        # Django reads the text itself.
        made.adapters.register_loader("json", TextLoader)
        return made
