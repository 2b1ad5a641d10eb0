"""Empty weight and centre of gravity from three scales or more (`weight.weighing`).

Nets are k (G - T) + o; arms lie on the floor or on the body; the attitude is allowed for through
the height of the centre of gravity; things put in and taken out are added; every input's
uncertainty is carried through to the result.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from core.basis.forms import ABSENT
from core.basis.propagation import Uncertain, cosine, known, of, sine, total
from core.basis.refused import Refused, finite, not_negative, positive
from core.weight.words import GUM, STATICS, MassFraction, Moment, rule

MOST_IMBALANCE = 0.05
LEAST_SPREAD_M = 1e-3
Wheel = Literal["nose", "tail", "left", "right", "other"]


@dataclass(frozen=True)
class Scale:
    """A wheel on its scale."""

    wheel: Annotated[Wheel, "Which wheel stands on it."]
    gross_kg: Annotated[float, "Shown with the wheel on it."]
    x_m: Annotated[float, "Arm of the contact point."]
    tare_kg: Annotated[float, "Chocks and ramps."] = 0.0
    factor: Annotated[MassFraction, "True over indicated, of its calibration."] = 1.0
    offset_kg: Annotated[float, "Still shown after zeroing with the chocks on, as an error."] = 0.0
    y_m: Annotated[float | None, "To the right of the middle."] = None
    z_m: Annotated[float | None, "Up, only with arms of the body."] = None
    u_gross_kg: Annotated[float, "Standard uncertainty of it."] = 0.0
    u_tare_kg: Annotated[float, "Of the tare."] = 0.0
    u_factor: Annotated[MassFraction, "Of the factor."] = 0.0
    u_offset_kg: Annotated[float, "Of the offset."] = 0.0
    u_x_m: Annotated[float, "Of the arm."] = 0.0
    u_y_m: Annotated[float, "Of the lateral arm."] = 0.0
    u_z_m: Annotated[float, "Of the height."] = 0.0


@dataclass(frozen=True)
class Correction:
    """Something put in (+) or taken out (-) after the weighing."""

    mass_kg: Annotated[float, "Signed."]
    x_m: Annotated[float, "Its arm."]
    name: Annotated[str, "What it is."] = ""
    y_m: Annotated[float, "Its lateral arm."] = 0.0
    u_mass_kg: Annotated[float, "Standard uncertainty of its mass."] = 0.0
    u_x_m: Annotated[float, "Of its arm."] = 0.0
    u_y_m: Annotated[float, "Of its lateral arm."] = 0.0


@dataclass(frozen=True)
class Setup:
    """How the aircraft stands, and what all scales and arms share."""

    arms: Annotated[Literal["floor", "body"], "Measured on the floor, or known on the body."] = (
        "floor"
    )
    pitch_rad: Annotated[float, "Nose up positive."] = 0.0
    roll_rad: Annotated[float, "Right wing down positive."] = 0.0
    u_pitch_rad: Annotated[float, "Standard uncertainty of it."] = 0.0
    u_roll_rad: Annotated[float, "Standard uncertainty of it."] = 0.0
    cg_z_m: Annotated[float | None, "Height of the centre of gravity over the datum mark."] = None
    u_cg_z_m: Annotated[float, "Standard uncertainty of it."] = 0.0
    h_bound_m: Annotated[float | None, "Or how high or low it can be at most."] = None
    level_tolerance_rad: Annotated[float, "Still level; 0.25°."] = math.radians(0.25)
    correction_limit_rad: Annotated[float, "Never further than; 2°."] = math.radians(2.0)
    u_datum_m: Annotated[float, "Shifts every arm alike."] = 0.0
    u_factor_common: Annotated[MassFraction, "A calibration error that all scales share."] = 0.0


@dataclass(frozen=True)
class Weighed:
    """What the scales say, before and after the corrections."""

    net_kg: Annotated[tuple[float, ...], "Of each scale."]
    weighed_mass_kg: Annotated[float, "Before corrections."]
    weighed_x_m: Annotated[float, "Before corrections."]
    weighed_y_m: Annotated[float | None, "Before corrections; null: not measured."]
    mass_kg: Annotated[float, "Empty mass."]
    moment_kg_m: Annotated[Moment, "About the datum."]
    lateral_moment_kg_m: Annotated[Moment | None, "About the middle."]
    x_m: Annotated[float, "Centre of gravity aft of the datum."]
    y_m: Annotated[float | None, "To the right of the middle."]
    U_mass_kg: Annotated[float, "Expanded uncertainty of the mass."]
    U_x_m: Annotated[float, "Of the arm."]
    U_y_m: Annotated[float | None, "Of the lateral arm."]
    U_moment_kg_m: Annotated[Moment, "Of the moment."]
    attitude_in_budget: Annotated[bool, "Whether the attitude's uncertainty counts."]
    between_wheels: Annotated[bool, "Whether it lies between the first and the last wheel."]
    main_imbalance: Annotated[MassFraction | None, "(right - left)/(right + left)."]
    nose_share: Annotated[MassFraction | None, "Of the mass on the nose wheel.", ABSENT] = None
    tail_share: Annotated[MassFraction | None, "Of the mass on the tail wheel.", ABSENT] = None


@dataclass(frozen=True)
class Budget:
    """Mass, arm and moment with every input's part in them."""

    nets: tuple[Uncertain, ...]
    weighed_mass: Uncertain
    weighed_x: Uncertain
    weighed_y: Uncertain | None
    mass: Uncertain
    moment: Uncertain
    x: Uncertain
    lateral_moment: Uncertain | None
    y: Uncertain | None


