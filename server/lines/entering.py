"""A tube from what was typed: understood, refused by field, kept beside its text."""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Any

from core.basis.quantities import parse, parse_many
from core.basis.refused import Refused
from core.lines.again import GAP_M
from core.lines.bend import springback
from core.lines.line import Line
from server.aircraft.models import Source
from server.lines.routes import Route, by_bends, corners, old_tube
from server.runs import holes
from server.runs.models import Run

TYPED = (
    "od", "way", "gap_limit", "points", "radii", "start_allowance", "end_allowance",
    "bender_offset", "first_trial",
    "second_trial", "min_radius", "max_spacing", "grip", "start_straight", "end_straight",
    "supports", "edge_gap",
)  # fmt: skip
OWN_WORDS = ("od", "points", "radii", "supports", "min_radius", "max_spacing", "edge_gap")
POSITIVE = ("min_radius", "max_spacing", "edge_gap")
LENGTHS = (
    "start_allowance", "end_allowance", "bender_offset", *POSITIVE, "grip", "start_straight",
    "end_straight",
)  # fmt: skip


def put(r: Run, given: dict[str, Any]) -> None:
    """Put what was typed on a run. Refuses by field what cannot be a tube."""
    unit = r.aircraft.length_unit
    name = " ".join(given["name"].split())
    if not name:
        raise Refused("name", "is needed")
    r.kind, r.name = "tube", name
    r.service, r.material, r.page = given["service"], given["material"], given["page"]
    r.typed = {k: given[k] for k in (*TYPED, "on_former", "held", "holes", "no_holes")}
    r.od_m = _over(given["od"], "od", unit)
    radii = _radii(given["radii"], unit)
    route = _route(given, unit, radii)
    r.points_m = route.points_m
    figures: dict[str, Any] = {
        f"{k}_m": _length(given[k], k, unit) for k in LENGTHS if given[k].strip()
    }
    figures["radii_m"] = _one_each(radii, len(r.points_m) - 2)
    figures |= {"placed": route.placed, "measured": route.findings}
    figures["on_former"] = given["on_former"]
    figures |= _springback(given)
    r.figures = figures
    r.supports_m = _supports(given, unit)
    r.holes = holes.holes_of(given, unit)
    r.source = _source(r, given["source"])
    if r.source is None and any(given[k].strip() for k in POSITIVE):
        raise Refused("source", "say in which document the maker's figure stands")
    # What is no tube at all is refused; one that only breaks a rule is kept and judged.
    line = line_of(r)
    line.tube  # noqa: B018
    holes.checked(line.in_the_aircraft().tolist(), r.holes, line.placed)


def told(r: Run) -> dict[str, str]:
    """What is said of a tube, in words; its maker's figures are told beside (`figures_told`)."""
    typed = r.typed
    along = sum(math.dist(a, b) for a, b in pairwise(r.points_m)) * 1e3
    held = typed["supports"] or ("its ends alone" if typed["held"] else "")
    words = {
        "name": r.name,
        "carries": r.service,
        "material": r.material,
        "outside diameter": typed["od"],
        "route": f"{len(r.points_m)} corners, {along:.1f} mm along them",
        "radii": typed["radii"],
        "held at": held,
        "goes through": holes.told(typed),
    }
    return words | {
        k.replace("_", " "): typed[k] for k in TYPED if k in typed and k not in OWN_WORDS
    }


def figures_told(r: Run) -> dict[str, str]:
    """The maker's figures and where they stand: what changes them has a reason."""
    cited = ", ".join(x for x in (r.source.cited if r.source else "", r.page) if x)
    named = {"least bend radius": "min_radius", "greatest span": "max_spacing"}
    named["gap to a bare edge"] = "edge_gap"
    return {k: r.typed.get(v, "") for k, v in named.items()} | {"document": cited}


def _route(given: dict[str, Any], unit: str, radii: list[float]) -> Route:
    """By its corners, its bends, or an old tube."""
    text, way = given["points"], given["way"]
    if way == "corners":
        return corners(text, unit)
    if given["on_former"]:
        raise Refused("on_former", "a tube that is there has its finished radius: enter that")
    if way == "bends":
        bends = sum(1 for row in text.splitlines() if row.strip()) - 1
        return by_bends(text, unit, _one_each(radii, bends))
    gap = _over(given["gap_limit"], "gap_limit", unit) if given["gap_limit"].strip() else GAP_M
    straights = len([x for x in text.strip().split("\n\n") if x.strip()])
    return old_tube(text, unit, _one_each(radii, straights - 1), gap)


def _length(text: str, field: str, unit: str) -> float:
    value = parse(text, "length", unit, field).si
    if value < 0 and field != "bender_offset":
        raise Refused(field, "must not be negative")
    if value == 0 and field in POSITIVE:
        raise Refused(field, "must be greater than zero")
    return value


def _over(text: str, field: str, unit: str) -> float:
    value = parse(text, "length", unit, field).si
    if value <= 0:
        raise Refused(field, "must be greater than zero")
    return value


def _radii(text: str, unit: str) -> list[float]:
    values = [q.si for q in parse_many(text, "length", unit, "radii")] if text.strip() else []
    if any(v <= 0 for v in values):
        raise Refused("radii", "must be greater than zero")
    return values


def _one_each(values: list[float], bends: int) -> list[float]:
    """One for each bend; a single one is that of all."""
    found = values * bends if len(values) == 1 else values
    if len(found) != max(0, bends):
        raise Refused("radii", f"needs one radius for all bends, or one each: {bends}")
    return found


def _springback(given: dict[str, Any]) -> dict[str, float]:
    trials = [given["first_trial"].strip(), given["second_trial"].strip()]
    if not any(trials):
        return {}
    rows = []
    for name, text in zip(("first_trial", "second_trial"), trials, strict=True):
        values = [q.si for q in parse_many(text, "angle", "deg", name)] if text else []
        if len(values) != 2:
            raise Refused(name, "enter bent to; came back to: two angles parted by ;")
        rows.append(values)
    a, b = springback(*rows)
    return {"springback_a_rad": a, "springback_b": b}


def _supports(given: dict[str, Any], unit: str) -> list[float] | None:
    """Where it is held along the tube; none typed counts only where somebody says so."""
    if given["supports"].strip():
        return [q.si for q in parse_many(given["supports"], "length", unit, "supports")]
    return [] if given["held"] else None


def _source(r: Run, key: int | None) -> Source | None:
    if key is None:
        return None
    found = Source.objects.filter(aircraft=r.aircraft, pk=key).first()
    if found is None:
        raise Refused("source", "is not one of this aircraft's documents")
    return found


NAMES = {"radii_m": "radii", "former_radii_m": "radii", "vertices_m": "points"} | {
    f"{k}_m": k for k in LENGTHS
}


def line_of(r: Run) -> Line:
    """The run as the core takes it. Refuses under the form's names."""
    figures = dict(r.figures)
    radii = tuple(figures.pop("radii_m", ()))
    figures["measured"] = tuple(figures.get("measured", ()))
    cited = ", ".join(x for x in (r.source.cited if r.source else "", r.page) if x)
    line = Line(
        name=r.name,
        material=r.material,
        od_m=r.od_m,
        vertices_m=tuple(tuple(p) for p in r.points_m),
        radii_m=radii,
        holes=holes.read_holes(r.holes),
        supports_m=None if r.supports_m is None else tuple(r.supports_m),
        source=cited,
        **figures,
    )
    try:
        line.card  # noqa: B018
    except Refused as refusal:
        raise Refused(NAMES.get(refusal.field, refusal.field), refusal.reason) from None
    return line
