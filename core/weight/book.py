"""All rows of weight and balance of an aircraft, and what the rules are asked of them.

Half of an uncertainty typed as `±` (expanded, k = 2) is the standard uncertainty the rules take.
What nobody said is not there: the rules are asked without it, and the checks tell it.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from core.basis.refused import Refused
from core.weight.rows import (
    CHANGE,
    FUEL,
    GROUP,
    LIMITS,
    PART,
    PLACE,
    PREPARATIONS,
    PREPARED,
    READ,
    SCALE,
    STATION,
    SURENESS,
    TANK,
    WEIGHING,
)
from core.worksheets.kinds import run

KELVIN = 273.15
STEPS_M3 = 1e-12


@dataclass(frozen=True)
class Row:
    """A row as read: `values` by the fields' names, SI. log: what was done to it and holds,
    oldest first, each with `doing`."""

    kind: str
    slug: str
    name: str
    values: Mapping[str, Any]
    cited: str = ""
    log: tuple[Mapping[str, Any], ...] = ()

    @cached_property
    def read(self) -> dict[str, Mapping[str, Any]]:
        """Of a weighing: what each wheel's scale showed last, by wheel."""
        return {e["wheel"]: e for e in self.log if e["doing"] == READ}

    @property
    def prepared(self) -> set[str]:
        """Of a weighing: what is prepared."""
        return {e["item"] for e in self.log if e["doing"] == PREPARED}

    @property
    def unprepared(self) -> list[str]:
        """What is not, in words."""
        return [words for item, words in PREPARATIONS.items() if item not in self.prepared]


def labels(weighing: Row) -> list[str]:
    """Its wheels by name; several of one name with their number."""
    names = [w["wheel"] for w in weighing.values["wheels"]]
    return [
        n if names.count(n) == 1 else f"{n} {names[: i + 1].count(n)}" for i, n in enumerate(names)
    ]


