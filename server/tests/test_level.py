"""Reading the level live: settled values, and clear words when it is off or talks nonsense."""

import socketserver
import threading
import time
import uuid
from contextlib import contextmanager
from datetime import timedelta
from unittest.mock import patch

from django.test import SimpleTestCase, override_settings

from instruments.aircraft import true_angle
from instruments.meters import Bench
from instruments.standins import Port, StandIns
from instruments.tank import Tank
from server.instruments.models import Instrument
from testkit.base import OnTheDemo


class Garbled(socketserver.StreamRequestHandler):
    def handle(self):
        self.rfile.readline()
        self.wfile.write(b"\xff\xfe?? 12,,7\n")


class LevelTests(OnTheDemo):
    @contextmanager
    def level_at(self, port, hand=""):
        address = f"TCPIP0::127.0.0.1::{port}::SOCKET"
        Instrument.objects.filter(name="Digital level").update(address=address)
        with override_settings(INSTRUMENT_ADDRESSES=[address], INSTRUMENT_HAND=hand):
            yield f"/api/aircraft/fenlark/instruments/{self.instrument('Digital level')}/poll"

    def ask(self, path, run):
        return self.write("ansel", path, {"run": run, "surface": "elevator", "position": "up_stop"})

    def test_it_settles_near_the_truth_that_no_answer_reveals(self):
        standins = StandIns({})
        run = uuid.uuid4().hex
        try:
            with self.level_at(
                standins.number("level"), f"127.0.0.1:{standins.number('hand')}"
            ) as path:
                for _ in range(25):
                    live = self.ask(path, run).json()
                    if live.get("settled"):
                        break
                    time.sleep(0.2)
                self.assertTrue(live["settled"])
                true = true_angle("fenlark", "elevator", "up_stop")
                self.assertLess(abs(live["value"] - true), 0.35)
                with patch("server.instruments.reading.LEAST_PAUSE", timedelta(hours=1)):
                    self.assertEqual(self.ask(path, run).status_code, 429)
                    fresh = self.ask(path, uuid.uuid4().hex)
                    self.assertEqual((fresh.status_code, fresh.json()["settled"]), (200, False))
        finally:
            standins.close()

    def test_off_garbled_or_not_allowed_is_said_plainly(self):
        with self.level_at(1) as path:
            self.assertIn("does not answer", self.ask(path, uuid.uuid4().hex).json()["title"])
        with socketserver.TCPServer(("127.0.0.1", 0), Garbled) as server:
            threading.Thread(target=server.serve_forever, daemon=True).start()
            with self.level_at(server.server_address[1]) as path:
                answer = self.ask(path, uuid.uuid4().hex)
                self.assertEqual(answer.status_code, 503)
                self.assertIn("no angle", answer.json()["title"])
            server.shutdown()
        with self.level_at(1) as path, override_settings(INSTRUMENT_ADDRESSES=[]):
            self.assertIn(
                "not among those allowed", self.ask(path, uuid.uuid4().hex).json()["title"]
            )


class TankStandIn(SimpleTestCase):
    """The stand-in of a tank under test is tight: what its gauge loses the weather has gained."""

    def test_gauge_and_barometer_together_do_not_change(self):
        now = [0.0]
        tank = Tank(1, lambda: now[0])
        began = tank.gauge() + tank.barometer()
        for minutes in (5, 20, 60, 300):
            now[0] = 60.0 * minutes
            self.assertAlmostEqual(tank.gauge() + tank.barometer(), began, delta=10.0)
        self.assertLess(tank.gauge(), 2450.0 - 250.0)


