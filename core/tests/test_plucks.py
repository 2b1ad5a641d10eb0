"""Tension by sound: made-up plucks from a beam of finite elements, what is no pluck, and files."""

import io
import math
import struct
from unittest import TestCase

import numpy as np
from scipy.io import wavfile
from scipy.linalg import eigh
from scipy.signal import lfilter

from core.basis.refused import Refused
from core.cables.cable import bending_bounds, cable_data
from core.cables.pluck_check import assess_pluck
from core.cables.recording import read_wav
from core.cables.string import clamped_frequency, clamped_tension, plucked_tension, string_frequency

LBF = 4.4482216152605
CABLES = (("7x7", 0.0625), ("7x7", 0.09375), ("7x19", 0.09375), ("7x19", 0.125), ("7x19", 0.15625))
RATE = 8000


def notes(tension, span, mass, bending, held, count=6, parts=120):
    """Frequencies of a tensioned beam whose ends turn against springs: 0 pinned, large clamped."""
    h = span / parts
    size = 2 * (parts + 1)
    stiff, inert = np.zeros((size, size)), np.zeros((size, size))
    b = bending / h**3 * np.array(
        [[12, 6 * h, -12, 6 * h], [6 * h, 4 * h * h, -6 * h, 2 * h * h],
         [-12, -6 * h, 12, -6 * h], [6 * h, 2 * h * h, -6 * h, 4 * h * h]])  # fmt: skip
    t = tension / (30 * h) * np.array(
        [[36, 3 * h, -36, 3 * h], [3 * h, 4 * h * h, -3 * h, -h * h],
         [-36, -3 * h, 36, -3 * h], [3 * h, -h * h, -3 * h, 4 * h * h]])  # fmt: skip
    m = mass * h / 420 * np.array(
        [[156, 22 * h, 54, -13 * h], [22 * h, 4 * h * h, 13 * h, -3 * h * h],
         [54, 13 * h, 156, -22 * h], [-13 * h, -3 * h * h, -22 * h, 4 * h * h]])  # fmt: skip
    for e in range(parts):
        s = slice(2 * e, 2 * e + 4)
        stiff[s, s] += b + t
        inert[s, s] += m
    stiff[1, 1] += held * bending / span
    stiff[-1, -1] += held * bending / span
    free = [i for i in range(size) if i not in (0, size - 2)]
    grid = np.ix_(free, free)
    values = eigh(stiff[grid], inert[grid], eigvals_only=True, subset_by_index=[0, count - 1])
    return np.sqrt(values) / (2 * math.pi)


def pluck(tones, chance):
    """The sound of one pluck with noise at 20 dB."""
    t = np.arange(int(RATE * 3.5)) / RATE - 0.3
    on = t >= 0
    x = np.zeros(t.size)
    for i, f in enumerate(tones, 1):
        decay = chance.uniform(0.5, 1.2) / math.sqrt(i)
        tone = np.sin(2 * math.pi * f * t[on] + chance.uniform(0, 6))
        x[on] += chance.uniform(0.3, 1) / i * np.exp(-t[on] / decay) * tone
    x *= 0.6 / np.abs(x).max()
    return x + chance.normal(0, 0.1 * math.sqrt(np.mean(x[on] ** 2)), x.size)


class Plucks(TestCase):
    def test_the_truth_lies_within_U_in_95_of_100_and_U_is_small_on_long_spans(self):
        chance = np.random.default_rng(7)
        within, taken, refused, silent, shares = 0, 0, 0, 0, []
        for _ in range(200):
            construction, size = CABLES[chance.integers(len(CABLES))]
            d = cable_data(construction, size, "galvanised")
            low, high = bending_bounds(construction, d.diameter_m)
            target = chance.uniform(15, 60) * LBF
            truth, span = target * chance.uniform(0.4, 2.5), chance.uniform(0.5, 2.0)
            held = 20 * math.tan(chance.uniform(0, math.pi / 2))
            mass = d.mass_per_length_kg_m
            tones = notes(truth, span, mass, chance.uniform(low, high), held)
            said_span = span + chance.normal(0, 0.003)
            said_mass = mass * (1 + chance.uniform(-0.02, 0.02))
            band = [string_frequency(k * target, said_span, said_mass) for k in (0.3, 3.0)]
            try:
                a = assess_pluck(pluck(tones, chance), RATE, *band)
                p = plucked_tension(
                    a.found.frequency_Hz, said_span, said_mass, low, high, a.found.u_frequency_Hz,
                    0.003, 0.02,
                )  # fmt: skip
            except Refused:
                refused += 1
                continue
            taken += 1
            silent += not a.confirm
            within += abs(p.tension_N - truth) <= 2 * p.u_tension_N
            if span > 0.8:
                shares.append(2 * p.u_tension_N / p.tension_N)
        self.assertGreaterEqual(within, 0.95 * taken)
        self.assertLess(float(np.median(shares)), 0.15)
        self.assertLess(refused, 30)
        self.assertGreater(silent, 0.9 * taken)

    def test_bounds_of_stiffness_may_be_one_and_the_same_but_not_the_wrong_way_round(self):
        same = plucked_tension(30.0, 1.0, 0.043, 0.002, 0.002)
        self.assertGreater(same.high_N, same.low_N)
        with self.assertRaises(Refused):
            plucked_tension(30.0, 1.0, 0.043, 0.002, 0.001999)

    def test_what_is_no_pluck_is_never_taken_silently(self):
        for seed in range(12):
            chance = np.random.default_rng(seed)
            for name, x in noises(chance):
                for band in ((10, 32), (20, 70), (40, 130)):
                    try:
                        found = assess_pluck(x, RATE, *band)
                    except Refused as refusal:
                        self.assertEqual(refusal.field, "samples")
                        continue
                    self.assertTrue(found.confirm, f"{name} {seed} {band}: {found.found}")

    def test_clamped_tension_and_frequency_undo_each_other(self):
        for tension in (20.0, 130.0, 600.0):
            f = clamped_frequency(tension, 1.1, 0.043, 0.4)
            self.assertAlmostEqual(clamped_tension(f, 1.1, 0.043, 0.4), tension, 6)
            fine = notes(tension, 1.1, 0.043, 0.4, 1e7)
            self.assertAlmostEqual(f, float(fine[0]), 2)