@dataclass(frozen=True)
class Book:
    """The rows of an aircraft; names are compared without regard to capitals."""

    rows: tuple[Row, ...] = field(default_factory=tuple)

    def of(self, kind: str) -> list[Row]:
        """Those of a kind, in their order."""
        return [r for r in self.rows if r.kind == kind]

    def one(self, kind: str) -> Row | None:
        """The one of a kind of which there is one."""
        return next(iter(self.of(kind)), None)

    def named(self, kind: str, name: str) -> Row | None:
        """The one of that name."""
        low = name.casefold()
        return next((r for r in self.of(kind) if r.name.casefold() == low), None)

    @cached_property
    def limits(self) -> Mapping[str, Any]:
        """What is said of limits."""
        row = self.one(LIMITS)
        return row.values if row else {}

    @cached_property
    def envelope(self) -> dict[str, Any] | None:
        """As the rules take it; None where nobody entered its corners."""
        corners = self.limits.get("corners")
        if not corners:
            return None
        plane = self.limits["plane"]
        wanted, other = ("arm_m", "moment_kg_m") if plane == "arm" else ("moment_kg_m", "arm_m")
        for n, c in enumerate(corners, 1):
            if wanted not in c or other in c:
                word = "an arm" if plane == "arm" else "a moment"
                raise Refused("corners", f"row {n}: needs {word} and a mass, for edges so drawn")
        return {"plane": plane, "points": [[c[wanted], c["mass_kg"]] for c in corners]}

    @cached_property
    def weighed(self) -> list[Row]:
        """Weighings whose every wheel is read, that are no repetition, by their day."""
        done = [
            w for w in self.of(WEIGHING)
            if "again" not in w.values and all(x in w.read for x in labels(w))
        ]  # fmt: skip
        return sorted(done, key=lambda w: w.values["day"])

    @property
    def last_weighing(self) -> Row | None:
        """The one that counts."""
        return self.weighed[-1] if self.weighed else None

    def repeated(self, weighing: Row) -> list[Row]:
        """The weighings that repeat one with the scales changed about."""
        return [
            w for w in self.of(WEIGHING)
            if str(w.values.get("again", "")).casefold() == weighing.name.casefold()
        ]  # fmt: skip

    def weighing(self, w: Row) -> dict[str, Any]:
        """What `weight.weighing` is asked. Refuses a wheel without a reading or a scale."""
        v = w.values
        scales, corrections = [], []
        for label, wheel in zip(labels(w), v["wheels"], strict=True):
            got = w.read.get(label)
            if got is None:
                raise Refused("wheels", f"the {label} wheel is not read yet")
            scales.append(self._scale(w, wheel, got))
        for c in v.get("corrections", ()):
            sign = 1.0 if c["way"] == "in" else -1.0
            one = {"name": c["name"], "mass_kg": sign * c["mass_kg"], "x_m": c["x_m"]}
            corrections.append(one | _only(c, "y_m") | _halved(c, "U_mass_kg", "U_x_m"))
        asked: dict[str, Any] = {"scales": scales, "corrections": corrections}
        asked |= _only(v, "arms", "cg_z_m", "h_bound_m", "level_tolerance_rad")
        asked |= _halved(v, "U_cg_z_m", "U_datum_m")
        if "U_common" in v:
            asked["u_factor_common"] = v["U_common"] / 2.0
        for angle, (rise, spacing) in {
            "pitch": ("rise", "spacing"), "roll": ("across", "wide"),
        }.items():  # fmt: skip
            if (level := self.level(w, rise, spacing)) is not None:
                asked |= {f"{angle}_rad": level["angle_rad"], f"u_{angle}_rad": level["u_rad"]}
        return asked

    def level(self, w: Row, rise: str, spacing: str) -> dict[str, Any] | None:
        """What the levelling says (`weight.level_angle`); None where nobody read it."""
        asked = self.level_asked(w, rise, spacing)
        return None if asked is None else run("weight.level_angle", asked)

    def level_asked(self, w: Row, rise: str, spacing: str) -> dict[str, Any] | None:
        """What `weight.level_angle` is asked of a direction."""
        v = w.values
        if f"{rise}_m" not in v:
            return None
        if f"{spacing}_m" not in v:
            raise Refused(spacing, "is needed: how far the two points are apart")
        asked = {"rise_m": v[f"{rise}_m"], "spacing_m": v[f"{spacing}_m"]}
        for name, its in ((rise, "rise"), (spacing, "spacing")):
            if f"U_{name}_m" in v:
                asked[f"u_{its}_m"] = v[f"U_{name}_m"] / 2.0
        if rise == "rise" and "slope_rad" in v:
            asked["reference_rad"] = v["slope_rad"]
        return asked

    def _scale(self, w: Row, wheel: Mapping[str, Any], got: Mapping[str, Any]) -> dict[str, Any]:
        asked = {"wheel": wheel["wheel"], "gross_kg": got["kg"], "x_m": wheel["x_m"]}
        asked |= _only(wheel, "y_m", "z_m", "tare_kg")
        asked |= _halved(wheel, "U_x_m", "U_y_m", "U_tare_kg")
        if "u_kg" in got:
            asked["u_gross_kg"] = got["u_kg"]
        scale = self.named(SCALE, wheel["scale"])
        if scale is None:
            raise Refused("wheels", f"{wheel['scale']} is not a scale here: enter it first")
        return asked | self.calibration(scale) | self._local(w, scale)

    def calibration(self, scale: Row) -> dict[str, Any]:
        """What is said of a scale's calibration."""
        v = scale.values
        return _only(v, "factor", "offset_kg") | _halved(v, "U_factor", "U_offset_kg")

    def gravity_asked(self, w: Row, scale: Row) -> dict[str, Any] | None:
        """What `weight.local_gravity` is asked; None where nobody said where it was calibrated."""
        there, here = _place(scale.values, "cal_"), _place(w.values, "here_")
        if not there or not here:
            return None
        return {"calibrated_at": there, "here": here} | _only(scale.values, "factor")

    def _local(self, w: Row, scale: Row) -> dict[str, Any]:
        asked = self.gravity_asked(w, scale)
        return {} if asked is None else {"factor": run("weight.local_gravity", asked)["factor"]}

    def swap(self, first: Row, again: Sequence[Row]) -> dict[str, Any]:
        """What `weight.swap_test` is asked of a weighing and its repetitions."""
        wheels, scales, weighings = [], {}, []
        for label, wheel in zip(labels(first), first.values["wheels"], strict=True):
            wheels.append({"wheel": label, "x_m": wheel["x_m"]} | _halved(wheel, "U_x_m"))
        for w in (first, *again):
            placed = []
            for label, wheel in zip(labels(w), w.values["wheels"], strict=True):
                got, scale = w.read.get(label), self.named(SCALE, wheel["scale"])
                if got is None:
                    raise Refused("again", f"{w.name}: the {label} wheel is not read yet")
                if scale is None:
                    raise Refused("wheels", f"{wheel['scale']} is not a scale here")
                scales[scale.name] = self.calibration(scale) | self._local(w, scale)
                one = {"wheel": label, "scale": scale.name, "gross_kg": got["kg"]}
                one |= _only(wheel, "tare_kg") | _halved(wheel, "U_tare_kg")
                placed.append(one | ({"u_gross_kg": got["u_kg"]} if "u_kg" in got else {}))
            weighings.append(placed)
        return {"scales": scales, "wheels": wheels, "weighings": weighings}

    def result(self, w: Row) -> dict[str, Any]:
        """What a weighing gives."""
        return run("weight.weighing", self.weighing(w))

    def base(self, w: Row) -> dict[str, Any]:
        """A weighing as a ledger begins with it."""
        r = self.result(w)
        found = {"date": w.values["day"]} | _only(r, "mass_kg", "x_m", "U_mass_kg", "U_x_m")
        if r["y_m"] is not None:
            found |= {"y_m": r["y_m"], "U_y_m": r["U_y_m"]}
        return found

    def changes(self, planned: bool = False) -> list[Row]:
        """Changes of equipment, by their day; those that are only planned, or those that are
        not."""
        found = [c for c in self.of(CHANGE) if bool(c.values.get("planned")) == planned]
        return sorted(found, key=lambda c: c.values["day"])

    def since(self, w: Row, until: Row | None = None) -> list[Row]:
        """What was changed since a weighing, until another."""
        return [
            c for c in self.changes()
            if c.values["day"] >= w.values["day"]
            and (until is None or c.values["day"] < until.values["day"])
        ]  # fmt: skip

    def ledger_asked(self, w: Row, until: Row | None = None) -> dict[str, Any]:
        """What `weight.ledger` is asked from a weighing on."""
        entries = [change_asked(c) | {"date": c.values["day"]} for c in self.since(w, until)]
        asked: dict[str, Any] = {"base": self.base(w), "entries": entries}
        if until is not None:
            r = self.result(until)
            asked["next_weighing"] = _only(r, "mass_kg", "x_m", "U_mass_kg", "U_x_m")
        return asked

    @cached_property
    def empty(self) -> dict[str, Any] | None:
        """The empty aircraft now; None while it is not weighed."""
        if self.last_weighing is None:
            return None
        now = run("weight.ledger", self.ledger_asked(self.last_weighing))
        return _only(now, "mass_kg", "x_m", "y_m", "U_mass_kg", "U_x_m", "U_y_m")

    @cached_property
    def fuel(self) -> Mapping[str, Any] | None:
        """As entered."""
        row = self.one(FUEL)
        return row.values if row else None

    def fuel_asked(self, celsius: float | None = None) -> dict[str, Any]:
        """The fuel as the rules take it. Refuses where nobody entered it."""
        if self.fuel is None:
            raise Refused("fuel", "is not entered: what does a litre weigh?")
        asked = _only(self.fuel, "density_ref_kg_m3", "expansion_per_K")
        if "t_ref" in self.fuel:
            asked["t_ref_C"] = self.fuel["t_ref"] - KELVIN
        if celsius is not None:
            asked["t_C"] = celsius
        return asked

    def loaded(self, r: Row) -> dict[str, Any]:
        """What `weight.loading_case` is asked of a loading. Refuses an unknown station or tank,
        and an aircraft that is not weighed."""
        if self.empty is None:
            raise Refused("loads", "the aircraft is not weighed yet")
        empty = _only(self.empty, "mass_kg", "x_m", "y_m", "U_mass_kg", "U_x_m")
        loads = [self._load(x) for x in r.values.get("loads", ())]
        tanks = [self._tank(x) for x in r.values.get("fuel", ())]
        asked: dict[str, Any] = {"empty": empty, "loads": loads, "tanks": tanks}
        if tanks:
            asked["fuel"] = self.fuel_asked(_celsius(r.values.get("t")))
        names = ("ramp", "takeoff", "landing", "zero_fuel")
        limits = {n: self.limits[f"{n}_kg"] for n in names if f"{n}_kg" in self.limits}
        if "gross_kg" in self.limits:
            limits.setdefault("takeoff", self.limits["gross_kg"])
        asked["limits"] = limits
        asked["groups"] = self._groups({x["name"] for x in (*loads, *tanks)})
        if self.envelope is not None:
            asked["envelope"] = self.envelope
        return asked

    def _load(self, x: Mapping[str, Any]) -> dict[str, Any]:
        station = self.named(STATION, x["at"])
        if station is None:
            raise Refused("loads", f"{x['at']} is not a station here: enter it first")
        one = {"name": station.name, "mass_kg": x["mass_kg"]}
        one |= _only(station.values, "x_m", "y_m", "max_kg") | _halved(station.values, "U_x_m")
        return one | ({"u_mass_kg": x["U_kg"] / 2.0} if "U_kg" in x else {})

    def _tank(self, x: Mapping[str, Any]) -> dict[str, Any]:
        tank = self.named(TANK, x["tank"])
        if tank is None:
            raise Refused("fuel", f"{x['tank']} is not a tank here: enter it first")
        v = tank.values
        if "capacity_m3" not in v:
            raise Refused("fuel", f"{tank.name}: not said how much it holds")
        one = {"name": tank.name} | _only(x, "volume_m3", "taxi_m3", "burn_m3")
        one |= _only(v, "capacity_m3", "x_m", "y_m") | _halved(v, "U_rel")
        if "table" in v:
            one["table"] = [[row["volume_m3"], row["x_m"]] for row in v["table"]]
        return one

    def _groups(self, known: set[str]) -> list[dict[str, Any]]:
        """Limits of several, of what is on board."""
        low = {k.casefold(): k for k in known}
        found = []
        for g in self.of(GROUP):
            names = [low[n.casefold()] for n in g.values["names"] if n.casefold() in low]
            if names:
                limit = {"names": names, "max_kg": g.values["max_kg"], "name": g.name}
                found.append(limit)
        return found

    def burned(self, r: Row, loaded: Mapping[str, Any], worked: Mapping[str, Any]) -> Any:
        """What `weight.burn_track` is asked of a loading; None without fuel, an envelope or an
        order of burning (one tank needs none)."""
        tanks, t = loaded["tanks"], worked["takeoff"]
        if not tanks or self.envelope is None:
            return None
        rho = run("weight.fuel_mass", {"volume_m3": 0.0} | loaded["fuel"])["density_kg_m3"]
        layers = {x["name"]: layers_of(x, rho) for x in tanks}
        steps = self._order(r, [x["name"] for x in tanks], rho)
        if steps is None:
            return None
        return {
            "mass_kg": t["mass_kg"], "x_m": t["x_m"],
            "tanks": [x for found in layers.values() for x in found],
            "steps": through(layers, steps),
            "envelope": self.envelope, "U_x_m": t["U_x_m"],
        }  # fmt: skip

    def _order(self, r: Row, tanks: list[str], rho: float) -> list[dict[str, Any]] | None:
        said = r.values.get("order")
        if not said:
            return [{"shares": {tanks[0]: 1.0}}] if len(tanks) == 1 else None
        names = {t.casefold(): t for t in tanks}
        steps = []
        for n, s in enumerate(said, 1):
            shares = {}
            for words in s["shares"]:
                name, part = shared(words, f"row {n}")
                if name.casefold() not in names:
                    raise Refused("order", f"row {n}: {name} has no fuel here")
                shares[names[name.casefold()]] = part
            step: dict[str, Any] = {"shares": shares}
            if "volume_m3" in s:
                step["burn_kg"] = s["volume_m3"] * rho
            steps.append(step)
        return steps

    def worst_asked(self, empty: Mapping[str, Any] | None = None) -> dict[str, Any]:
        """What `weight.worst_cases` is asked. Refuses by what nobody said."""
        empty = empty or self.empty
        if empty is None:
            raise Refused("empty", "the aircraft is not weighed yet")
        if self.envelope is None:
            raise Refused("limits", "the envelope is not entered")
        if "gross_kg" not in self.limits:
            raise Refused("limits", "the gross mass is not entered")
        asked: dict[str, Any] = {
            "empty": _only(empty, "mass_kg", "x_m", "y_m", "U_mass_kg", "U_x_m"),
            "envelope": self.envelope,
            "max_mass_kg": self.limits["gross_kg"],
            "stations": [self._station(s) for s in self.of(STATION)],
            "tanks": [self._full(t) for t in self.of(TANK)],
        }
        names = {x["name"] for x in (*asked["stations"], *asked["tanks"])}
        asked["groups"] = [*self._groups(names), *self._zero_fuel(asked["stations"], empty)]
        if "loaded_U_m" in self.limits:
            asked["U_x_m"] = self.limits["loaded_U_m"]
        return asked

    def _station(self, s: Row) -> dict[str, Any]:
        if "max_kg" not in s.values:
            raise Refused("stations", f"{s.name}: not said how much it may hold")
        one = _only(s.values, "x_m", "y_m", "min_kg", "max_kg") | _halved(s.values, "U_x_m")
        return {"name": s.name} | one

    def _full(self, t: Row) -> dict[str, Any]:
        """A tank full of the coldest fuel."""
        v = t.values
        if "capacity_m3" not in v:
            raise Refused("tanks", f"{t.name}: not said how much it holds")
        coldest = (self.fuel or {}).get("coldest")
        asked = self.fuel_asked(_celsius(coldest)) | {"volume_m3": v["capacity_m3"]}
        full = run("weight.fuel_mass", asked)["mass_kg"]
        one = {"name": t.name, "max_kg": full} | _only(v, "y_m")
        if "U_rel" in v:
            one["u_mass_kg"] = v["U_rel"] / 2.0 * full
        if "table" in v:
            arms = [row["x_m"] for row in v["table"]]
            return one | {"x_range_m": [min(arms), max(arms)]}
        if "x_m" not in v:
            raise Refused("tanks", f"{t.name}: not said where it is")
        return one | {"x_m": v["x_m"]}

    def _zero_fuel(self, stations: Sequence[Mapping[str, Any]], empty: Mapping[str, Any]) -> Any:
        """The limit without fuel as one of all stations together."""
        if "zero_fuel_kg" not in self.limits or not stations:
            return []
        room = self.limits["zero_fuel_kg"] - empty["mass_kg"]
        return [{"names": [s["name"] for s in stations], "max_kg": max(0.0, room)}]

    def places(self) -> list[dict[str, Any]]:
        """Where ballast may sit."""
        return [{"name": p.name} | _only(p.values, "x_m", "max_kg") for p in self.of(PLACE)]

    def estimate_asked(self) -> dict[str, Any] | None:
        """What `weight.estimate` is asked; None without a part."""
        parts = []
        for p in self.of(PART):
            one = {"name": p.name} | _only(p.values, "mass_kg", "x_m", "class")
            parts.append(one | _halved(p.values, "U_mass_kg", "U_x_m"))
        if not parts:
            return None
        row = self.one(SURENESS)
        v: Mapping[str, Any] = row.values if row else {}
        classes: dict[str, Any] = {}
        for known in ("measured", "maker", "guessed"):
            one = {}
            if f"{known}_U_rel" in v:
                one["u_mass_rel"] = v[f"{known}_U_rel"] / 2.0
            if f"{known}_U_x_m" in v:
                one["u_x_m"] = v[f"{known}_U_x_m"] / 2.0
            classes[known] = one
        asked = {"parts": parts, "classes": classes, "u_weigh_kg": v.get("weigh_U_kg", 0.0) / 2.0}
        return asked | _only(v, "by")

    def effect_asked(self, changes: Sequence[Row]) -> dict[str, Any]:
        """What `weight.change_effect` is asked of changes that are only planned."""
        asked = self.worst_asked()
        asked["changes"] = [change_asked(c) for c in changes]
        asked["accumulated"] = self.accumulated()
        limit = {}
        if "reweigh_kg" in self.limits:
            limit["mass_kg"] = self.limits["reweigh_kg"]
        if "reweigh_kg_m" in self.limits:
            limit["moment_kg_m"] = self.limits["reweigh_kg_m"]
        if not limit:
            raise Refused("limits", "not said after which changes it must be weighed again")
        return asked | {"reweigh_limit": limit}

    def accumulated(self) -> dict[str, float]:
        """What was changed by calculation since the weighing that counts, each without its
        sign."""
        w = self.last_weighing
        mass = moment = 0.0
        for c in self.since(w) if w else ():
            v = c.values
            if v["doing"] == "move":
                moment += abs(v["mass_kg"] * (v.get("x_to_m", v["x_m"]) - v["x_m"]))
            else:
                at = self.base(w)["x_m"] if w else 0.0
                mass += v["mass_kg"]
                moment += abs(v["mass_kg"] * (v["x_m"] - at))
        return {"mass_kg": mass, "moment_kg_m": moment}


