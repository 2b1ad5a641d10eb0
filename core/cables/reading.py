"""A cables file into what the core computes with, refused by member where it cannot be."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from core.basis.quantities import INCH, parse
from core.basis.refused import Refused, choice, finite, not_negative, positive
from core.basis.vectors import vec
from core.cables.cable import (
    CONSTRUCTIONS,
    MATERIALS,
    STIFFNESS_SHARE,
    CableData,
    cable_data,
    of_figures,
)
from core.cables.document import (
    CABLE_WORDS,
    EDITION,
    END_KINDS,
    FORMAT,
    KINDS,
    MADE_BY,
    MOST_FITTINGS,
    MOST_HOLES,
    MOST_SUPPORTS,
    NOT_SAID,
    OWN,
    PINS,
    SUPPORT_WORDS,
    TARGET_WORDS,
    Cable,
    End,
    Fitting,
    Item,
    Rigging,
    Support,
    Target,
    Turnbuckle,
    expansion,
)
from core.cables.holes import HOLE_WORDS, hole_from
from core.cables.lever import SIDES, Lever
from core.cables.path import Pulley
from core.cables.temperature import Segment, chart_tension
from core.runs.holes import Hole


def rigging_from(data: Any) -> Rigging:
    """The loop in a cables file. Refuses by member what is missing, unknown or cannot be."""
    d = _object(data, "document")
    if d.get("format") != FORMAT or d.get("edition") != EDITION:
        raise Refused("format", f'must be "{FORMAT}", edition {EDITION}')
    _only(
        d,
        "document",
        (
            "format",
            "edition",
            "id",
            "name",
            "driver",
            "driven",
            "sides",
            "target",
            "airframe",
            "frame_compliance",
            "gap",
            "band_share",
            "crossing_source",
        ),
    )
    driver, driven = _lever(d, "driver"), _lever(d, "driven")
    sides = _object(d.get("sides"), "sides")
    cables = {s: _cable(sides, s) for s in SIDES}
    low, high = _pair(_object(d["driver"], "driver").get("range"), "driver.range")
    if not low < 0 < high or max(-low, high) > 1.5:
        raise Refused("driver.range", "must reach both ways from 0, within 1.5 rad")
    share = finite(d.get("band_share", 0.25), "band_share")
    if not 0 < share <= 1:
        raise Refused("band_share", "must be greater than 0 and at most 1")
    return Rigging(
        str(d.get("name") or ""),
        driver,
        driven,
        (str(d["driver"].get("body", "")), str(d["driven"].get("body", ""))),
        (low, high),
        str(d["driver"].get("positive") or ""),
        cables,
        _target(d.get("target")),
        _airframe(d.get("airframe")),
        not_negative(d.get("frame_compliance", 0.0), "frame_compliance"),
        positive(d.get("gap", 0.0508), "gap"),
        share,
        str(d.get("crossing_source") or ""),
    )


def _lever(d: dict[str, Any], name: str) -> Lever:
    at = _object(d.get(name), name)
    more = ("body", "range", "positive") if name == "driver" else ("body",)
    _only(at, name, ("pivot", "axis", "A", "B", *more))
    _needs(at, name, ("pivot", "axis", "A", "B"))
    try:
        return Lever(*(vec(at[k], k) for k in ("pivot", "axis", "A", "B")))
    except Refused as refusal:
        raise Refused(f"{name}.{refusal.field}", refusal.reason) from None


def _cable(sides: dict[str, Any], side: str) -> Cable:
    at = f"sides.{side}"
    c = _object(sides.get(side), at)
    _only(c, at, CABLE_WORDS)
    _needs(c, at, ("construction", "material"))
    construction = choice(c["construction"], CONSTRUCTIONS, f"{at}.construction")
    material = choice(c["material"], MATERIALS, f"{at}.material")
    data, source = _data(c, at, construction, material)
    supports = [
        _support(s, f"{at}.supports.{i}")
        for i, s in enumerate(_list(c.get("supports", []), f"{at}.supports", MOST_SUPPORTS))
    ]
    fittings = [
        _fitting(f, f"{at}.fittings.{i}")
        for i, f in enumerate(_list(c.get("fittings", []), f"{at}.fittings", MOST_FITTINGS))
    ]
    _once(f"{at}.supports", [s.id for s in supports])
    _once(f"{at}.fittings", [f.id for f in fittings])
    items = [
        _item(i, f"{at}.slide_on.{n}")
        for n, i in enumerate(_list(c.get("slide_on", []), f"{at}.slide_on", MOST_FITTINGS))
    ]
    _once(f"{at}.slide_on", [i.name for i in items])
    ends = {e: _end(c.get("ends"), at, e) for e in SIDES}
    return Cable(
        side,
        str(c.get("name") or f"Side {side}"),
        construction,
        material,
        data,
        source,
        tuple(supports),
        tuple(fittings),
        _turnbuckle(c.get("turnbuckle"), at),
        ends,
        tuple(items),
        _holes(c.get("holes"), f"{at}.holes"),
        None if c.get("edge_gap") is None else positive(c["edge_gap"], f"{at}.edge_gap"),
    )


def _holes(things: Any, at: str) -> tuple[Hole, ...] | None:
    """None where nobody said."""
    if things is None:
        return None
    found = []
    for i, thing in enumerate(_list(things, at, MOST_HOLES)):
        h = _object(thing, f"{at}.{i}")
        _only(h, f"{at}.{i}", HOLE_WORDS)
        _needs(h, f"{at}.{i}", ("id", "centre", "d"))
        _name(h["id"], f"{at}.{i}.id")
        found.append(hole_from(h, f"{at}.{i}"))
    _once(at, [h.id for h in found])
    return tuple(found)


def _data(c: dict[str, Any], at: str, construction: str, material: str) -> tuple[CableData, str]:
    """Shipped figures by size, or the user's own with their source; measured stiffness on top."""
    figures = _object(c.get("figures") or {}, f"{at}.figures")
    _only(
        figures,
        f"{at}.figures",
        ("diameter", "breaking", "mass_per_length", "source", "ae", "u_ae"),
    )
    source = str(figures.get("source") or "")
    if figures.get("diameter") is not None:
        _needs(figures, f"{at}.figures", ("breaking", "mass_per_length"))
        if not source.strip():
            raise Refused(f"{at}.figures.source", "is needed: where these figures come from")
        given = (
            positive(figures[k], f"{at}.figures.{k}")
            for k in ("diameter", "breaking", "mass_per_length")
        )
        data = of_figures(construction, material, *given)
    else:
        _needs(c, at, ("diameter_in",))
        try:
            data = cable_data(construction, c["diameter_in"], material)
        except Refused as refusal:
            raise Refused(f"{at}.{refusal.field}", refusal.reason) from None
    if figures.get("ae") is not None:
        ae = positive(figures["ae"], f"{at}.figures.ae")
        u = not_negative(figures.get("u_ae", STIFFNESS_SHARE * ae), f"{at}.figures.u_ae")
        data = CableData(
            data.diameter_m, data.breaking_N, data.mass_per_length_kg_m, data.metal_area_m2, ae, u
        )
    return data, source


