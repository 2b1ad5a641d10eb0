"""The demo's database, made once: kept as a template, and cloned anew after whatever changed it.

A test in a transaction leaves no trace. One that commits (a browser, several people at once)
marks its database as used; whoever comes next in that process gets a clone in its place.
"""

from __future__ import annotations

import os
from typing import Any

from django.conf import settings
from django.db import connection, connections
from django.test import override_settings

from instruments.standins import NAMES

# Hashing passwords slowly is a virtue that tests can do without.
FAST = ["django.contrib.auth.hashers.MD5PasswordHasher"]
ADDRESSES = [f"TCPIP0::127.0.0.1::{n}::SOCKET" for n, _ in enumerate(NAMES, 1)]
ON_THE_DEMO: dict[str, Any] = {
    "DEMO": True,
    "INSTRUMENT_ADDRESSES": ADDRESSES,
    "PASSWORD_HASHERS": FAST,
}
TEMPLATE = "ASHLANE_TEST_TEMPLATE"
# The loaded demo may be kept under a name, and further runs take it instead of loading it anew.
KEPT_AS, PREPARED = "ASHLANE_TEST_KEPT_AS", "ASHLANE_TEST_PREPARED"
_used = False


def load_demo() -> None:
    """Fill the fresh test database with the demo and keep it as the template of all clones."""
    from server.demo.loading import load

    with override_settings(**ON_THE_DEMO):
        load()
    name = f"{connection.settings_dict['NAME']}_demo"
    os.environ[TEMPLATE] = name
    _copy(connection.settings_dict["NAME"], name)
    if kept := os.environ.get(KEPT_AS):
        _copy(name, kept)


def clone_prepared() -> list[Any]:
    """Take the demo as an earlier run kept it, for one process; nothing to tear down."""
    name = str(connection.settings_dict["TEST"]["NAME"])
    os.environ[TEMPLATE] = os.environ[PREPARED]
    _copy(os.environ[PREPARED], name)
    settings.DATABASES["default"]["NAME"] = connection.settings_dict["NAME"] = name
    return []


def drop_template() -> None:
    """The template is not needed any more."""
    with connection._nodb_cursor() as cursor:
        cursor.execute(f'DROP DATABASE IF EXISTS "{os.environ[TEMPLATE]}" WITH (FORCE)')


def mark_used() -> None:
    """What follows commits: the next test needs the demo anew."""
    global _used
    _used = True


def renew() -> None:
    """The demo as it was loaded, if a test before committed anything."""
    global _used
    if _used:
        _copy(os.environ[TEMPLATE], connection.settings_dict["NAME"])
        _used = False


def _copy(source: str, target: str) -> None:
    connections.close_all()
    with connection._nodb_cursor() as cursor:
        cursor.execute(f'DROP DATABASE IF EXISTS "{target}" WITH (FORCE)')
        cursor.execute(f'CREATE DATABASE "{target}" TEMPLATE "{source}" STRATEGY file_copy')
    assert settings.DATABASES["default"]["ENGINE"].endswith("postgresql")
