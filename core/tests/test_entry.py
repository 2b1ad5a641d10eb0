"""The entry bar understands short lines with the aircraft's own names, and guesses nothing."""

from dataclasses import replace
from unittest import TestCase

from core.basis.refused import Refused
from core.basis.settling import settled
from core.entry.completion import complete
from core.entry.examples import examples
from core.entry.grammar import JointDone, Jump, Leak, Loose, Note, Typed, understand
from core.entry.names import Ambiguous, Known, Names

UP_DOWN = ("neutral", "up_stop", "down_stop")
SURFACES = [
    Known("elevator", "elevator", "", UP_DOWN),
    Known("left-aileron", "ailerons", "left", UP_DOWN),
    Known("right-aileron", "ailerons", "right", UP_DOWN),
    Known("rudder", "rudder", "", ("left_stop", "right_stop")),
]
INSTRUMENTS = ["Gauge 1", "Gauge 2", "Steel rule"]


NAMES = Names(
    SURFACES,
    INSTRUMENTS,
    ("lane", "sign-off", "controls"),
    (
        ("bellcrank-bolt", "Elevator bellcrank bolt"),
        ("bellcrank-nut", "Elevator bellcrank nut"),
        ("rudder-horn", "Rudder horn"),
    ),
    (("aft", "Aft fuselage"), ("left-root", "Left wing root"), ("right-root", "Right wing root")),
)


def read(line):
    return understand(line, NAMES)


class EntryLine(TestCase):
    def test_readings_and_jumps(self):
        for line, want in [
            ("elev up 26.4", Typed("elevator", "up_stop", "26.4", None)),
            ("ail l dn 13.5 gauge2", Typed("left-aileron", "down_stop", "13.5", "Gauge 2")),
            ("rud r 6 7/8 in steel", Typed("rudder", "right_stop", "6 7/8 in", "Steel rule")),
            ("e neutral 0.1 deg", Typed("elevator", "neutral", "0.1 deg", None)),
            ("go sign", Jump("sign-off")),
            ("go aft", Jump("lane", "aft")),
            ("go left root", Jump("lane", "left-root")),
        ]:
            with self.subTest(line=line):
                self.assertEqual(read(line), want)

    def test_a_page_named_in_full_is_meant_though_a_bay_or_another_page_begins_so(self):
        names = replace(NAMES, pages=("lane print", "lane"), bays=(("side", "Lane side"),))
        self.assertEqual(understand("go lane", names), Jump("lane"))
        with self.assertRaises(Ambiguous):
            understand("go lan", names)

    def test_after_the_colon_of_a_loose_end_no_joint_is_offered(self):
        self.assertIn("loose elevator bellcrank bolt", complete("loose elev", NAMES))
        self.assertEqual(complete("loose elevator bellcrank bolt: elev", NAMES), ())

    def test_every_example_means_something_on_the_aircraft_that_it_is_for(self):
        self.assertEqual(
            examples(NAMES),
            (
                "elevator up 12.5",
                "torque 42 inlb rudder horn",
                "loose plug in aft fuselage: until it is connected",
                "go right wing root",
            ),
        )
        sided = replace(NAMES, surfaces=SURFACES[1:3], joints=())
        self.assertEqual(examples(sided)[0], "ailerons left up 12.5")
        self.assertIsInstance(understand(examples(sided)[0], sided), Typed)
        self.assertEqual(examples(Names()), ())
        twice = replace(NAMES, joints=(("a", "Bolt"), ("b", "bolt")), bays=())
        self.assertEqual(examples(twice), ("elevator up 12.5",))

    def test_joints_loose_ends_and_notes(self):
        for line, want in [
            (
                "torque 42 inlb bellcrank bolt",
                JointDone("bellcrank-bolt", "torqued", "42 inlb"),
            ),
            (
                "torque 4.7 N·m rudder horn with steel",
                JointDone("rudder-horn", "torqued", "4.7 N·m", "Steel rule"),
            ),
            ("pin elev bell bolt", JointDone("bellcrank-bolt", "safetied")),
            ("seal rudder", JointDone("rudder-horn", "sealed")),
            (
                "loose cotter rudder horn: until final rig",
                Loose("cotter rudder horn", "final rig", "rudder-horn"),
            ),
            ("loose rag in aft: before closing", Loose("rag in aft", "before closing", "", "aft")),
            ("note aft: skinned over", Note("skinned over", "aft")),
            ("note two hands needed", Note("two hands needed")),
        ]:
            with self.subTest(line=line):
                self.assertEqual(read(line), want)

    def test_what_could_mean_two_things_is_asked_back_with_lines_that_mean_one(self):
        for line, wanted in [
            ("ail up 3", "ailerons left up 3"),
            ("elev up 3 gauge", "elev up 3 gauge 1"),
            ("pin bellcrank", "pin elevator bellcrank bolt"),
            ("torque 42 inlb bellcrank", "torque 42 inlb elevator bellcrank nut"),
            ("go root", "go left wing root"),
            ("note root: dusty", "note right wing root: dusty"),
            ("loose pin bellcrank: until paint", "loose elevator bellcrank bolt: until paint"),
        ]:
            with self.subTest(line=line):
                with self.assertRaises(Ambiguous) as asked:
                    read(line)
                self.assertIn(wanted, asked.exception.options)
                for option in asked.exception.options:
                    read(option)

    def test_what_is_open_is_asked_for(self):
        for line in [
            "",
            "go",
            "go nowhere",
            "tail up 3",
            "elev 26.4",
            "elev up",
            "rud up 3",
            "torque bellcrank bolt",
            "torque 42 bellcrank bolt",
            "torque 42 inlb wheel",
            "loose cotter",
            "loose : until paint",
            "note",
            "note " + "x" * 10_000,
        ]:
            with self.subTest(line=line[:30]), self.assertRaises(Refused):
                read(line)

    def test_a_line_is_completed_from_the_aircraft_s_own_names(self):
        for line, wanted in [
            ("e", "elevator "),
            ("tor", "torque "),
            ("ail ", "ail left "),
            ("ail l ", "ail l down "),
            ("elev up 3 st", "elev up 3 steel rule"),
            ("torque 42 ", "torque 42 inlb "),
            ("torque 42 inlb bell", "torque 42 inlb elevator bellcrank bolt"),
            ("torque 42 inlb rudder horn with g", "torque 42 inlb rudder horn with gauge 1"),
            ("pin r", "pin rudder horn"),
            ("go a", "go aft fuselage"),
            ("note a", "note aft fuselage: "),
        ]:
            with self.subTest(line=line):
                self.assertIn(wanted, complete(line, NAMES))
        self.assertEqual(complete("zzz", NAMES), ())

    def test_a_live_value_has_settled_when_the_last_eight_lie_within_two_steps(self):
        self.assertFalse(settled([1.0] * 7, 0.05))
        self.assertTrue(settled([9.9, 1.0, 1.05, 1.1, 1.0, 1.05, 1.1, 1.0, 1.05], 0.05))
        self.assertFalse(settled([1.0, 1.15] * 4, 0.05))


