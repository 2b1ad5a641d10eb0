"""The page of joints, a second time: their record, fits of pins and bushings."""

import itertools
import math
from unittest import TestCase

from hypothesis import assume
from hypothesis import strategies as st
from scipy.optimize import brentq

from core.tests.pages.asking import Agreeing, ask, field_refused, given, guarded, worst
from core.tests.pages.test_hardware import tenths


class Joints(Agreeing, TestCase):
    FIELDS = (
        "installed", "run_down", "torqued", "safety_needed", "safetied", "witness_needed",
        "disturbed_since_torque", "retorque_due", "temporary",
    )  # fmt: skip

    def test_every_joint_that_there_can_be(self):
        for bits in itertools.product((False, True), repeat=9):
            for witness in ("none", "whole", "broken"):
                j = dict(zip(self.FIELDS, bits, strict=True)) | {"witness": witness}
                refused = field_refused("hardware.joint_state", joint=j)
                if j["safetied"] and not j["torqued"]:
                    self.assertEqual(refused, "safetied")
                    continue
                if refused is not None:
                    # Only what cannot follow from what was done before.
                    self.assertTrue(
                        (j["run_down"] and not j["installed"])
                        or (j["torqued"] and not (j["run_down"] and j["installed"]))
                        or (witness != "none" and not j["torqued"]),
                        (j, refused),
                    )
                    continue
                self.agrees(ask("hardware.joint_state", joint=j), self.plain(j))

    @staticmethod
    def plain(j):
        """State and reasons in the page's order."""
        done = j["safetied"] or not j["safety_needed"]
        if not j["installed"]:
            state = "open"
        elif not j["run_down"]:
            state = "finger-tight"
        elif not j["torqued"]:
            state = "snug"
        elif j["witness"] == "whole" and done:
            state = "sealed"
        else:
            state = "safetied" if j["safetied"] else "torqued"
        reasons = (
            (j["temporary"], "left temporary"),
            (not j["torqued"], "not torqued"),
            (j["safety_needed"] and not j["safetied"], "not safetied"),
            (j["witness_needed"] and j["witness"] != "whole", "no whole witness mark"),
            (j["witness"] == "broken", "witness mark broken"),
            (j["disturbed_since_torque"], "disturbed since torque"),
            (j["retorque_due"], "re-torque due"),
        )
        why = [said for counts, said in reasons if counts]
        return {"state": state, "why": why, "may_fly": not why}

    def test_every_way_of_securing(self):
        devices = ("cotter", "wire", "tab", "self_locking", "adhesive", "none")
        nuts = ("self_locking", "castellated", "plain")
        flags = list(itertools.product((False, True), repeat=5))
        for n, (device, nut, insert, reused, run, hot) in enumerate(
            itertools.product(
                devices, nuts, ("nonmetallic", "metal"), (False, True), (None, False, True),
                (394.0, 394.5),
            )
        ):  # fmt: skip
            if run is not None and not reused:
                continue
            # Every flag meets every other condition, not every combination of all.
            for rotating, shank, head, loss, allows in flags[n % 3 :: 3]:
                given_ = {
                    "rotating": rotating, "device": device, "nut": nut,
                    "bolt_drilled_shank": shank, "head_drilled": head,
                    "loss_prevents_safe_flight": loss, "temperature_max_K": hot,
                    "insert": insert, "reused": reused, "finger_run": run,
                    "maker_allows_adhesive": allows,
                }  # fmt: skip
                got = ask("hardware.safety_choice", **given_)
                self.assertEqual(sorted(got["why"]), sorted(self.reasons(given_)), given_)
                self.assertEqual(got["verdict"], "out" if got["why"] else "in")
                second = not rotating and device == "self_locking" and loss
                self.assertEqual(
                    got["note"],
                    "a second retaining device may be required" if second else got["note"],
                )
                self.assertEqual(bool(got["note"]), second, given_)

    @staticmethod
    def reasons(g):
        """The table of page 4, row by row."""
        device, nut = g["device"], g["nut"]
        locking = device == "self_locking"
        rows = (
            (device == "none", "nothing keeps it from turning"),
            (
                g["rotating"] and device in ("self_locking", "adhesive"),
                "bolt is a pivot: castellated nut and cotter pin",
            ),
            (
                device == "cotter" and not (nut == "castellated" and g["bolt_drilled_shank"]),
                "a cotter pin needs a castellated nut and a drilled bolt",
            ),
            (
                device == "wire" and not (g["head_drilled"] or nut == "castellated"),
                "safety wire needs a drilled head or a castellated nut",
            ),
            (locking and nut != "self_locking", "the nut is not self-locking"),
            (
                g["insert"] == "nonmetallic" and g["temperature_max_K"] > 394.2611,
                "too hot for a nonmetallic insert",
            ),
            (
                locking and g["reused"] and g["finger_run"] is None,
                "measure the drag of the reused nut",
            ),
            (
                locking and g["reused"] and bool(g["finger_run"]),
                "reused nut runs down by hand: replace",
            ),
            (device in ("cotter", "tab") and g["reused"], "use a new one"),
            (
                device == "adhesive" and not g["maker_allows_adhesive"],
                "adhesive alone is not safetying unless the kit maker says so",
            ),
        )
        return [said for counts, said in rows if counts]


