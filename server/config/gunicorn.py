"""How gunicorn serves: one program is loaded once, makes the database ready, then forks."""

from __future__ import annotations

from typing import Any

from django.core.management import call_command
from django.db import connections

preload_app = True
threads = 4
loglevel = "warning"


def on_starting(server: Any) -> None:
    """Migrate, load the demo where asked, and hand no open connection to the workers."""
    call_command("prepare")
    connections.close_all()
