"""The hardware page written a second time."""

import itertools
import math
from unittest import TestCase

from hypothesis import assume
from hypothesis import strategies as st

from core.tests.pages.asking import Agreeing, ask, field_refused, given, guarded, worst

INLB = 0.1129848290276167


P28 = 0.0254 / 28


TABLE = {
    "10-32": ((20, 25), (12, 15)),
    "1/4-28": ((50, 70), (30, 40)),
    "5/16-24": ((100, 140), (60, 85)),
    "3/8-24": ((160, 190), (95, 110)),
    "7/16-20": ((450, 500), (270, 300)),
    "1/2-20": ((480, 690), (290, 410)),
}


INDEX = {
    "gold": 0.0, "silver": 0.15, "nickel": 0.3, "copper": 0.35, "brass": 0.4,
    "stainless 18 % chromium": 0.5, "chromium plate": 0.6, "tin-lead solder": 0.65, "lead": 0.7,
    "aluminium 2000 series": 0.75, "steel, plain or low-alloy": 0.85,
    "aluminium, other wrought": 0.9, "cadmium plate": 0.95, "zinc, hot dip": 1.2, "zinc": 1.25,
    "magnesium": 1.75,
}  # fmt: skip


def interval(value, tol, lo, hi):
    """Hard tolerances: every possible value inside, none of them, or some."""
    a, b = value - tol, value + tol
    e = 1e-9
    if a >= lo - e and b <= hi + e:
        return "in"
    return "out" if b < lo - e or a > hi + e else "too close"


# Tenths of a millimetre, so that no rounding decides.
tenths = st.integers


washers = st.lists(st.sampled_from([0.0008, 0.0016]), max_size=3)


