"""A row of weight and balance as read, and ways to hand its figures to the rules.

Half of an uncertainty typed as `±` (expanded, k = 2) is the standard uncertainty the rules take.
What nobody said is not there: the rules are asked without it, and the checks tell it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from core.weight.rows import PREPARATIONS, PREPARED, READ

KELVIN = 273.15


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


def change_asked(c: Row) -> dict[str, Any]:
    """A change as the rules take it."""
    v = c.values
    one = {"kind": v["doing"]} | only(v, "mass_kg", "x_m", "x_to_m", "y_m", "y_to_m")
    return one | halved(v, "U_mass_kg", "U_x_m")


def only(v: Mapping[str, Any], *names: str) -> dict[str, Any]:
    """Those of these that were said."""
    return {n: v[n] for n in names if n in v}


def halved(v: Mapping[str, Any], *names: str) -> dict[str, Any]:
    """Expanded uncertainties as the standard ones of the same names."""
    return {f"u{n[1:]}": v[n] / 2.0 for n in names if n in v}


def place(v: Mapping[str, Any], before: str) -> dict[str, Any]:
    """Where a scale stands or was calibrated; nothing without latitude or gravity."""
    found = {n: v[before + n] for n in ("latitude_rad", "height_m", "g_m_s2") if before + n in v}
    return found if found.keys() & {"latitude_rad", "g_m_s2"} else {}


def celsius(kelvin: float | None) -> float | None:
    """A temperature as the rules take it."""
    return None if kelvin is None else kelvin - KELVIN
