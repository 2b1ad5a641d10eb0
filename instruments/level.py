"""A simulated digital level on loopback, answering standard instrument commands.

It listens on two ports. The instrument's own port answers `*IDN?`, `MEAS:ANGL?`,
`SYST:ERR?`. The hand's port stands for the person who lays the level on a surface and
moves the control: `LAY aircraft surface position`, and who has turned rods and stops:
`RIG mechanism {"rods": {...}, "stops": {...}}`. Behind it is a simulated aircraft whose true
angles nobody can ask for: only the level's noisy, stepped and slightly wrong reading.
"""

from __future__ import annotations

import argparse
import json
import random
import socketserver
import threading
import time
from typing import Any

from instruments.aircraft import Rig, mechanism_of, play, true_angle

ZERO_ERROR = 0.06
NOISE = 0.02
STEP = 0.05
SETTLES_IN = 0.8


class Level:
    """The level lying somewhere: it swings after it is laid, then rests."""

    def __init__(self, seed: int) -> None:
        self.chance = random.Random(seed)
        self.true = 0.0
        self.laid_at = time.monotonic()
        self.seating = 0.0
        self.rigs: dict[str, Rig] = {}
        self.lock = threading.Lock()

    def lay(self, aircraft: str, surface: str, position: str) -> bool:
        """Lay it on a surface at a position; False if there is no such place."""
        angle = true_angle(
            aircraft, surface, position, self.rigs.get(mechanism_of(aircraft, surface) or "")
        )
        if angle is None:
            return False
        with self.lock:
            half = play(aircraft, surface) / 2.0
            self.true = angle + self.chance.uniform(-half, half)
            self.laid_at = time.monotonic()
            self.seating = self.chance.gauss(0.0, 0.04)
        return True

    def rig(self, mechanism: str, changes: Any) -> bool:
        """Take what was turned so far, rods in m and stops in rad; False if it is no such thing."""
        if not isinstance(changes, dict):
            return False
        found: Rig = {}
        for group in ("rods", "stops"):
            values = changes.get(group, {})
            if not isinstance(values, dict):
                return False
            if not all(isinstance(v, int | float) for v in values.values()):
                return False
            found[group] = {str(k): float(v) for k, v in values.items()}
        self.rigs[mechanism] = found
        return True

    def read(self) -> float:
        """What the display shows, degrees."""
        with self.lock:
            since = time.monotonic() - self.laid_at
            swing = 3.0 * max(0.0, 1.0 - since / SETTLES_IN) * self.chance.uniform(-1.0, 1.0)
            shown = self.true + ZERO_ERROR + self.seating + swing + self.chance.gauss(0.0, NOISE)
            return round(shown / STEP) * STEP


class Lines(socketserver.StreamRequestHandler):
    """One connection: a command a line, an answer a line."""

    def handle(self) -> None:
        """Answer until the other side goes."""
        try:
            for raw in self.rfile:
                answer = self.server.answer(raw.decode("ascii", "replace").strip())  # type: ignore[attr-defined]
                if answer is not None:
                    self.wfile.write(answer.encode("ascii", "replace") + b"\n")
        except OSError:
            return


class Port(socketserver.ThreadingTCPServer):
    """A loopback port with its own vocabulary."""

    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, port: int, level: Level, hand: bool) -> None:
        super().__init__(("127.0.0.1", port), Lines)
        self.level, self.hand = level, hand

    def answer(self, line: str) -> str | None:
        """The answer to one line; None for commands without answer."""
        return self._hand(line) if self.hand else self._instrument(line)

    def _hand(self, line: str) -> str:
        words = line.split()
        if len(words) == 4 and words[0] == "LAY":
            return "LAID" if self.level.lay(*words[1:]) else "NOT THERE"
        if len(words) >= 3 and words[0] == "RIG":
            try:
                changes = json.loads(line.split(maxsplit=2)[2])
            except ValueError:
                return "NOT UNDERSTOOD"
            return "RIGGED" if self.level.rig(words[1], changes) else "NOT UNDERSTOOD"
        return "LAY aircraft surface position"

    def _instrument(self, line: str) -> str | None:
        command = line.upper()
        if command == "*IDN?":
            return "Stand-in,Digital level,0,1"
        if command in ("MEAS:ANGL?", "MEASURE:ANGLE?"):
            return f"{self.level.read():.2f}"
        if command == "SYST:ERR?":
            return '0,"No error"'
        return None if command in ("*RST", "*CLS", "") else '-113,"Undefined header"'


def serve(port: int, hand_port: int, seed: int = 1) -> tuple[Port, Port]:
    """Start both ports in the background; port 0 takes a free one."""
    level = Level(seed)
    ports = (Port(port, level, False), Port(hand_port, level, True))
    for one in ports:
        threading.Thread(target=one.serve_forever, daemon=True).start()
    return ports


def main() -> None:
    """Run the stand-in until it is stopped."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, required=True)
    parser.add_argument("--hand", type=int, required=True)
    asked = parser.parse_args()
    serve(asked.port, asked.hand, int(time.time()))
    threading.Event().wait()


if __name__ == "__main__":
    main()