class Bolts(Agreeing, TestCase):
    @staticmethod
    def plain(S, bolt, nut, head, under, tol=0.0, most=3, turned="nut"):
        """Lengths and words of a bolt, nut and washers, straight from the page."""
        G, L, p, H = bolt["grip_m"], bolt["length_m"], bolt["pitch_m"], nut["height_m"]
        h, n = sum(head), sum(under)
        bearing = h + S - G
        bottom = bearing + n + nut.get("counterbore_m", 0.0) - 2 * p
        top = h + S + n + H
        protrusion = (L - top) / p
        tg, tl = bolt.get("grip_tol_m", 0.0), bolt.get("length_tol_m", 0.0)
        lo, hi = {"castellated": (0, math.inf), "nutplate": (1, math.inf)}.get(nut["kind"], (1, 3))
        if nut.get("closed_depth_m"):
            hi = nut["closed_depth_m"] / p
        checks = {
            "bearing": interval(bearing, tol + tg, -math.inf, 0.0),
            "bottoming": interval(bottom, tol + tg, 0.0, math.inf),
            "washers": "in"
            if len(head) + len(under) <= most and (under if turned == "nut" else head)
            else "out",
            "protrusion": interval(protrusion, (tol + tl) / p, lo, hi),
        }
        below = None
        if nut["kind"] == "castellated":
            if bolt.get("drilled"):
                below = top - bolt["hole_from_head_m"]
                half = nut["pin_diameter_m"] / 2
                checks["cotter"] = interval(below, tol, half, nut["slot_depth_m"] - half)
            else:
                checks["cotter"] = "out"
        return bearing, bottom, protrusion, checks, below

    @given(
        tenths(60, 200), tenths(60, 200), tenths(60, 140), washers, washers,
        st.sampled_from(["self_locking", "plain", "castellated"]), tenths(0, 4), st.booleans(),
        tenths(120, 260), tenths(0, 3),
    )  # fmt: skip
    def test_lengths_and_words(self, S, G, more, head, under, kind, tol, drilled, hole, gt):
        bolt = {
            "grip_m": G / 1e4, "length_m": (G + more) / 1e4, "pitch_m": 0.0009,
            "grip_tol_m": gt / 1e4, "length_tol_m": 2 * gt / 1e4, "drilled": drilled,
            "hole_from_head_m": hole / 1e4,
        }  # fmt: skip
        nut = {"kind": kind, "height_m": 0.0072}
        if kind == "castellated":
            nut |= {"slot_depth_m": 0.0026, "pin_diameter_m": 0.0016}
        got = ask(
            "hardware.bolt_check", stack_m=S / 1e4, bolt=bolt, nut=nut, head_washers_m=head,
            nut_washers_m=under, stack_tol_m=tol / 1e4,
        )  # fmt: skip
        bearing, bottom, protrusion, checks, below = self.plain(
            S / 1e4, bolt, nut, head, under, tol / 1e4
        )
        self.agrees(
            got,
            {
                "threads_in_bearing_m": bearing, "bottom_margin_m": bottom,
                "protrusion_threads": protrusion, "checks": checks,
                "verdict": worst(list(checks.values())),
            },
        )  # fmt: skip
        if below is not None:
            self.same(got["hole_below_top_m"], below)

    @given(tenths(20, 60), tenths(20, 80), st.none() | tenths(20, 60), tenths(0, 30))
    def test_a_nutplate_is_never_turned_and_bears_no_washer(self, S, G, closed, bore):
        bolt = {"grip_m": G / 1e4, "length_m": (G + 90) / 1e4, "pitch_m": 0.0009}
        nut = {"kind": "nutplate", "height_m": 0.0055, "counterbore_m": bore / 1e4}
        if closed:
            nut["closed_depth_m"] = closed / 1e4
        given_ = {"stack_m": S / 1e4, "bolt": bolt, "nut": nut, "head_washers_m": [0.0008]}
        got = ask("hardware.bolt_check", **given_, turned="head")
        *_, checks, _ = self.plain(S / 1e4, bolt, nut, [0.0008], [], turned="head")
        self.assertEqual(got["checks"], checks)
        self.refuses("turned", "hardware.bolt_check", **given_)
        self.refuses(
            "nut_washers_m", "hardware.bolt_check", **given_, turned="head", nut_washers_m=[0.0008]
        )

    @given(tenths(90, 180), st.lists(st.sampled_from([8, 10, 16]), min_size=1, max_size=2))
    def test_the_chooser_is_what_trying_everything_finds(self, S, stock):
        bolts = [
            {"name": f"B{g}", "grip_m": g / 1e4, "length_m": (g + 111) / 1e4, "pitch_m": P28}
            for g in (111, 127, 143, 159)
        ]
        nut = {"kind": "self_locking", "height_m": 0.0072}
        thick = sorted({w / 1e4 for w in stock})
        tried = []
        for order, bolt in enumerate(bolts):
            for a in range(4):
                for b in range(4 - a):
                    for head in itertools.combinations_with_replacement(thick, a):
                        for under in itertools.combinations_with_replacement(thick, b):
                            _, _, out, checks, _ = self.plain(S / 1e4, bolt, nut, head, under)
                            word = worst(list(checks.values()))
                            if word != "out":
                                rank = (
                                    word != "in", a + b, round(abs(out - 2), 6), a, order, head,
                                    under,
                                )  # fmt: skip
                                tried.append((rank, bolt["name"], list(head), list(under)))
        got = ask("hardware.choose_bolt", stack_m=S / 1e4, bolts=bolts, nut=nut, washers_m=thick)
        self.assertEqual(got["fits"], bool(tried))
        if tried:
            _, name, head, under = min(tried)
            self.agrees(got, {"bolt": name, "head_washers_m": head, "nut_washers_m": under})
        else:
            self.assertTrue(got["nearest"])

    @given(
        tenths(10, 40), tenths(5, 20), tenths(5, 16), tenths(60, 140), tenths(40, 80),
        tenths(0, 2), tenths(0, 2),
    )  # fmt: skip
    def test_washers_of_a_bulkhead_fitting(self, lip, skin, washer, thread, nut, lt, kt):
        pitch = 0.00127
        args = {
            "lip_m": lip, "skin_m": skin, "washer_m": washer, "thread_m": thread, "nut_m": nut,
            "lip_tol_m": lt, "skin_tol_m": kt,
        }  # fmt: skip
        given_ = {k: v / 1e4 for k, v in args.items()}
        fits = [n for n in range(4) if skin - kt + n * washer - (lip + lt) >= 2]
        assume(all(abs(skin - kt + n * washer - (lip + lt) - 2) > 0 for n in range(4)))
        got = ask(
            "hardware.bulkhead_washers", **given_, pitch_m=pitch, lip_diameter_m=0.011,
            washer_bore_m=0.0113,
        )  # fmt: skip
        if not fits:
            self.agrees(got, {"washers": None, "verdict": "out"})
            return
        n = fits[0]
        beyond = (thread - (skin + kt + n * washer - (lip - lt)) - nut) / 1e4 / pitch
        excess = (skin - kt + n * washer - (lip + lt)) / 1e4
        self.agrees(
            got, {"washers": n, "clamp_excess_m": excess, "threads_beyond_nut": beyond}, floor=1e-9
        )
        if abs(beyond - 1) > 1e-6:
            self.assertEqual(got["verdict"], "in" if beyond > 1 else "out")


