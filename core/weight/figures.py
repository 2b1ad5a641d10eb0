"""What the drawings of weight and balance need: plain numbers, mm and kg."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from itertools import pairwise
from typing import Any

from core.basis.forms import read
from core.basis.refused import Refused
from core.weight.book import Book, Row, labels
from core.weight.burn import FuelIn, Step, legs
from core.weight.reach import Reach, between
from core.weight.rows import CHANGE, LOADING, WEIGHING
from core.weight.weighing import Budget, Correction, Scale, Setup
from core.weight.weighing import budget as weighed
from core.weight.worst import Group, Station, hull
from core.worksheets.kinds import run

STEPS = 24


def envelope_mm(b: Book) -> list[list[float]]:
    """The outline as arm and mass: an edge that is straight in moment is bent."""
    e = b.envelope
    if e is None:
        return []
    points = e["points"]
    if e["plane"] == "arm":
        return [[x * 1e3, m] for x, m in points]
    found = []
    for (xa, ma), (xb, mb) in pairwise([*points, points[0]]):
        for n in range(STEPS):
            t = n / STEPS
            m = ma + t * (mb - ma)
            found.append([(xa + t * (xb - xa)) / m * 1e3, m])
    return found


def of_row(b: Book, r: Row) -> dict[str, Any]:
    """Of a weighing, a loading or a planned change; empty where nothing can be drawn yet."""
    try:
        if r.kind == WEIGHING:
            return weighing_figure(b, r)
        if r.kind == LOADING:
            return loading_figure(b, r)
        return effect_figure(b, r) if r.kind == CHANGE and r.values.get("planned") else {}
    except Refused:
        return {}


def weighing_figure(b: Book, w: Row) -> dict[str, Any]:
    """Wheels with what stands on them, the balance, and which uncertainty matters most."""
    wheels = []
    for label, x in zip(labels(w), w.values["wheels"], strict=True):
        got = w.read.get(label)
        wheels.append({
            "wheel": label, "kind": x["wheel"], "scale": x["scale"], "x_mm": x["x_m"] * 1e3,
            "y_mm": x["y_m"] * 1e3 if "y_m" in x else None,
            "tare_kg": x.get("tare_kg", 0.0), "kg": got["kg"] if got else None,
        })  # fmt: skip
    found: dict[str, Any] = {"wheels": wheels, "result": None, "budget": []}
    if any(x["kg"] is None for x in wheels):
        return found
    result = b.result(w)
    found["result"] = {
        "mass_kg": result["mass_kg"], "U_kg": result["U_mass_kg"], "x_mm": result["x_m"] * 1e3,
        "U_mm": result["U_x_m"] * 1e3, "moment": result["moment_kg_m"],
        "U_moment": result["U_moment_kg_m"],
        "y_mm": None if result["y_m"] is None else result["y_m"] * 1e3,
        "U_y_mm": None if result["U_y_m"] is None else result["U_y_m"] * 1e3,
        "weighed_kg": result["weighed_mass_kg"], "weighed_mm": result["weighed_x_m"] * 1e3,
    }  # fmt: skip
    for n, x in zip(result["net_kg"], wheels, strict=True):
        x["net_kg"] = n
    found["budget"] = shares(w, budget_of(b, w))
    return found


def budget_of(b: Book, w: Row) -> Budget:
    """A weighing with each input's part."""
    asked = b.weighing(w)
    scales = tuple(read(Scale, s) for s in asked.pop("scales"))
    corrections = tuple(read(Correction, c) for c in asked.pop("corrections"))
    return weighed(scales, read(Setup, asked), corrections)


