"""A change of a linkage in words, and what it leaves engaged."""

from __future__ import annotations

from server.controls.linkage.built import built_rod
from server.controls.linkage.models import Mechanism


def said_of(m: Mechanism, name: str, n: int) -> str:
    """A change in words."""
    count = f"{abs(n)} half-turn{'' if abs(n) == 1 else 's'}"
    plain = name.replace("_", " ")
    rod = next((r for r in m.rods.all() if r.slug == name), None)
    if rod is not None:
        at = {"tube": "its tube", "end_a": f"its end at {rod.a['body']}"}
        at["end_b"] = f"its end at {rod.b['body']}"
        where = at.get(rod.record.get("turned", ""), "it").replace("_", " ")
        return f"{'Lengthen' if n > 0 else 'Shorten'} {plain}: {count} of {where}"
    stop = next(s for s in m.stops.all() if s.slug == name)
    out = (n * (stop.step or 0.0) > 0) == (stop.side == "max")
    return f"Move stop {plain} {count} {'out: more travel' if out else 'in: less travel'}"


def _engagement_after(m: Mechanism, name: str, n: int) -> list[str]:
    rod = next(r for r in m.rods.all() if r.slug == name)
    built = built_rod(rod)
    said = []
    for end, e in built.after(n).items():
        engaged = built.engaged(end, n) or 0.0
        threads = engaged / built.si[f"pitch_{end}"]
        where = getattr(rod, end)["body"].replace("_", " ")
        said.append(
            f"Then {threads:.0f} threads ({engaged * 1e3:.1f} mm) are engaged at {where}, needs"
            f" {e.required * 1e3:.1f} mm: {e.verdict.value}."
        )
    return said
