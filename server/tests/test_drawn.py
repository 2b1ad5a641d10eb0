"""What is drawn on paper: true angles, true sizes, everything within its frame and named."""

import io
import math
import re
from types import SimpleNamespace
from unittest import TestCase

import ezdxf
from hypothesis import given
from hypothesis import strategies as st
from pypdf import PdfReader
from reportlab.graphics.shapes import Circle, Line, Polygon, PolyLine, String

from core.controls.template import Card, template
from server.controls.linkage.saying import said_of
from server.papers.figure import MARK, figure, mark
from server.papers.rigging import _curve
from server.papers.template import CHECK, Label, dxf, pdf, svg

W, H = 260.0, 52 * 72 / 25.4
WORDS = list(MARK)
SURFACE = {"slug": "s", "name": "Left flap", "positive": "trailing_edge_up"}


def asked(value=None, U=None, lo=20.0, hi=25.0, position="up_stop", verdict="in", **more):
    result = {"value": value, "U": U, "verdict": verdict}
    return {
        "surface": "s",
        "kind": "travel",
        "position": position,
        "lo": lo,
        "hi": hi,
        "result": result,
    } | more


def drawn(*requirements, positive="trailing_edge_up"):
    return figure({"requirements": list(requirements)}, SURFACE | {"positive": positive}, W, H)


def all_of(d, kind):
    return [s for s in d.contents if isinstance(s, kind)]


class Figures(TestCase):
    def hinge(self, d):
        (hinge,) = all_of(d, Circle)
        return hinge.cx, hinge.cy

    def angle(self, d, x, y):
        hx, hy = self.hinge(d)
        return math.degrees(math.atan2(y - hy, x - hx))

    @given(st.floats(0, 60), st.floats(0.05, 3), st.sampled_from(WORDS))
    def test_what_was_measured_stands_at_its_true_angle_with_its_uncertainty(
        self, value, U, verdict
    ):
        for positive, position, sign in (
            ("trailing_edge_up", "up_stop", 1), ("trailing_edge_up", "down_stop", -1),
            ("trailing_edge_down", "up_stop", 1), ("trailing_edge_down", "detent_12", -1),
            ("trailing_edge_right", "right_stop", 1), ("trailing_edge_right", "left_stop", -1),
        ):  # fmt: skip
            d = drawn(asked(value, U, position=position, verdict=verdict), positive=positive)
            measured = all_of(d, Line)[-1]
            self.assertEqual((measured.x1, measured.y1), self.hinge(d))
            self.assertAlmostEqual(self.angle(d, measured.x2, measured.y2), sign * value, 6)
            self.assertEqual(measured.strokeColor, MARK[verdict])
            band, spread = all_of(d, PolyLine)
            for line, low, high in ((band, 20, 25), (spread, value - U, value + U)):
                ends = (line.points[:2], line.points[-2:])
                for (x, y), want in zip(ends, (low, high), strict=True):
                    self.assertAlmostEqual(self.angle(d, x, y), sign * want, 6)

    def test_it_is_labelled_and_lies_within_its_frame(self):
        for value in (0.0, 14.25, 40.0, 60.0):
            for position in ("up_stop", "down_stop"):
                d = drawn(asked(value, 0.5, position=position))
                words = [s.text for s in all_of(d, String)]
                self.assertEqual(words, ["Left flap", f"{value:.1f}° {position[:-5]}"])
                for s in all_of(d, String):
                    self.assertTrue(0 <= s.x < W and 0 <= s.y < H, (value, s.text, s.x, s.y))
                for line in all_of(d, Line):
                    self.assertTrue(all(0 <= v <= W for v in (line.x1, line.x2)), value)
                    self.assertTrue(all(0 <= v <= H for v in (line.y1, line.y2)), value)

    def test_nothing_is_drawn_as_measured_that_was_not_and_no_other_surface_s(self):
        d = drawn(asked())
        self.assertEqual((len(all_of(d, PolyLine)), len(all_of(d, Line))), (1, 2))
        for other in (asked(20, 1, surface="t"), asked(20, 1, kind="ratio")):
            self.assertEqual(len(all_of(drawn(other), PolyLine)), 0)

    def test_an_open_limit_is_drawn_three_degrees_wide(self):
        for lo, hi, ends in ((None, 25.0, (22, 25)), (20.0, None, (20, 23))):
            d = drawn(asked(lo=lo, hi=hi))
            (band,) = all_of(d, PolyLine)
            found = self.angle(d, *band.points[:2]), self.angle(d, *band.points[-2:])
            for got, want in zip(found, ends, strict=True):
                self.assertAlmostEqual(got, want, 6)

    def test_every_verdict_has_a_mark_of_its_own(self):
        seen = []
        for verdict in WORDS:
            shapes = mark(verdict, 10, 20, 3).contents
            seen.append(
                [
                    (
                        type(s).__name__,
                        getattr(s, "points", None),
                        str(s.fillColor),
                        str(s.strokeDashArray),
                    )
                    for s in shapes
                ]
            )
            x0, y0, x1, y1 = mark(verdict, 10, 20, 3).getBounds()
            self.assertAlmostEqual((x0 + x1) / 2, 10, delta=0.8)
            self.assertAlmostEqual((y0 + y1) / 2, 20, delta=0.8)
        # Accepted is In between brackets on the screen; on paper its word tells it.
        self.assertEqual(len({str(s) for s in seen}), len(WORDS) - 1)


