"""The entry bar understands short lines with the aircraft's own names, and guesses nothing."""

from unittest import TestCase

from core.basis.refused import Refused
from core.basis.settling import settled
from core.controls.entry import Jump, Known, Typed, understand

UP_DOWN = ("neutral", "up_stop", "down_stop")
SURFACES = [
    Known("elevator", "elevator", "", UP_DOWN),
    Known("left-aileron", "ailerons", "left", UP_DOWN),
    Known("right-aileron", "ailerons", "right", UP_DOWN),
    Known("rudder", "rudder", "", ("left_stop", "right_stop")),
]
INSTRUMENTS = ["Gauge 1", "Gauge 2", "Steel rule"]


def read(line):
    return understand(line, SURFACES, INSTRUMENTS, ["lane", "sign-off", "controls"])


class EntryLine(TestCase):
    def test_readings_and_jumps(self):
        for line, want in [
            ("elev up 26.4", Typed("elevator", "up_stop", "26.4", None)),
            ("ail l dn 13.5 gauge2", Typed("left-aileron", "down_stop", "13.5", "Gauge 2")),
            ("rud r 6 7/8 in steel", Typed("rudder", "right_stop", "6 7/8 in", "Steel rule")),
            ("e neutral 0.1 deg", Typed("elevator", "neutral", "0.1 deg", None)),
            ("go sign", Jump("sign-off")),
        ]:
            with self.subTest(line=line):
                self.assertEqual(read(line), want)

    def test_what_is_open_is_asked_for(self):
        for line in [
            "",
            "go",
            "go nowhere",
            "tail up 3",
            "ail up 3",
            "elev 26.4",
            "elev up",
            "rud up 3",
            "elev up 3 gauge",
        ]:
            with self.subTest(line=line), self.assertRaises(Refused):
                read(line)

    def test_a_live_value_has_settled_when_the_last_eight_lie_within_two_steps(self):
        self.assertFalse(settled([1.0] * 7, 0.05))
        self.assertTrue(settled([9.9, 1.0, 1.05, 1.1, 1.0, 1.05, 1.1, 1.0, 1.05], 0.05))
        self.assertFalse(settled([1.0, 1.15] * 4, 0.05))