def noises(chance, seconds=4):
    """White and pink noise, hum, a compressor, speech, taps."""
    n = RATE * seconds
    t = np.arange(n) / RATE
    white = chance.normal(0, 0.1, n)
    yield "white", white
    tilted = np.fft.rfft(chance.normal(0, 1, n)) / np.sqrt(np.maximum(np.arange(n // 2 + 1), 1))
    pink = np.fft.irfft(tilted, n)
    yield "pink", 0.3 * pink / np.abs(pink).max()
    for mains in (50, 60):
        hum = sum(
            chance.uniform(0.02, 0.2) / h * np.sin(2 * np.pi * mains * h * t + chance.uniform(0, 6))
            for h in range(1, 9)
        )
        yield f"hum at {mains} Hz", hum + 0.1 * white
    f = chance.uniform(12, 60)
    machine = sum(
        chance.uniform(0.05, 0.2) / h * np.sin(2 * np.pi * f * h * t + chance.uniform(0, 6))
        for h in range(1, 6)
    )
    yield "compressor", machine + 0.2 * white
    yield "compressor that starts", machine * np.where(t > 1, 1, 0.01) + 0.01 * white
    pitch = chance.uniform(90, 220) * (1 + 0.05 * np.sin(2 * np.pi * chance.uniform(2, 5) * t))
    phase = np.cumsum(2 * np.pi * pitch / RATE)
    loud = np.clip(np.interp(t, np.linspace(0, seconds, 24), chance.uniform(-0.5, 1, 24)), 0, 1)
    voice = sum(np.sin(h * phase) / h for h in range(1, 15))
    yield "speech", 0.2 * loud * voice + 0.05 * white
    taps = np.zeros(n)
    for _ in range(chance.integers(1, 8)):
        i = chance.integers(0, n - 2000)
        taps[i : i + 2000] += chance.normal(0, 0.5, 2000) * np.exp(-np.arange(2000) / 90)
    yield "taps", np.clip(taps, -0.99, 0.99) + 0.02 * white
    bent = lfilter([1], [1, -2 * 0.999 * math.cos(2 * math.pi * 80 / RATE), 0.998], white)
    yield "rumble", 0.1 * bent / np.std(bent)


class Files(TestCase):
    def file(self, data, rate=16000):
        out = io.BytesIO()
        wavfile.write(out, rate, data)
        return out.getvalue()

    def test_8_16_24_32_bit_float_and_stereo_are_the_same_sound(self):
        x = 0.5 * np.sin(2 * np.pi * 100 * np.arange(1600) / 16000)
        packed = b"".join(struct.pack("<i", int(v * 8388607))[:3] for v in x)
        head = b"RIFF" + struct.pack("<I", 36 + len(packed)) + b"WAVEfmt "
        head += struct.pack("<IHHIIHH", 16, 1, 1, 16000, 48000, 3, 24)
        kinds = {
            "8": self.file((x * 127 + 128).astype(np.uint8)),
            "16": self.file((x * 32767).astype(np.int16)),
            "24": head + b"data" + struct.pack("<I", len(packed)) + packed,
            "32": self.file((x * 2147483647).astype(np.int32)),
            "float": self.file(x.astype(np.float32)),
            "stereo": self.file(np.stack([x, x], axis=1).astype(np.float32)),
        }
        for name, content in kinds.items():
            with self.subTest(kind=name):
                found = read_wav(content)
                self.assertEqual(found.rate_Hz, 16000)
                self.assertLess(np.abs(found.samples - x).max(), 0.01)

    def test_a_channel_that_clips_is_not_hidden_by_a_quiet_one(self):
        loud = np.where(np.arange(16000) % 50 == 0, 1.0, 0.2)
        both = np.stack([loud, np.zeros(16000)], axis=1).astype(np.float32)
        heard = read_wav(self.file(both))
        with self.assertRaises(Refused) as caught:
            assess_pluck(heard.samples, heard.rate_Hz, 12, 45)
        self.assertIn("clipped", caught.exception.reason)

    def test_what_cannot_be_used_is_refused_with_the_reason(self):
        for content, said in (
            (b"", "empty"),
            (b"not a wav at all", "cannot be read"),
            (self.file(np.zeros(0, dtype=np.int16)), "no samples"),
            (b"RIFF" + bytes(17_000_000), "16 MB"),
            (self.file(np.zeros(8000 * 31, dtype=np.int16), 8000), "30 s"),
        ):
            with self.subTest(said=said), self.assertRaises(Refused) as caught:
                read_wav(content)
            self.assertEqual(caught.exception.field, "file")
            self.assertIn(said, caught.exception.reason)