def shares(w: Row, found: Budget) -> list[dict[str, Any]]:
    """What of U of the arm, and of the mass, each input brings, the greatest of the arm first;
    what U of the arm would be without it."""
    rows = []
    total_x, total_m = found.x.u**2, found.mass.u**2
    for name in {*found.x.parts, *found.mass.parts}:
        x, m = found.x.parts.get(name, 0.0), found.mass.parts.get(name, 0.0)
        without = math.sqrt(max(0.0, total_x - x * x))
        rows.append({
            "input": name,
            "arm": x * x / total_x if total_x else 0.0,
            "mass": m * m / total_m if total_m else 0.0,
            "U_mm": 2.0 * abs(x) * 1e3,
            "U_kg": 2.0 * abs(m),
            "without_mm": 2.0 * without * 1e3,
        })  # fmt: skip
    return sorted(rows, key=lambda r: (-r["arm"], -r["mass"], r["input"]))


def loading_figure(b: Book, r: Row) -> dict[str, Any]:
    """The envelope, the aircraft in each state, the way there load by load, the burn; and what
    dragging a load needs: its arm and its mass."""
    asked = b.loaded(r)
    found = run("weight.loading_case", asked)
    e = asked["empty"]
    mass, moment = e["mass_kg"], e["mass_kg"] * e["x_m"]
    way = [{"name": "empty", "x_mm": moment / mass * 1e3, "kg": mass}]
    for x in asked["loads"]:
        mass, moment = mass + x["mass_kg"], moment + x["mass_kg"] * x["x_m"]
        way.append({"name": x["name"], "x_mm": moment / mass * 1e3, "kg": mass})
    states = {
        name: {
            "kg": s["mass_kg"], "x_mm": s["x_m"] * 1e3, "U_kg": s["U_mass_kg"],
            "U_mm": s["U_x_m"] * 1e3, "verdict": s.get("verdict"), "moment": s["moment_kg_m"],
            "y_mm": s["y_m"] * 1e3,
        }
        for name, s in found.items() if name in ("ramp", "takeoff", "landing", "zero_fuel")
    }  # fmt: skip
    track = b.burned(r, asked, found) if b.envelope is not None else None
    burn: dict[str, Any] = {"track": [], "crossings": []}
    if track is not None:
        burn = _burn(track)
    return {
        "envelope": envelope_mm(b),
        "way": way,
        "states": states,
        "loads": [
            {"name": x["name"], "x_mm": x["x_m"] * 1e3, "kg": x["mass_kg"],
             "max": x.get("max_kg")}
            for x in asked["loads"]
        ],
        **burn,
        **_chord(b),
    }  # fmt: skip


def _burn(track: Mapping[str, Any]) -> dict[str, Any]:
    tanks = [FuelIn(**t) for t in track["tanks"]]
    steps = [Step(s["shares"], s.get("burn_kg")) for s in track["steps"]]
    path = []
    for leg in legs(track["mass_kg"], track["x_m"], tanks, steps):
        for n in range(STEPS + 1):
            m, x = leg.at(leg.burn * n / STEPS)
            path.append([x * 1e3, m])
    crossings = run("weight.burn_track", track)["crossings"]
    return {
        "track": path,
        "crossings": [
            {"x_mm": c["x_m"] * 1e3, "kg": c["mass_kg"], "kind": c["kind"], "side": c["side"]}
            for c in crossings
        ],
    }


def _chord(b: Book) -> dict[str, Any]:
    """The mean chord, mm; null where nobody said it."""
    edge, chord = b.limits.get("lemac_m"), b.limits.get("mac_m")
    if edge is None or chord is None:
        return {"mac": None}
    return {"mac": {"edge_mm": edge * 1e3, "chord_mm": chord * 1e3}}