class Torque(Agreeing, TestCase):
    def test_every_row_that_is_shipped_and_no_other(self):
        for thread, (tension, shear) in TABLE.items():
            for nut, (low, high) in (("tension", tension), ("shear", shear)):
                got = ask("hardware.torque_setting", wrench_m=0.3, thread=thread, nut_type=nut)
                self.agrees(got, {"at_nut_low_Nm": low * INLB, "at_nut_high_Nm": high * INLB})
        for thread in ("1/4-20", "10-24", "M6", ""):
            self.refuses("thread", "hardware.torque_setting", wrench_m=0.3, thread=thread)

    @given(
        st.floats(0, 3), st.floats(0.1, 0.6), st.floats(0, 0.3), st.floats(-4, 4),
        st.floats(2, 40), st.floats(0, 10),
    )  # fmt: skip
    def test_drag_and_extension(self, drag, wrench, extension, angle, low, more):
        lever = wrench + extension * math.cos(angle)
        given_ = {
            "wrench_m": wrench, "drag_Nm": drag, "extension_m": extension,
            "extension_angle_rad": angle, "low_Nm": low, "high_Nm": low + more,
        }  # fmt: skip
        assume(abs(lever - 0.25 * wrench) > 1e-9)
        if lever < 0.25 * wrench:
            self.refuses("extension_m", "hardware.torque_setting", **given_)
            return
        got = ask("hardware.torque_setting", **given_)
        share = wrench / lever
        self.agrees(
            got,
            {
                "at_nut_low_Nm": low + drag, "at_nut_high_Nm": low + more + drag,
                "set_low_Nm": (low + drag) * share, "set_high_Nm": (low + more + drag) * share,
            },
        )  # fmt: skip

    @given(st.none() | st.floats(0.5, 20), st.floats(1, 10), st.floats(0, 5))
    def test_at_the_slot(self, torque, low, more):
        got = ask(
            "hardware.castle_align", torque_at_slot_Nm=torque, low_Nm=low, high_Nm=low + more
        )  # fmt: skip
        if torque is None or torque > low + more:
            want = ("out", "change washer")
        elif torque < low:
            want = (got["verdict"], "tighten on to the next slot")
            self.assertNotEqual(got["verdict"], "in")
        else:
            want = ("in", "fit the pin")
        self.assertEqual((got["verdict"], got["do"]), want)

    @given(
        st.floats(0, 0.99), st.integers(3, 8), st.floats(0.0005, 0.002),
        st.lists(st.floats(0.0005, 0.002), min_size=1, max_size=4, unique=True),
    )  # fmt: skip
    def test_another_washer_turns_the_slot_by_the_thread(self, share, slots, fitted, stock):
        sector = 2 * math.pi / slots
        got = ask(
            "hardware.castle_washer_swap", angle_to_slot_rad=share * sector, pitch_m=P28,
            fitted_m=fitted, stock_m=stock, slots=slots,
        )["options"]  # fmt: skip
        self.assertEqual(sorted(t for t, _ in got), sorted(stock))
        self.assertEqual([a for _, a in got], sorted(a for _, a in got))
        for t, angle in got:
            turned = share * sector + 2 * math.pi * (t - fitted) / P28
            # The same place on the circle of one slot.
            self.assertAlmostEqual(math.sin((turned - angle) * math.pi / sector), 0.0, 6)
            self.assertTrue(0 <= angle < sector)


