"""What currents and steel do to a compass sensor (`wiring.dc_field`, `wiring.heading_table`,
`wiring.pair_field`)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from scipy.special import iv, kv

from core.basis.by_name import rule
from core.basis.forms import ABSENT
from core.basis.refused import Refused, finite, positive
from core.basis.vectors import cross, dot, minus, vec
from core.basis.verdicts import Verdict
from core.wiring.spans import Piece, Point, line, to_piece
from core.wiring.words import CAUTION, FIELDS

MU_4PI = 1e-7
NEAR_M = 0.001
HEADINGS = 3600
Array = NDArray[np.float64]


@dataclass(frozen=True)
class Current:
    """A current along straight pieces."""

    points_m: Annotated[Sequence[Sequence[float]], "Its way."]
    current_A: Annotated[float, "Positive along it."]


@dataclass(frozen=True)
class Dipole:
    """A small magnet."""

    moment_Am2: Annotated[Sequence[float], "Along x, y and z."]
    at_m: Annotated[Sequence[float], "Where it is."]


@dataclass(frozen=True)
class Disturbance:
    """The field of everything at the sensor, T."""

    B_T: Annotated[tuple[float, float, float], "Along x, y and z."]
    B_abs_T: Annotated[float, "Its size."]
    B_horizontal_T: Annotated[float, "In level attitude."]
    worst_error_rad: Annotated[float | None, "Of any heading; null: as large as the earth's."]
    atan_rad: Annotated[float, "Square to the earth's field."]
    verdict: Annotated[Verdict | None, "Against the limit.", ABSENT] = None


@rule(
    "wiring.dc_field",
    title="Field of currents and steel",
    purpose="By how much does this turn the compass at most?",
    source=FIELDS,
    validity="Direct current, no iron between. A return through structure has an unknown way:"
    " enter the likely one, and the wire alone, and look at both.",
    caution=CAUTION,
)
def dc_field(
    sensor_m: Annotated[Sequence[float], "Where the sensor is."],
    horizontal_T: Annotated[float, "Local horizontal field of the earth."],
    circuits: Annotated[tuple[Current, ...], "What flows where."] = (),
    dipoles: Annotated[tuple[Dipole, ...], "Magnets."] = (),
    limit_rad: Annotated[float | None, "Greatest error."] = None,
) -> Disturbance:
    """Sum over all pieces and dipoles. Refuses a sensor within 1 mm of a conductor."""
    at, earth = vec(sensor_m, "sensor_m"), positive(horizontal_T, "horizontal_T")
    parts: list[Point] = []
    for c in circuits:
        amps = finite(c.current_A, "current_A")
        parts += [_piece(at, p, amps) for p in line(c.points_m)]
    parts += [_dipole(at, d) for d in dipoles]
    x, y, z = (math.fsum(p[k] for p in parts) for k in range(3))
    level = math.hypot(x, y)
    worst = None if level >= earth else math.asin(level / earth)
    verdict = None
    if limit_rad is not None:
        good = worst is not None and worst <= positive(limit_rad, "limit_rad")
        verdict = Verdict.IN if good else Verdict.OUT
    size = math.sqrt(x * x + y * y + z * z)
    return Disturbance((x, y, z), size, level, worst, math.atan(level / earth), verdict)


def _piece(at: Point, piece: Piece, amps: float) -> Point:
    """Biot-Savart of a straight piece."""
    if to_piece(at, piece) < NEAR_M:
        raise Refused("sensor_m", "lies within 1 mm of a conductor")
    a, b = minus(at, piece[0]), minus(at, piece[1])
    ra, rb = math.sqrt(dot(a, a)), math.sqrt(dot(b, b))
    across = cross(a, b)
    square = dot(across, across)
    if square <= 1e-24 * (ra * rb) ** 2:
        return 0.0, 0.0, 0.0  # In line with it: nothing.
    share = MU_4PI * amps * (ra + rb) / (ra * rb * (ra * rb + dot(a, b)))
    return across[0] * share, across[1] * share, across[2] * share


def _dipole(at: Point, d: Dipole) -> Point:
    m, r = vec(d.moment_Am2, "moment_Am2"), minus(at, vec(d.at_m, "at_m"))
    far = math.sqrt(dot(r, r))
    if far == 0.0:
        raise Refused("at_m", "the sensor is on the dipole")
    along = 3.0 * dot(m, r) / far**5
    x, y, z = (MU_4PI * (along * r[k] - m[k] / far**3) for k in range(3))
    return x, y, z


@dataclass(frozen=True)
class Headings:
    """Errors over all headings, rad."""

    worst_error_rad: Annotated[float, "Of any state at any heading."]
    swing_rad: Annotated[float, "Greatest spread between states: no calibration takes it away."]
    errors_rad: Annotated[tuple[float, ...] | None, "At the heading asked.", ABSENT] = None


@rule(
    "wiring.heading_table",
    title="Errors over the headings",
    purpose="How far is the heading wrong as steel moves or currents switch?",
    source="Plane geometry of the field in level attitude; forward is -x.",
    validity="The static part can be calibrated away, the swing cannot.",
    caution=CAUTION,
)
def heading_table(
    horizontal_T: Annotated[float, "Local horizontal field of the earth."],
    states_T: Annotated[tuple[tuple[float, float, float], ...], "A disturbance for each state."],
    heading_rad: Annotated[float | None, "From magnetic north, clockwise."] = None,
) -> Headings:
    """Every tenth of a degree. Refuses a disturbance as large as the earth's field."""
    earth = positive(horizontal_T, "horizontal_T")
    if not states_T:
        raise Refused("states_T", "needs at least one")
    states = np.array([[finite(x, "states_T") for x in s] for s in states_T])
    if np.any(np.hypot(states[:, 0], states[:, 1]) >= earth):
        raise Refused("states_T", "a disturbance is as large as the earth's field")
    errors = _errors(
        earth, states, np.linspace(0.0, 2.0 * math.pi, HEADINGS, endpoint=False, dtype=np.float64)
    )
    swing = float((errors.max(axis=0) - errors.min(axis=0)).max())
    asked = None
    if heading_rad is not None:
        at = _errors(earth, states, np.array([finite(heading_rad, "heading_rad")]))
        asked = tuple(float(e) for e in at[:, 0])
    return Headings(float(np.abs(errors).max()), swing, asked)


