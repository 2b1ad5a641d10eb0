"""What bin/probe adds to every request that it makes up: things that are there, and a key."""

import json
import random
import uuid
from pathlib import Path

import schemathesis

# Where the demo has something of that name, most requests ask for it, so that they get past
# the address; the rest keep what was made up.
TESTKIT = Path(__file__).resolve().parents[1] / "testkit"
PLACES = json.loads((TESTKIT / "places.json").read_text(encoding="utf-8"))


@schemathesis.hook
def before_call(context, case, kwargs):
    """An address that is there, and a key that no other write has."""
    case.headers = {**(case.headers or {}), "Idempotency-Key": uuid.uuid4().hex}
    for name, value in PLACES.items():
        if name in (case.path_parameters or {}) and random.random() < 0.8:
            case.path_parameters[name] = value