def layers_of(tank: Mapping[str, Any], rho: float) -> list[dict[str, Any]]:
    """The fuel of a tank at take-off as layers of one arm each, the topmost first: between two
    lines of its table the moment is straight, so what burns there has one arm."""
    volume, name = tank["volume_m3"] - tank.get("taxi_m3", 0.0), tank["name"]
    table = tank.get("table")
    if not table:
        return [{"name": name, "mass_kg": volume * rho, "x_m": tank["x_m"]}]
    found: list[dict[str, Any]] = []
    below = (0.0, 0.0)
    for v, x in table:
        top = min(v, volume)
        if top > below[0] + STEPS_M3:
            arm = (v * x - below[1]) / (v - below[0])
            label = f"{name}, layer {len(found) + 1}"
            found.append({"name": label, "mass_kg": (top - below[0]) * rho, "x_m": arm})
        below = (v, v * x)
    return found[::-1]


def through(
    layers: Mapping[str, list[dict[str, Any]]], steps: Sequence[Mapping[str, Any]]
) -> list[dict[str, Any]]:
    """Steps of tanks as steps of their layers: a new one where a layer is burned."""
    left = {t: [[x["name"], x["mass_kg"]] for x in found] for t, found in layers.items()}
    out = []
    for step in steps:
        shares = {t: s for t, s in step["shares"].items() if s > 0.0}
        if all(len(layers[t]) == 1 for t in shares):
            out.append(
                dict(step) | {"shares": {layers[t][0]["name"]: s for t, s in shares.items()}}
            )
            for t, s in shares.items():
                left[t][0][1] -= s * step.get("burn_kg", 0.0)
            continue
        whole = min(sum(m for _, m in left[t]) / s for t, s in shares.items())
        burn = step.get("burn_kg", whole)
        while burn > 1e-9 and all(left[t] for t in shares):
            z = min(burn, *(left[t][0][1] / s for t, s in shares.items()))
            out.append({"shares": {left[t][0][0]: s for t, s in shares.items()}, "burn_kg": z})
            burn -= z
            for t, s in shares.items():
                left[t][0][1] -= s * z
                if left[t][0][1] <= 1e-9 and len(left[t]) > 1:
                    left[t].pop(0)
            if z <= 0.0:
                break
    return out