def _errors(earth: float, states: Array, headings: Array) -> Array:
    forward = earth * np.cos(headings)[None, :] - states[:, :1]
    right = -earth * np.sin(headings)[None, :] + states[:, 1:2]
    error = np.arctan2(-right, forward) - headings[None, :]
    found: Array = (error + math.pi) % (2.0 * math.pi) - math.pi
    return found


@dataclass(frozen=True)
class Pair:
    """The field beside a wire and a pair, T."""

    single_T: Annotated[float, "Of one wire."]
    pair_T: Annotated[float, "Of an untwisted pair at its worst."]
    twisted_T: Annotated[float | None, "At most, of a twisted one.", ABSENT] = None


@rule(
    "wiring.pair_field",
    title="A pair, plain or twisted",
    purpose="What does running feed and return together, and twisting them, gain?",
    source="Long straight wires; helical pair by modified Bessel functions (any field text).",
    validity="Long and evenly twisted, from three spacings away. The ends, where the wires part,"
    " leak far more: model them as pieces.",
    caution=CAUTION,
)
def pair_field(
    current_A: Annotated[float, "In each wire."],
    distance_m: Annotated[float, "From the pair's axis."],
    spacing_m: Annotated[float, "Between the wires' centres."],
    pitch_m: Annotated[float | None, "Of the twist."] = None,
) -> Pair:
    """Refuses a place between the wires, and one too near for the bound of the twist."""
    amps, r = abs(finite(current_A, "current_A")), positive(distance_m, "distance_m")
    s = positive(spacing_m, "spacing_m")
    if r <= s / 2.0:
        raise Refused("distance_m", "must be more than half the spacing")
    single = 2.0 * MU_4PI * amps / r
    pair = 2.0 * MU_4PI * amps * (1.0 / (r - s / 2.0) - 1.0 / (r + s / 2.0))
    if pitch_m is None:
        return Pair(single, pair)
    p = positive(pitch_m, "pitch_m")
    if r < 3.0 * s - 1e-12:
        raise Refused("distance_m", "the bound of a twist holds from three spacings on")
    u, v = 2.0 * math.pi * r / p, math.pi * s / p
    k0, k1 = float(kv(0, u)), float(kv(1, u))
    far = max(u * u * k0 + u * k1, u * k1 * math.sqrt(1.0 + u * u))
    helix = float(iv(0, v) + iv(2, v))
    return Pair(single, pair, pair * 1.02 * helix * far)
