"""The server serves as a database role that owns nothing.

Whoever owns the tables may switch their triggers off; the account in DATABASE_URL owns them, as it
migrates. Once the database is ready, before anybody is served, the server goes over to a role that
may read and write rows alone. Where the account may not make roles, it goes on as it is, and says
so once.
"""

from __future__ import annotations

import logging
from typing import Any

from django.conf import settings
from django.db import Error, connection, connections
from django.utils.crypto import salted_hmac
from psycopg import sql

log = logging.getLogger("ashlane")
ROWS = ("SELECT", "INSERT", "UPDATE", "DELETE")


def name_of(database: str) -> str:
    """The role's name: one for each database, at most as long as names are."""
    return f"{database[:50]}_serves"


def password_of(role: str) -> str:
    """The same for every process that shares the installation's secret; kept nowhere."""
    return salted_hmac("database role", role, algorithm="sha256").hexdigest()


def made() -> str:
    """Make the role, or its grants anew; its name. Raises where this account may not."""
    database = str(connection.settings_dict["NAME"])
    role = name_of(database)
    who, where = sql.Identifier(role), sql.Identifier(database)
    with connection.cursor() as cursor:
        cursor.execute("SELECT 1 FROM pg_roles WHERE rolname = %s", [role])
        verb = sql.SQL("ALTER" if cursor.fetchone() else "CREATE")
        for statement in (
            sql.SQL(
                "{} ROLE {} LOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE NOREPLICATION PASSWORD {}"
            ).format(verb, who, sql.Literal(password_of(role))),
            sql.SQL("GRANT CONNECT ON DATABASE {} TO {}").format(where, who),
            sql.SQL("GRANT USAGE ON SCHEMA public TO {}").format(who),
            sql.SQL("GRANT {} ON ALL TABLES IN SCHEMA public TO {}").format(
                sql.SQL(", ").join(map(sql.SQL, ROWS)), who
            ),
            sql.SQL("GRANT USAGE, SELECT ON ALL SEQUENCES IN SCHEMA public TO {}").format(who),
            sql.SQL("REVOKE INSERT, UPDATE, DELETE ON django_migrations FROM {}").format(who),
        ):
            cursor.execute(statement)
    return role


def step_down() -> bool:
    """Go over to that role, for every connection that is opened from now on."""
    try:
        role = made()
    except Error as error:
        log.warning("The server works as the owner of its tables: %s", str(error).splitlines()[0])
        return False
    finally:
        connections.close_all()
    own: dict[str, Any] = {"USER": role, "PASSWORD": password_of(role)}
    settings.DATABASES["default"].update(own)
    connection.settings_dict.update(own)
    return True
