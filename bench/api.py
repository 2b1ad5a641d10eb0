"""The main calls with one client and with ten, and an aircraft with three thousand concerns."""

from __future__ import annotations

import statistics
import subprocess
import threading
import time
from collections.abc import Sequence

from bench.client import Client
from bench.report import Report, quantile
from bench.running import ROOT, Server

CALLS = 60
PEOPLE = [("ansel", "shed-lamp-42"), ("ines", "second-look-17")]
PLACES = [
    ("elevator", "elevator", "down_stop"),
    ("ailerons", "left-aileron", "down_stop"),
    ("trim", "trim-tab", "up_stop"),
    ("ailerons", "right-aileron", "down_stop"),
    ("elevator", "elevator", "up_stop"),
]
EDGE = {"chord_mm": 310, "offset_mm": 137, "practice": "arc"}
KEEP, CELL = "keep a reading", "a cell of a table of circuits"
CIRCUITS = {
    "system": "14",
    "circuits": [
        {"id": f"lamp {n}", "current": "7.2", "feed": "6.4 m", "back": "structure",
         "structure": "3 mohm", "contacts": "8 mohm", "duty": "continuous", "ambient": "45",
         "rating": "150", "awg": "12", "protector": "breaker", "protector_A": "10"}
        for n in range(12)
    ],
}  # fmt: skip
MOVED = {
    "kind": "loading",
    "row": "two-with-baggage",
    "typed": {
        "loads": [
            {"at": n, "mass": m}
            for n, m in (("Pilot", "84"), ("Passenger", "80"), ("Baggage", "12"))
        ],
        "fuel": [
            {"tank": t, "volume": "32 l", "burn": "28 l"} for t in ("Left tank", "Right tank")
        ],
        "order": [{"shares": "Left tank 0.5; Right tank 0.5"}],
    },
}
MANY = (500, 3000)


def api(report: Report, server: Server) -> None:
    """All of it."""
    for clients, wanted, keeping in ((1, 50, 60), (10, 250, 300)):
        report.title(f"{clients} client{'s' if clients > 1 else ''}, p95")
        for name, values in measure(server.address, clients).items():
            limit = {KEEP: keeping, CELL: 2 * wanted}.get(name, wanted)
            report.at_most(name, quantile(values, 0.95) * 1e3, limit)
    many(report, server)


def _calls(client: Client, number: int) -> list[tuple[str, str, str, object]]:
    """The main calls: name, method, path, body; each client measures a place of its own."""
    tools = client.call("GET", "aircraft/fenlark/instruments")["results"]
    level = next(i["id"] for i in tools if i["name"] == "Digital level")
    control, surface, position = PLACES[number % len(PLACES)]
    reading = {"surface": surface, "position": position, "method": "gauge_difference"}
    reading |= {"value": "-14.55", "instrument": level, "zero": "fixed surface", "skin": "upper"}
    one = f"aircraft/fenlark/controls/{control}"
    return [
        ("aircraft list", "GET", "aircraft", None),
        ("one aircraft", "GET", "aircraft/fenlark", None),
        ("lane", "GET", "aircraft/fenlark/lane", None),
        ("a gate", "GET", "aircraft/fenlark/closures/aft-top-skin", None),
        ("joints", "GET", "aircraft/fenlark/joints", None),
        ("find", "GET", "aircraft/fenlark/find?q=bolt", None),
        ("controls", "GET", "aircraft/fenlark/controls", None),
        ("travel sheet", "GET", "aircraft/fenlark/controls/ailerons", None),
        ("preview a reading", "POST", f"{one}/assess", reading),
        (KEEP, "POST", f"{one}/readings", reading),
        (CELL, "POST", "aircraft/fenlark/worksheet-trial", {"kind": "circuits", "typed": CIRCUITS}),
        ("weight", "GET", "aircraft/fenlark/weight", None),
        ("a load moved", "POST", "aircraft/fenlark/weight/try", MOVED),
        ("signatures", "GET", "aircraft/fenlark/signatures/control:rudder", None),
        ("a rule", "POST", "rules/controls.edge_offset", EDGE),
    ]


def measure(address: str, clients: int) -> dict[str, list[float]]:
    """Times of each call with this many clients at once, s."""
    signed = [Client(address, *PEOPLE[i % 2]) for i in range(clients)]
    times: dict[str, list[float]] = {}
    lock = threading.Lock()

    def work(client: Client, number: int, count: int) -> None:
        for name, method, path, body in _calls(client, number):
            # Keeping makes the sheet grow: a handful shows its time as well.
            for _ in range(min(count, 6) if name == KEEP else count):
                begun = time.perf_counter()
                client.call(method, path, body)
                with lock:
                    times.setdefault(name, []).append(time.perf_counter() - begun)

    count = max(8, CALLS // clients)
    threads = [threading.Thread(target=work, args=(c, i, count)) for i, c in enumerate(signed)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    return times


def many(report: Report, server: Server) -> None:
    """Ten times as many concerns cost no more queries, and hardly more time."""
    client = Client(server.address, *PEOPLE[0])
    few = queries(server)
    add_many(server, *MANY)
    report.title(f"{MANY[1]:,} concerns more, {MANY[0]} of them in one bay")
    for name in ("", "/lane", "/closures/aft-top-skin"):
        values = [_timed(client, f"aircraft/fenlark{name}") for _ in range(9)]
        report.at_most(f"aircraft/fenlark{name}", statistics.median(values) * 1e3, 60)
    for path, before, after in zip(few, few.values(), queries(server).values(), strict=True):
        report.at_most(f"queries of {path} (before: {before})", after, before, "")


def _timed(client: Client, path: str) -> float:
    begun = time.perf_counter()
    client.call("GET", path)
    return time.perf_counter() - begun


def add_many(server: Server, here: int, every: int) -> None:
    """So many joints that are not torqued."""
    _manage(server, "bench.many", str(here), str(every))


def queries(server: Server) -> dict[str, int]:
    """How many queries the frame, the lane, a gate and the list take."""
    said = _manage(server, "bench.counting")
    return {path: int(n) for path, n in (line.split() for line in said.splitlines())}


def _manage(server: Server, module: str, *words: Sequence[str] | str) -> str:
    command = [server.python, "-m", module, *map(str, words)]
    done = subprocess.run(
        command, cwd=ROOT, env=server.env, check=True, capture_output=True, text=True
    )
    return done.stdout
