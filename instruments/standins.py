"""Stand-ins for measuring devices on loopback, answering standard instrument commands.

Each has a port of its own: a level and a protractor (`MEAS:ANGL?`), a cable tension gauge
(`MEAS:SCAL?`), a thermometer (`MEAS:TEMP?`), the gauge of a closed tank and a barometer
(`MEAS:PRES?`, Pa), a multimeter (`MEAS:RES?`, Ω), an ammeter of the bus (`MEAS:CURR?`, A) and a
device with a signal of its own (`READ?`), three scales (`MEAS:MASS?`, kg); all answer `*IDN?`
and `SYST:ERR?`. The hand's port stands for the person who puts them in place and moves the
controls: `LAY aircraft surface position`, `CLAMP aircraft control side`, `PROBE aircraft wire
-`, `SWITCH aircraft bus breaker`, `WAKE aircraft device -`, `WEIGH aircraft scale wheel`, and
who has turned rods, stops and turnbuckles: `RIG mechanism {"rods": {...}, "stops": {...},
"cables": {...}}`.
"""

from __future__ import annotations

import argparse
import base64
import json
import socketserver
import threading
import time
from collections.abc import Callable

from instruments.cables import PLACES, TensionGauge, Thermometer, pluck
from instruments.level import Level
from instruments.meters import Bench
from instruments.scales import NAMES as SCALES
from instruments.scales import Scales
from instruments.tank import Tank

NAMES = (
    "level", "tension", "temperature", "protractor", "pressure", "barometer", "multimeter",
    "ammeter", "detector", "scale-a", "scale-b", "scale-c",
)  # fmt: skip


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

    def __init__(self, port: int, answer: Callable[[str], str | None]) -> None:
        super().__init__(("127.0.0.1", port), Lines)
        self.answer = answer


def instrument(
    name: str, commands: tuple[str, ...], read: Callable[[], str]
) -> Callable[..., str | None]:
    """The vocabulary of an instrument that measures one thing."""

    def answer(line: str) -> str | None:
        command = line.upper()
        if command == "*IDN?":
            return f"Stand-in,{name},0,1"
        if command in commands:
            return read()
        if command == "SYST:ERR?":
            return '0,"No error"'
        return None if command in ("*RST", "*CLS", "") else '-113,"Undefined header"'

    return answer


class StandIns:
    """All of them, running in the background."""

    def __init__(self, ports: dict[str, int], seed: int = 1) -> None:
        self.levels = (Level(seed), Level(seed + 1, 0.02))
        self.gauge = TensionGauge(seed + 2)
        thermometer = Thermometer(seed + 3)
        tank = Tank(seed + 4)
        self.bench = bench = Bench(seed + 5)
        self.scales = Scales(seed + 6)
        angle = ("MEAS:ANGL?", "MEASURE:ANGLE?")
        pressure = ("MEAS:PRES?", "MEASURE:PRESSURE?")
        answers = {
            "level": instrument("Digital level", angle, lambda: f"{self.levels[0].read():.2f}"),
            "protractor": instrument("Protractor", angle, lambda: f"{self.levels[1].read():.2f}"),
            "tension": instrument(
                "Tension gauge", ("MEAS:SCAL?",), lambda: f"{self.gauge.read():.1f}"
            ),
            "temperature": instrument(
                "Thermometer", ("MEAS:TEMP?",), lambda: f"{thermometer.read():.1f}"
            ),
            "pressure": instrument("Pressure gauge", pressure, lambda: f"{tank.gauge():.0f}"),
            "barometer": instrument("Barometer", pressure, lambda: f"{tank.barometer():.0f}"),
            "multimeter": instrument(
                "Multimeter", ("MEAS:RES?", "MEASURE:RESISTANCE?"), lambda: f"{bench.ohms():.4f}"
            ),
            "ammeter": instrument(
                "Ammeter", ("MEAS:CURR?", "MEASURE:CURRENT?"), lambda: f"{bench.amps():.2f}"
            ),
            "detector": instrument("Gas detector", ("READ?",), lambda: f"{bench.signal():.0f}"),
            "hand": self.hand,
        }
        for name in SCALES:
            answers[name] = self._scale(name)
        self.ports = {name: Port(ports.get(name, 0), answer) for name, answer in answers.items()}
        for port in self.ports.values():
            threading.Thread(target=port.serve_forever, daemon=True).start()

    def _scale(self, name: str) -> Callable[..., str | None]:
        commands = ("MEAS:MASS?", "MEASURE:MASS?")
        return instrument("Scale", commands, lambda: f"{self.scales.kg(name):.2f}")

    def number(self, name: str) -> int:
        """The port of one of them."""
        return int(self.ports[name].server_address[1])

    @property
    def addresses(self) -> list[str]:
        """The instruments' addresses, in the order of NAMES."""
        return [f"TCPIP0::127.0.0.1::{self.number(n)}::SOCKET" for n in NAMES]

    def close(self) -> None:
        """Stop them."""
        for port in self.ports.values():
            port.shutdown()
            port.server_close()

    def hand(self, line: str) -> str:
        """What a person does: put an instrument in place, turn something."""
        words = line.split()
        if len(words) == 4 and words[0] == "LAY":
            laid = [level.lay(*words[1:]) for level in self.levels]
            return "LAID" if all(laid) else "NOT THERE"
        if len(words) == 4 and words[0] == "CLAMP":
            return "CLAMPED" if self.gauge.clamp(*words[1:]) else "NOT THERE"
        if len(words) == 4 and words[0] in ("PROBE", "SWITCH", "WAKE"):
            return "DONE" if self.bench.hand(*words) else "NOT THERE"
        if len(words) == 4 and words[0] == "WEIGH":
            return "STANDS" if self.scales.stand(*words[1:]) else "NOT THERE"
        if len(words) == 5 and words[0] == "PLUCK":
            return self._pluck(*words[1:])
        if len(words) >= 3 and words[0] == "RIG":
            try:
                changes = json.loads(line.split(maxsplit=2)[2])
            except ValueError:
                return "NOT UNDERSTOOD"
            if not all(level.rig(words[1], changes) for level in self.levels):
                return "NOT UNDERSTOOD"
            self.gauge.rig(words[1], self.levels[0].rigs[words[1]]["cables"])
            return "RIGGED"
        return "LAY aircraft surface position"

    def _pluck(self, aircraft: str, control: str, side: str, span: str) -> str:
        """A plucked span as a microphone hears it: a WAV in base 64."""
        try:
            length = float(span)
        except ValueError:
            return "NOT UNDERSTOOD"
        drawn = self.gauge.drawn.get(f"{PLACES.get((aircraft, control))}-cables", {})
        heard = pluck(aircraft, control, side, length, drawn, int(time.time() * 1e3) & 0xFFFF)
        return base64.b64encode(heard).decode() or "NOT THERE"


def main() -> None:
    """Run the stand-ins until they are stopped."""
    parser = argparse.ArgumentParser(description=__doc__)
    for name in (*NAMES, "hand"):
        parser.add_argument(f"--{name}", dest=name, type=int, required=True)
    StandIns(vars(parser.parse_args()), int(time.time()))
    threading.Event().wait()


if __name__ == "__main__":
    main()