def change_asked(c: Row) -> dict[str, Any]:
    """A change as the rules take it."""
    v = c.values
    one = {"kind": v["doing"]} | _only(v, "mass_kg", "x_m", "x_to_m", "y_m", "y_to_m")
    return one | _halved(v, "U_mass_kg", "U_x_m")


def shared(words: str, at: str) -> tuple[str, float]:
    """`Left tank 0.5`: a name and its share; a name alone is all of it."""
    name, _, part = words.rpartition(" ")
    try:
        found = float(part.replace(",", "."))
    except ValueError:
        return words.strip(), 1.0
    if not name or not math.isfinite(found):
        raise Refused("order", f"{at}: write each tank and its share, as Main tank 0.5")
    return name.strip(), found


def _only(v: Mapping[str, Any], *names: str) -> dict[str, Any]:
    return {n: v[n] for n in names if n in v}


def _halved(v: Mapping[str, Any], *names: str) -> dict[str, Any]:
    """Expanded uncertainties as the standard ones of the same names."""
    return {f"u{n[1:]}": v[n] / 2.0 for n in names if n in v}


def _place(v: Mapping[str, Any], before: str) -> dict[str, Any]:
    """Where a scale stands or was calibrated; nothing without latitude or gravity."""
    found = {n: v[before + n] for n in ("latitude_rad", "height_m", "g_m_s2") if before + n in v}
    return found if found.keys() & {"latitude_rad", "g_m_s2"} else {}


def _celsius(kelvin: float | None) -> float | None:
    return None if kelvin is None else kelvin - KELVIN
