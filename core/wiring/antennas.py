"""Coax, antennas and what they see of the sky (`wiring.coax_loss`, `wiring.antenna`,
`wiring.sky_view`)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from numpy.typing import NDArray

from core.basis.by_name import rule
from core.basis.forms import ABSENT
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.vectors import vec
from core.basis.verdicts import Verdict
from core.wiring.tables import EVEN, at_least
from core.wiring.words import CAUTION

LIGHT_M_S = 299_792_458.0
START_M, RUN_M = 1e-6, 1e-9
MOST_MASK = 1.5
Array = NDArray[np.float64]


@dataclass(frozen=True)
class Lost:
    """What coax loses, dB."""

    cable_dB: Annotated[float, "Cable and connectors."]
    mismatch_dB: Annotated[float, "By the standing wave; 0 without one."]
    total_dB: Annotated[float, "Together."]
    delivered_fraction: Annotated[float, "Of the power."]


@rule(
    "wiring.coax_loss",
    title="What the coax loses",
    purpose="How much of the power arrives at the antenna?",
    source="Transmission lines (any text). Loss per metre is the maker's, at the frequency.",
    validity="Extra loss of the standing wave in the line is not counted: small under 3 dB and a"
    " standing wave ratio of 2.",
    caution=CAUTION,
)
def coax_loss(
    length_m: Annotated[float, "Of the coax."],
    loss_dB_per_m: Annotated[float, "At the frequency in use."],
    connector_dB: Annotated[Sequence[float], "Of each connector."] = (),
    vswr: Annotated[float | None, "Standing wave ratio, at least 1."] = None,
) -> Lost:
    """Refuses a standing wave ratio below 1."""
    cable = positive(length_m, "length_m") * not_negative(loss_dB_per_m, "loss_dB_per_m")
    cable += math.fsum(not_negative(c, "connector_dB") for c in connector_dB)
    mismatch = 0.0
    if vswr is not None:
        if finite(vswr, "vswr") < 1.0:
            raise Refused("vswr", "must be at least 1")
        back = (vswr - 1.0) / (vswr + 1.0)
        mismatch = -10.0 * math.log10(1.0 - back * back)
    total = cable + mismatch
    return Lost(cable, mismatch + 0.0, total, 10.0 ** (-total / 10.0))


@dataclass(frozen=True)
class Separation:
    """Two antennas and how far apart they stay."""

    between: Annotated[tuple[str, str], "Both."]
    least_m: Annotated[float, "Least distance."]
    U_m: Annotated[float, "Of the distance."] = 0.0


@dataclass(frozen=True)
class Separated:
    """Two antennas as they stand, m."""

    between: Annotated[tuple[str, str], "Both."]
    distance_m: Annotated[float, "As they stand."]
    margin_m: Annotated[float, "To the least."]
    verdict: Annotated[Verdict, "In where it is kept."]


@dataclass(frozen=True)
class Antenna:
    """Wavelength, ground plane and separations, m."""

    wavelength_m: Annotated[float, "In air."]
    quarter_wave_m: Annotated[float, "A quarter of it."]
    ground_plane: Annotated[Verdict | None, "In from a quarter wave on; null: not said."]
    separations: Annotated[tuple[Separated, ...], "In their order."]


@rule(
    "wiring.antenna",
    title="Ground plane and antennas apart",
    purpose="Is the ground plane large enough, and are the antennas far enough apart?",
    source="Wavelength from the speed of light; distances are the makers'.",
    validity="On fabric or composite a ground plane must be made. Emergency beacon: crash axis as"
    " its maker says, to primary structure, as far aft as practicable; antenna and unit in the"
    " same section.",
    caution=CAUTION,
)
def antenna(
    frequency_Hz: Annotated[float, "In use."],
    ground_plane_radius_m: Annotated[float | None, "Least, on all sides."] = None,
    antennas_m: Annotated[dict[str, tuple[float, float, float]] | None, "Where they are."] = None,
    separations: Annotated[tuple[Separation, ...], "Which stay apart."] = (),
) -> Antenna:
    """Refuses a separation from an antenna that there is not (`between`)."""
    wave = LIGHT_M_S / positive(frequency_Hz, "frequency_Hz")
    plane = None
    if ground_plane_radius_m is not None:
        plane = at_least(positive(ground_plane_radius_m, "ground_plane_radius_m"), 0.0, wave / 4.0)
    at = antennas_m or {}
    found = []
    for s in separations:
        for name in s.between:
            if name not in at:
                raise Refused("between", f"{name} is not an antenna here")
        far = math.dist(*(vec(at[n], "antennas_m") for n in s.between))
        least, U = positive(s.least_m, "least_m"), not_negative(s.U_m, "U_m")
        found.append(Separated(s.between, far, far - least, at_least(far, U, least)))
    return Antenna(wave, wave / 4.0, plane, tuple(found))


@dataclass(frozen=True)
class Block:
    """A box of the airframe, m, body axes."""

    id: Annotated[str, "Its name."]
    min_m: Annotated[Sequence[float], "Low corner."]
    max_m: Annotated[Sequence[float], "High corner."]


@dataclass(frozen=True)
class Rod:
    """A round piece of the airframe, m, body axes."""

    id: Annotated[str, "Its name."]
    a_m: Annotated[Sequence[float], "One end."]
    b_m: Annotated[Sequence[float], "The other."]
    radius_m: Annotated[float, "Its radius."]


@dataclass(frozen=True)
class Attitude:
    """Nose up, right wing down."""

    pitch_rad: Annotated[float, "Nose up."]
    roll_rad: Annotated[float, "Right wing down."] = 0.0


@dataclass(frozen=True)
class Sky:
    """What is free in an attitude."""

    pitch_rad: Annotated[float, "Nose up."]
    roll_rad: Annotated[float, "Right wing down."]
    free: Annotated[float, "Share of the sky."]
    worst_azimuth_rad: Annotated[float | None, "Most blocked, clockwise from ahead; null: none."]
    worst_blocked: Annotated[float, "Its blocked share."]


@dataclass(frozen=True)
class SkyView:
    """What an antenna sees."""

    attitudes: Annotated[tuple[Sky, ...], "In their order."]
    worst: Annotated[int, "Attitude that sees least, from 0."]
    free: Annotated[float, "What it sees there."]
    verdict: Annotated[Verdict | None, "Against the least.", ABSENT] = None


@rule(
    "wiring.sky_view",
    title="What the antenna sees of the sky",
    purpose="How much of the sky does the airframe hide, and in which direction?",
    source="Geometry: rays in cells of equal solid angle.",
    validity="Line of sight only: no ground plane, no skin that lets radio through.",
    caution=CAUTION,
)
def sky_view(
    antenna_m: Annotated[Sequence[float], "Where it is, body axes."],
    attitudes: Annotated[tuple[Attitude, ...], "As it flies."],
    boxes: Annotated[tuple[Block, ...], "Of the airframe."] = (),
    segments: Annotated[tuple[Rod, ...], "Of the airframe."] = (),
    mask_rad: Annotated[float, "Lowest elevation that counts."] = 0.0,
    azimuths: Annotated[int, "Directions around."] = 180,
    bands: Annotated[int, "Bands of elevation."] = 45,
    least_free: Annotated[float | None, "Least share, 0 to 1."] = None,
) -> SkyView:
    """Refuses an antenna inside the airframe, no attitude, too few directions."""
    at = np.array(vec(antenna_m, "antenna_m"))
    if not attitudes:
        raise Refused("attitudes", "needs at least one")
    if azimuths < 4:
        raise Refused("azimuths", "must be at least 4")
    if bands < 1:
        raise Refused("bands", "must be at least 1")
    if not 0.0 <= finite(mask_rad, "mask_rad") <= MOST_MASK:
        raise Refused("mask_rad", f"must be from 0 to {MOST_MASK:g}")
    if least_free is not None and not 0.0 <= finite(least_free, "least_free") <= 1.0:
        raise Refused("least_free", "must be from 0 to 1")
    solid = [_box(b, at) for b in boxes]
    round_ = [_rod(r, at) for r in segments]
    psi = (np.arange(azimuths) + 0.5) * (2.0 * math.pi / azimuths)
    low = math.sin(mask_rad)
    rise = np.arcsin(low + (np.arange(bands) + 0.5) / bands * (1.0 - low))
    around, up = np.meshgrid(psi, rise, indexing="ij")
    earth = np.stack(
        [-np.cos(up) * np.cos(around), np.cos(up) * np.sin(around), np.sin(up)], axis=-1
    )
    found = []
    for a in attitudes:
        rays = earth @ _turned(a)
        hidden = np.zeros(rays.shape[:2], dtype=bool)
        for b in solid:
            hidden |= _through(rays, *b)
        for r in round_:
            hidden |= _past(rays, *r)
        by_azimuth = hidden.sum(axis=1)
        most = int(np.argmax(by_azimuth))
        worst = float(psi[most]) if by_azimuth[most] else None
        free = 1.0 - float(hidden.sum()) / hidden.size
        found.append(Sky(a.pitch_rad, a.roll_rad, free, worst, float(by_azimuth[most]) / bands))
    least = min(range(len(found)), key=lambda n: found[n].free)
    verdict = None
    if least_free is not None:
        good = found[least].free >= least_free - EVEN
        verdict = Verdict.IN if good else Verdict.OUT
    return SkyView(tuple(found), least, found[least].free, verdict)


def _turned(a: Attitude) -> Array:
    """Earth directions times this are body directions (rows are turned back)."""
    for name in ("pitch_rad", "roll_rad"):
        if abs(finite(getattr(a, name), name)) > math.pi / 2 + EVEN:
            raise Refused(name, "must be from -90° to 90°")
    c, s = math.cos(a.roll_rad), math.sin(a.roll_rad)
    roll = np.array([[1.0, 0.0, 0.0], [0.0, c, s], [0.0, -s, c]])
    c, s = math.cos(a.pitch_rad), math.sin(a.pitch_rad)
    pitch = np.array([[c, 0.0, s], [0.0, 1.0, 0.0], [-s, 0.0, c]])
    found: Array = pitch @ roll
    return found


def _box(b: Block, at: Array) -> tuple[Array, Array]:
    """Its corners seen from the antenna."""
    low, high = np.array(vec(b.min_m, "min_m")), np.array(vec(b.max_m, "max_m"))
    if np.any(low >= high):
        raise Refused("boxes", f"{b.id}: its low corner must be below its high corner")
    if np.all(low < at) and np.all(at < high):
        raise Refused("antenna_m", f"lies inside {b.id}")
    return low - at, high - at


def _rod(r: Rod, at: Array) -> tuple[Array, Array, float]:
    a, b = np.array(vec(r.a_m, "a_m")), np.array(vec(r.b_m, "b_m"))
    radius = not_negative(r.radius_m, "radius_m")
    d = b - a
    square = float(d @ d)
    t = min(1.0, max(0.0, float((at - a) @ d) / square)) if square else 0.0
    if float(np.linalg.norm(at - a - t * d)) < radius:
        raise Refused("antenna_m", f"lies inside {r.id}")
    return a - at, b - at, radius


def _through(rays: Array, low: Array, high: Array) -> NDArray[np.bool_]:
    """Rays that run inside a box for more than nothing, beyond the antenna itself."""
    with np.errstate(divide="ignore", invalid="ignore"):
        one, two = low / rays, high / rays
    near, far = np.minimum(one, two), np.maximum(one, two)
    # Along a wall: inside for ever or never.
    flat = rays == 0.0
    within = (low <= 0.0) & (high >= 0.0)
    near = np.where(flat, np.where(within, -np.inf, np.inf), near)
    far = np.where(flat, np.where(within, np.inf, -np.inf), far)
    begin = np.maximum(near.max(axis=-1), START_M)
    found: NDArray[np.bool_] = far.min(axis=-1) - begin > RUN_M
    return found


def _past(rays: Array, a: Array, b: Array, radius: float) -> NDArray[np.bool_]:
    """Rays that pass nearer to a piece than its radius."""
    v = b - a
    square = float(v @ v)
    along = rays @ v
    # Least of |t d - a - s v| over t >= 0 and 0 <= s <= 1: its corners and edges.
    with np.errstate(divide="ignore", invalid="ignore"):
        det = square - along**2
        s = np.where(det > 1e-15 * max(square, 1e-30), (along * (rays @ a) - v @ a) / det, 0.0)
    best = np.full(along.shape, np.inf)
    for share in (np.clip(s, 0.0, 1.0), np.zeros_like(s), np.ones_like(s)):
        at = a + share[..., None] * v
        t = np.maximum(0.0, np.einsum("...k,...k->...", rays, at))
        best = np.minimum(best, np.linalg.norm(at - t[..., None] * rays, axis=-1))
    # The antenna's own end of the ray.
    t0 = min(1.0, max(0.0, float(-(a @ v)) / square)) if square else 0.0
    best = np.minimum(best, float(np.linalg.norm(a + t0 * v)))
    found: NDArray[np.bool_] = best < radius
    return found
