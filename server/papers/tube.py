"""A tube to take away: its flat template 1:1, a gauge to wrap around it, DXF and JSON."""

from __future__ import annotations

import io
import json
import math
from typing import Any

from ezdxf import units
from ezdxf.filemanagement import new
from reportlab.pdfgen.canvas import Canvas

from core.basis.refused import Refused
from core.lines.again import tube_template
from core.lines.line import Line
from server.lines.shapes import LineShown
from server.papers import fonts
from server.papers.tiles import tiled

ROOM, PAPER_MM = 15.0, 0.1
WALL = 0.35


def template_pdf(line: Line) -> bytes:
    """The finished tube in its plane, both walls, each bend's tangent lines and number. Refuses
    one that does not lie flat."""
    made = tube_template(line.vertices_m, line.card.radii_m, line.od_m)
    points = [(p[0] * 1e3, p[1] * 1e3) for p in line.on_the_bench(len(line.card.angles_rad))]
    od = line.od_m * 1e3
    left = min(x for x, _ in points) - od / 2 - ROOM
    low = min(y for _, y in points) - od / 2 - ROOM
    width, height = (1e3 * s + 2 * ROOM for s in made.sheet_size_m)

    def draw(c: Canvas) -> None:
        c.translate(-left, -low)
        for thick, grey in ((od, 0.0), (max(od - WALL, 0.1), 1.0)):
            path = c.beginPath()
            path.moveTo(*points[0])
            for p in points[1:]:
                path.lineTo(*p)
            c.setLineJoin(1)
            c.setLineWidth(thick)
            c.setStrokeGray(grey)
            c.drawPath(path)
        c.setStrokeGray(0.0)
        c.setLineWidth(0.2)
        c.setFont(fonts.TEXT, 4)
        for n, (u, v) in enumerate(made.tangent_points_m):
            x, y = u * 1e3, v * 1e3
            c.circle(x, y, 0.6)
            if n % 2 == 0:
                c.drawString(x + od, y + od, f"{n // 2 + 1}")
        c.drawString(points[0][0], points[0][1] + od, "start")

    return tiled(f"{line.name}, template", width, height, draw)


def gauge_pdf(line: Line) -> bytes:
    """A strip to wrap around the tube: degrees along it, and how far each bend's plane turns."""
    around = math.pi * (line.od_m * 1e3 + PAPER_MM)
    turns = line.card.rotations_rad
    if not turns:
        raise Refused("vertices", "has no turn between bends: there is nothing to gauge")
    high = 22.0 + 6.0 * len(turns)

    def draw(c: Canvas) -> None:
        c.translate(ROOM, ROOM)
        c.rect(0, 0, around, high)
        c.setFont(fonts.TEXT, 2.6)
        for degrees in range(0, 361, 10):
            x = around * degrees / 360.0
            c.line(x, high, x, high - (6.0 if degrees % 30 == 0 else 3.0))
            if degrees % 90 == 0 and degrees < 360:
                c.drawString(x + 0.4, high - 8.5, f"{degrees}°")
        for n, rho in enumerate(turns, 1):
            y = high - 12.0 - 6.0 * n
            x = around * ((math.degrees(rho) % 360.0) / 360.0)
            c.line(x, y, x, y + 4.5)
            words = f"bend {n} to {n + 1}: {math.degrees(rho):+.1f}°".replace("-", "−")
            c.drawString(around + 3, y + 1, words)
        c.drawString(
            around + 3, high - 3, "Seen from the start towards the far end, clockwise is +."
        )
        c.drawString(
            around + 3, high - 7, f"Cut on the frame: {around:.1f} mm once around the tube."
        )

    return tiled(f"{line.name}, turns", around + 130.0, high + 2 * ROOM, draw)


def shape_dxf(line: Line) -> bytes:
    """Its centreline in the aircraft, mm: corners on one layer, the tube as bent on another."""
    doc = new("R2010", units=units.MM)
    doc.header["$MEASUREMENT"] = 1
    for name in ("CENTRELINE", "CORNERS"):
        doc.layers.add(name)
    space = doc.modelspace()
    for layer, points in (("CENTRELINE", line.in_the_aircraft()), ("CORNERS", line.vertices_m)):
        found = [tuple(float(x) * 1e3 for x in p) for p in points]
        space.add_polyline3d(found, dxfattribs={"layer": layer})
    out = io.StringIO()
    doc.write(out)
    return out.getvalue().encode()


def shape_json(shown: LineShown) -> bytes:
    """All that makes it again, with units in the names."""
    card: dict[str, Any] = {k: v for k, v in shown["card"].items() if k not in ("why", "bench_mm")}
    names = ("name", "service", "material", "od_mm", "points_mm", "supports_mm")
    made: dict[str, Any] = {k: v for k, v in shown.items() if k in names}
    return json.dumps(made | {"card": card}, ensure_ascii=False, indent=1).encode()
