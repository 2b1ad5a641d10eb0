"""Supports of a cable as CSV, mm: out for a spreadsheet, in again as measured."""

from __future__ import annotations

import csv
import io
from typing import Any

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.cables.document import KINDS
from core.cables.lever import SIDES
from server.config.cells import cell, plain

HEAD = ("side", "id", "kind", "station", "butt_line", "water_line", "radius", "sense", "bank")


def to_csv(document: dict[str, Any]) -> str:
    """Every support of both sides, mm."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(HEAD)
    for side in SIDES:
        for s in document["sides"][side].get("supports") or []:
            radius = s.get("radius")
            writer.writerow(
                [
                    side,
                    cell(s["id"]),
                    s["kind"],
                    *(f"{v * 1e3:.6g}" for v in s["centre"]),
                    "" if radius is None else f"{radius * 1e3:.6g}",
                    s.get("sense", ""),
                    cell(s.get("bank", "")),
                ]
            )
    return out.getvalue()


def from_csv(document: dict[str, Any], text: str) -> dict[str, Any]:
    """The document with the supports of pasted rows; those of the same name are moved, new
    ones added in order of station. Refuses by row what is not understood."""
    first = text.strip().splitlines()[0] if text.strip() else ""
    mark = next((m for m in ("\t", ";", ",") if m in first), ",")
    lines = [r for r in csv.reader(io.StringIO(text), delimiter=mark) if any(c.strip() for c in r)]
    if lines and lines[0][0].strip().lower() == "side":
        lines = lines[1:]
    if not lines:
        raise Refused("rows", f"needs rows: {', '.join(HEAD)}")
    if not isinstance(document, dict) or not isinstance(document.get("sides"), dict):
        raise Refused("document.sides", "must be an object")
    sides = {s: dict(document["sides"].get(s) or {}) for s in SIDES}
    for i, row in enumerate(lines, start=1):
        _put(sides, [c.strip() for c in row], f"rows.{i}")
    return document | {"sides": document["sides"] | sides}


def _put(sides: dict[str, dict[str, Any]], row: list[str], at: str) -> None:
    if len(row) < 6:
        words = ", ".join(HEAD[:6]).replace("_", " ")
        raise Refused(at, f"must be {words} and, for a pulley, radius and sense")
    row = row + [""] * (len(HEAD) - len(row))
    side, name, kind = row[0].upper(), plain(row[1]), row[2].lower()
    if side not in SIDES:
        raise Refused(f"{at}.side", "must be A or B")
    if not name:
        raise Refused(f"{at}.id", "is needed")
    if kind not in KINDS:
        raise Refused(f"{at}.kind", f"must be one of: {', '.join(KINDS)}")
    centre = [
        round(parse(c, "length", "mm", f"{at}.{axis}").si, 9)
        for c, axis in zip(row[3:6], HEAD[3:6], strict=True)
    ]
    supports = list(sides[side].get("supports") or [])
    old = next((s for s in supports if s["id"] == name), {"id": name})
    new: dict[str, Any] = old | {"kind": kind, "centre": centre}
    if row[6]:
        new["radius"] = round(parse(row[6], "length", "mm", f"{at}.radius").si, 9)
    if row[7]:
        if row[7] not in ("1", "+1", "-1"):
            raise Refused(f"{at}.sense", "must be 1 or -1")
        new["sense"] = int(row[7])
    if row[8]:
        new["bank"] = plain(row[8])
    if kind == "pulley":
        new.setdefault("axis", [0, 1, 0])
    if old in supports:
        supports[supports.index(old)] = new
    else:
        supports.append(new)
        supports.sort(key=lambda s: s["centre"][0])
    sides[side]["supports"] = supports
