"""The rigging sheet: tension, travel and turns of one loop of cables, to carry to the aircraft."""

from __future__ import annotations

from datetime import UTC, datetime
from xml.sax.saxutils import escape

from reportlab.graphics.shapes import Circle, Drawing, Line, Polygon, PolyLine, String
from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.platypus import Paragraph, Spacer, Table
from reportlab.platypus.flowables import Flowable

from core.basis.quantities import LBF
from server.cables.shapes import CablesShown, TodayShown
from server.controls.shapes import SheetShown
from server.papers import fonts
from server.papers.figure import RULE, SOFT
from server.papers.sheet import asked, badge, cells, grid, measured, one_page, style, what

BAND = HexColor("#e4dfd0")
HOW = {
    "neutral locked": "Pin driver and surface at neutral.",
    "tension set": "Turn, half first; measure both cables at this temperature.",
    "travel set": "Pins out; measure the travel each way.",
    "stops set": "The surface's own stop is met first, each way.",
    "sense seen": "By eye: the surface goes the way the pilot means.",
    "safetied": "Locks on both turnbuckles, cotters in every pin, guards on.",
}
OPEN = ("out", "stale", "too close", "not measured")


def rigging_pdf(
    aircraft: str, cables: CablesShown, today: TodayShown | None, sheet: SheetShown
) -> bytes:
    """The page: tension over temperature, what to set and turn, travel, steps, what is open."""
    title = f"{aircraft}: {cables['name']}, rigging sheet"
    return one_page(title, lambda width: _content(aircraft, cables, today, sheet, width))


def _content(
    aircraft: str,
    cables: CablesShown,
    today: TodayShown | None,
    sheet: SheetShown,
    width: float,
) -> list[Flowable]:
    printed = datetime.now(UTC).strftime("%Y-%m-%d %H:%M UTC")
    parts: list[Flowable] = [
        Paragraph(f"<b>{escape(aircraft)}</b>: {escape(cables['name'])}, rigging sheet", style(16)),
        Paragraph(f"Printed {printed}.", style(8, textColor=SOFT)),
        Spacer(1, 2 * mm),
    ]
    if today is not None:
        parts += _tension(cables, today, width)
    parts += [
        Paragraph("<b>Travel</b>", style(11)),
        _travel(sheet, width),
        Spacer(1, 3 * mm),
        Paragraph("<b>In this order</b>", style(11)),
        _steps(cables, width),
        Spacer(1, 3 * mm),
        Paragraph("<b>Still open</b>", style(11)),
        *_open(cables, width),
        Spacer(1, 3 * mm),
        Paragraph(f"<b>Caution.</b> {escape(cables['caution'])}", style(9)),
        Paragraph(
            "Measured by ____________________  Date __________   "
            "Inspected by ____________________  Date __________",
            style(9, spaceBefore=10),
        ),
    ]
    return parts


def _force(n: float | None, unit: str) -> str:
    if n is None:
        return "–"
    return f"{n:.0f} N" if unit == "N" else f"{n / LBF:.1f} lb"


def _tension(cables: CablesShown, t: TodayShown, width: float) -> list[Flowable]:
    unit, names = t["unit"], {s["side"]: s["name"] for s in cables["sides"]}
    rows = [
        cells(
            "<b>Cable</b>",
            f"<b>Set at {t['temperature_C']:.1f} °C</b>",
            "<b>In</b>",
            "<b>Measured</b>",
            "<b>Verdict</b>",
            "<b>Threads showing</b>",
        )
    ]
    shares = (0.15, 0.15, 0.2, 0.13, 0.24, 0.13)
    for s in t["sides"]:
        side = next(x for x in cables["sides"] if x["side"] == s["side"])
        showing = "; ".join(f"{n:g}" for n in side["showing"] or []) or "–"
        rows.append(
            [
                *cells(escape(names[s["side"]])),
                *cells(f"<b>{_force(s['set_N'], unit)}</b>", size=13),
                *cells(f"{_force(s['low_N'], unit)} to {_force(s['high_N'], unit)}"),
                *cells(_force(s["present_N"], unit)),
                badge(s["verdict"], width * shares[4]),
                *cells(showing),
            ]
        )
    turns = " ".join(x["said"] for x in t["turns"]) or t["said"]
    return [
        _curve(t, width, 46 * mm),
        grid(rows, [width * s for s in shares]),
        Spacer(1, 1.5 * mm),
        Paragraph(f"<b>Turn:</b> {escape(turns)}", style(11)),
        Paragraph(escape(f"Maker: {t['source']}. {t['caution']}"), style(8, textColor=SOFT)),
        Spacer(1, 3 * mm),
    ]


