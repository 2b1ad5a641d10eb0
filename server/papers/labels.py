"""Labels for both ends of each wire to print and cut: its name, where it goes, and a code that
opens the wire's page."""

from __future__ import annotations

import io
from collections.abc import Callable

import segno
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from core.wiring.harness import Harness
from core.wiring.harness_lists import end_labels
from server.papers import fonts

WIDE, HIGH, CODE, MARGIN = 60 * mm, 19 * mm, 15 * mm, 12 * mm
ACROSS = int((A4[0] - 2 * MARGIN) // WIDE)
DOWN = int((A4[1] - 2 * MARGIN) // HIGH)
CUT = 0.3


def labels_pdf(aircraft: str, h: Harness, address: Callable[[str], str]) -> bytes:
    """A sheet of labels, two for each wire; address: of a wire's page, for its code."""
    fonts.ready()
    out = io.BytesIO()
    c = Canvas(out, pagesize=A4, invariant=1)
    c.setTitle(f"{aircraft}: labels of wires")
    for n, label in enumerate(end_labels(h)):
        place = n % (ACROSS * DOWN)
        if n and place == 0:
            c.showPage()
        x = MARGIN + (place % ACROSS) * WIDE
        y = A4[1] - MARGIN - (place // ACROSS + 1) * HIGH
        _label(c, x, y, label.wire, label.lines(), address(label.slug))
    c.showPage()
    c.save()
    return out.getvalue()


def _label(c: Canvas, x: float, y: float, name: str, lines: list[str], address: str) -> None:
    c.setLineWidth(CUT)
    c.setStrokeGray(0.6)
    c.rect(x, y, WIDE, HIGH)
    _code(c, x + 2 * mm, y + 2 * mm, address)
    left, top = x + CODE + 4 * mm, y + HIGH - 5.5 * mm
    c.setFillGray(0.0)
    c.setFont(fonts.BOLD, 11)
    c.drawString(left, top, _fitting(c, name, fonts.BOLD, 11))
    for n, text in enumerate(lines, 1):
        c.setFont(fonts.TEXT, 6.5)
        c.drawString(left, top - n * 3.6 * mm, _fitting(c, text, fonts.TEXT, 6.5))


def _fitting(c: Canvas, text: str, font: str, size: float) -> str:
    """As much of it as the label holds."""
    room = WIDE - CODE - 6 * mm
    if c.stringWidth(text, font, size) <= room:
        return text
    while text and c.stringWidth(f"{text}…", font, size) > room:
        text = text[:-1]
    return f"{text}…"


def _code(c: Canvas, x: float, y: float, address: str) -> None:
    """Squares on white, with the quiet zone that the label's edge gives."""
    rows = list(segno.make(address, error="m", micro=False).matrix)
    step = CODE / len(rows)
    c.setFillGray(0.0)
    for down, row in enumerate(rows):
        for across, dark in enumerate(row):
            if dark:
                c.rect(
                    x + across * step, y + CODE - (down + 1) * step, step, step, stroke=0, fill=1
                )
