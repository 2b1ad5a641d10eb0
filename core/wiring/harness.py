"""The harness as entered, row by row: circuits, their wires, connectors and bundles.

Each kind of row asks its fields as a worksheet does (`core.worksheets`); nothing is needed but
what names a row's place among the others: what nobody said is told by its check.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import pairwise
from typing import Any, TypeVar

from core.runs.beside import Beside
from core.runs.holes import BARE, GUARDS, UNSAID, Hole
from core.wiring.finishing import STEPS
from core.wiring.sheets.asking import Field, amps, awg, number, ohms, points, triples, yes
from core.wiring.sheets.circuits import CIRCUITS
from core.wiring.sheets.connectors import UNDONE, WORDS, pins_of, place_of
from core.wiring.words import CAUTION
from core.worksheets.kinds import Kind, Worked, run

T = TypeVar("T")
CIRCUIT, WIRE, CONNECTOR, BUNDLE, BUS = "circuit", "wire", "connector", "bundle", "bus"
FROM_WIRES = ("id", "awg", "feed", "back_long")
PARTS = (("feed", "the way to it"), ("return", "its return"), ("signal", "a signal"))
CONTACTS = (("pin", "pins"), ("socket", "sockets"), ("terminal", "terminals or lugs"))
SHIELDS = (("a", "at its start"), ("b", "at its end"), ("both", "at both"), ("none", "nowhere"))
PLATES = (("bulkhead", "bulkhead"), ("rib", "rib"))
EDGES = ((BARE, "no guard"), *GUARDS.items())
SCHOOLS = (("ties", "ties"), ("lacing", "lacing"))
STATES = (("mated", "mated"), ("capped", "capped"), ("covered", "covered"), ("open", "open"))
INSULATED, POLARITY, PULLED, PUT_IN = "insulated", "polarity", "pulled", "in"
STEP_WORDS = {
    "run": "run",
    "end_a": "its start terminated",
    "end_b": "its end terminated",
    "tested": "tested",
    "labelled": "labelled",
    INSULATED: "its insulation tested",
    POLARITY: "polarity of the battery read at the lugs",
    PULLED: "every breaker pulled, the bus off",
    PUT_IN: "put in",
}
# What may be done to each kind of row.
DOINGS = {WIRE: STEPS, CIRCUIT: (INSULATED,), "bus": (POLARITY, PULLED, PUT_IN)}


ODD = Field("odd", "odd", "What is odd about it, and why that is right",
            hint="a rivet nut here: the plate is too thin to tap")  # fmt: skip


def _accepted(*choices: tuple[str, str]) -> Field:
    """What a person accepts as it is, each with the reason."""
    return Field("accepted", "accepted", "Accepted as it is", "table", columns=(
        Field("what", "what", "What", "choice", choices=choices, needed=True),
        Field("why", "why", "Because", needed=True),
    ))  # fmt: skip


def _kind(name: str, title: str, asks: str, *fields: Field) -> Kind:
    return Kind(name, "wires", "harness", title, asks, fields, lambda asked: Worked(), CAUTION)


ROWS: dict[str, Kind] = {
    k.id: k
    for k in (
        _kind(
            CIRCUIT, "Circuit", "What does it draw, and what protects it?",
            *(replace(c, needed=False, under="") for c in CIRCUITS if c.key not in FROM_WIRES),
            Field("system", "system_V", "Bus: 14 or 28", "voltage", "V", hint="14"),
            Field("drop", "drop_limit_V", "Or a drop limit of its own", "voltage", "V",
                  limit=True),
            number("factor", "table_factor", "Derating of the table, up to 1", limit=True),
            number("over", "factor", "Protector over load, at least 1", hint="1.25"),
            Field("bus", "bus", "Fed from bus", hint="Main bus"),
            Field("breaker", "breaker", "Its breaker, if not where it starts", hint="CB1.3"),
            amps("expected", "expected_A", "Expected at the first power"),
            ohms("insulation", "insulation_ohm", "Insulation at least", "Mohm", limit=True),
            Field("settings", "settings", "Settings and software of its device", "table", columns=(
                Field("what", "what", "What", needed=True, hint="software"),
                Field("is", "is", "Is", needed=True, hint="version 2.1"),
            )),
        ),
        _kind(
            WIRE, "Wire", "From where to where, how thick, how far is it done?",
            Field("circuit", "circuit", "Circuit", needed=True, hint="Landing light"),
            Field("part", "part", "It is", "choice", choices=PARTS, needed=True),
            awg("awg", "awg", "Gauge"),
            Field("from", "a", "Starts at connector.pin", hint="CB1.3"),
            Field("to", "b", "Ends at connector.pin", hint="P3.7"),
            Field("length", "length_m", "Length", "length"),
            Field("bundles", "bundles", "In bundles, parted by ;", "words"),
            Field("beside", "beside_m", "Length beside its bundles", "length"),
            Field("colour", "colour", "Colour or marks"),
            Field("class", "class", "Class", hint="strobe, audio, sensor"),
            Field("shield", "shield", "Its shield is grounded", "choice", choices=SHIELDS),
            Field("splices", "splices_m", "Splices, from its start", "length", many=0),
            Field("od", "od_m", "Outside diameter", "length", "mm"),
            ODD, _accepted(("made", "its splices or its shield")),
        ),
        _kind(
            CONNECTOR, "Connector", "Which pins has it, and what do they take?",
            Field("contacts", "contacts", "Its contacts are", "choice", choices=CONTACTS,
                  needed=True),
            Field("pins", "pins", "Pins with thinnest and thickest gauge", "words", needed=True,
                  hint="1-4 24 20; 5 20 16"),
            Field("mate", "mate", "Goes with", hint="J3"),
            Field("rows", "rows", "Pins in each row of its face", "numbers", hint="5; 4"),
            Field("at", "point_m", "Place: station; butt line; water line", "length", many=3),
            yes("closed", "closed", "Its shell is closed up"),
            Field("state", "state", "It is now", "choice", choices=STATES),
            Field("bare", "bare", "Pins that are bare, parted by ;", "words"),
            ODD, _accepted(*((code, words) for code, words in WORDS.items() if code not in UNDONE)),
        ),
        _kind(
            BUNDLE, "Bundle", "Which way does it go, and what holds it?",
            points("points", "points_m", "Corners: station; butt line; water line, in order"),
            Field("supports", "supports_m", "Supports along it", "length", many=0),
            Field("span", "span_m", "Longest span between supports", "length", limit=True),
            Field("conduit", "conduit_id_m", "Inside of its conduit", "length", "mm"),
            Field("wrap", "wrap_m", "Thickness of its wrap", "length", "mm"),
            yes("cord", "spare_cord", "A spare cord lies in its conduit"),
            Field("apart", "apart", "Classes that must not share it, parted by ;", "words",
                  hint="strobe/audio; strobe/sensor"),
            Field("holes", "holes", "Round holes that it goes through", "table", columns=(
                Field("id", "id", "Hole", needed=True, hint="rib 1"),
                Field("station", "station_m", "Station", "length", needed=True),
                Field("y", "y_m", "Butt line", "length", needed=True),
                Field("z", "z_m", "Water line", "length", needed=True),
                Field("d", "d_m", "Diameter", "length", needed=True),
                Field("plate", "plate", "In a", "choice", choices=PLATES),
                Field("guard", "guard", "Its edge", "choice", choices=EDGES),
            )),
            yes("no_holes", "no_holes", "It goes through no bulkhead and no rib"),
            Field("edge_gap", "edge_gap_m", "Gap to a bare edge that needs no guard", "length",
                  limit=True),
            Field("bend", "bend_m", "Inside of its tightest bend", "length", "mm"),
            Field("bend_u", "bend_U_m", "U of that", "length", "mm"),
            Field("school", "school", "Tied or laced", "choice", choices=SCHOOLS),
            Field("ties", "ties_m", "Ties along it", "length", many=0, hint="40; 80; 120"),
            Field("every", "every_m", "Or a tie every", "length", "mm", hint="18"),
            yes("ends_held", "ends_held", "A clamp at each end"),
            Field("way_u", "way_U_m", "Its way is known to ±", "length"),
            Field("held_to", "held_to", "Clamped apart to these lines, parted by ;", "words"),
            Field("guarded", "guarded", "A guard keeps it from these cables, parted by ;",
                  "words"),
            Field("cable_gap", "cable_gap_m", "From control cables at least", "length",
                  limit=True),
            Field("apart_by", "apart_by_m", "From bundles of such classes at least", "length",
                  limit=True),
            _accepted(("apart", "classes that share it")),
        ),
        _kind(
            BUS, "Bus", "May it have power for the first time, and which breaker comes next?",
            amps("alone", "bus_A", "It draws alone, every breaker out"),
            number("rel", "window_rel", "A breaker may draw otherwise by, %", scale=0.01,
                   hint="20", limit=True),
            amps("window", "window_A", "And by at least", hint="0.2", limit=True),
            Field("at", "point_m", "Place: station; butt line; water line", "length", many=3),
        ),
    )
}  # fmt: skip


@dataclass(frozen=True)
class Row:
    """A row as read: `values` by the fields' names, SI. done: of a wire, the steps that hold.
    test: of a wire, the continuity test that holds (inputs and verdict). log: all that was done
    and holds, oldest first, each with `doing` and what was read."""

    kind: str
    slug: str
    name: str
    values: Mapping[str, Any]
    done: tuple[str, ...] = ()
    test: Mapping[str, Any] = field(default_factory=dict)
    cited: str = ""
    log: tuple[Mapping[str, Any], ...] = ()

    def end(self, which: str) -> tuple[str, str] | None:
        """Connector and pin of a wire's start (a) or end (b)."""
        field = {"a": "from", "b": "to"}[which]
        place = place_of(self.values.get(which), self.name, field)
        return None if place is None else (place["connector"], place["pin"])

    @property
    def accepted(self) -> dict[str, str]:
        """What a person accepts as it is, by the first word of its check, with the reason."""
        return {r["what"]: r["why"] for r in self.values.get("accepted", ())}

    @property
    def way_m(self) -> list[list[float]]:
        """A bundle's corners, m; none where they were not said."""
        given = self.values.get("points_m")
        return triples(given, "points") if given else []

    @property
    def holes(self) -> tuple[Hole, ...] | None:
        """What a bundle goes through; None where nobody said."""
        rows = self.values.get("holes")
        if rows:
            return tuple(
                Hole(
                    r["id"], r["station_m"], r["y_m"], r["z_m"], r["d_m"],
                    r.get("guard", UNSAID), r.get("plate") == "rib",
                )
                for r in rows
            )  # fmt: skip
        return () if self.values.get("no_holes") else None

    @property
    def pins(self) -> dict[str, list[str]]:
        """A connector's pins with thinnest and thickest gauge."""
        return pins_of(self.values["pins"], self.name, "pins")