@rule(
    "weight.weighing",
    title="Weighing",
    purpose="Empty weight and centre of gravity from the scales, and how sure they are.",
    source=f"{STATICS} {GUM}",
    validity="Pitch and roll one at a time: at 2° each the neglected cross term is below 0.0012 of"
    " the height. Beyond the correction limit the aircraft must be levelled.",
    caution="Brakes off, no wind, doors as in flight, nobody on board; chock the aircraft, do not"
    " climb on it while the tail is raised. The approved weight and balance data, the kit maker's"
    " limits and local rules come first. Have a second person check the weighing.",
)
def weighing(
    scales: Annotated[tuple[Scale, ...], "At least three."],
    setup: Setup = Setup(),
    corrections: Annotated[tuple[Correction, ...], "Put in and taken out."] = (),
) -> Weighed:
    """kg, m. Refuses under three scales, a net not above zero, wheels on the wrong side of each
    other, an aircraft that is not level without a height, and corrections that leave no mass."""
    b = budget(scales, setup, corrections)
    bound = 0.0 if setup.cg_z_m is not None else setup.h_bound_m or 0.0
    by_pitch = b.weighed_mass.value * bound * (abs(setup.pitch_rad) + 2.0 * setup.u_pitch_rad)
    by_roll = b.weighed_mass.value * bound * (abs(setup.roll_rad) + 2.0 * setup.u_roll_rad)
    mass = b.weighed_mass.value
    left, right = (_on(scales, b.nets, w) for w in ("left", "right"))
    nose, tail = (_on(scales, b.nets, w) for w in ("nose", "tail"))
    at = [s.x_m for s in scales]
    return Weighed(
        net_kg=tuple(n.value for n in b.nets),
        weighed_mass_kg=mass,
        weighed_x_m=b.weighed_x.value,
        weighed_y_m=b.weighed_y.value if b.weighed_y else None,
        mass_kg=b.mass.value,
        moment_kg_m=b.moment.value,
        lateral_moment_kg_m=b.lateral_moment.value if b.lateral_moment else None,
        x_m=b.x.value,
        y_m=b.y.value if b.y else None,
        U_mass_kg=b.mass.U,
        U_x_m=b.x.U + by_pitch / b.mass.value,
        U_y_m=b.y.U + by_roll / b.mass.value if b.y else None,
        U_moment_kg_m=b.moment.U + by_pitch,
        attitude_in_budget=setup.cg_z_m is not None or setup.h_bound_m is not None,
        between_wheels=min(at) < b.x.value < max(at),
        main_imbalance=(right - left) / (right + left) if left and right else None,
        nose_share=nose / mass if nose else None,
        tail_share=tail / mass if tail else None,
    )


