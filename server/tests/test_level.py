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
from instruments.standins import StandIns
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
