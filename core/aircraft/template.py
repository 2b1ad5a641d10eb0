"""A first airframe for a newcomer, from a few words about it (this product's own shapes).

The outlines are only somewhere to start: every limit is then changed to the real one.
Lengths in m; station 0 at the datum, here half a metre ahead of the nose.
"""

from __future__ import annotations

from dataclasses import dataclass

from core.aircraft.bays import Limits
from core.basis.refused import choice, within

ENGINES = ("tractor", "pusher")
WINGS = ("low", "shoulder", "high")
GEARS = ("nose wheel", "tailwheel")
TAILS = ("on the fuselage", "on the fin", "none aft")
NOSE_M = 0.5


@dataclass(frozen=True)
class Described:
    """What the builder says of the aircraft."""

    engine: str
    wing: str
    gear: str
    length_m: float = 6.0
    span_m: float = 9.0
    tail: str = "on the fuselage"


@dataclass(frozen=True)
class TemplateClosure:
    """A closure of a new airframe; `above`: on the upper side."""

    name: str
    bays: tuple[str, ...]
    permanent: bool
    above: bool


@dataclass(frozen=True)
class TemplateBay:
    """A bay of a new airframe."""

    slug: str
    name: str
    part: str
    limits: Limits


@dataclass(frozen=True)
class Airframe:
    """Bays, closures and outlines ([station, water line] and [station, butt line], m)."""

    bays: tuple[TemplateBay, ...]
    closures: tuple[TemplateClosure, ...]
    outline: dict[str, list[list[float]]]


def airframe(d: Described) -> Airframe:
    """A first airframe. Refuses words it does not know, and lengths of no kit aircraft."""
    choice(d.engine, ENGINES, "engine")
    choice(d.wing, WINGS, "wing")
    choice(d.gear, GEARS, "gear")
    choice(d.tail, TAILS, "tail")
    within(d.length_m, 3.0, 15.0, "length", "3 to 15 m")
    within(d.span_m, 4.0, 25.0, "span", "4 to 25 m")
    fuselage = _fuselage(d)
    wing = _wing(d)
    fin = _fin(d)
    bays = (*fuselage, *wing, *_tail(d), fin)
    return Airframe(bays, tuple(_closures(d, bays)), _outline(d))


# Share of the length at which each fuselage bay begins, and its name.
_TRACTOR = (
    (0.00, "nose", "Nose"),
    (0.16, "footwell", "Footwell"),
    (0.25, "cabin-floor", "Cabin floor"),
    (0.43, "baggage", "Baggage"),
    (0.54, "aft-fuselage", "Aft fuselage"),
    (0.84, "tail-cone", "Tail cone"),
)
_PUSHER = (
    (0.00, "nose", "Nose"),
    (0.12, "footwell", "Footwell"),
    (0.24, "cabin-floor", "Cabin floor"),
    (0.46, "engine-bay", "Engine bay"),
    (0.64, "aft-fuselage", "Aft fuselage"),
    (0.86, "tail-cone", "Tail cone"),
)
_HALF_WIDTH = 0.55
_TOP, _BOTTOM = 1.35, 0.05
_FIN_TOP = 1.75


def _rows(d: Described) -> tuple[tuple[float, str, str], ...]:
    return _TRACTOR if d.engine == "tractor" else _PUSHER


def _at(d: Described, share: float) -> float:
    return round(NOSE_M + share * d.length_m, 3)


def _fuselage(d: Described) -> list[TemplateBay]:
    rows = _rows(d)
    ends = [*(share for share, _, _ in rows[1:]), 1.0]
    bays = []
    for (share, slug, name), end in zip(rows, ends, strict=True):
        mid = (share + end) / 2.0
        limits = Limits(
            (_at(d, share), _at(d, end)),
            (-_width(mid), _width(mid)),
            (_low(d, mid), _high(d, mid)),
        )
        bays.append(TemplateBay(slug, name, "fuselage", limits))
    return bays


def _width(share: float) -> float:
    if share < 0.54:
        return _HALF_WIDTH
    return round(_HALF_WIDTH * (1.0 - 0.8 * (share - 0.54) / 0.46), 3)


def _low(d: Described, share: float) -> float:
    rise = 0.55 if d.gear == "nose wheel" else 0.3
    return round(_BOTTOM + (rise * (share - 0.5) / 0.5 if share > 0.5 else 0.0), 3)


def _high(d: Described, share: float) -> float:
    if share < 0.2:
        return 0.85
    if share < 0.5:
        return _TOP
    return round(_TOP - 0.5 * (share - 0.5) / 0.5, 3)