def budget(scales: Sequence[Scale], setup: Setup, corrections: Sequence[Correction]) -> Budget:
    """The weighing with each input's part in the result. Refuses as the rule does."""
    _attitude(setup)
    _wheels(scales, setup.arms)
    counts = setup.cg_z_m is not None
    pitch = known("pitch", setup.pitch_rad, setup.u_pitch_rad if counts else 0.0)
    roll = known("roll", setup.roll_rad, setup.u_roll_rad if counts else 0.0)
    height = known("height of the centre of gravity", setup.cg_z_m or 0.0, setup.u_cg_z_m)
    common = known("calibration of all scales", 1.0, setup.u_factor_common)
    labels = labelled([s.wheel for s in scales])
    nets = [_net(n, s, labels[n], common) for n, s in enumerate(scales)]
    mass = total(nets)
    x = _along(scales, labels, nets, "x", setup.arms, pitch) / mass
    sure_y = all(s.y_m is not None for s in scales)
    y = _along(scales, labels, nets, "y", setup.arms, roll) / mass if sure_y else None
    if counts:
        x = (x - height * sine(pitch)) / cosine(pitch)
        y = (y - height * sine(roll)) / cosine(roll) if y else None
    return _corrected(nets, mass, x, y, corrections, known("datum", 0.0, setup.u_datum_m))


def _corrected(
    nets: Sequence[Uncertain],
    mass: Uncertain,
    x: Uncertain,
    y: Uncertain | None,
    corrections: Sequence[Correction],
    datum: Uncertain,
) -> Budget:
    whole, moment = mass, mass * (x + datum)
    lateral = mass * y if y else None
    for n, c in enumerate(corrections):
        label = c.name or f"correction {n + 1}"
        m = known(f"mass of {label}", finite(c.mass_kg, f"corrections.{n}.mass_kg"),
                  not_negative(c.u_mass_kg, f"corrections.{n}.u_mass_kg"))  # fmt: skip
        at = known(f"arm of {label}", finite(c.x_m, f"corrections.{n}.x_m"),
                   not_negative(c.u_x_m, f"corrections.{n}.u_x_m"))  # fmt: skip
        beside = known(f"lateral arm of {label}", finite(c.y_m, f"corrections.{n}.y_m"),
                       not_negative(c.u_y_m, f"corrections.{n}.u_y_m"))  # fmt: skip
        whole, moment = whole + m, moment + m * (at + datum)
        lateral = lateral + m * beside if lateral else None
    if whole.value <= 0.0:
        raise Refused("corrections", "leave no mass")
    return Budget(
        tuple(nets), mass, x, y, whole, moment, moment / whole, lateral,
        lateral / whole if lateral else None,
    )  # fmt: skip


def labelled(wheels: Sequence[str]) -> list[str]:
    """Each wheel in words; of several of one name, with its place."""
    return [
        f"{w} wheel" if wheels.count(w) == 1 else f"{w} wheel {n + 1}" for n, w in enumerate(wheels)
    ]


def _net(n: int, s: Scale, label: str, common: Uncertain) -> Uncertain:
    """k (G - T) + o, with the factor's common error."""
    at = f"scales.{n}"
    gross = known(f"reading, {label}", finite(s.gross_kg, f"{at}.gross_kg"),
                  not_negative(s.u_gross_kg, f"{at}.u_gross_kg"))  # fmt: skip
    tare = known(f"tare, {label}", not_negative(s.tare_kg, f"{at}.tare_kg"),
                 not_negative(s.u_tare_kg, f"{at}.u_tare_kg"))  # fmt: skip
    factor = known(f"calibration, {label}", positive(s.factor, f"{at}.factor"),
                   not_negative(s.u_factor, f"{at}.u_factor"))  # fmt: skip
    offset = known(f"zero, {label}", finite(s.offset_kg, f"{at}.offset_kg"),
                   not_negative(s.u_offset_kg, f"{at}.u_offset_kg"))  # fmt: skip
    shown = gross - tare
    # The common error is one quantity added to every factor.
    net = (factor + (common - 1.0)) * shown + offset
    if net.value <= 0.0:
        raise Refused(f"{at}.gross_kg", "net reading must be above 0")
    return net


