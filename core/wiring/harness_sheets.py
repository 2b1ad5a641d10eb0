"""Worksheets begun from the harness: what is entered there is typed into their tables.

What the harness does not know is left empty: the sheet asks for it.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from core.runs.beside import CABLE
from core.wiring.first_power import breaker_of
from core.wiring.harness import BUS, CIRCUIT, CONNECTOR, WIRE, Harness, Row
from core.worksheets.kinds import run

Typed = dict[str, Any]
RESISTANCE = "wiring.resistance"


def _typed(value: float, unit: str = "") -> str:
    return f"{value:.6g} {unit}".strip()


def loads(h: Harness) -> Typed:
    """Each circuit with its current; in which phases it is on, the sheet asks."""
    rows = [c for c in h.of(CIRCUIT) if "current_A" in c.values]
    return {"loads": [{"id": c.name, "current": _typed(c.values["current_A"], "A")} for c in rows]}


def grounds(h: Harness) -> Typed:
    """Returns from connector to connector, shields that are grounded at both ends, circuits that
    return by structure."""
    edges: list[Typed] = []
    for w in h.of(WIRE):
        a, b = w.end("a"), w.end("b")
        if a is None or b is None:
            continue
        ends = {"a": _node(h, a[0]), "b": _node(h, b[0])}
        if w.values["part"] == "return":
            edges.append({"id": w.name, **ends, "kind": "wire", **_ohms(h, w)})
        if w.values.get("shield") == "both":
            edges.append({"id": f"shield of {w.name}", **ends, "kind": "shield"})
    for c in h.of(CIRCUIT):
        if c.values.get("back") == "structure":
            ohm = c.values.get("structure_ohm")
            more = {} if ohm is None else {"ohm": _typed(ohm * 1e3, "mohm")}
            edges.append({"id": f"return of {c.name}", "a": _load_of(h, c), "b": "structure",
                          "kind": "structure", **more})  # fmt: skip
    return {"edges": edges}


def _node(h: Harness, connector: str) -> str:
    """A connector as one place with its mate: a ring that leads through both is found."""
    own = h.named(CONNECTOR, connector)
    mate = own and h.named(CONNECTOR, str(own.values.get("mate", "")))
    return min(own.name, mate.name) if own and mate else own.name if own else connector


def _ohms(h: Harness, w: Row) -> Typed:
    long = h.length_m(w)
    if "awg" not in w.values or long is None:
        return {}
    found = run(RESISTANCE, {"awg": w.values["awg"], "length_m": long})
    return {"ohm": _typed(found["ohm"] * 1e3, "mohm")}


def _load_of(h: Harness, c: Row) -> str:
    """Where its way ends: the last connector of it, else its own name."""
    _, ends = h.way_of(c)
    return _node(h, ends[0][0]) if ends else c.name


def field(h: Harness) -> Typed:
    """Every wire that carries a circuit's current, along each bundle with a way: the way to it
    along the bundle, its return the other way."""
    rows = []
    for w in h.of(WIRE):
        c = h.named(CIRCUIT, w.values["circuit"])
        if c is None or "current_A" not in c.values or w.values["part"] == "signal":
            continue
        way = 1.0 if w.values["part"] == "feed" else -1.0
        rows += [
            {
                "id": f"{w.name} in {b.name}",
                "current": _typed(way * c.values["current_A"], "A"),
                "points": "; ".join(_typed(x * 1e3, "mm") for p in b.way_m for x in p),
            }
            for b in h.bundles_of(w)
            if b.way_m
        ]
    return {"circuits": rows}


def sensor_place(h: Harness) -> Typed:
    """Control cables, which are steel and move: a row for each position that is looked at."""
    items = [
        {
            "id": f"{one.name} {moves}",
            "class": "steel moving",
            "points": "; ".join(_typed(x * 1e3, "mm") for p in way for x in p),
            "radius": _typed((one.radius_m or 0.0) * 1e3, "mm"),
        }
        for one in h.beside
        if one.kind == CABLE
        for way, moves in zip(one.ways, one.moves, strict=True)
    ]
    return {"items": items}


def coverage(h: Harness) -> Typed:
    """From each bus past its protectors along the wires, through what is mated."""
    edges: list[Typed] = []
    buses, ends = [], []
    for c in h.of(CIRCUIT):
        bus = next((b.name for b in h.of(BUS) if c in h.circuits_of(b)), "bus")
        feeds = [w for w in h.wires_of(c) if w.values["part"] == "feed"]
        starts, over = h.way_of(c)
        buses.append(bus)
        for at in dict.fromkeys(".".join(x) for x in starts):
            kind = "protector" if breaker_of(h, c) else "wire"
            edges.append({"id": f"{bus} to {at}", "a": bus, "b": at, "kind": kind})
        ends += [".".join(x) for x in over]
        for w in feeds:
            a, b = w.end("a"), w.end("b")
            if a and b:
                edges.append({"id": w.name, "a": ".".join(a), "b": ".".join(b), "kind": "wire"})
    for x in h.of(CONNECTOR):
        mate = h.named(CONNECTOR, str(x.values.get("mate", "")))
        if mate is not None and x.name < mate.name:
            edges += [
                {"id": f"{x.name}.{p} mated", "a": f"{x.name}.{p}", "b": f"{mate.name}.{p}",
                 "kind": "wire"}
                for p in x.pins if p in mate.pins
            ]  # fmt: skip
    used = {e[k] for e in edges if " mated" not in e["id"] for k in "ab"}
    edges = [e for e in edges if " mated" not in e["id"] or {e["a"], e["b"]} & used]
    return {
        "sources": "; ".join(dict.fromkeys(buses)),
        "loads": "; ".join(dict.fromkeys(ends)),
        "edges": _once(edges),
    }


def _once(edges: list[Typed]) -> list[Typed]:
    return list({e["id"]: e for e in edges}.values())


BEGUN: dict[str, Callable[[Harness], Typed]] = {
    "phases": loads,
    "grounds": grounds,
    "field": field,
    "coverage": coverage,
    "sensor place": sensor_place,
}


def begun(h: Harness, kind: str) -> Typed:
    """What a kind of sheet takes from the harness, as typed; empty where there is nothing."""
    found = BEGUN[kind](h) if kind in BEGUN else {}
    return {k: v for k, v in found.items() if v}
