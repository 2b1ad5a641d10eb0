"""The weighings of an aircraft, what was changed since, and what the rules are asked of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from core.basis.refused import Refused
from core.weight.row import Row, change_asked, halved, labels, only, place
from core.weight.rows import CHANGE, LIMITS, SCALE, WEIGHING
from core.worksheets.kinds import run


@dataclass(frozen=True)
class Weighings:
    """The rows of an aircraft and what its weighings say; names are compared without regard to
    capitals."""

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
            corrections.append(one | only(c, "y_m") | halved(c, "U_mass_kg", "U_x_m"))
        asked: dict[str, Any] = {"scales": scales, "corrections": corrections}
        asked |= only(v, "arms", "cg_z_m", "h_bound_m", "level_tolerance_rad")
        asked |= halved(v, "U_cg_z_m", "U_datum_m")
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
        asked |= only(wheel, "y_m", "z_m", "tare_kg")
        asked |= halved(wheel, "U_x_m", "U_y_m", "U_tare_kg")
        if "u_kg" in got:
            asked["u_gross_kg"] = got["u_kg"]
        scale = self.named(SCALE, wheel["scale"])
        if scale is None:
            raise Refused("wheels", f"{wheel['scale']} is not a scale here: enter it first")
        return asked | self.calibration(scale) | self._local(w, scale)

    def calibration(self, scale: Row) -> dict[str, Any]:
        """What is said of a scale's calibration."""
        v = scale.values
        return only(v, "factor", "offset_kg") | halved(v, "U_factor", "U_offset_kg")

    def gravity_asked(self, w: Row, scale: Row) -> dict[str, Any] | None:
        """What `weight.local_gravity` is asked; None where nobody said where it was calibrated."""
        there, here = place(scale.values, "cal_"), place(w.values, "here_")
        if not there or not here:
            return None
        return {"calibrated_at": there, "here": here} | only(scale.values, "factor")

    def _local(self, w: Row, scale: Row) -> dict[str, Any]:
        asked = self.gravity_asked(w, scale)
        return {} if asked is None else {"factor": run("weight.local_gravity", asked)["factor"]}

    def swap(self, first: Row, again: Sequence[Row]) -> dict[str, Any]:
        """What `weight.swap_test` is asked of a weighing and its repetitions."""
        wheels, scales, weighings = [], {}, []
        for label, wheel in zip(labels(first), first.values["wheels"], strict=True):
            wheels.append({"wheel": label, "x_m": wheel["x_m"]} | halved(wheel, "U_x_m"))
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
                one |= only(wheel, "tare_kg") | halved(wheel, "U_tare_kg")
                placed.append(one | ({"u_gross_kg": got["u_kg"]} if "u_kg" in got else {}))
            weighings.append(placed)
        return {"scales": scales, "wheels": wheels, "weighings": weighings}

    @cached_property
    def _results(self) -> dict[int, dict[str, Any]]:
        return {}

    def result(self, w: Row) -> dict[str, Any]:
        """What a weighing gives; worked out once."""
        found = self._results.get(id(w))
        if found is None:
            found = self._results[id(w)] = run("weight.weighing", self.weighing(w))
        return found

    def base(self, w: Row) -> dict[str, Any]:
        """A weighing as a ledger begins with it."""
        r = self.result(w)
        found = {"date": w.values["day"]} | only(r, "mass_kg", "x_m", "U_mass_kg", "U_x_m")
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
            asked["next_weighing"] = only(r, "mass_kg", "x_m", "U_mass_kg", "U_x_m")
        return asked

    @cached_property
    def empty(self) -> dict[str, Any] | None:
        """The empty aircraft now; None while it is not weighed."""
        if self.last_weighing is None:
            return None
        now = run("weight.ledger", self.ledger_asked(self.last_weighing))
        return only(now, "mass_kg", "x_m", "y_m", "U_mass_kg", "U_x_m", "U_y_m")
