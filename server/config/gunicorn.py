"""How gunicorn serves: one program is loaded once, makes the database ready, then forks."""

from __future__ import annotations

import gc
from typing import Any

from django.core.management import call_command

from server.config.role import step_down

preload_app = True
threads = 4
loglevel = "warning"


def on_starting(server: Any) -> None:
    """Migrate, load the demo where asked, go over to a role that owns nothing, and hand no open
    connection to the workers."""
    call_command("prepare")
    step_down()


def post_fork(server: Any, worker: Any) -> None:
    """What is loaded stays: it is not looked through for what may go, and the rest less often.

    A page over thousands of concerns makes as many small objects; looking through all of them
    several times while it is made took a third of its time.
    """
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 20, 50)
