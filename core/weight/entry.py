"""What may be entered of weight and balance, and what is read of scales: refused by the form's
field."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from itertools import pairwise
from typing import Any

from core.basis.refused import Refused
from core.weight.book import Book, Row, labels
from core.weight.envelope import Envelope, outline
from core.weight.rows import (
    CHANGE,
    FUEL,
    GROUP,
    LIMITS,
    LOADING,
    ONCE,
    PART,
    PREPARATIONS,
    READ,
    ROWS,
    SCALE,
    STATION,
    SURENESS,
    TANK,
    WEIGHING,
)
from core.worksheets.kinds import run

# What a rule refuses by the beginning of its field, as the form has it.
FORM = {
    WEIGHING: (
        ("scales", "wheels"), ("corrections", "corrections"), ("pitch", "rise"), ("roll", "across"),
        ("cg_z", "height"), ("h_bound", "height_bound"), ("level_tol", "level_within"),
        ("u_datum", "u_datum"), ("rise", "rise"), ("spacing", "spacing"), ("across", "across"),
        ("calibrated_at", "wheels"), ("here", "here_latitude"), ("wide", "wide"),
    ),
    LOADING: (("loads", "loads"), ("tanks", "fuel"), ("fuel", "fuel"), ("steps", "order"),
              ("groups", "loads"), ("limits", "loads")),
    LIMITS: (("envelope", "corners"),),
}  # fmt: skip
WHAT = {STATION: "station", TANK: "tank"}


def refuse(b: Book, row: Row) -> None:
    """Refuses a row that cannot be among the others."""
    same = (STATION, TANK) if row.kind in (STATION, TANK) else (row.kind,)
    for other in (r for kind in same for r in b.of(kind)):
        if other.slug != row.slug and other.name.casefold() == row.name.casefold():
            raise Refused("name", f"there is a {ROWS[other.kind].title.lower()} of that name")
    if row.kind in ONCE and any(r.slug != row.slug for r in b.of(row.kind)):
        raise Refused("kind", f"there is one already: change it ({b.of(row.kind)[0].name})")
    try:
        if row.kind in _PARTICULAR:
            _PARTICULAR[row.kind](b, row)
    except Refused as refusal:
        raise Refused(form_field(row.kind, refusal.field), refusal.reason) from None


def form_field(kind: str, field: str) -> str:
    """The form's field behind a rule's."""
    keys = {f.name: f.key for f in ROWS[kind].fields}
    if field in keys:
        return keys[field]
    return next((key for start, key in FORM.get(kind, ()) if field.startswith(start)), field)


def _limits(b: Book, row: Row) -> None:
    v = row.values
    one = Book((row,))
    if one.envelope is not None:
        points = tuple((a, m) for a, m in one.envelope["points"])
        outline(Envelope(one.envelope["plane"], points), "corners")
    for name in ("gross", "ramp", "takeoff", "landing", "zero_fuel", "reweigh"):
        if v.get(f"{name}_kg", 1.0) <= 0.0:
            raise Refused(name, "must be greater than zero")
    if {"left_m", "right_m"} & v.keys() and {"left_kg_m", "right_kg_m"} & v.keys():
        raise Refused("left_moment", "give the lateral limits as arms or as moments, not both")
    for left, right in (("left_m", "right_m"), ("left_kg_m", "right_kg_m")):
        if left in v and right in v and v[left] >= v[right]:
            raise Refused("left", "must lie left of the right limit")
    if v.get("mac_m", 1.0) <= 0.0:
        raise Refused("mac", "must be greater than zero")
    if v.get("index_kg_m", 1.0) <= 0.0:
        raise Refused("index", "must be greater than zero")


def _fuel(b: Book, row: Row) -> None:
    one = Book((row,))
    run("weight.fuel_mass", one.fuel_asked() | {"volume_m3": 0.0})
    if "coldest" in row.values:
        try:
            run("weight.fuel_mass", one.fuel_asked(row.values["coldest"] - 273.15)
                | {"volume_m3": 0.0})  # fmt: skip
        except Refused as refusal:
            raise Refused("coldest", refusal.reason) from None


def _station(b: Book, row: Row) -> None:
    v = row.values
    for key in ("min", "max"):
        if v.get(f"{key}_kg", 0.0) < 0.0:
            raise Refused(key, "must not be negative")
    if v.get("min_kg", 0.0) > v.get("max_kg", float("inf")):
        raise Refused("max", "is below the least load")
    _not_negative(v, "U_x_m", "u_x")


def _tank(b: Book, row: Row) -> None:
    v = row.values
    if v.get("capacity_m3", 1.0) <= 0.0:
        raise Refused("capacity", "must be greater than zero")
    table = v.get("table", ())
    if table and "x_m" in v:
        raise Refused("x", "give one arm, or its arm by contents, not both")
    for a, c in pairwise(table):
        if c["volume_m3"] <= a["volume_m3"]:
            raise Refused("arms", "contents must rise from row to row")
    _not_negative(v, "U_rel", "u")


def _group(b: Book, row: Row) -> None:
    for name in row.values["names"]:
        if b.named(STATION, name) is None and b.named(TANK, name) is None:
            raise Refused("names", f"{name} is not a station or tank here: enter it first")
    if row.values["max_kg"] < 0.0:
        raise Refused("max", "must not be negative")


def _weighing(b: Book, row: Row) -> None:
    names = [w["scale"].casefold() for w in row.values["wheels"]]
    if len(set(names)) < len(names):
        raise Refused("wheels", "one scale stands under two wheels")
    again = row.values.get("again")
    if again:
        first = b.named(WEIGHING, again)
        if first is None or first.slug == row.slug:
            raise Refused("again", "is not a weighing here")
        if sorted(labels(first)) != sorted(labels(row)):
            raise Refused("wheels", f"must be the wheels of {first.name}")
        if "again" in first.values:
            raise Refused("again", f"{first.name} repeats one itself: name the first")
    # As if every wheel that is not read yet carried the same: the geometry is refused now.
    gross = {"doing": READ, "kg": 1000.0}
    open_ = [gross | {"wheel": label} for label in labels(row) if label not in row.read]
    probe = replace(row, log=(*row.log, *open_))
    run("weight.weighing", b.weighing(probe))


def _loading(b: Book, row: Row) -> None:
    for key, field, word in (("loads", "at", "station"), ("fuel", "tank", "tank")):
        names = [x[field].casefold() for x in row.values.get(key, ())]
        if len(set(names)) < len(names):
            raise Refused(key, f"names a {word} twice")
    # Against an aircraft of which nothing is known yet, what is wrong in itself is refused too.
    known = b if b.empty is not None else _nominal(b)
    asked = known.loaded(row)
    found = run("weight.loading_case", asked)
    track = known.burned(row, asked, found)
    if track is not None:
        run("weight.burn_track", track)


def _nominal(b: Book) -> Book:
    """With an empty aircraft that weighs anything."""
    made = Book(b.rows)
    made.__dict__["empty"] = {"mass_kg": 1e4, "x_m": 0.0}
    return made


def _part(b: Book, row: Row) -> None:
    _positive(row.values, "mass_kg", "mass")
    _not_negative(row.values, "U_mass_kg", "u")
    _not_negative(row.values, "U_x_m", "u_x")


def _change(b: Book, row: Row) -> None:
    v = row.values
    _positive(v, "mass_kg", "mass")
    _not_negative(v, "U_mass_kg", "u")
    _not_negative(v, "U_x_m", "u_x")
    if v["doing"] == "move" and "x_to_m" not in v:
        raise Refused("x_to", "is needed: where it was moved to")
    if v["doing"] != "move" and {"x_to_m", "y_to_m"} & v.keys():
        raise Refused("x_to", "belongs to something that was moved")
    if not v.get("planned") and b.last_weighing is not None:
        try:
            run("weight.ledger", b.ledger_asked(b.last_weighing))
        except Refused as refusal:
            raise Refused(
                refusal.field.rpartition(".")[2].removesuffix("_kg"), refusal.reason
            ) from None


def _sureness(b: Book, row: Row) -> None:
    for f in ROWS[SURENESS].fields:
        if f.of in ("number", "length", "mass"):
            _not_negative(row.values, f.name, f.key)


def _scale(b: Book, row: Row) -> None:
    v = row.values
    _positive(v, "factor", "factor")
    for f in ROWS[SCALE].fields:
        if f.key.endswith("_u") or f.key == "step":
            _not_negative(v, f.name, f.key)
        if f.key in ("range", "drift", "window", "creep", "cal_g"):
            _positive(v, f.name, f.key)
    if abs(v.get("cal_latitude_rad", 0.0)) > math.pi / 2.0 + 1e-12:
        raise Refused("cal_latitude", "is beyond a pole")


def _positive(v: Mapping[str, Any], name: str, key: str) -> None:
    if v.get(name, 1.0) <= 0.0:
        raise Refused(key, "must be greater than zero")


def _not_negative(v: Mapping[str, Any], name: str, key: str) -> None:
    if v.get(name, 0.0) < 0.0:
        raise Refused(key, "must not be negative")


_PARTICULAR = {
    LIMITS: _limits, FUEL: _fuel, STATION: _station, TANK: _tank, GROUP: _group,
    WEIGHING: _weighing, LOADING: _loading, PART: _part, CHANGE: _change,
    SURENESS: _sureness, SCALE: _scale,
}  # fmt: skip


def may_read(b: Book, w: Row, wheel: str, kg: float) -> None:
    """Refuses a wheel that is none of it, and a reading that leaves nothing above its tare."""
    if wheel not in labels(w):
        raise Refused("wheel", "must be one of: " + ", ".join(labels(w)))
    tare = w.values["wheels"][labels(w).index(wheel)].get("tare_kg", 0.0)
    if kg <= tare:
        raise Refused("shown", "must be above the chocks’ weight: net reading must be above 0")


def may_prepare(w: Row, item: str) -> None:
    """Refuses what is not on the list, and what is said already."""
    if item not in PREPARATIONS:
        raise Refused("item", "must be one of: " + ", ".join(PREPARATIONS))
    if item in w.prepared:
        raise Refused("item", "is said already")


def settled(
    b: Book, w: Row, series: Mapping[str, Mapping[str, Sequence[float]]]
) -> dict[str, dict[str, Any]]:
    """What `weight.settle` says of each wheel's readings. Refuses a wheel that is none of it."""
    found = {}
    for wheel, one in series.items():
        if wheel not in labels(w):
            raise Refused("scales", f"{wheel}: is no wheel here")
        if set(one) != {"t", "kg"}:
            raise Refused("scales", f"{wheel}: needs t and kg")
        name = w.values["wheels"][labels(w).index(wheel)]["scale"]
        scale = b.named(SCALE, name)
        if scale is None:
            raise Refused("scales", f"{name} is not a scale here: enter it first")
        asked = settle_asked(scale) | {"t_s": one["t"], "kg": one["kg"]}
        try:
            found[wheel] = run("weight.settle", asked)
        except Refused as refusal:
            raise Refused("scales", f"{wheel}: {refusal.field} {refusal.reason}") from None
    return found