def _support(thing: Any, at: str) -> Support:
    s = _object(thing, at)
    _only(s, at, SUPPORT_WORDS)
    _needs(s, at, ("id", "kind", "centre"))
    kind = choice(s["kind"], KINDS, f"{at}.kind")
    if kind == "pulley":
        _needs(s, at, ("axis", "radius", "sense"))
        positive(s["radius"], f"{at}.radius")
    try:
        pulley = Pulley(
            vec(s["centre"], "centre"),
            vec(s.get("axis", [0, 0, 1]), "axis"),
            finite(s.get("radius", 0.0), "radius") if kind == "pulley" else 0.0,
            s.get("sense", 1) if kind == "pulley" else 1,
        )
    except Refused as refusal:
        raise Refused(f"{at}.{refusal.field}", refusal.reason) from None
    lengths = {
        f"{k}_m": positive(s[k], f"{at}.{k}")
        for k in ("groove_radius", "flange_radius", "rim_width", "guard_gap")
        if s.get(k) is not None
    }
    limit, ratio = s.get("misalignment_limit"), s.get("ratio_min")
    guard = choice(s.get("guard", "not looked"), ("yes", "no", "not looked"), f"{at}.guard")
    return Support(
        _name(s["id"], f"{at}.id"),
        kind,
        pulley,
        positive(s.get("length", 0.02), f"{at}.length") / 2.0
        if kind != "pulley"
        else pulley.radius_m,
        str(s.get("bank") or ""),
        int(finite(s.get("place", 0), f"{at}.place")),
        misalignment_limit_rad=None
        if limit is None
        else positive(limit, f"{at}.misalignment_limit"),
        ratio_min=None if ratio is None else positive(ratio, f"{at}.ratio_min"),
        guard=guard,
        **lengths,
    )


def _fitting(thing: Any, at: str) -> Fitting:
    f = _object(thing, at)
    _only(f, at, ("id", "kind", "at", "radius"))
    _needs(f, at, ("id", "kind", "at"))
    low, high = _pair(f["at"], f"{at}.at")
    if high <= low:
        raise Refused(f"{at}.at", "must be its low and its high station")
    kind = choice(f["kind"], ("turnbuckle", "terminal", "sleeve", "shackle"), f"{at}.kind")
    radius = positive(f["radius"], f"{at}.radius") if "radius" in f else None
    return Fitting(_name(f["id"], f"{at}.id"), kind, low, high, radius)