class EveryKind(OnTheDemo):
    """What each kind of instrument answers is shown in its unit, and nonsense is none."""

    KINDS = {
        "angle": ("MEAS:ANGL?", "12.5", 12.5, ("400", "-361")),
        "temperature": ("MEAS:TEMP?", "21.5", 21.5, ("-90", "81")),
        "tension": ("MEAS:SCAL?", "33.5", 33.5, ("1001",)),
        "pressure": ("MEAS:PRES?", "2450", 2.45, ("-121000", "1000001")),
        "resistance": ("MEAS:RES?", "0.0412", 0.0412, ("-2", "1e13")),
        "current": ("MEAS:CURR?", "1.31", 1.31, ("10001",)),
        "signal": ("READ?", "97", 97.0, ("1e10", "nan")),
    }

    def test_each_is_asked_by_its_command_and_judged_by_its_range(self):
        instrument = Instrument.objects.get(aircraft__slug="fenlark", name="Digital level")
        for kind, (command, text, value, nonsense) in self.KINDS.items():
            for answer, status in ((text, 200), *((n, 503) for n in nonsense)):
                port = Port(0, lambda line, c=command, a=answer: a if line == c else "?")
                threading.Thread(target=port.serve_forever, daemon=True).start()
                address = f"TCPIP0::127.0.0.1::{port.server_address[1]}::SOCKET"
                Instrument.objects.filter(pk=instrument.pk).update(kind=kind, address=address)
                with override_settings(INSTRUMENT_ADDRESSES=[address], INSTRUMENT_HAND=""):
                    path = f"/api/aircraft/fenlark/instruments/{instrument.pk}/poll"
                    got = self.write("ansel", path, {"run": uuid.uuid4().hex})
                with self.subTest(kind=kind, answer=answer):
                    self.assertEqual(got.status_code, status, got.content)
                    if status == 200:
                        self.assertAlmostEqual(got.json()["value"], value, 6)
                port.shutdown()
                port.server_close()


class Meters(SimpleTestCase):
    """The simulated bench: meters settle on what is there."""

    def setUp(self):
        self.now = [0.0]
        self.bench = Bench(1, lambda: self.now[0])

    def test_the_bus_draws_the_sum_of_what_is_in_and_more_at_first(self):
        self.assertFalse(self.bench.hand("SWITCH", "fenlark", "night-bus", "cb9-9"))
        self.assertTrue(self.bench.hand("SWITCH", "fenlark", "night-bus", "bus"))
        self.now[0] = 5.0
        self.assertAlmostEqual(self.bench.amps(), 0.18, delta=0.02)
        self.bench.hand("SWITCH", "fenlark", "night-bus", "cb1-4")
        self.assertGreater(self.bench.amps(), 0.18 + 1.13 * 1.3)
        self.now[0] = 10.0
        self.assertAlmostEqual(self.bench.amps(), 1.31, delta=0.02)
        self.bench.hand("SWITCH", "fenlark", "night-bus", "bus")
        self.now[0] = 20.0
        self.assertAlmostEqual(self.bench.amps(), 0.18, delta=0.02)

    def test_a_probed_wire_reads_with_the_leads_and_nothing_reads_open(self):
        self.assertGreater(self.bench.ohms(), 1e6)
        self.assertTrue(self.bench.hand("PROBE", "fenlark", "w10", "-"))
        self.now[0] = 5.0
        self.assertAlmostEqual(self.bench.ohms(), 0.1575, delta=0.001)
        self.assertFalse(self.bench.hand("PROBE", "moorhen", "w10", "-"))
        self.assertGreater(self.bench.ohms(), 1e6)

    def test_a_detector_shows_its_whole_scale_then_clean_air(self):
        self.assertEqual(self.bench.signal(), 0.0)
        self.assertTrue(self.bench.hand("WAKE", "fenlark", "gas-detector", "-"))
        shown = []
        for t in (0.0, 2.9, 4.0, 6.0, 60.0):
            self.now[0] = t
            shown.append(self.bench.signal())
        self.assertEqual(shown[:2], [100.0, 100.0])
        self.assertAlmostEqual(shown[2], 51.5, delta=0.1)
        self.assertTrue(all(abs(x - 3.0) < 1.0 for x in shown[3:]), shown)
        self.assertFalse(self.bench.hand("WAKE", "fenlark", "other", "-"))
