"""Cable data, tension over temperature, turnbuckles, and measuring it: cable pages 1 to 4."""

import itertools
import math
from unittest import TestCase

import numpy as np
from hypothesis import assume
from hypothesis import strategies as st

from core.tests.pages.asking import (
    Agreeing,
    ask,
    given,
    refusal,
)

LBF, LB, FT, INCH = 4.4482216152605, 0.45359237, 0.3048, 0.0254


# MIL-DTL-83420 as in AC 43.13-1B ch. 7: construction, inch, lbf galvanised, lbf resistant, lb/kft.
ROWS = [
    ("7x7", 1 / 16, 480, 480, 7.5),
    ("7x7", 3 / 32, 920, 920, 16.0),
    ("7x19", 3 / 32, 1000, 920, 17.4),
    ("7x19", 1 / 8, 2000, 1760, 29.0),
    ("7x19", 5 / 32, 2800, 2400, 45.0),
    ("7x19", 3 / 16, 4200, 3700, 65.0),
    ("7x19", 1 / 4, 7000, 6400, 110.0),
]


class Data(Agreeing, TestCase):
    def test_every_row_that_is_shipped(self):
        for kind, inch, galvanised, resistant, weight in ROWS:
            for material, pounds, density in (
                ("galvanised", galvanised, 7850),
                ("corrosion-resistant", resistant, 7900),
            ):
                with self.subTest(kind=kind, inch=inch, material=material):
                    mu = weight * LB / (1000 * FT)
                    area = mu / density
                    ae = area * (95e9 if kind == "7x7" else 80e9)
                    got = ask(
                        "cables.cable_data", construction=kind, diameter_in=inch, material=material
                    )  # fmt: skip
                    self.agrees(
                        got,
                        {
                            "diameter_m": inch * INCH, "breaking_N": pounds * LBF,
                            "mass_per_length_kg_m": mu, "metal_area_m2": area, "ae_N": ae,
                            "u_ae_N": 0.2 * ae,
                        },
                        floor=0,
                    )  # fmt: skip

    def test_no_other_row_is_made_up(self):
        known = {(k, i) for k, i, *_ in ROWS}
        for kind, inch in itertools.product(
            ("7x7", "7x19"), (1 / 16, 3 / 32, 1 / 8, 5 / 32, 7 / 32)
        ):
            if (kind, inch) not in known:
                self.refuses(
                    "diameter_in", "cables.cable_data", construction=kind, diameter_in=inch,
                    material="galvanised",
                )  # fmt: skip
        good = {"construction": "7x19", "diameter_in": 0.125, "material": "galvanised"}
        for field, change in (
            ("construction", {"construction": "1x19"}),
            ("material", {"material": "brass"}),
            ("diameter_in", {"diameter_in": 0.12501}),
        ):
            self.refuses(field, "cables.cable_data", **(good | change))
        self.assertIsNotNone(ask("cables.cable_data", **(good | {"diameter_in": 0.1250005})))

    @given(
        st.floats(1, 8), st.floats(0, 400), st.floats(300, 2000), st.floats(0.001, 0.03),
        st.floats(0, 0.01), st.floats(0, 20), st.floats(0, 0.001),
    )  # fmt: skip
    def test_stiffness_from_stretch(self, L, low, more, s, uL, uF, us):
        assume(s < 0.05 * L)
        ae = L * more / s
        u = ae * math.sqrt((uL / L) ** 2 + 2 * (uF / more) ** 2 + (us / s) ** 2)
        got = ask(
            "cables.stiffness_from_stretch", length_m=L, load_low_N=low, load_high_N=low + more,
            stretch_m=s, u_length_m=uL, u_load_N=uF, u_stretch_m=us,
        )  # fmt: skip
        self.agrees(got, {"ae_N": ae, "u_ae_N": u})

    def test_what_is_no_elastic_stretch_is_refused(self):
        good = {"length_m": 4.0, "load_low_N": 200, "load_high_N": 1200, "stretch_m": 0.01}
        for field, change in (
            ("load_high_N", {"load_high_N": 200}),
            ("stretch_m", {"stretch_m": 0.2001}),
            ("stretch_m", {"stretch_m": 0}),
            ("load_low_N", {"load_low_N": -1}),
            ("length_m", {"length_m": 0}),
        ):
            with self.subTest(change=change):
                self.refuses(field, "cables.stiffness_from_stretch", **(good | change))
        self.assertIsNotNone(ask("cables.stiffness_from_stretch", **(good | {"stretch_m": 0.1999})))

    def test_a_primary_control_has_no_cable_under_an_eighth(self):
        for micron, primary, word in (
            (0, True, "in"), (-0.9, True, "in"), (-1.1, True, "out"), (-800, True, "out"),
            (-800, False, "in"),
        ):  # fmt: skip
            got = ask(
                "cables.cable_size_check", diameter_m=0.003175 + micron * 1e-6, primary=primary
            )  # fmt: skip
            self.assertEqual(got["verdict"], word, (micron, primary))


segment = st.fixed_dictionaries(
    {
        "length_m": st.floats(0.2, 3.0),
        "alpha_per_K": st.floats(0, 3e-5),
        "u_alpha_per_K": st.floats(0, 2e-6),
    }
)


