"""All rows of weight and balance of an aircraft: its loadings, the worst of them, its estimate, and
what the rules are asked of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from core.basis.refused import Refused
from core.weight.layers import layers_of, shared, through
from core.weight.row import KELVIN, Row, celsius, change_asked, halved, labels, only
from core.weight.rows import FUEL, GROUP, PART, PLACE, STATION, SURENESS, TANK
from core.weight.weighings import Weighings
from core.worksheets.kinds import run


@dataclass(frozen=True)
class Book(Weighings):
    """With stations, tanks, groups, loadings, parts and places for ballast."""

    @cached_property
    def fuel(self) -> Mapping[str, Any] | None:
        """As entered."""
        row = self.one(FUEL)
        return row.values if row else None

    def fuel_asked(self, celsius: float | None = None) -> dict[str, Any]:
        """The fuel as the rules take it. Refuses where nobody entered it."""
        if self.fuel is None:
            raise Refused("fuel", "is not entered: what does a litre weigh?")
        asked = only(self.fuel, "density_ref_kg_m3", "expansion_per_K")
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
        empty = only(self.empty, "mass_kg", "x_m", "y_m", "U_mass_kg", "U_x_m")
        loads = [self._load(x) for x in r.values.get("loads", ())]
        tanks = [self._tank(x) for x in r.values.get("fuel", ())]
        asked: dict[str, Any] = {"empty": empty, "loads": loads, "tanks": tanks}
        if tanks:
            asked["fuel"] = self.fuel_asked(celsius(r.values.get("t")))
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
        one |= only(station.values, "x_m", "y_m", "max_kg") | halved(station.values, "U_x_m")
        return one | ({"u_mass_kg": x["U_kg"] / 2.0} if "U_kg" in x else {})

    def _tank(self, x: Mapping[str, Any]) -> dict[str, Any]:
        tank = self.named(TANK, x["tank"])
        if tank is None:
            raise Refused("fuel", f"{x['tank']} is not a tank here: enter it first")
        v = tank.values
        if "capacity_m3" not in v:
            raise Refused("fuel", f"{tank.name}: not said how much it holds")
        one = {"name": tank.name} | only(x, "volume_m3", "taxi_m3", "burn_m3")
        one |= only(v, "capacity_m3", "x_m", "y_m") | halved(v, "U_rel")
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
            "empty": only(empty, "mass_kg", "x_m", "y_m", "U_mass_kg", "U_x_m"),
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
        one = only(s.values, "x_m", "y_m", "min_kg", "max_kg") | halved(s.values, "U_x_m")
        return {"name": s.name} | one

    def _full(self, t: Row) -> dict[str, Any]:
        """A tank full of the coldest fuel."""
        v = t.values
        if "capacity_m3" not in v:
            raise Refused("tanks", f"{t.name}: not said how much it holds")
        coldest = (self.fuel or {}).get("coldest")
        asked = self.fuel_asked(celsius(coldest)) | {"volume_m3": v["capacity_m3"]}
        full = run("weight.fuel_mass", asked)["mass_kg"]
        one = {"name": t.name, "max_kg": full} | only(v, "y_m")
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
        return [{"name": p.name} | only(p.values, "x_m", "max_kg") for p in self.of(PLACE)]

    def estimate_asked(self) -> dict[str, Any] | None:
        """What `weight.estimate` is asked; None without a part."""
        parts = []
        for p in self.of(PART):
            one = {"name": p.name} | only(p.values, "mass_kg", "x_m", "class")
            parts.append(one | halved(p.values, "U_mass_kg", "U_x_m"))
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
        return asked | only(v, "by")

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


__all__ = ["Book", "Row", "labels"]
