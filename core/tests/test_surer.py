"""What would settle a value too close to its limit: the fewest things, as well as needed."""

import json
import math
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.basis.refused import Refused
from core.basis.surer import MOST_FINER, Part, rounded_down, would_settle
from core.basis.verdicts import Verdict
from core.cables.done import Done, Read
from core.cables.judging import tension_check
from core.cables.reading import rigging_from
from core.cables.rigging import Rigged
from core.cables.setting import today
from core.controls.advice import to_settle
from core.controls.travel_checks import Check, ratio, repeatability, symmetry

RUDDER = Path(__file__).parents[2] / "demo" / "cables" / "fenlark-rudder.json"
weight = st.floats(0.01, 5.0) | st.floats(-5.0, -0.01) | st.just(0.0)
parts = st.lists(st.tuples(st.floats(1e-3, 10.0), weight), min_size=1, max_size=5)


def rad(degrees):
    return math.radians(degrees)


class Laws(TestCase):
    @given(parts, st.floats(0.01, 20.0))
    def test_what_is_named_settles_it_and_no_fewer_would(self, given_parts, away):
        made = [Part(str(n), u, c) for n, (u, c) in enumerate(given_parts)]
        found = would_settle(away, made)
        shares = sorted((p.share for p in made), reverse=True)
        whole = 2.0 * math.sqrt(math.fsum(s * s for s in shares))
        if found is None:
            # Nothing weighs anything, or more than ten times the accuracy would be needed.
            self.assertTrue(not whole or away < whole)
            return
        better = dict(zip(found.names, found.U, strict=True))
        after = [replace(p, u=better[p.name] / 2.0) if p.name in better else p for p in made]
        U = 2.0 * math.sqrt(math.fsum(p.share**2 for p in after))
        self.assertAlmostEqual(U, away, delta=1e-6 * away)
        fewer = shares[len(better) - 1 :]
        if away < whole:
            self.assertGreaterEqual(
                2.0 * math.sqrt(math.fsum(s * s for s in fewer)), away * (1 - 1e-9)
            )
            for p in made:
                if p.name in better:
                    self.assertLessEqual(better[p.name], 2.0 * p.u * (1 + 1e-9))

    def test_on_the_limit_nothing_settles_it(self):
        self.assertIsNone(would_settle(0.0, [Part("a", 0.1)]))
        self.assertIsNone(would_settle(0.19 / MOST_FINER, [Part("a", 0.1)]))
        self.assertIsNotNone(would_settle(0.21 / MOST_FINER, [Part("a", 0.1)]))

    def test_no_parts_and_doubt_below_zero_are_refused(self):
        for made, field in (([], "parts"), ([Part("left", -0.1)], "left")):
            with self.assertRaises(Refused) as refusal:
                would_settle(1.0, made)
            self.assertEqual(refusal.exception.field, field)

    @given(st.floats(1e-6, 1e6))
    def test_two_figures_never_more_than_there_is(self, value):
        said = float(rounded_down(value))
        self.assertLessEqual(said, value * (1 + 1e-12))
        self.assertGreater(said, value * 0.9)


class Travel(TestCase):
    def test_the_side_that_is_known_worse_is_named(self):
        check = symmetry(rad(20.0), rad(19.7), rad(0.5), rad(0.2), rad(0.02))
        self.assertIs(check.verdict, Verdict.TOO_CLOSE)
        self.assertAlmostEqual(check.margin, rad(0.2))
        needed = 2.0 * math.sqrt(0.1**2 - 0.02**2)
        self.assertEqual(
            to_settle(check),
            f"What would settle it: measure the left side to ±{rounded_down(needed)}° (now ±0.40°)."
            " Its own row says how.",
        )
        both = to_settle(symmetry(rad(20.0), rad(19.7), rad(0.5), rad(0.2), rad(0.2)))
        self.assertIn("the left side to ±0.14° (now ±0.40°) and the right side to ±0.14°", both)

    def test_a_ratio_weighs_its_angles_by_what_they_do_to_it(self):
        """Half of the lower angle's doubt counts: up over down is two."""
        check = ratio(rad(20), rad(10), 1.9, 2.3, rad(0.01), rad(0.4))
        self.assertIs(check.verdict, Verdict.TOO_CLOSE)
        self.assertAlmostEqual(check.margin, 0.1)
        self.assertIn("measure down to ±0.49° (now ±0.80°)", to_settle(check))
        below = ratio(rad(20), rad(10), 1.7, 2.05, rad(0.01), rad(0.4))
        self.assertAlmostEqual(below.margin, 0.05)

    def test_steps_or_spread_whichever_weighs(self):
        way = lambda above, below, step: repeatability(above, below, rad(0.4), step)
        for found, said in (
            (way((rad(0.3),) * 2, (0.0,) * 2, rad(0.3)), "shows steps of 0.12° or less"),
            (way((rad(0.2), rad(0.5)), (rad(-0.1), rad(0.15)), rad(0.01)), "more often from both"),
        ):
            margin = rad(0.4) - abs(found.hysteresis)
            check = Check(found.hysteresis, 0.0, found.verdict, margin, found.parts)
            self.assertIn(said, to_settle(check))

    def test_what_reads_outside_is_adjusted_sooner_than_settled(self):
        said = to_settle(symmetry(rad(20.0), rad(19.3), rad(0.5), rad(0.2), rad(0.02)))
        self.assertTrue(said.startswith("It reads outside: adjust it, or be sure first. What"))

    def test_at_the_limit_it_must_be_adjusted(self):
        said = to_settle(symmetry(rad(20.0), rad(19.5), rad(0.5), rad(0.2), rad(0.2)))
        self.assertIn("no measuring will settle it: adjust", said)


class Tension(TestCase):
    RIGGED = Rigged(rigging_from(json.loads(RUDDER.read_text())))

    def said(self, kelvin, from_low, u):
        band = today(self.RIGGED, "A", kelvin)
        read = Read(
            1, "A", "gauge", band.low_N + from_low, u, datetime(2026, 3, 4, tzinfo=UTC), kelvin
        )
        check = tension_check(self.RIGGED, "A", Done((read,)))
        self.assertIs(check.verdict, Verdict.TOO_CLOSE)
        return check.said, band

    def test_reading_the_same_way_again_is_never_asked_for(self):
        at = self.RIGGED.rigging.target.temperature_K
        said, _ = self.said(at, 10.0, 8.0)
        self.assertIn("would settle it (this one: ±", said)
        self.assertNotIn("measure nearer", said)
        for u in (3.0, 8.0, 30.0):
            self.assertNotIn("more often", self.said(at, 2.0, u)[0])

    def test_far_from_the_maker_s_temperature_the_band_itself_is_in_doubt(self):
        at = self.RIGGED.rigging.target.temperature_K - 30.0
        band = today(self.RIGGED, "A", at)
        said, _ = self.said(at, 0.8 * 2.0 * band.u_model_N, 0.1 * band.u_model_N)
        self.assertIn("measure nearer to", said)

    def test_outside_it_is_turned_whatever_would_settle_it(self):
        said, _ = self.said(self.RIGGED.rigging.target.temperature_K, -5.0, 8.0)
        self.assertIn("reads outside, by less than it is known: turn it towards", said)
        self.assertNotIn("would settle it", said)

    def test_at_the_edge_it_is_turned(self):
        said, _ = self.said(self.RIGGED.rigging.target.temperature_K, 0.01, 8.0)
        self.assertIn("at the edge of the band: turn it towards the middle", said)