def worst_figure(b: Book) -> dict[str, Any]:
    """The envelope and everything that can be flown, with the worst of it by its loads."""
    try:
        asked = b.worst_asked()
        found = run("weight.worst_cases", asked)
    except Refused as refusal:
        return {"envelope": _soft_envelope(b), "why": refusal.reason}
    return {
        "envelope": envelope_mm(b),
        "forward": list(_edge(asked, 1.0)),
        "aft": list(_edge(asked, -1.0)),
        "worst": {
            name: None if found[f"{name}_worst"] is None else {
                "x_mm": found[f"{name}_worst"]["x_m"] * 1e3,
                "kg": found[f"{name}_worst"]["mass_kg"],
                "margin_mm": found[f"{name}_worst"]["margin_m"] * 1e3,
                "U_mm": found[f"{name}_worst"]["U_x_m"] * 1e3,
                "loads": found[f"{name}_worst"]["loads"],
            }
            for name in ("forward", "aft")
        },
        "extremes": [
            {"what": what, "kg": found[key]["mass_kg"],
             "at_mm": found[key][axis] * 1e3, "loads": found[key]["loads"]}
            for key, what, axis in (
                ("most_forward", "Most forward", "x_m"), ("most_aft", "Most aft", "x_m"),
                ("most_left", "Most left", "y_m"), ("most_right", "Most right", "y_m"),
            )
        ],
        "min_kg": found["min_mass_kg"], "max_kg": found["max_mass_kg"],
        "full_kg": found["all_full_mass_kg"], "verdict": found["verdict"],
        **_chord(b),
    }  # fmt: skip


def _soft_envelope(b: Book) -> list[list[float]]:
    try:
        return envelope_mm(b)
    except Refused:
        return []


def _edge(asked: Mapping[str, Any], sign: float) -> Iterable[list[float]]:
    """The hull of what can be flown, as arm and mass: bent between its corners."""
    stations = tuple(read(Station, s) for s in asked["stations"])
    tanks = tuple(read(Station, s) for s in asked["tanks"])
    groups = tuple(read(Group, g) for g in asked["groups"])
    e = asked["empty"]
    track = hull(e["mass_kg"], e["x_m"], asked["max_mass_kg"], stations, tanks, groups, sign)
    for a, c in pairwise(track):
        for n in range(STEPS):
            r = between(a, c, a.mass + (c.mass - a.mass) * n / STEPS)
            yield _point(r)
    yield _point(track[-1])


def _point(r: Reach) -> list[float]:
    return [r.moment / r.mass * 1e3, r.mass]


def ledger_rows(b: Book) -> list[dict[str, Any]]:
    """The empty aircraft after each change since the weighing that counts, the weighing first."""
    w = b.last_weighing
    if w is None:
        return []
    base = b.base(w)
    rows = [{
        "slug": w.slug, "name": w.name, "day": w.values["day"], "kg": base["mass_kg"],
        "x_mm": base["x_m"] * 1e3, "U_kg": base["U_mass_kg"], "U_mm": base["U_x_m"] * 1e3,
        "moment": base["mass_kg"] * base["x_m"],
    }]  # fmt: skip
    found = run("weight.ledger", b.ledger_asked(w))["rows"]
    for c, s in zip(b.since(w), found, strict=True):
        rows.append({
            "slug": c.slug, "name": c.name, "day": c.values["day"], "kg": s["mass_kg"],
            "x_mm": s["x_m"] * 1e3, "U_kg": s["U_mass_kg"], "U_mm": s["U_x_m"] * 1e3,
            "moment": s["moment_kg_m"],
        })  # fmt: skip
    return rows


def estimate_figure(b: Book) -> dict[str, Any] | None:
    """What the parts add up to; None without a part."""
    asked = b.estimate_asked()
    if asked is None:
        return None
    try:
        e = run("weight.estimate", asked)
    except Refused as refusal:
        n = refusal.field.partition("[")[2].partition("]")[0]
        who = f"{asked['parts'][int(n)]['name']}: " if n.isdigit() else ""
        return {"why": f"{who}{refusal.reason}"}
    return {
        "kg": e["mass_kg"], "U_kg": e["U_mass_kg"], "x_mm": e["x_m"] * 1e3,
        "U_mm": e["U_x_m"] * 1e3, "moment": e["moment_kg_m"], "share": e["share"],
        "next": [
            {"name": n["name"], "U_kg": n["U_mass_kg"], "U_mm": n["U_x_m"] * 1e3}
            for n in e["weigh_next"]
        ],
    }  # fmt: skip