class Templates(TestCase):
    CARD = Card(math.radians(150), 0.16, 0.14, 0.06)
    LABEL = Label("Left flap", "upper", "±1°")

    def setUp(self):
        self.outline = template(self.CARD)

    def test_svg_and_dxf_cut_the_same_outline_in_millimetres(self):
        text = svg(self.CARD, self.LABEL)
        self.assertRegex(text, r'width="[\d.]+mm"')
        polygons = re.findall(r'polygon points="([^"]+)"', text)
        ring, square = ([tuple(map(float, p.split(","))) for p in one.split()] for one in polygons)
        doc = ezdxf.read(io.StringIO(dxf(self.CARD, self.LABEL)))
        cut = next(e for e in doc.modelspace() if e.dxf.layer == "CUT")
        theirs = [(x, y) for x, y, *_ in cut.get_points()]
        self.assertEqual(len(ring), len(theirs))
        for sides in (self.sides(ring), self.sides(theirs)):
            for a, b in zip(
                sides, self.sides([(u * 1e3, v * 1e3) for u, v in self.outline.ring]), strict=True
            ):
                self.assertAlmostEqual(a, b, delta=0.001)
        self.assertEqual([round(s, 3) for s in self.sides(square)], [100.0] * 4)

    @staticmethod
    def sides(points):
        pairs = zip(points, [*points[1:], points[0]], strict=True)
        return [math.dist(a, b) for a, b in pairs]

    def test_the_page_is_the_smallest_that_holds_it_and_says_how_to_check_the_print(self):
        page = PdfReader(io.BytesIO(pdf(self.CARD, self.LABEL))).pages[0]
        words = page.extract_text()
        for said in ("Left flap", "100 mm × 100 mm", CHECK[:20]):
            self.assertIn(said, words)
        size = sorted(round(float(x) * 25.4 / 72) for x in page.mediabox[2:])
        self.assertIn(size, ([210, 297], [297, 420]))


class TensionCurve(TestCase):
    """Tension over temperature, in newtons and in pounds, is the same picture."""

    TODAY = {
        "unit": "N", "plus_N": 20.0, "minus_N": 15.0, "temperature_C": 10.0, "target_C": 20.0,
        "target_N": 200.0, "curves": [{"points": [(0.0, 160.0), (20.0, 200.0), (40.0, 240.0)]}],
    }  # fmt: skip

    def drawn(self, **more):
        shapes = _curve(self.TODAY | more, 400.0, 150.0).contents
        return {
            kind: [s for s in shapes if isinstance(s, of)]
            for kind, of in (("line", PolyLine), ("maker", Circle), ("band", Polygon))
        }

    def test_the_maker_s_point_lies_on_the_curve_and_the_band_around_it(self):
        both = {}
        for unit in ("N", "lbf"):
            found = self.drawn(unit=unit)
            (line,), (maker,), (band,) = found["line"], found["maker"], found["band"]
            self.assertAlmostEqual(maker.cx, line.points[2], 6)
            self.assertAlmostEqual(maker.cy, line.points[3], 6)
            above, below = band.points[3] - maker.cy, maker.cy - band.points[-3]
            self.assertAlmostEqual(above / below, 20.0 / 15.0, 6)
            both[unit] = [*line.points, *band.points]
        for a, b in zip(both["N"], both["lbf"], strict=True):
            self.assertAlmostEqual(a, b, 6)

    def test_without_a_curve_nothing_is_drawn(self):
        self.assertEqual(_curve(self.TODAY | {"curves": [{"points": []}]}, 400, 150).contents, [])


class TurnsInWords(TestCase):
    def said(self, name, n, step=0.5, side="max", turned="end_a"):
        rod = SimpleNamespace(slug="pushrod", record={"turned": turned}, a={"body": "front_horn"},
                              b={"body": "bellcrank"})  # fmt: skip
        stop = SimpleNamespace(slug="up_stop", step=step, side=side)
        rows = lambda *all_: SimpleNamespace(all=lambda: all_)
        return said_of(SimpleNamespace(rods=rows(rod), stops=rows(stop)), name, n)

    def test_longer_or_shorter_and_where_it_is_turned(self):
        self.assertEqual(
            self.said("pushrod", 2), "Lengthen pushrod: 2 half-turns of its end at front horn"
        )
        self.assertEqual(
            self.said("pushrod", -1, turned="end_b"),
            "Shorten pushrod: 1 half-turn of its end at bellcrank",
        )
        self.assertIn("of its tube", self.said("pushrod", 1, turned="tube"))
        self.assertIn("of it", self.said("pushrod", 1, turned=""))

    def test_a_stop_goes_out_where_its_step_goes_with_its_side(self):
        for n, step, side, out in (
            (1, 0.5, "max", True), (-1, 0.5, "max", False), (1, -0.5, "max", False),
            (1, 0.5, "min", False), (-1, 0.5, "min", True), (2, -0.5, "min", True),
        ):  # fmt: skip
            words = "out: more travel" if out else "in: less travel"
            self.assertIn(words, self.said("up_stop", n, step, side))


class Marks(TestCase):
    """Each verdict has its own shape: what is stale a ring with a gap at its top."""

    def test_no_two_look_alike(self):
        made = {
            v: [
                (type(s).__name__, s.fillColor is None, getattr(s, "strokeDashArray", None))
                for s in mark(v, 9.0, 8.0, 5.0).contents
            ]
            for v in ("in", "out", "too close", "not measured", "stale")
        }
        self.assertEqual(len({str(m) for m in made.values()}), len(made), made)
        ring, gap = mark("stale", 9.0, 8.0, 5.0).contents
        self.assertAlmostEqual(gap.x + gap.width / 2, ring.cx)
        self.assertGreater(gap.y + gap.height, ring.cy + ring.r)
        self.assertLess(gap.y, ring.cy + ring.r)
        self.assertLess(gap.width, ring.r)
