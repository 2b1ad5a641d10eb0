"""Weight and balance on paper: the record of a weighing, the equipment list, and a loading sheet
with a graph to reckon on by hand."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import UTC, datetime
from typing import Any
from xml.sax.saxutils import escape

from reportlab.graphics.shapes import Drawing, Line, PolyLine, String
from reportlab.lib.units import mm
from reportlab.platypus import Paragraph, Spacer
from reportlab.platypus.flowables import Flowable

from core.weight.book import Book, Row
from core.weight.figures import envelope_mm
from core.weight.lists import equipment
from core.weight.rows import GROUP, STATION, TANK
from core.weight.words import CAUTION
from core.worksheets.kinds import run
from server.papers.figure import INK, RULE, SOFT
from server.papers.fonts import BOLD, TEXT
from server.papers.sheet import badge, by_hand, cells, grid, one_page, style
from server.weight.shapes import WeightRowShown

HAND = "............"


def _head(title: str, said: str) -> Iterable[Flowable]:
    printed = datetime.now(UTC).strftime("%Y-%m-%d %H:%M UTC")
    yield Paragraph(escape(title), style(15))
    yield Paragraph(escape(f"{said} Printed {printed}."), style(8, textColor=SOFT))
    yield Spacer(1, 3 * mm)


def _foot(width: float, cited: str) -> Iterable[Flowable]:
    yield Paragraph(escape(f"Limits from: {cited or 'no document'}."), style(9, spaceBefore=4))
    yield Paragraph(f"<b>Caution.</b> {escape(CAUTION)}", style(9, spaceBefore=4))
    yield Spacer(1, 3 * mm)
    yield by_hand(width)


def _heading(words: str) -> Paragraph:
    return Paragraph(f"<b>{escape(words)}</b>", style(11, spaceBefore=6))


def _table(head: Sequence[str], rows: Iterable[Sequence[str]], widths: Sequence[float]) -> Flowable:
    lines = [cells(*(f"<b>{escape(h)}</b>" for h in head), size=8)]
    lines += [cells(*(escape(x) for x in row), size=8) for row in rows]
    return grid(lines, list(widths))


def record_pdf(aircraft: str, b: Book, w: Row, shown: WeightRowShown, cited: str) -> bytes:
    """The record of a weighing, on a page."""
    title = f"{aircraft}: weight and balance record, {w.name}"
    return one_page(title, lambda width: list(_record(title, b, w, shown, cited, width)))


def _record(
    title: str, b: Book, w: Row, shown: WeightRowShown, cited: str, width: float
) -> Iterable[Flowable]:
    datum = b.limits.get("datum", "not said")
    yield from _head(title, f"Weighed on {w.values['day']}. The datum is {datum}.")
    rows = [
        [*cells(escape(c["what"]), escape(c["said"])), badge(c["verdict"], width * 0.22)]
        for c in shown["checks"]
    ]
    if rows:
        yield grid(rows, [width * s for s in (0.28, 0.5, 0.22)])
    figure = shown["figure"]
    yield _heading("On the scales")
    yield _table(
        ("Wheel", "Scale", "Arm", "Shown", "Chocks", "Net"),
        [
            (
                x["wheel"], x["scale"], f"{x['x_mm']:.0f} mm",
                "not read" if x["kg"] is None else f"{x['kg']:.2f} kg",
                f"{x['tare_kg']:.1f} kg",
                f"{x['net_kg']:.2f} kg" if "net_kg" in x else "",
            )
            for x in figure.get("wheels", ())
        ],
        [width * s for s in (0.16, 0.2, 0.16, 0.16, 0.16, 0.16)],
    )  # fmt: skip
    corrections = w.values.get("corrections", ())
    if corrections:
        yield _heading("Put in or taken out")
        yield _table(
            ("What", "", "Mass", "Arm", "Moment"),
            [
                (
                    c["name"], "in" if c["way"] == "in" else "out", f"{c['mass_kg']:.2f} kg",
                    f"{c['x_m'] * 1e3:.0f} mm", f"{c['mass_kg'] * c['x_m']:.2f} kg·m",
                )
                for c in corrections
            ],
            [width * s for s in (0.4, 0.12, 0.16, 0.16, 0.16)],
        )  # fmt: skip
    r = figure.get("result")
    if r:
        yield _heading("Empty")
        side = "not measured" if r["y_mm"] is None else f"{r['y_mm']:.1f} mm ± {r['U_y_mm']:.1f}"
        yield grid(
            [
                cells("Mass", f"<b>{r['mass_kg']:.1f} kg ± {r['U_kg']:.1f}</b>"),
                cells("Arm", f"<b>{r['x_mm']:.1f} mm ± {r['U_mm']:.1f}</b>{_chord(b, r)}"),
                cells("Moment", f"{r['moment']:.2f} kg·m ± {r['U_moment']:.2f}"),
                cells("To the right of the middle", side),
            ],
            [width * 0.4, width * 0.6],
        )
    yield from _foot(width, cited)


def _chord(b: Book, r: dict[str, Any]) -> str:
    """The arm on the mean chord, where that is known."""
    if "lemac_m" not in b.limits or "mac_m" not in b.limits:
        return ""
    asked = {"x_m": r["x_mm"] / 1e3, "lemac_m": b.limits["lemac_m"], "mac_m": b.limits["mac_m"]}
    return f", {run('weight.percent_mac', asked)['percent']:.1f} % of the mean chord"


def equipment_pdf(aircraft: str, b: Book, cited: str) -> bytes:
    """The equipment list: what was changed since the weighing that counts."""
    title = f"{aircraft}: equipment list"

    def content(width: float) -> list[Flowable]:
        w = b.last_weighing
        said = f"Since {w.name}, {w.values['day']}." if w else "Not weighed yet."
        lines = list(equipment(b))
        widths = (0.12, 0.22, 0.12, 0.09, 0.09, 0.09, 0.09, 0.09, 0.09)
        rows = [[*line, *[""] * (len(widths) - len(line))] for line in lines[1:]]
        table = _table(lines[0], rows, [width * s for s in widths])
        return [*_head(title, said), table, *_foot(width, cited)]

    return one_page(title, content)


def loading_pdf(aircraft: str, b: Book, cited: str) -> bytes:
    """A loading sheet: every station with its arm and limit, room to reckon, and the envelope."""
    title = f"{aircraft}: loading sheet"
    return one_page(title, lambda width: list(_loading(title, b, cited, width)))


def _loading(title: str, b: Book, cited: str, width: float) -> Iterable[Flowable]:
    yield from _head(title, "Mass times arm is moment; all moments over all masses is the arm.")
    divided = b.limits.get("index_kg_m")
    word = "Moment, kg·m" if divided is None else "Index"
    rows = []
    if b.empty is not None:
        moment = b.empty["mass_kg"] * b.empty["x_m"]
        shown = f"{moment:.1f}" if divided is None else f"{moment / divided:.2f}"
        rows.append(
            ("Empty", f"{b.empty['x_m'] * 1e3:.0f}", "", f"{b.empty['mass_kg']:.1f}", shown)
        )
    for s in b.of(STATION):
        v = s.values
        limit = f"{v['max_kg']:.0f} kg" if "max_kg" in v else "not said"
        rows.append((s.name, f"{v['x_m'] * 1e3:.0f}", limit, HAND, HAND))
    for t in b.of(TANK):
        v = t.values
        full = f"{v['capacity_m3'] * 1e3:.0f} l" if "capacity_m3" in v else "not said"
        arm = f"{v['x_m'] * 1e3:.0f}" if "x_m" in v else "by contents"
        rows.append((t.name, arm, full, HAND, HAND))
    rows.append(("All of it", HAND, "", HAND, HAND))
    yield _table(
        ("Station", "Arm, mm", "At most", "Mass, kg", word),
        rows,
        [width * s for s in (0.3, 0.15, 0.15, 0.2, 0.2)],
    )
    said = [f"{g.name}: {g.values['max_kg']:.0f} kg for {', '.join(g.values['names'])}"
            for g in b.of(GROUP)]  # fmt: skip
    for name, words in (("gross_kg", "Gross"), ("ramp_kg", "Ramp"), ("landing_kg", "Landing"),
                        ("zero_fuel_kg", "Without fuel")):  # fmt: skip
        if name in b.limits:
            said.append(f"{words} {b.limits[name]:.0f} kg")
    if b.fuel is not None:
        said.append(f"A litre of fuel weighs {b.fuel['density_ref_kg_m3'] / 1e3:.3f} kg")
    yield Paragraph(escape(". ".join(said) + "."), style(9, spaceBefore=4))
    if b.envelope is not None:
        yield Spacer(1, 3 * mm)
        yield graph(envelope_mm(b), width, 118 * mm)
    yield from _foot(width, cited)


def graph(corners: Sequence[Sequence[float]], width: float, height: float) -> Drawing:
    """The envelope on a fine grid: mass up, arm across, both to be read by eye."""
    d = Drawing(width, height)
    left, foot = 34.0, 26.0
    arms, masses = [c[0] for c in corners], [c[1] for c in corners]
    across, up = _step(max(arms) - min(arms)), _step(max(masses) - min(masses))
    x0, x1 = _floor(min(arms), across) - across, _floor(max(arms), across) + 2 * across
    y0, y1 = _floor(min(masses), up) - up, _floor(max(masses), up) + 2 * up

    def px(v: float) -> float:
        return left + (v - x0) / (x1 - x0) * (width - left - 6)

    def py(v: float) -> float:
        return foot + (v - y0) / (y1 - y0) * (height - foot - 8)

    for v, bold in _lines(x0, x1, across):
        d.add(
            Line(px(v), py(y0), px(v), py(y1), strokeColor=RULE, strokeWidth=0.8 if bold else 0.3)
        )
        if bold:
            d.add(_word(px(v), foot - 11, f"{v:.0f}", "middle"))
    for v, bold in _lines(y0, y1, up):
        d.add(
            Line(px(x0), py(v), px(x1), py(v), strokeColor=RULE, strokeWidth=0.8 if bold else 0.3)
        )
        if bold:
            d.add(_word(left - 4, py(v) - 3, f"{v:.0f}", "end"))
    points = [p for x, m in [*corners, corners[0]] for p in (px(x), py(m))]
    d.add(PolyLine(points, strokeColor=INK, strokeWidth=1.6, fillColor=None))
    d.add(String(0, height - 8, "kg", fontName=BOLD, fontSize=8, fillColor=INK))
    d.add(_word(width - 6, 2, "arm, mm aft of the datum", "end"))
    return d


def _word(x: float, y: float, text: str, anchor: str) -> String:
    return String(x, y, text, fontName=TEXT, fontSize=8, fillColor=INK, textAnchor=anchor)


def _step(extent: float) -> float:
    """A round step that gives about six heavy lines."""
    for step in (1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0, 200.0, 500.0, 1000.0):
        if extent / step <= 7.0:
            return step
    return 2000.0


def _floor(v: float, step: float) -> float:
    return float(v // step) * step


def _lines(low: float, high: float, step: float) -> Iterable[tuple[float, bool]]:
    """Five fine lines to each heavy one."""
    count = round((high - low) / step * 5)
    for n in range(count + 1):
        yield low + n * step / 5.0, n % 5 == 0
