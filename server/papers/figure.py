"""The surface in side view at true angle, for the printed sheet."""

from __future__ import annotations

import math

from reportlab.graphics.shapes import Circle, Drawing, Group, Line, Polygon, PolyLine, Rect, String
from reportlab.lib.colors import HexColor

from server.controls.shapes import RequirementShown, SheetShown, SurfaceShown
from server.papers.fonts import BOLD

INK, RULE, SOFT = HexColor("#22282b"), HexColor("#d8d2c4"), HexColor("#5b666b")
MARK = {
    "in": HexColor("#3f7d62"),
    "out": HexColor("#c8501e"),
    "too close": HexColor("#b0821a"),
    "not measured": HexColor("#5b666b"),
    "stale": HexColor("#7a4b86"),
    "accepted": HexColor("#3f7d62"),
}


def mark(verdict: str, x: float, y: float, r: float) -> Group:
    """The verdict's mark: shape and colour, centred at x, y."""
    colour = MARK[verdict]
    shapes: list[object] = []
    if verdict in ("in", "accepted"):
        shapes.append(Circle(x, y, r, fillColor=colour, strokeColor=colour))
    elif verdict == "out":
        points = [x - r, y - r, x + r, y - r, x + r, y + r * 0.2, x + r * 0.2, y + r, x - r, y + r]
        shapes.append(Polygon(points, fillColor=colour, strokeColor=colour))
    elif verdict == "too close":
        diamond = [x, y - r * 1.2, x + r * 1.2, y, x, y + r * 1.2, x - r * 1.2, y]
        shapes.append(Polygon(diamond, fillColor=None, strokeColor=colour))
        half = [x, y - r * 1.2, x, y + r * 1.2, x - r * 1.2, y]
        shapes.append(Polygon(half, fillColor=colour, strokeColor=colour))
    else:
        dash = [2, 1.5] if verdict == "not measured" else None
        ring = Circle(x, y, r, fillColor=None, strokeColor=colour, strokeWidth=1.4)
        ring.strokeDashArray = dash
        shapes.append(ring)
        if verdict == "stale":
            notch = Rect(x - r * 0.35, y + r * 0.4, r * 0.7, r, strokeColor=None)
            notch.fillColor = HexColor("#ffffff")
            shapes.append(notch)
    return Group(*shapes)


def figure(sheet: SheetShown, surface: SurfaceShown, width: float, height: float) -> Drawing:
    """Neutral, required ranges as arc bands, and what was measured with its uncertainty."""
    d = Drawing(width, height)
    travels = [
        q
        for q in sheet["requirements"]
        if q["surface"] == surface["slug"] and q["kind"] == "travel"
    ]
    hx, hy = width * 0.34, height / 2
    r = min(height * 0.62, width * 0.36, (hy - 8) / (1.45 * _steepest(travels)))
    d.add(Line(max(4.0, hx - r * 1.1), hy, hx, hy, strokeWidth=4, strokeColor=INK))
    d.add(Line(hx, hy, hx + r * 1.5, hy, strokeWidth=0.5, strokeColor=SOFT, strokeDashArray=[3, 2]))
    d.add(String(4, height - 9, surface["name"], fontName=BOLD, fontSize=8, fillColor=INK))
    for q in travels:
        _travel(d, q, _turn(surface, q["position"]), hx, hy, r)
    d.add(Circle(hx, hy, 3, fillColor=HexColor("#ffffff"), strokeColor=INK))
    return d


def _steepest(travels: list[RequirementShown]) -> float:
    """Sine of the largest angle that is drawn, so that its label stays on the paper."""
    angles = [a for q in travels for a in (q["lo"], q["hi"], q["result"]["value"]) if a is not None]
    return max([0.35, *(abs(math.sin(math.radians(min(abs(a), 90.0)))) for a in angles)])


def _turn(surface: SurfaceShown, position: str) -> int:
    """+1 drawn upwards, -1 downwards (rudder: right is drawn upwards)."""
    if surface["positive"] == "trailing_edge_down":
        return 1 if position == "up_stop" else -1
    return -1 if position in ("down_stop", "left_stop") else 1


def _travel(d: Drawing, q: RequirementShown, turn: int, hx: float, hy: float, r: float) -> None:
    def at(angle: float, radius: float) -> tuple[float, float]:
        a = math.radians(angle * turn)
        return hx + radius * math.cos(a), hy + radius * math.sin(a)

    lo = q["lo"] if q["lo"] is not None else (q["hi"] or 0.0) - 3.0
    hi = q["hi"] if q["hi"] is not None else lo + 3.0
    band = [c for i in range(25) for c in at(lo + (hi - lo) * i / 24, r * 1.3)]
    d.add(PolyLine(band, strokeWidth=5, strokeColor=RULE))
    result = q["result"]
    value, U = result["value"], result["U"]
    if value is None or U is None:
        return
    x, y = at(value, r * 1.25)
    d.add(Line(hx, hy, x, y, strokeWidth=1.6, strokeColor=MARK[result["verdict"]]))
    spread = [c for i in range(13) for c in at(value - U + 2 * U * i / 12, r * 1.3)]
    d.add(PolyLine(spread, strokeWidth=1.6, strokeColor=INK))
    tx, ty = at(value, r * 1.42)
    word = q["position"].replace("_stop", "").replace("_", " ")
    d.add(String(tx, ty - 3, f"{value:.1f}° {word}", fontName=BOLD, fontSize=9, fillColor=INK))
