"""A whole database as it stands, remembered and put back, without any of the product's code."""

import sqlite3

from django.apps import apps
from django.db import connection


class OfSqlite:
    """A copy in memory."""

    def __init__(self):
        connection.ensure_connection()
        self.copy = sqlite3.connect(":memory:", check_same_thread=False)
        connection.connection.backup(self.copy)

    def put_back(self):
        connection.ensure_connection()
        self.copy.backup(connection.connection)


class OfPostgres:
    """The rows of every table, and where each counter stands."""

    def __init__(self):
        self.rows, self.counters = {}, {}
        with connection.cursor() as cursor:
            for model in apps.get_models(include_auto_created=True):
                table = connection.ops.quote_name(model._meta.db_table)
                with cursor.copy(f"COPY {table} TO STDOUT") as told:
                    self.rows[table] = b"".join(bytes(part) for part in told)
            cursor.execute("SELECT quote_ident(sequencename), last_value FROM pg_sequences")
            self.counters = dict(cursor.fetchall())

    def put_back(self):
        with connection.cursor() as cursor:
            # Neither triggers nor keys: what is put back stood so before.
            cursor.execute("SET session_replication_role = replica")
            cursor.execute(f"TRUNCATE {', '.join(self.rows)} RESTART IDENTITY CASCADE")
            for table, rows in self.rows.items():
                with cursor.copy(f"COPY {table} FROM STDIN") as told:
                    told.write(rows)
            for counter, value in self.counters.items():
                if value is not None:
                    cursor.execute("SELECT setval(%s, %s)", [counter, value])
            cursor.execute("SET session_replication_role = DEFAULT")


def remember():
    """The database at hand as it stands."""
    return OfSqlite() if connection.vendor == "sqlite" else OfPostgres()