def settle_asked(scale: Row) -> dict[str, Any]:
    """When a scale has settled. Refuses one of which nobody said it."""
    v = scale.values
    for name, words in (("range_kg", "within what it has settled"),
                        ("drift_kg_per_min", "how much it may drift")):  # fmt: skip
        if name not in v:
            raise Refused("scales", f"{scale.name}: not said {words}")
    asked = {"range_kg": v["range_kg"], "drift_kg_per_s": v["drift_kg_per_min"] / 60.0}
    names = ("window_s", "resolution_kg", "creep_kg")
    return asked | {n: v[n] for n in names if n in v}


def together(b: Book, w: Row, found: Mapping[str, Mapping[str, Any]]) -> None:
    """Refuses a capture of which a scale has not settled, creeps, or settled at another time."""
    missing = [x for x in labels(w) if x not in found]
    if missing:
        raise Refused("scales", f"{missing[0]}: was not read")
    why = {"short": "not read long enough", "few": "too few readings", "gap": "its line was lost",
           "noise": "its readings jump", "drift": "it still drifts"}  # fmt: skip
    for wheel, one in found.items():
        if not one["settled"]:
            raise Refused("scales", f"{wheel}: {why[one['reason']]}; nothing of it is taken")
        if one["creeping"]:
            raise Refused("scales", f"{wheel}: it creeps since it settled; take it again")
    times = [one["t_settled_s"] for one in found.values()]
    longest = max(_window(b, w, wheel) for wheel in found)
    if max(times) - min(times) > longest + 1e-9:
        raise Refused("scales", "did not settle together: begin again with all at rest")


def _window(b: Book, w: Row, wheel: str) -> float:
    name = w.values["wheels"][labels(w).index(wheel)]["scale"]
    scale = b.named(SCALE, name)
    return float(scale.values.get("window_s", 5.0)) if scale else 5.0


def names_of(kind: str, values: Mapping[str, Any]) -> Iterable[tuple[str, str]]:
    """(kind, name) of all other rows that a row names."""
    for x in values.get("loads", ()):
        yield STATION, x["at"]
    for x in values.get("fuel", ()) if kind == LOADING else ():
        yield TANK, x["tank"]
    for name in values.get("names", ()):
        yield STATION, name
        yield TANK, name
    for x in values.get("wheels", ()):
        yield SCALE, x["scale"]
    if "again" in values:
        yield WEIGHING, values["again"]
