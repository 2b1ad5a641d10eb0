"""A worksheet on paper: what was asked and answered, to sign by hand; and what is drawn 1:1."""

from __future__ import annotations

import math
from collections.abc import Iterable
from datetime import UTC, date, datetime
from typing import Any
from xml.sax.saxutils import escape

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Paragraph, Spacer
from reportlab.platypus.flowables import Flowable

from core.worksheets.kinds import Field
from server.papers import fonts
from server.papers.figure import SOFT
from server.papers.sheet import badge, by_hand, cells, grid, one_page, style
from server.papers.tiles import tiled
from server.worksheets.models import Worksheet
from server.worksheets.shapes import SheetShown

ROOM = 15.0


def sheet_pdf(aircraft: str, w: Worksheet, shown: SheetShown) -> bytes:
    """One page."""
    title = f"{aircraft}: {w.name}, {w.of.title.lower()}"
    return one_page(title, lambda width: list(_content(title, w, shown, width)))


def _content(title: str, w: Worksheet, shown: SheetShown, width: float) -> Iterable[Flowable]:
    printed = datetime.now(UTC).strftime("%Y-%m-%d %H:%M UTC")
    yield Paragraph(escape(title), style(15))
    yield Paragraph(escape(f"{w.of.asks} Printed {printed}."), style(8, textColor=SOFT))
    yield Spacer(1, 3 * mm)
    if shown["worked"]["checks"]:
        rows = [
            [*cells(escape(c["what"]), escape(c["said"])), badge(c["verdict"], width * 0.22)]
            for c in shown["worked"]["checks"]
        ]
        yield grid(rows, [width * s for s in (0.24, 0.54, 0.22)])
    yield Spacer(1, 2 * mm)
    facts = [cells(escape(f["label"]), escape(f["text"])) for f in shown["worked"]["facts"]]
    if facts:
        yield grid(facts, [width * 0.4, width * 0.6])
    yield Paragraph("<b>What was entered</b>", style(11, spaceBefore=6))
    for field in w.of.fields:
        yield from _entered(field, w.typed.get(field.key), width)
    yield Paragraph(escape(f"Limits from: {w.cited or 'no document'}."), style(9))
    yield Paragraph(f"<b>Caution.</b> {escape(w.of.caution)}", style(9, spaceBefore=6))
    yield Spacer(1, 3 * mm)
    yield by_hand(width)


def _entered(field: Field, typed: Any, width: float) -> Iterable[Flowable]:
    if isinstance(typed, list) and typed:
        used = [c for c in field.columns if any(c.key in row for row in typed)]
        yield Paragraph(escape(field.label), style(8, textColor=SOFT, spaceBefore=3))
        rows = [cells(*(f"<b>{escape(c.label)}</b>" for c in used), size=7.5)]
        for row in typed:
            rows.append(cells(*(escape(_word(c, row.get(c.key, ""))) for c in used), size=7.5))
        yield grid(rows, [width / len(used)] * len(used))
    elif typed:
        yield Paragraph(f"{escape(field.label)}: <b>{escape(_word(field, typed))}</b>", style(9))


def _word(field: Field, typed: str) -> str:
    """What was typed; of a choice its word."""
    return dict(field.choices).get(typed, typed)


def scale_pdf(w: Worksheet, figure: dict[str, Any]) -> bytes | None:
    """What of it is to be held against the thing itself, 1:1; None: nothing is."""
    if not w.of.to_scale:
        return None
    return TO_SCALE[w.kind](w.name, figure)


def _hole(name: str, f: dict[str, Any]) -> bytes:
    x, y = f["hole_mm"]
    points = [f["hole_mm"], *(e["point_mm"] for e in f["edges"])]
    half = (f["washer_mm"] or f["drilled_mm"]) / 2 + ROOM
    left = min(min(p[0] for p in points), x - half) - ROOM
    low = min(min(p[1] for p in points), y - half) - ROOM
    width = max(max(p[0] for p in points), x + half) + ROOM - left
    height = max(max(p[1] for p in points), y + half) + ROOM - low

    def draw(c: Canvas) -> None:
        c.translate(-left, -low)
        for e in f["edges"]:
            (a, b), (u, v) = e["point_mm"], e["direction"]
            size = math.hypot(u, v)
            du, dv = 2e3 * u / size, 2e3 * v / size
            c.line(a - du, b - dv, a + du, b + dv)
        c.circle(x, y, f["drilled_mm"] / 2)
        c.line(x - 6, y, x + 6, y)
        c.line(x, y - 6, x, y + 6)
        if f["washer_mm"]:
            c.circle(x, y, f["washer_mm"] / 2)
        c.setFont(fonts.TEXT, 3)
        c.drawString(x + half - ROOM + 1, y, f"hole {f['drilled_mm']:.1f} mm")

    return tiled(f"{name}: sign the sheet before drilling", width, height, draw)


def _ladder(name: str, f: dict[str, Any]) -> bytes:
    steps: list[dict[str, float]] = f["ladder"]
    most = max(s["mm"] for s in steps)

    def draw(c: Canvas) -> None:
        c.translate(ROOM, ROOM)
        c.line(0, 0, 0, most)
        c.setFont(fonts.TEXT, 3.2)
        c.drawString(16, -1, "0")
        c.line(0, 0, 12, 0)
        for s in steps:
            c.line(0, s["mm"], 12, s["mm"])
            c.drawString(16, s["mm"] - 1, f"{s['kt']:.0f} kt   {s['mm']:.1f} mm")

    return tiled(f"{name}, water column", 80.0, most + 2 * ROOM, draw)


TO_SCALE = {"tank hole": _hole, "pitot test": _ladder}


def calendar(w: Worksheet, days: Iterable[tuple[date, str]]) -> bytes | None:
    """iCalendar (RFC 5545): each day on which something of it ends; None of none."""
    found = list(days)
    if not found:
        return None
    stamp = datetime.now(UTC).strftime("%Y%m%dT%H%M%SZ")
    lines = ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//Ash Lane//EN"]
    for n, (day, said) in enumerate(found, 1):
        text = f"{w.name}: {said}".replace("\\", "\\\\").replace(",", "\\,").replace(";", "\\;")
        lines += [
            "BEGIN:VEVENT",
            f"UID:worksheet-{w.aircraft_id}-{w.slug}-{n}@ash-lane",
            f"DTSTAMP:{stamp}",
            f"DTSTART;VALUE=DATE:{day.strftime('%Y%m%d')}",
            f"SUMMARY:{text}",
            "END:VEVENT",
        ]
    folded = (part for line in [*lines, "END:VCALENDAR"] for part in _folded(line))
    return ("\r\n".join(folded) + "\r\n").encode()


def _folded(line: str) -> Iterable[str]:
    """Lines of at most 75 octets; what goes on begins with a space."""
    rest, first = line, True
    while rest:
        n = len(rest)
        while len((rest[:n] if first else " " + rest[:n]).encode()) > 75:
            n -= 1
        yield rest[:n] if first else " " + rest[:n]
        rest, first = rest[n:], False