def effect_figure(b: Book, c: Row) -> dict[str, Any]:
    """What a planned change does to the empty aircraft and to the worst that can be flown."""
    return {"effect": effect_of(b, [c])}


def effect_of(b: Book, changes: Sequence[Row]) -> dict[str, Any] | None:
    """What planned changes do together; None of none. Refuses what nobody said."""
    if not changes:
        return None
    found = run("weight.change_effect", b.effect_asked(changes))

    def side(s: Mapping[str, Any]) -> dict[str, Any]:
        return {
            "kg": s["mass_kg"], "x_mm": s["x_m"] * 1e3, "moment": s["moment_kg_m"],
            "U_mm": s["U_x_m"] * 1e3, "verdict": s.get("verdict"),
            "forward_mm": None if s["forward_margin_m"] is None else s["forward_margin_m"] * 1e3,
            "aft_mm": None if s["aft_margin_m"] is None else s["aft_margin_m"] * 1e3,
        }  # fmt: skip

    change = found["change"]
    return {
        "before": side(found["before"]),
        "after": side(found["after"]),
        "change": {"kg": change["mass_kg"], "x_mm": change["x_m"] * 1e3,
                   "moment": change["moment_kg_m"]},
        "accumulated": found["accumulated"],
        "reweigh_due": found["reweigh_due"],
        "names": [c.name for c in changes],
    }  # fmt: skip


def ballast_figure(b: Book) -> dict[str, Any] | None:
    """The least ballast for all loadings that are entered and for the worst that can be flown;
    None where nothing says where it may sit."""
    if not b.places() or b.envelope is None or b.empty is None:
        return None
    cases = []
    for r in b.of(LOADING):
        try:
            found = run("weight.loading_case", b.loaded(r))
        except Refused:
            continue
        for state in ("takeoff", "landing", "zero_fuel"):
            s = found[state]
            words = {"takeoff": "take-off", "landing": "landing", "zero_fuel": "no fuel"}[state]
            cases.append({"name": f"{r.name}, {words}", "mass_kg": s["mass_kg"], "x_m": s["x_m"],
                          "U": s["U_x_m"]})  # fmt: skip
    try:
        worst = run("weight.worst_cases", b.worst_asked())
        for side in ("forward", "aft"):
            w = worst[f"{side}_worst"]
            if w is not None and w["margin_m"] < w["U_x_m"]:
                cases.append({"name": f"worst {side}", "mass_kg": w["mass_kg"], "x_m": w["x_m"],
                              "U": w["U_x_m"]})  # fmt: skip
    except Refused:
        pass
    if not cases:
        return None
    asked: dict[str, Any] = {
        "envelope": b.envelope,
        "cases": [{k: v for k, v in c.items() if k != "U"} for c in cases],
        "stations": b.places(),
        "U_x_m": max(c["U"] for c in cases),
    }
    if "gross_kg" in b.limits:
        asked["max_mass_kg"] = b.limits["gross_kg"]
    try:
        found = run("weight.ballast", asked)
        after = _with_ballast(b, found.get("split_kg") or {})
    except Refused as refusal:
        return {"why": refusal.reason}
    names = [c["name"] for c in cases]
    return {"cases": names, "U_mm": asked["U_x_m"] * 1e3, "after": after, **found}


def _with_ballast(b: Book, split: Mapping[str, float]) -> str | None:
    """The verdict on every loading with this ballast on board: it changes which is the worst."""
    at = {p["name"]: p["x_m"] for p in b.places()}
    added = [
        {"date": "2000-01-01", "kind": "add", "mass_kg": m, "x_m": at[n]}
        for n, m in split.items() if m > 0.0
    ]  # fmt: skip
    if not added or b.empty is None:
        return None
    base = {"date": "2000-01-01"} | dict(b.empty)
    now = run("weight.ledger", {"base": base, "entries": added})
    known = {k: now[k] for k in ("mass_kg", "x_m", "y_m", "U_mass_kg", "U_x_m")}
    verdict: str = run("weight.worst_cases", b.worst_asked(known))["verdict"]
    return verdict