def _turnbuckle(thing: Any, at: str) -> Turnbuckle | None:
    if thing is None:
        return None
    at = f"{at}.turnbuckle"
    t = _object(thing, at)
    _only(t, at, ("threads_per_inch", "showing", "limit"))
    _needs(t, at, ("threads_per_inch", "showing"))
    counts = _pair(t["threads_per_inch"], f"{at}.threads_per_inch")
    for n in counts:
        positive(n, f"{at}.threads_per_inch")
    showing = _pair(t["showing"], f"{at}.showing")
    for n in showing:
        not_negative(n, f"{at}.showing")
    limit = positive(t.get("limit", 3.0), f"{at}.limit")
    return Turnbuckle((INCH / counts[0], INCH / counts[1]), showing, limit)


def _end(ends: Any, at: str, end: str) -> End:
    at = f"{at}.ends.{end}"
    e = _object(_object(ends or {}, at).get(end) or {}, at)
    _only(e, at, ("kind", "size", "made_by", "pin", "pin_source"))
    return End(
        choice(e.get("kind", NOT_SAID), (*END_KINDS, NOT_SAID), f"{at}.kind"),
        positive(e["size"], f"{at}.size") if "size" in e else None,
        choice(e.get("made_by", NOT_SAID), (*MADE_BY, NOT_SAID), f"{at}.made_by"),
        choice(e.get("pin", NOT_SAID), (*PINS, NOT_SAID), f"{at}.pin"),
        str(e.get("pin_source") or ""),
    )


def _item(thing: Any, at: str) -> Item:
    i = _object(thing, at)
    _only(i, at, ("name", "bore"))
    _needs(i, at, ("name", "bore"))
    return Item(_name(i["name"], f"{at}.name"), positive(i["bore"], f"{at}.bore"))


def _target(thing: Any) -> Target | None:
    if thing is None:
        return None
    t = _object(thing, "target")
    _only(t, "target", TARGET_WORDS)
    _needs(t, "target", ("tension", "at", "minus", "plus"))
    force = {
        k: parse(str(t.get(k) or "0 N"), "force", "lbf", f"target.{k}").si
        for k in ("tension", "minus", "plus", "u")
    }
    positive(force["tension"], "target.tension")
    for k in ("minus", "plus", "u"):
        not_negative(force[k], f"target.{k}")
    at = parse(str(t["at"]), "temperature", "C", "target.at").si
    chart = tuple(
        _pair(p, f"target.chart.{i}")
        for i, p in enumerate(_list(t.get("chart") or [], "target.chart", 60))
    )
    if chart:
        chart_tension(chart, chart[0][0])
    return Target(
        force["tension"],
        at,
        force["minus"],
        force["plus"],
        force["u"],
        bool(t.get("same", False)),
        chart,
        "N" if parse(str(t["tension"]), "force", "lbf").unit in ("N", "daN", "kgf") else "lbf",
    )


def _airframe(things: Any) -> tuple[Segment, ...]:
    found = []
    for i, thing in enumerate(_list(things or [], "airframe", 20)):
        at = f"airframe.{i}"
        s = _object(thing, at)
        _only(s, at, ("material", "length", "alpha", "u_alpha"))
        _needs(s, at, ("material", "length"))
        length = positive(s["length"], f"{at}.length")
        if s["material"] == OWN:
            _needs(s, at, ("alpha", "u_alpha"))
            found.append(
                Segment(
                    length,
                    finite(s["alpha"], f"{at}.alpha"),
                    not_negative(s["u_alpha"], f"{at}.u_alpha"),
                )
            )
            continue
        try:
            found.append(expansion(s["material"], length))
        except Refused as refusal:
            raise Refused(f"{at}.material", refusal.reason) from None
    return tuple(found)


def _object(thing: Any, at: str) -> dict[str, Any]:
    if not isinstance(thing, dict):
        raise Refused(at, "must be an object")
    return thing


def _list(thing: Any, at: str, most: int) -> list[Any]:
    if not isinstance(thing, list):
        raise Refused(at, "must be a list")
    if len(thing) > most:
        raise Refused(at, f"must be at most {most}")
    return thing


def _pair(thing: Any, at: str) -> tuple[float, float]:
    if not isinstance(thing, list) or len(thing) != 2:
        raise Refused(at, "must be two numbers")
    return finite(thing[0], at), finite(thing[1], at)


def _name(thing: Any, at: str) -> str:
    if not isinstance(thing, str) or not thing.strip() or len(thing) > 60:
        raise Refused(at, "must be a name of at most 60 letters")
    return thing.strip()


def _needs(d: dict[str, Any], at: str, names: Sequence[str]) -> None:
    for name in names:
        if d.get(name) is None:
            raise Refused(f"{at}.{name}", "is needed")


def _only(d: dict[str, Any], at: str, names: Sequence[str]) -> None:
    for name in d:
        if name not in names:
            raise Refused(f"{at}.{name}", "is not known here")


def _once(at: str, names: Sequence[str]) -> None:
    for i, name in enumerate(names):
        if name in names[:i]:
            raise Refused(f"{at}.{name}", "is there twice")