def _curve(t: TodayShown, width: float, height: float) -> Drawing:
    """Tension over temperature with the band, today's line and the maker's point."""
    per = 1.0 if t["unit"] == "N" else LBF
    points = [(c, n / per) for c, n in t["curves"][0]["points"]]
    if not points:
        return Drawing(width, 1)
    left, foot = 12 * mm, 7 * mm
    x0, x1 = points[0][0], points[-1][0]
    top = max(n for _, n in points) + t["plus_N"] / per

    def px(c: float) -> float:
        return float(left + (c - x0) / (x1 - x0) * (width - left - 4 * mm))

    def py(n: float) -> float:
        return float(foot + n / top * (height - foot - 3 * mm))

    d = Drawing(width, height)
    upper = [v for c, n in points for v in (px(c), py(n + t["plus_N"] / per))]
    lower = [v for c, n in reversed(points) for v in (px(c), py(max(0.0, n - t["minus_N"] / per)))]
    d.add(Polygon(upper + lower, fillColor=BAND, strokeColor=None))
    step = 50 if top > 120 else 10
    for n in range(0, int(top) + 1, step):
        d.add(Line(left, py(n), width - 4 * mm, py(n), strokeColor=RULE, strokeWidth=0.4))
        d.add(_word(left - 2 * mm, py(n) - 2, str(n), "end"))
    for c in range(int(x0 // 10 * 10), int(x1) + 1, 10):
        if c >= x0:
            d.add(_word(px(c), 1.5 * mm, f"{c}", "middle"))
    d.add(PolyLine([v for c, n in points for v in (px(c), py(n))], strokeWidth=1.4))
    now = px(t["temperature_C"])
    d.add(Line(now, foot, now, height - 3 * mm, strokeWidth=0.9, strokeDashArray=[3, 2]))
    d.add(_word(now + 3, height - 6 * mm, f"today {t['temperature_C']:.1f} °C", "start"))
    d.add(Circle(px(t["target_C"]), py(t["target_N"] / per), 2.2, fillColor=HexColor("#22282b")))
    d.add(_word(px(t["target_C"]) + 4, py(t["target_N"] / per) - 9, "maker", "start"))
    d.add(_word(left + 2, height - 5 * mm, f"tension, {t['unit']}", "start"))
    d.add(_word(width - 4 * mm, foot + 3, "°C", "end"))
    return d


def _word(x: float, y: float, text: str, anchor: str) -> String:
    return String(x, y, text, fontName=fonts.TEXT, fontSize=8, textAnchor=anchor)


def _travel(sheet: SheetShown, width: float) -> Table:
    shares = (0.34, 0.2, 0.2, 0.26)
    rows = [cells("<b>What</b>", "<b>Required</b>", "<b>Measured ± U</b>", "<b>Verdict</b>")]
    for q in sheet["requirements"]:
        verdict = badge(q["result"]["verdict"], width * shares[3])
        rows.append([*cells(escape(what(sheet, q)), asked(q), measured(q)), verdict])
    if len(rows) == 1:
        rows.append(cells("Nothing is required yet.", "", "", ""))
    return grid(rows, [width * s for s in shares])


def _steps(cables: CablesShown, width: float) -> Table:
    rows = []
    for i, s in enumerate(cables["steps"], start=1):
        box = "done" if s["done"] else "□"
        who = f"{s['by']}, {s['at'][:10]}" if s["done"] else ""
        name = s["step"].capitalize()
        rows.append(cells(f"{i}", f"<b>{name}</b>. {HOW[s['step']]}", box, escape(who)))
    return grid(rows, [width * x for x in (0.05, 0.62, 0.09, 0.24)])


def _open(cables: CablesShown, width: float) -> list[Flowable]:
    left = [c for c in cables["checks"] if c["verdict"] in OPEN]
    if not left:
        return [Paragraph("Nothing.", style(9))]
    rows = [
        [*cells(escape(c["what"]), escape(c["said"])), badge(c["verdict"], width * 0.2)]
        for c in left
    ]
    return [grid(rows, [width * x for x in (0.27, 0.53, 0.2)])]
