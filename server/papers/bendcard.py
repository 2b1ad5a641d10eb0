"""The bend card of a tube on one page: to carry to the bender."""

from __future__ import annotations

from datetime import UTC, datetime
from xml.sax.saxutils import escape

from reportlab.graphics.shapes import Circle, Drawing, Line, PolyLine, String
from reportlab.lib.units import mm
from reportlab.platypus import Paragraph, Spacer
from reportlab.platypus.flowables import Flowable

from server.lines.shapes import LineShown
from server.papers import fonts
from server.papers.figure import INK, RULE, SOFT
from server.papers.sheet import cells, grid, one_page, style

HEAD = ("Bend", "Mark, mm", "Plane turns", "Turn the tube", "Angle", "Bend to", "Radius, mm")
RULER_MM = 100.0
VIEWS = ((1, "From above, the first bend to the left"), (2, "From the side"))


def bend_card_pdf(aircraft: str, line: LineShown) -> bytes:
    """Cut length, marks, turns and angles, the finished tube on the bench, and what is open."""
    return one_page(
        f"{aircraft}: {line['name']}, bend card", lambda width: _content(aircraft, line, width)
    )


def _content(aircraft: str, line: LineShown, width: float) -> list[Flowable]:
    card = line["card"]
    printed = datetime.now(UTC).strftime("%Y-%m-%d %H:%M UTC")
    size = f"{line['material']} tube, {line['od_mm']:.2f} mm outside, {line['service']}"
    rows = [cells(*(f"<b>{h}</b>" for h in HEAD))]
    rows += [
        cells(
            str(b["number"]),
            f"<b>{b['mark_mm']:.1f}</b>",
            _turn(b["plane_turns_deg"]),
            _turn(b["tube_turns_deg"]),
            f"{b['angle_deg']:.1f}°",
            f"<b>{b['bend_to_deg']:.1f}°</b>",
            f"{b['radius_mm']:.1f}",
        )
        for b in card["bends"]
    ]
    return [
        Paragraph(f"<b>{escape(aircraft)}</b>: {escape(line['name'])}, bend card", style(16)),
        Paragraph(escape(f"{size}. Printed {printed}."), style(8, textColor=SOFT)),
        Spacer(1, 3 * mm),
        Paragraph(f"Cut <b>{card['cut_mm']:.1f} mm</b>", style(15)),
        Paragraph(
            f"Developed {card['developed_mm']:.1f} mm; {card['gain_mm']:.1f} mm shorter than its"
            f" corners. {escape(card['springback'])}",
            style(9),
        ),
        Spacer(1, 2 * mm),
        grid(rows, [width * s for s in (0.1, 0.16, 0.16, 0.18, 0.13, 0.13, 0.14)]),
        Paragraph(
            "Marks are from the start of the cut tube. Plane turns: seen from the start towards the"
            " far end, clockwise is +. Turn the tube: the same at a bender whose plane stays put.",
            style(8, textColor=SOFT),
        ),
        Spacer(1, 3 * mm),
        *(_view(line, axis, word, width) for axis, word in VIEWS),
        Paragraph("<b>Still open</b>", style(11)),
        *(
            Paragraph(escape(f"{c['what']}: {c['said']}"), style(9))
            for c in line["checks"]
            if c["verdict"] not in ("in", "accepted")
        ),
        Spacer(1, 3 * mm),
        Paragraph(f"<b>Caution.</b> {escape(line['caution'])}", style(9)),
        Paragraph(
            "Bent by ____________________  Date __________   Compared with the aircraft"
            " ____________________",
            style(9, spaceBefore=10),
        ),
    ]


def _turn(deg: float | None) -> str:
    return "–" if deg is None else f"{deg:+.1f}°"


def _view(line: LineShown, axis: int, word: str, width: float) -> Drawing:
    """The finished tube as it lies on the bench, as large as the page takes it, with a ruler."""
    points = [(p[0], p[axis]) for p in line["card"]["bench_mm"][-1]]
    (x0, x1), (y0, y1) = ((min(v), max(v)) for v in zip(*points, strict=True))
    scale = min((width - 10 * mm) / max(x1 - x0, RULER_MM), 45 * mm / max(y1 - y0, 1.0))
    scale = min(scale, 1.0 * mm)
    height = (y1 - y0) * scale + 16 * mm
    d = Drawing(width, height)
    at = [c for x, y in points for c in (5 * mm + (x - x0) * scale, 10 * mm + (y - y0) * scale)]
    d.add(PolyLine(at, strokeColor=INK, strokeWidth=max(0.8, line["od_mm"] * scale)))
    d.add(Circle(at[0], at[1], 3, strokeColor=INK, fillColor=None, strokeWidth=0.8))
    d.add(Line(5 * mm, 4 * mm, 5 * mm + RULER_MM * scale, 4 * mm, strokeColor=RULE))
    said = f"{word}; the ring is the start; the line is {RULER_MM:.0f} mm."
    d.add(String(5 * mm, 0.5 * mm, said, fontName=fonts.TEXT, fontSize=8, fillColor=SOFT))
    return d