def _wing(d: Described) -> list[TemplateBay]:
    level = {"low": 0.1, "shoulder": 1.0, "high": 1.3}[d.wing]
    front = _at(d, 0.3 if d.engine == "tractor" else 0.38)
    half = d.span_m / 2.0
    cuts = [
        _HALF_WIDTH,
        *(round(_HALF_WIDTH + s * (half - _HALF_WIDTH), 3) for s in (0.3, 0.75, 1.0)),
    ]
    bays = []
    for side, sign in (("left", -1.0), ("right", 1.0)):
        for name, near, far in zip(("root", "mid", "tip"), cuts, cuts[1:], strict=False):
            y = tuple(sorted((sign * near, sign * far)))
            limits = Limits((front, round(front + 1.2, 3)), (y[0], y[1]), (level, level + 0.18))
            bays.append(
                TemplateBay(f"{side}-{name}", f"{side.title()} wing {name}", f"{side} wing", limits)
            )
    return bays


def _fin(d: Described) -> TemplateBay:
    # It stands on the tail cone.
    foot = _high(d, (_rows(d)[-1][0] + 1.0) / 2.0)
    limits = Limits((_at(d, 0.9), _at(d, 1.01)), (-0.06, 0.06), (foot, _FIN_TOP))
    return TemplateBay("fin", "Fin", "fin", limits)


def _tail(d: Described) -> list[TemplateBay]:
    """Each half of the tailplane, from the fuselage's side or the fin's outwards."""
    if d.tail == "none aft":
        return []
    tip = round(0.34 * d.span_m / 2.0, 3)
    if d.tail == "on the fin":
        near, level = 0.06, _FIN_TOP
    else:
        mid = (_rows(d)[-1][0] + 1.0) / 2.0
        near, level = _width(mid), round(_high(d, mid) - 0.12, 3)
    station, height = (_at(d, 0.88), _at(d, 1.0)), (level, round(level + 0.1, 3))
    return [
        TemplateBay(
            "left-tailplane", "Left tailplane", "left tail", Limits(station, (-tip, -near), height)
        ),
        TemplateBay(
            "right-tailplane", "Right tailplane", "right tail", Limits(station, (near, tip), height)
        ),
    ]


def _closures(d: Described, bays: tuple[TemplateBay, ...]) -> list[TemplateClosure]:
    def lid(name: str, *over: str, permanent: bool = False, above: bool = True) -> TemplateClosure:
        return TemplateClosure(name, over, permanent, above)

    closures = [
        lid("Nose cover" if d.engine == "pusher" else "Cowl", "nose"),
        lid("Glareshield", "footwell"),
        lid("Seat pans", "cabin-floor"),
        lid("Belly skin", "footwell", "cabin-floor", permanent=True, above=False),
        lid("Aft top skin", "aft-fuselage", permanent=True),
        lid("Tail fairing", "tail-cone", above=False),
        lid("Fin cap", "fin"),
    ]
    closures.append(
        lid("Engine cover", "engine-bay")
        if d.engine == "pusher"
        else lid("Baggage floor", "baggage", permanent=True, above=False)
    )
    for side in ("left", "right"):
        closures.append(
            lid(
                f"{side.title()} lower skin",
                f"{side}-root",
                f"{side}-mid",
                permanent=True,
                above=False,
            )
        )
        closures.append(lid(f"{side.title()} tip", f"{side}-tip"))
        if d.tail != "none aft":
            closures.append(lid(f"{side.title()} tailplane tip", f"{side}-tailplane"))
    return closures


def _outline(d: Described) -> dict[str, list[list[float]]]:
    """Side profile from the same heights as the bays, plan from the same widths."""
    shares = (0.0, 0.04, 0.16, 0.25, 0.33, 0.43, 0.54, 0.7, 0.85, 1.0)
    top, bottom, plan = [], [], []
    for s in shares:
        x = _at(d, s)
        nose = 0.72 if s == 0.0 else 1.0
        top.append([x, round(_high(d, max(s, 0.01)) * nose, 3)])
        bottom.append([x, 0.3 if s == 0.0 else _low(d, s)])
        plan.append([x, 0.2 if s == 0.0 else _width(s)])
    fin = [[_at(d, 0.86), top[-1][1]], [_at(d, 0.92), _FIN_TOP], [_at(d, 1.01), _FIN_TOP]]
    fin.append([_at(d, 1.0), top[-1][1]])
    return {"top": top, "bottom": bottom, "fin": fin, "plan": plan}