@dataclass(frozen=True)
class Harness:
    """All rows of an aircraft, and what else is routed through it; names are compared without
    regard to capitals."""

    rows: tuple[Row, ...]
    beside: tuple[Beside, ...] = ()

    def of(self, kind: str) -> list[Row]:
        """Those of a kind, in their order."""
        return [r for r in self.rows if r.kind == kind]

    @cached_property
    def _by_name(self) -> dict[tuple[str, str], Row]:
        return {(r.kind, r.name.casefold()): r for r in reversed(self.rows)}

    @cached_property
    def _by_circuit(self) -> dict[str, list[Row]]:
        return _gathered((w.values["circuit"], w) for w in self.of(WIRE))

    @cached_property
    def _by_bundle(self) -> dict[str, list[Row]]:
        named = ((b, w) for w in self.of(WIRE) for b in dict.fromkeys(_bundles(w)))
        return _gathered(named)

    @cached_property
    def _by_connector(self) -> dict[str, list[tuple[Row, str, str]]]:
        ends = ((w, e, w.end(e)) for w in self.of(WIRE) for e in "ab")
        return _gathered((at[0], (w, e, at[1])) for w, e, at in ends if at)

    def named(self, kind: str, name: str) -> Row | None:
        """The one of that name."""
        return self._by_name.get((kind, name.casefold()))

    def wires_of(self, circuit: Row) -> list[Row]:
        """The wires of a circuit."""
        return self._by_circuit.get(circuit.name.casefold(), [])

    def wires_in(self, bundle: Row) -> list[Row]:
        """The wires that lie in a bundle."""
        return self._by_bundle.get(bundle.name.casefold(), [])

    def wires_at(self, connector: Row) -> list[tuple[Row, str, str]]:
        """(wire, its end, pin) of all that end at a connector."""
        return self._by_connector.get(connector.name.casefold(), [])

    def joined(self, at: tuple[str, str] | None) -> tuple[str, str] | None:
        """A pin as one place with the one that it is mated to."""
        if at is None:
            return None
        own = self.named(CONNECTOR, at[0])
        mate = own and self.named(CONNECTOR, str(own.values.get("mate", "")))
        return min(at[0].casefold(), mate.name.casefold() if mate else at[0].casefold()), at[1]

    def way_of(self, circuit: Row) -> tuple[list[tuple[str, str]], list[tuple[str, str]]]:
        """Where the way to a circuit's load begins, and where it ends, in the order of its wires:
        what is mated leads on."""
        feeds = [w for w in self.wires_of(circuit) if w.values["part"] == "feed"]
        a, b = ([(w.end(e), self.joined(w.end(e))) for w in feeds] for e in "ab")
        into, out = {place for _, place in b}, {place for _, place in a}
        return (
            [at for at, place in a if at and place not in into],
            [at for at, place in b if at and place not in out],
        )

    def circuits_of(self, bus: Row) -> list[Row]:
        """The circuits that a bus feeds: those that name it; those that name none, where there
        is but one."""
        alone = len(self.of(BUS)) == 1
        said = ((c, str(c.values.get("bus", "")).casefold()) for c in self.of(CIRCUIT))
        return [c for c, name in said if name == bus.name.casefold() or (alone and not name)]

    def bundles_of(self, wire: Row) -> list[Row]:
        """The bundles that a wire lies in, those that are there."""
        found = (self.named(BUNDLE, b) for b in _bundles(wire))
        return [b for b in found if b is not None]

    def length_m(self, wire: Row) -> float | None:
        """As said; else of its bundles and what lies beside them. None: not known."""
        said = wire.values.get("length_m")
        if said is not None:
            return float(said)
        bundles, beside = self.bundles_of(wire), wire.values.get("beside_m")
        if beside is None or len(bundles) < len(_bundles(wire)):
            return None
        if not bundles or not all(b.way_m for b in bundles):
            return None
        return float(beside) + math.fsum(along_m(b.way_m) for b in bundles)

    def test_holds(self, wire: Row) -> bool:
        """Whether its last test was of the gauge and length that it has now."""
        if not wire.test:
            return False
        now = (wire.values.get("awg"), self.length_m(wire))
        return now == (wire.test["awg"], wire.test["length_m"])

    def done(self, wire: Row) -> tuple[str, ...]:
        """The steps of a wire that hold: a test of what it was before does not."""
        stale = "tested" in wire.done and not self.test_holds(wire)
        return tuple(s for s in wire.done if not (stale and s == "tested"))

    def missing(self, wire: Row) -> tuple[str, ...]:
        """What of a wire is not done yet, in words."""
        return tuple(STEP_WORDS[s] for s in STEPS if s not in self.done(wire))

    def pin_states(self, connector: Row) -> list[tuple[str, str, str]]:
        """(pin, what ends there, how far that end is): spare, planned, run, terminated, done, or
        two wires."""
        at: dict[str, list[tuple[Row, str]]] = {}
        for w, end, pin in self.wires_at(connector):
            at.setdefault(pin, []).append((w, end))
        return [
            (p, ", ".join(w.name for w, _ in at.get(p, [])), self._pin_state(at.get(p, [])))
            for p in connector.pins
        ]

    def _pin_state(self, here: Sequence[tuple[Row, str]]) -> str:
        if len(here) != 1:
            return "two wires" if here else "spare"
        w, end = here[0]
        done = self.done(w)
        if not self.missing(w):
            return "done"
        if f"end_{end}" in done:
            return "terminated"
        return "run" if "run" in done else "planned"

    def progress(self, wires: Sequence[Row]) -> dict[str, Any] | None:
        """How much of these is done (`wiring.completeness`); None of no wire."""
        if not wires:
            return None
        rows = [{"id": w.slug, "done": list(self.done(w))} for w in wires]
        return run("wiring.completeness", {"conductors": rows})


def _gathered(named: Iterable[tuple[str, T]]) -> dict[str, list[T]]:
    """By their name in small letters, in their order."""
    found: dict[str, list[T]] = {}
    for name, what in named:
        found.setdefault(name.casefold(), []).append(what)
    return found


def _bundles(wire: Row) -> Sequence[str]:
    found: Sequence[str] = wire.values.get("bundles", ())
    return found


def along_m(way_m: Sequence[Sequence[float]]) -> float:
    """How long a way is along its corners, m."""
    return math.fsum(math.dist(a, b) for a, b in pairwise(way_m))
