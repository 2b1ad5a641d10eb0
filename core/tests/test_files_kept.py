"""What is worked out from the demo's linkages and cables, and from each with one of its numbers
somewhat more or less: a digest each, so that no answer changes unseen.

A change on purpose: ASHLANE_KEEP_PRINTS=1 keeps it anew.
"""

import hashlib
import json
import os
from dataclasses import asdict, is_dataclass
from datetime import datetime, timedelta
from functools import reduce
from pathlib import Path
from unittest import TestCase

import numpy as np

from core.basis.refused import Refused
from core.cables.done import Did, Done, Read
from core.cables.judging import judge
from core.cables.lever import SIDES
from core.cables.reading import rigging_from
from core.cables.rigging import Rigged
from core.cables.setting import today
from core.controls.linkage.advising import Aim, Item, advise
from core.controls.linkage.document import document_from, document_to
from core.controls.linkage.fitting import fit, wrong_way
from core.controls.linkage.lockup import first_lock
from core.controls.linkage.rod_ends import rod_states
from core.controls.linkage.solving import gear, solve
from core.controls.linkage.stops import stops
from testkit.laws import put

DEMO = Path(__file__).parents[2] / "demo"
FOLDER = Path(__file__).with_name("files")
ENDS = ("full left", "full right")
THEN = datetime(2026, 3, 4, 10)
WARM, COLD = 288.15, 263.15


def rounded(value):
    """Plain, with numbers to six digits."""
    if is_dataclass(value) and not isinstance(value, type):
        value = asdict(value)
    if isinstance(value, dict):
        return {str(k): rounded(v) for k, v in value.items()}
    if isinstance(value, (list, tuple, np.ndarray)):
        return [rounded(v) for v in value]
    if isinstance(value, (float, np.floating)):
        return 0.0 if abs(value) < 1e-9 else float(f"{float(value):.6g}")
    return value if isinstance(value, (str, int, bool, type(None))) else str(value)


def numbers(value, path=()):
    """Where each number of a file stands."""
    if isinstance(value, dict):
        for key, inner in value.items():
            yield from numbers(inner, (*path, key))
    elif isinstance(value, list):
        for n, inner in enumerate(value):
            yield from numbers(inner, (*path, n))
    elif isinstance(value, (int, float)) and not isinstance(value, bool) and value:
        yield path


def tried(what):
    """What comes out; or what is refused, and why."""
    try:
        return rounded(what())
    except Refused as refusal:
        return [refusal.field, refusal.reason]


def read(key, side, method, value, u, after=1, temperature=WARM):
    return Read(key, side, method, value, u, THEN + timedelta(hours=after), temperature)


def done(asked):
    """Two ways of measuring on one side, one on the other; turned before, locked afterwards."""
    readings = (
        read(1, "A", "gauge", asked * 1.01, 3.0),
        read(2, "A", "deflection", asked * 1.04, 9.0, 2),
        read(3, "B", "gauge", asked * 0.9, 3.0, 3, COLD),
        read(4, "A", "straight", 0.002, 0.003, 4),
    )
    events = (Did("turned", "A", THEN), Did("safetied", "A", THEN + timedelta(hours=5)))
    return Done(readings, events, {"A": (1.0, 2.0), "B": None})


def of_cables(file):
    rigged = Rigged(rigging_from(file))
    wanted = rigged.tension_N
    return [
        *judge(rigged, Done(), "rudder", True, ENDS),
        *judge(rigged, done(wanted), "elevator", False, ENDS),
        rigged.through, rigged.supports(), rigged.compliance,
        *(today(rigged, side, kelvin) for side in SIDES for kelvin in (WARM, COLD)),
    ]  # fmt: skip


def of_linkage(file):
    d = document_from(file)
    name, use = next(iter(d.inputs.items()))
    rest = {n: np.zeros(9) for n in d.inputs}
    motion = solve(d.plan, rest | {name: np.linspace(-use.limit, use.limit, 9)})
    outputs = list(d.outputs) if d.stops else []
    return [
        document_to(d), motion.q, [motion.output(o) for o in d.mechanism.outputs], motion.lock,
        gear(motion, name), rod_states(motion), [stops(d.bench(o)) for o in outputs],
    ]  # fmt: skip


def of_rigging(file):
    """Where each output stops, what to turn for half a degree less each way, what readings say."""
    d = document_from(file)
    found = [first_lock(d.plan, n, s * u.limit) for n, u in d.inputs.items() for s in (-1, 1)]
    for b in (d.bench(output) for output in d.outputs if d.stops):
        ends = stops(b)
        if ends.plus is None or ends.minus is None:
            continue
        plus, minus = ends.plus.output, ends.minus.output
        measured = {"neutral": 0.004, "plus": plus + 0.01, "minus": minus - 0.008}
        required = {"neutral": (-0.01, 0.01)}
        required |= {"plus": _around(plus - 0.01), "minus": _around(minus + 0.01)}
        rods = [Item(r.id, 0.0006, -12, 12) for r in list(d.plan.mechanism.rods)[:2]]
        turned = [Item(s.id, 0.004, -8, 8) for s in b.stops[:2]]
        tolerances = {r.id: 0.003 for r in rods}, {s.id: 0.03 for s in turned}
        found += [
            wrong_way(b, measured, 0.003), fit(b, measured, 0.003, *tolerances),
            advise(b, Aim(measured, required, 0.003), rods, turned, 2),
        ]  # fmt: skip
    return found


def _around(x):
    """Limits on both sides of a travel."""
    return (x - 0.008, x + 0.008)


def digest(value):
    return hashlib.sha256(json.dumps(value).encode()).hexdigest()[:8]


class Kept(TestCase):
    def assertKept(self, name, worked_out, nudges=True):
        """Every file of the demo; then each with one of its numbers more, or much less."""
        made = {}
        for path in sorted((DEMO / name.partition("-")[0]).glob("*.json")):
            file = json.loads(path.read_text())
            made[path.stem] = digest(tried(lambda file=file: worked_out(file)))
            for n, at in enumerate(numbers(file) if nudges else ()):
                before = reduce(lambda inside, key: inside[key], at, file)
                other = put(file, at, before * (1.03, 0.5)[n % 2])
                came = digest(tried(lambda other=other: worked_out(other)))
                made[f"{path.stem} {'.'.join(map(str, at))}"] = came
        kept_in = FOLDER / f"{name}.json"
        if os.environ.get("ASHLANE_KEEP_PRINTS"):
            lines = (f"{json.dumps(k)}: {json.dumps(v)}" for k, v in made.items())
            kept_in.write_text("{\n" + ",\n".join(lines) + "\n}\n")
        kept = json.loads(kept_in.read_text())
        self.assertEqual(set(made), set(kept))
        self.assertEqual([at for at, came in made.items() if came != kept[at]], [])


class Cables(Kept):
    def test_cables(self):
        self.assertKept("cables", of_cables)


class Linkages(Kept):
    def test_linkages(self):
        self.assertKept("mechanisms", of_linkage)

    def test_what_to_turn(self):
        self.assertKept("mechanisms-turned", of_rigging, False)
