"""Points of a linkage as CSV, mm: out for a spreadsheet, in again as measured."""

from __future__ import annotations

import csv
import io
from typing import Any

from core.basis.quantities import parse
from core.basis.refused import Refused
from server.config.cells import cell, plain

HEAD = ("body", "point", "station", "butt_line", "water_line")
PIVOT = "pivot"


def to_csv(document: dict[str, Any]) -> str:
    """Every pivot and point, mm."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(HEAD)
    for b in document["bodies"]:
        named = ({PIVOT: b["pivot"]} if b.get("pivot") else {}) | dict(b.get("points") or {})
        for name, at in named.items():
            writer.writerow([cell(b["id"]), cell(name), *(f"{v * 1e3:.6g}" for v in at)])
    return out.getvalue()


def from_csv(document: dict[str, Any], text: str) -> dict[str, Any]:
    """The document with the points of pasted rows (tabs, commas or semicolons; mm or with
    units). New points are added. Refuses by row what is not understood."""
    rows = [r for r in _rows(text) if any(c.strip() for c in r)]
    if rows and rows[0][0].strip().lower() == "body":
        rows = rows[1:]
    if not rows:
        raise Refused("points", "needs rows: body, point, station, butt line, water line")
    bodies = {b["id"]: dict(b, points=dict(b.get("points") or {})) for b in _bodies(document)}
    for i, row in enumerate(rows, start=1):
        if len(row) != len(HEAD):
            raise Refused(f"points.{i}", "must be body, point, station, butt line, water line")
        name, point = plain(row[0].strip()), plain(row[1].strip())
        if name not in bodies:
            raise Refused(f"points.{i}", f"{name} is not a body of this linkage")
        if not point:
            raise Refused(f"points.{i}", "the point has no name")
        at = [
            round(parse(c, "length", "mm", f"points.{i}.{axis}").si, 9)
            for c, axis in zip(row[2:], HEAD[2:], strict=True)
        ]
        if point == PIVOT:
            bodies[name]["pivot"] = at
        else:
            bodies[name]["points"][point] = at
    return document | {"bodies": list(bodies.values())}


def _bodies(document: Any) -> list[dict[str, Any]]:
    """The bodies of a file that nobody has checked yet; refuses what has none."""
    found = document.get("bodies") if isinstance(document, dict) else None
    if not isinstance(found, list):
        raise Refused("document.bodies", "must be a list")
    for n, body in enumerate(found):
        if not isinstance(body, dict) or not isinstance(body.get("id"), str):
            raise Refused(f"document.bodies.{n}", "must be an object with an id")
        if not isinstance(body.get("points") or {}, dict):
            raise Refused(f"document.bodies.{n}.points", "must be an object")
    return found


def _rows(text: str) -> list[list[str]]:
    first = text.strip().splitlines()[0] if text.strip() else ""
    mark = next((m for m in ("\t", ";", ",") if m in first), ",")
    return list(csv.reader(io.StringIO(text), delimiter=mark))