class LeakTests(TestCase):
    NAMES = replace(
        NAMES, lines=(("feed", "Feed line"), ("feed-2", "Feed, right"), ("vent", "Vent"))
    )

    def test_a_leak_test_is_read_with_its_units_and_perhaps_the_weather(self):
        said = "leak vent 20 min 3.1 kPa 2.9kPa 14 C 15 C"
        want = Leak("vent", "20", ("3.1 kPa", "2.9kPa"), ("14 C", "15 C"))
        self.assertEqual(understand(said, self.NAMES), want)
        both = replace(want, barometer=("1012 hPa", "1013 hPa"))
        self.assertEqual(understand(f"{said} 1012 hPa 1013 hPa", self.NAMES), both)

    def test_what_is_missing_or_of_another_kind_is_asked_for(self):
        for line in (
            "leak", "leak vent", "leak vent 20 min", "leak vent 3.1 kPa 2.9 kPa 14 C 15 C",
            "leak vent 20 min 3.1 2.9 14 15", "leak vent 20 min 3.1 kPa 2.9 kPa 14 C",
            "leak vent 20 min 3.1 kPa 2.9 kPa 14 C 15 C 1012 hPa", "leak vent 20 min 14 C 15 C 3 kPa 2 kPa",
            "leak vent 20 min 3.1 kPa 2.9 kPa 14 C 15 C soon", "leak tank 20 min 3 kPa 2 kPa 1 C 2 C",
        ):  # fmt: skip
            with self.subTest(line=line), self.assertRaises(Refused):
                understand(line, self.NAMES)

    def test_two_lines_are_asked_back_and_names_complete(self):
        with self.assertRaises(Ambiguous) as asked:
            understand("leak fe 20 min 3 kPa 2 kPa 1 C 2 C", self.NAMES)
        for option in asked.exception.options:
            self.assertIsInstance(understand(option, self.NAMES), Leak)
        self.assertEqual(complete("leak ve", self.NAMES), ("leak vent ",))