class MetalsAndCompounds(Agreeing, TestCase):
    @given(
        st.lists(tenths(30, 100), min_size=1, max_size=4), st.lists(tenths(60, 160), max_size=4),
        tenths(0, 5), st.none() | tenths(100, 150),
    )  # fmt: skip
    def test_rivets_from_edge_and_from_each_other(self, edges, pitches, u, most):
        d = 0.0032
        edge = [guarded(e / 1e4, 2 * u / 1e4, 2 * d, None) for e in edges]
        hi = None if most is None else most / 1e4
        pitch = [guarded(p / 1e4, 2 * math.sqrt(2) * u / 1e4, 3 * d, hi) for p in pitches]
        got = ask(
            "hardware.rivet_layout", diameter_m=d, edge_m=[e / 1e4 for e in edges],
            pitch_m=[p / 1e4 for p in pitches], u_m=u / 1e4, pitch_max_m=hi,
        )  # fmt: skip
        self.agrees(
            got,
            {"edge": worst(edge), "pitch": worst(pitch), "worst_edge_d": min(edges) / 1e4 / d},
        )

    def test_every_pair_of_metals(self):
        limits = {"harsh": 0.15, "normal": 0.25, "controlled": 0.5}
        for a, b in itertools.product(INDEX, repeat=2):
            for place, limit in limits.items():
                difference = abs(INDEX[a] - INDEX[b])
                needed = difference > limit + 1e-9
                anode = None if difference == 0 else max(a, b, key=INDEX.get)
                for remedy in ("none", "wet sealant", "barrier"):
                    got = ask(
                        "hardware.galvanic", a=a, b=b, environment=place, remedy=remedy
                    )  # fmt: skip
                    self.agrees(
                        got,
                        {
                            "difference_V": difference, "anode": anode, "remedy_needed": needed,
                            "verdict": "out" if needed and remedy == "none" else "in",
                        },
                    )  # fmt: skip
                    self.assertEqual(bool(got["advice"]), needed)

    def test_carbon_is_noble_to_all_that_corrodes(self):
        for name, volts in INDEX.items():
            for remedy in ("none", "wet sealant", "wet primer", "barrier"):
                got = ask("hardware.galvanic", a="carbon laminate", b=name, remedy=remedy)
                needed = volts >= 0.6
                self.agrees(
                    got,
                    {
                        "difference_V": None, "remedy_needed": needed, "anode": name,
                        "verdict": "out" if needed and remedy != "barrier" else "in",
                    },
                )  # fmt: skip
        self.refuses("material", "hardware.galvanic", a="titanium", b="zinc")
        own = ask("hardware.galvanic", a="titanium", b="zinc", a_index_V=0.3)
        self.assertAlmostEqual(own["difference_V"], 0.95)
        self.refuses("environment", "hardware.galvanic", a="zinc", b="zinc", environment="dry")
        self.refuses("remedy", "hardware.galvanic", a="zinc", b="zinc", remedy="paint")

    POT = ((283.15, 5400), (293.15, 2700), (303.15, 1200))

    @staticmethod
    def between(rows, kelvin):
        """ln t linear in K."""
        for (a, ta), (b, tb) in itertools.pairwise(rows):
            if a <= kelvin <= b:
                share = (kelvin - a) / (b - a)
                return math.exp(math.log(ta) * (1 - share) + math.log(tb) * share)
        return None

    @given(
        st.floats(283.2, 303.1), st.floats(0, 3000), st.floats(0, 2500), st.floats(0, 300),
        st.floats(0, 0.5), st.floats(0, 2),
    )  # fmt: skip
    def test_will_it_gel_before_the_work_is_done(self, kelvin, ago, work, u, margin, ut):
        life = self.between(self.POT, kelvin)
        needed = ago + work * (1 + margin)
        warmest = self.between(self.POT, kelvin + 2 * ut)
        if ago >= life:
            want = "gelled: throw away"
        elif needed > life:
            want = "will gel before you finish"
        elif warmest is None or needed + 2 * u > warmest:
            want = "too close"
        else:
            want = "use"
        got = ask(
            "hardware.may_use", expiry_day=740300, today_day=740256, pot_points=self.POT,
            temperature_K=kelvin, mixed_ago_s=ago, work_s=work, u_work_s=u, margin=margin,
            u_temperature_K=ut,
        )  # fmt: skip
        self.agrees(got, {"decision": want, "pot_life_s": life, "needed_s": needed})

    def test_dates_and_storage_come_before_the_pot(self):
        for change, want in (
            ({"expiry_day": 740255}, "expired"),
            ({"expiry_day": 740256}, "use"),
            ({"opened_day": 740166, "life_open_days": 90}, "use"),
            ({"opened_day": 740165, "life_open_days": 90}, "expired"),
            ({"storage_max_K": 298.15, "stored_K": 298.25}, "stored too warm"),
            ({"storage_max_K": 298.15, "stored_K": 298.15}, "use"),
        ):
            with self.subTest(change=change):
                got = ask(
                    "hardware.may_use", **({"expiry_day": 740300, "today_day": 740256} | change)
                )
                self.assertEqual(got["decision"], want)
        self.refuses(
            "opened_day", "hardware.may_use", expiry_day=740300, today_day=740256,
            opened_day=740257, life_open_days=90,
        )  # fmt: skip

    CURE = ((283.15, 86400), (293.15, 43200), (303.15, 18000))

    @given(
        st.lists(st.tuples(st.floats(0, 40000), st.floats(276, 303.1)), max_size=4),
        st.floats(276, 303.1),
    )
    def test_cure_adds_up_and_stands_still_in_the_cold(self, pieces, last):
        history = [[t, k] for t, k in pieces] + [[None, last]]
        share, clock, ready = 0.0, 0.0, None
        for duration, kelvin in history:
            need = self.between(self.CURE, kelvin)
            rate = 0.0 if kelvin < 283.15 else 1 / need
            if ready is None and rate and (
                duration is None or share + duration * rate >= 1
            ):  # fmt: skip
                ready = clock + (1 - share) / rate
            if duration is not None:
                share += duration * rate
                clock += duration
        assume(abs(share - 1) > 1e-9)
        got = ask("hardware.cure_ready", cure_points=self.CURE, history=history)
        self.agrees(got, {"ready_after_s": ready}, floor=1e-4)

    def test_above_the_warmest_row_and_open_ends_in_between_are_refused(self):
        for history in ([[100, 303.2]], [[None, 293.15], [100, 293.15]], [[-1, 293.15]]):
            found = field_refused("hardware.cure_ready", cure_points=self.CURE, history=history)
            self.assertEqual(found.partition(".")[0].partition("[")[0], "history")
        for rows in ([[293.15, 10], [283.15, 20]], [[283.15, 10], [293.15, 20]], []):
            found = field_refused("hardware.cure_ready", cure_points=rows, history=[[1, 290]])
            self.assertEqual(found.partition(".")[0].partition("[")[0], "cure_points")
