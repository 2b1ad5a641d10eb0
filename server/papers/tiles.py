"""A drawing 1:1 on as many A4 pages as it needs: register marks, and a ruler to measure first."""

from __future__ import annotations

import io
import math
from collections.abc import Callable

from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from core.basis.refused import Refused
from server.papers import fonts

CHECK = "Print at 100 %. Measure the ruler: 100 mm, or do not use this drawing."
EDGE, OVERLAP, MOST = 12.0, 10.0, 40
WIDE, HIGH = A4[0] / mm - 2 * EDGE, A4[1] / mm - 2 * EDGE - 14.0
# Draws in mm, its lower left corner at the origin.
Draw = Callable[[Canvas], None]


def tiled(title: str, width: float, height: float, draw: Draw) -> bytes:
    """Pages from left to right, from below upwards; what overlaps is on both. Refuses a drawing
    that needs more pages than anybody joins."""
    fonts.ready()
    across = max(1, math.ceil((width - OVERLAP) / (WIDE - OVERLAP)))
    up = max(1, math.ceil((height - OVERLAP) / (HIGH - OVERLAP)))
    if across * up > MOST:
        raise Refused("size", f"needs {across * up} pages at full size: that cannot be joined")
    out = io.BytesIO()
    c = Canvas(out, pagesize=A4)
    c.setTitle(title)
    for row in range(up):
        for column in range(across):
            at = column * (WIDE - OVERLAP), row * (HIGH - OVERLAP)
            _page(c, title, at, f"page {row * across + column + 1} of {across * up}", draw)
    c.save()
    return out.getvalue()


def _page(c: Canvas, title: str, at: tuple[float, float], which: str, draw: Draw) -> None:
    c.saveState()
    c.translate(EDGE * mm, EDGE * mm)
    c.scale(mm, mm)
    box = c.beginPath()
    box.rect(0, 0, WIDE, HIGH)
    c.saveState()
    c.clipPath(box, stroke=0)
    c.translate(-at[0], -at[1])
    c.setLineWidth(0.2)
    draw(c)
    c.restoreState()
    c.setLineWidth(0.15)
    for x in (0.0, OVERLAP, WIDE - OVERLAP, WIDE):
        for y in (0.0, OVERLAP, HIGH - OVERLAP, HIGH):
            c.line(x - 2, y, x + 2, y)
            c.line(x, y - 2, x, y + 2)
    c.setFont(fonts.TEXT, 3.2)
    c.drawString(0, HIGH + 12, f"{title}: {which}.")
    c.drawString(0, HIGH + 7.5, CHECK)
    c.setLineWidth(0.25)
    c.line(0, HIGH + 4, 100, HIGH + 4)
    for x in (0, 100):
        c.line(x, HIGH + 2.5, x, HIGH + 5.5)
    c.drawString(102, HIGH + 3, "100 mm")
    c.restoreState()
    c.showPage()