microns = st.integers(-40, 40)


class Fits(Agreeing, TestCase):
    @given(
        st.lists(microns, min_size=1, max_size=3), st.lists(microns, min_size=1, max_size=3),
        st.sampled_from(["turn", "slip", "press"]), st.integers(0, 4), st.integers(0, 4),
    )  # fmt: skip
    def test_hole_and_shaft(self, hole, shaft, need, uh, us):
        D = 0.0127
        holes, shafts = ([D + x * 1e-6 for x in g] for g in (hole, shaft))
        tight, loose = min(holes) - max(shafts), max(holes) - min(shafts)
        u = math.hypot(uh, us) * 1e-6
        U = 2 * u
        lo, hi = (0.0, math.inf) if need != "press" else (-math.inf, 0.0)
        assume(abs(tight - U) > 1e-12 and abs(loose + U) > 1e-12)
        kind = "clearance" if tight - U > 0 else "interference" if loose + U < 0 else "transition"
        words = [guarded(x, U, None if lo == -math.inf else lo, None if hi == math.inf else hi)
                 for x in (tight, loose)]  # fmt: skip
        got = ask(
            "hardware.fit", hole_m=holes, shaft_m=shafts, need=need, u_hole_m=uh * 1e-6,
            u_shaft_m=us * 1e-6,
        )  # fmt: skip
        self.agrees(
            got,
            {
                "clearance_m": sum(holes) / len(holes) - sum(shafts) / len(shafts),
                "tightest_m": tight, "loosest_m": loose,
                "remove_min_m": 0.0 if lo == -math.inf else max(0.0, lo + U - tight),
                "remove_max_m": None if hi == math.inf else hi - U - loose,
                "do_not_press": need != "press" and kind != "clearance",
            },
            floor=1e-12,
        )  # fmt: skip
        self.assertIn(kind, got.values())
        # Limits of a thousandth of a millimetre lie above the slack of the comparison.
        if all(min(abs(x - U), abs(x + U)) > 2e-9 for x in (tight, loose)):
            self.assertEqual(got["verdict"], worst(words))

    @given(tenths(180, 230), tenths(180, 230), tenths(0, 10), tenths(0, 3))
    def test_a_clamped_bushing_must_stand_out(self, bushing, width, washers_, u):
        float_ = (bushing - width - washers_) / 1e4
        got = ask(
            "hardware.clamped_bushing", bushing_length_m=bushing / 1e4,
            turning_width_m=width / 1e4, side_washers_m=washers_ / 1e4, u_m=u / 1e5,
            float_min_m=0.00005, float_max_m=0.00025,
        )  # fmt: skip
        self.same(got["float_m"], float_, floor=1e-10)
        self.assertEqual(got["verdict"], guarded(float_, 2 * u / 1e5, 0.00005, 0.00025))

    @given(st.floats(0.004, 0.02), st.floats(1e-6, 4e-4), st.floats(0.008, 0.05), st.floats(0, 0.3))
    def test_a_pin_tilts_until_it_touches_two_corners(self, bore, gap, length, lever):
        assume(gap < 0.09 * length)
        shaft = bore - gap

        def touching(a):
            return shaft - (bore * math.cos(a) - length * math.sin(a))

        a = brentq(touching, 0.0, 0.2)
        got = ask(
            "hardware.tilt_play", bore_m=bore, shaft_m=shaft, length_m=length, lever_m=lever + 0.01
        )  # fmt: skip
        self.agrees(
            got,
            {"tilt_rad": 2 * a, "end_play_m": 2 * (lever + 0.01) * math.tan(a)},
            rel=1e-5,
        )

    @given(
        st.lists(st.tuples(st.floats(1e-6, 2e-4), st.floats(-2, 2)), min_size=1, max_size=4),
        st.floats(0.03, 0.1), st.floats(0.1, 0.5),
    )  # fmt: skip
    def test_play_adds_up_at_the_surface(self, joints, arm, chord):
        shares = [abs(r) * c for c, r in joints]
        w, likely = sum(shares), math.sqrt(sum(s * s for s in shares))
        got = ask(
            "hardware.free_play", joints=[{"clearance_m": c, "ratio": r} for c, r in joints],
            driven_arm_m=arm, chord_m=chord, limit_rad=0.0087, u_rad=0.0008,
        )  # fmt: skip
        angle = 2 * math.asin(w / (2 * arm))
        self.agrees(
            got,
            {
                "worst_m": w, "worst_rad": angle, "likely_rad": 2 * math.asin(likely / (2 * arm)),
                "trailing_edge_m": 2 * chord * math.sin(angle / 2),
                "verdict": guarded(angle, 0.0016, None, 0.0087),
            },
        )  # fmt: skip
        self.assertEqual(shares[got["largest"]], max(shares))