def _along(
    scales: Sequence[Scale],
    labels: Sequence[str],
    nets: Sequence[Uncertain],
    axis: str,
    arms: str,
    angle: Uncertain,
) -> Uncertain:
    """Moment on the floor, before the height is allowed for."""
    moments = []
    for n, (s, net) in enumerate(zip(scales, nets, strict=True)):
        at = s.x_m if axis == "x" else s.y_m or 0.0
        u = not_negative(s.u_x_m if axis == "x" else s.u_y_m, f"scales.{n}.u_{axis}_m")
        where = known(f"{'arm' if axis == 'x' else 'lateral arm'}, {labels[n]}", at, u)
        if arms == "body":
            z = known(f"height, {labels[n]}", s.z_m or 0.0,
                      not_negative(s.u_z_m, f"scales.{n}.u_z_m"))  # fmt: skip
            where = where * cosine(angle) + z * sine(angle)
        moments.append(net * where)
    return total(moments)


def _attitude(a: Setup) -> None:
    for name in ("level_tolerance_rad", "correction_limit_rad", "u_pitch_rad", "u_roll_rad",
                 "u_cg_z_m", "u_datum_m", "u_factor_common"):  # fmt: skip
        not_negative(getattr(a, name), name)
    if a.h_bound_m is not None:
        not_negative(a.h_bound_m, "h_bound_m")
    if a.cg_z_m is not None:
        finite(a.cg_z_m, "cg_z_m")
    for name in ("pitch_rad", "roll_rad"):
        angle = finite(getattr(a, name), name)
        if abs(angle) > a.correction_limit_rad:
            raise Refused(name, "is beyond what can be corrected: level the aircraft")
        if a.cg_z_m is None and abs(angle) > a.level_tolerance_rad:
            said = "is not level: level it, or give the height of the centre of gravity"
            raise Refused(name, said)
    if a.arms == "body" and a.cg_z_m is None and (a.pitch_rad or a.roll_rad):
        raise Refused("cg_z_m", "is needed off level with arms of the body")


def _wheels(scales: Sequence[Scale], arms: str) -> None:
    if len(scales) < 3:
        raise Refused("scales", "at least three scales are needed")
    at = [finite(s.x_m, f"scales.{n}.x_m") for n, s in enumerate(scales)]
    if max(at) - min(at) < LEAST_SPREAD_M:
        raise Refused("scales", "all stand at one arm: nothing can be told of balance")
    mains = [s.x_m for s in scales if s.wheel in ("left", "right")]
    for n, s in enumerate(scales):
        where = f"scales.{n}"
        if mains and s.wheel == "nose" and s.x_m >= min(mains):
            raise Refused(f"{where}.x_m", "the nose wheel must be ahead of the main wheels")
        if mains and s.wheel == "tail" and s.x_m <= max(mains):
            raise Refused(f"{where}.x_m", "the tail wheel must be behind the main wheels")
        y = None if s.y_m is None else finite(s.y_m, f"{where}.y_m")
        if y is not None and s.wheel == "left" and y >= 0.0:
            raise Refused(f"{where}.y_m", "the left wheel must lie left: below 0")
        if y is not None and s.wheel == "right" and y <= 0.0:
            raise Refused(f"{where}.y_m", "the right wheel must lie right: above 0")
        if arms == "body":
            if s.z_m is None:
                raise Refused(f"{where}.z_m", "is needed with arms of the body")
            finite(s.z_m, f"{where}.z_m")


def _on(scales: Sequence[Scale], nets: Sequence[Uncertain], wheel: str) -> float:
    return math.fsum(of(n).value for s, n in zip(scales, nets, strict=True) if s.wheel == wheel)
