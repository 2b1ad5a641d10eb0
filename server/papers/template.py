"""The cut-out template as PDF (1:1), SVG and DXF, from the core's outline."""

from __future__ import annotations

import io
import math
from collections.abc import Sequence
from dataclasses import dataclass

from ezdxf import units
from ezdxf.filemanagement import new
from reportlab.lib.pagesizes import A3, A4, landscape
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from core.basis.refused import Refused
from core.controls.template import Card, Point, calibration_square, template
from server.papers import fonts

CHECK = "Print at 100 %. Measure the square: 100 mm each way, or do not use the card."
GAP = 10.0
EDGE = 10.0


@dataclass(frozen=True)
class Label:
    """What is printed on the card."""

    title: str
    skin: str
    tolerance: str

    def lines(self, card: Card) -> list[str]:
        """The label, short lines."""
        angle = f"{math.degrees(card.included):.1f}°"
        first = " · ".join(t for t in (self.title, self.skin) if t)
        second = angle + (f" ({self.tolerance})" if self.tolerance else "")
        return [first or "Included angle", second, "← fixed skin    check the square"]


def _mm(points: Sequence[Point]) -> list[Point]:
    return [(u * 1e3, v * 1e3) for u, v in points]


def _placed(card: Card) -> tuple[list[Point], list[Point], Point, tuple[float, float]]:
    """Card, square and label in mm with their lower left corner at the origin; and the size."""
    made = template(card)
    ring = _mm(made.ring)
    left, low = min(u for u, _ in ring), min(v for _, v in ring)
    ring = [(u - left, v - low) for u, v in ring]
    width = max(max(u for u, _ in ring), 100.0)
    # The square stands over the fixed arm or over the moving one, whichever is lower.
    lift, at = min((_top_over(ring, x, x + 100.0) + GAP, x) for x in (0.0, width - 100.0))
    square = [(u + at, v + lift) for u, v in _mm(calibration_square())]
    label = (made.label_at[0] * 1e3 - left, made.label_at[1] * 1e3 - low)
    height = max(max(v for _, v in ring), lift + 100.0)
    return ring, square, label, (width, height)


def _top_over(ring: list[Point], left: float, right: float) -> float:
    """The highest point of the card between two lines across it, mm."""
    tops = [0.0]
    for (u0, v0), (u1, v1) in zip(ring, [*ring[1:], ring[0]], strict=True):
        low, high = max(min(u0, u1), left), min(max(u0, u1), right)
        if low > high:
            continue
        slope = (v1 - v0) / (u1 - u0) if u1 != u0 else 0.0
        tops += [v0 + slope * (u - u0) for u in (low, high)] if u1 != u0 else [v0, v1]
    return max(tops)


def pdf(card: Card, label: Label) -> bytes:
    """One page, 1:1, on the smallest paper that holds it; refuses a card over A3."""
    fonts.ready()
    ring, square, at, (width, height) = _placed(card)
    fits = [
        p
        for p in (A4, landscape(A4), A3, landscape(A3))
        if width + 2 * EDGE <= p[0] / mm and height + 2 * EDGE + 14 <= p[1] / mm
    ]
    if not fits:
        raise Refused("arm_fixed_mm", "card and square do not fit on A3: shorten the arms")
    out = io.BytesIO()
    c = Canvas(out, pagesize=fits[0])
    c.setTitle("Template, 1:1")
    c.translate(EDGE * mm, EDGE * mm)
    for shape in (ring, square):
        path = c.beginPath()
        path.moveTo(shape[0][0] * mm, shape[0][1] * mm)
        for u, v in shape[1:]:
            path.lineTo(u * mm, v * mm)
        path.close()
        c.setLineWidth(0.25)
        c.drawPath(path)
    for i, line in enumerate(label.lines(card)):
        c.setFont(fonts.BOLD if i == 1 else fonts.TEXT, 10 if i == 1 else 6.5)
        c.drawCentredString(at[0] * mm, (at[1] + 5 - 5 * i) * mm, line)
    left, low = square[0]
    c.setFont(fonts.TEXT, 9)
    c.drawCentredString((left + 50) * mm, (low + 50) * mm, "100 mm × 100 mm")
    c.setFont(fonts.TEXT, 8)
    c.drawString(0, (height + 4) * mm, CHECK)
    c.showPage()
    c.save()
    return out.getvalue()


def svg(card: Card, label: Label) -> str:
    """SVG in millimetres."""
    ring, square, at, (width, height) = _placed(card)
    width, height = width + 2 * EDGE, height + 2 * EDGE + 8

    def points(shape: list[Point]) -> str:
        return " ".join(f"{u + EDGE:.4f},{height - EDGE - v:.4f}" for u, v in shape)

    words = "".join(
        f'<text x="{at[0] + EDGE:.2f}" y="{height - EDGE - at[1] - 5 + 5 * i:.2f}"'
        f' font-size="{4 if i == 1 else 2.6}" text-anchor="middle">{_escaped(line)}</text>'
        for i, line in enumerate(label.lines(card))
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:.3f}mm" height="{height:.3f}mm"'
        f' viewBox="0 0 {width:.3f} {height:.3f}" font-family="sans-serif">'
        f'<g fill="none" stroke="#000" stroke-width="0.1"><polygon points="{points(ring)}"/>'
        f'<polygon points="{points(square)}"/></g>{words}'
        f'<text x="{EDGE}" y="6" font-size="3">{_escaped(CHECK)}</text></svg>'
    )


def dxf(card: Card, label: Label) -> str:
    """DXF in millimetres: the cut on layer CUT, square and words on layers of their own."""
    ring, square, at, (_, height) = _placed(card)
    doc = new("R2010", units=units.MM)
    doc.header["$MEASUREMENT"] = 1
    for name in ("CUT", "SQUARE", "WORDS"):
        doc.layers.add(name)
    space = doc.modelspace()
    space.add_lwpolyline(ring, close=True, dxfattribs={"layer": "CUT"})
    space.add_lwpolyline(square, close=True, dxfattribs={"layer": "SQUARE"})
    for i, line in enumerate([*label.lines(card), CHECK]):
        place = (at[0] - 40, at[1] + 4 - 5 * i) if i < 3 else (0, height + 4)
        space.add_text(line, height=3, dxfattribs={"layer": "WORDS", "insert": place})
    out = io.StringIO()
    doc.write(out)
    return out.getvalue()


def _escaped(text: str) -> str:
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
