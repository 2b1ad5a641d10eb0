"""Lists of weight and balance to take away: equipment, stations, parts."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from core.weight.book import Book
from core.weight.figures import ledger_rows
from core.weight.rows import CHANGE, PART, STATION, TANK


def equipment(b: Book) -> Iterable[list[str]]:
    """What was changed since the weighing that counts, and the empty aircraft after each."""
    yield ["day", "what", "done", "mass kg", "arm mm", "to arm mm", "empty kg", "empty arm mm",
           "empty moment kg·m"]  # fmt: skip
    by = {c.slug: c for c in b.of(CHANGE)}
    for r in ledger_rows(b) if b.last_weighing else ():
        after = [f"{r['kg']:.2f}", f"{r['x_mm']:.1f}", f"{r['moment']:.3f}"]
        c = by.get(r["slug"])
        if c is None:
            yield [r["day"], r["name"], "weighed", "", "", "", *after]
            continue
        v = c.values
        to = f"{v['x_to_m'] * 1e3:.0f}" if "x_to_m" in v else ""
        yield [r["day"], r["name"], v["doing"], f"{v['mass_kg']:.3f}", f"{v['x_m'] * 1e3:.0f}", to,
               *after]  # fmt: skip
    for c in b.changes(planned=True):
        v = c.values
        to = f"{v['x_to_m'] * 1e3:.0f}" if "x_to_m" in v else ""
        done = f"{v['doing']}, planned"
        yield [v["day"], c.name, done, f"{v['mass_kg']:.3f}", f"{v['x_m'] * 1e3:.0f}", to]


def stations(b: Book) -> Iterable[list[str]]:
    """Seats, lockers and tanks."""
    yield ["name", "kind", "arm mm", "right mm", "least kg", "most kg", "full l"]
    for r in (*b.of(STATION), *b.of(TANK)):
        v = r.values
        kg = [f"{v[k]:.1f}" if k in v else "" for k in ("min_kg", "max_kg")]
        mm = [f"{v[k] * 1e3:.0f}" if k in v else "" for k in ("x_m", "y_m")]
        full = f"{v['capacity_m3'] * 1e3:.1f}" if "capacity_m3" in v else ""
        yield [r.name, r.kind, *mm, *kg, full]


def parts(b: Book) -> Iterable[list[str]]:
    """Parts of the estimate."""
    yield ["name", "mass kg", "arm mm", "known as"]
    for p in b.of(PART):
        v = p.values
        yield [p.name, f"{v['mass_kg']:.2f}", f"{v['x_m'] * 1e3:.0f}", v["class"]]


LISTS: dict[str, Callable[[Book], Iterable[list[str]]]] = {
    "equipment": equipment,
    "stations": stations,
    "parts": parts,
}