class Temperature(Agreeing, TestCase):
    @staticmethod
    def line(air, fit, **more):
        run, fixed = (sum(s["length_m"] for s in group) for group in (air, fit))
        return {
            "tension_ref_N": 130.0, "temperature_ref_K": 294.15, "cable_length_m": run - fixed,
            "ae_N": 4.4e5, "cable_alpha_per_K": 11.7e-6, "airframe": air, "fittings": fit,
            "frame_compliance_m_per_N": 2e-6, "u_tension_ref_N": 4.0, "u_ae_N": 8e4,
            "u_cable_alpha_per_K": 5e-7, "u_temperature_K": 1.0,
        } | more  # fmt: skip

    @given(
        st.lists(segment, min_size=1, max_size=3), st.lists(segment, max_size=1),
        st.floats(213.2, 343.1),
    )  # fmt: skip
    def test_the_airframe_s_growth_pulls_the_cable(self, air, fit, theta):
        given_ = self.line(air, fit)
        L, ae = given_["cable_length_m"], given_["ae_N"]
        assume(L > 0.1)
        stiff = 1 / (L / ae + 2e-6)
        s = (
            sum(x["length_m"] * x["alpha_per_K"] for x in air)
            - L * 11.7e-6
            - sum(x["length_m"] * x["alpha_per_K"] for x in fit)
        )
        d = theta - 294.15
        free = 130 + stiff * s * d
        alphas = [(L, 5e-7)] + [(x["length_m"], x["u_alpha_per_K"]) for x in [*air, *fit]]
        u = math.sqrt(
            4.0**2
            + (stiff * s * d * stiff * (L / ae) * (8e4 / ae)) ** 2
            + (stiff * d) ** 2 * sum((length * ua) ** 2 for length, ua in alphas)
            + (stiff * s * 1.0) ** 2
        )
        got = ask("cables.tension_at_temperature", **given_, temperature_K=theta)
        slack_at = None if abs(stiff * s) <= 1e-12 else 294.15 - 130 / (stiff * s)
        self.agrees(
            got,
            {
                "tension_N": max(0.0, free), "slope_N_per_K": stiff * s, "u_tension_N": u,
                "stiffness_N_per_m": stiff, "slack": free <= 0, "may_be_slack": free - 2 * u <= 0,
                "slack_temperature_K": slack_at,
            },
            floor=1e-6,
        )  # fmt: skip

    @given(st.lists(segment, min_size=2, max_size=3), st.floats(213.2, 343.1))
    def test_the_order_of_the_airframe_s_pieces_says_nothing(self, air, theta):
        one, other = (
            ask("cables.tension_at_temperature", **self.line(a, []), temperature_K=theta)
            for a in (air, air[::-1])
        )
        self.agrees(one, other)

    @given(st.lists(segment, min_size=1, max_size=2), st.integers(2, 9))
    def test_a_curve_is_the_same_line_at_many_temperatures(self, air, n):
        given_ = self.line(air, [])
        got = ask("cables.tension_curve", **given_, lo_K=243.15, hi_K=323.15, n=n)
        at = np.linspace(243.15, 323.15, n)
        each = [
            ask("cables.tension_at_temperature", **given_, temperature_K=float(x))["tension_N"]
            for x in at
        ]
        self.same(got["curve"], [[float(x), t] for x, t in zip(at, each, strict=True)])
        self.agrees(
            got, {"extra_at_lo_N": each[0] - 130, "extra_at_hi_N": each[-1] - 130}, floor=1e-6
        )

    @given(st.lists(st.tuples(st.integers(1, 40), st.floats(0, 300)), min_size=2, max_size=5))
    def test_a_maker_s_chart_is_straight_between_its_points(self, steps):
        temperature, points = 240.0, []
        for step, force in steps:
            temperature += step
            points.append([temperature, force])
        at = (points[0][0] + points[-1][0]) / 2 + 0.3
        assume(at < points[-1][0])
        xs, ys = zip(*points, strict=True)
        got = ask("cables.chart_tension", points=points, temperature_K=at)
        self.same(got["value"], float(np.interp(at, xs, ys)))
        for outside in (points[0][0] - 0.1, points[-1][0] + 0.1):
            self.refuses(
                "temperature_K", "cables.chart_tension", points=points, temperature_K=outside
            )

    def test_refusals(self):
        air = [{"length_m": 4.0, "alpha_per_K": 23e-6}]
        good = self.line(air, []) | {"temperature_K": 280.0}
        for change in (
            {"temperature_K": 213.0}, {"temperature_ref_K": 344.0}, {"airframe": []},
            {"cable_length_m": 3.7}, {"cable_length_m": 4.3}, {"tension_ref_N": 0}, {"ae_N": 0},
            {"frame_compliance_m_per_N": -1e-9}, {"cable_alpha_per_K": 7e-5},
            {"u_tension_ref_N": -1}, {"airframe": [{"length_m": 4.0, "alpha_per_K": -6e-6}]},
        ):  # fmt: skip
            with self.subTest(change=change):
                field = next(iter(change))
                got = self.assert_names(field, good | change)
                self.assertTrue(got)
        lone = [[280.0, 100.0]]
        self.refuses("points", "cables.chart_tension", points=lone, temperature_K=280.0)
        falls = [[280.0, 100.0], [270.0, 90.0]]
        self.refuses("points", "cables.chart_tension", points=falls, temperature_K=275.0)

    def assert_names(self, field, inputs):
        found = refusal("cables.tension_at_temperature", **inputs)
        self.assertIsNotNone(found, field)
        # Lengths that do not add up are told of the airframe.
        self.assertIn(found[0].partition(".")[0], {field, "airframe"})
        return found
