"""Figures of weight and balance in words."""

from __future__ import annotations

from collections.abc import Mapping


def kg(mass: float, digits: int = 1) -> str:
    """A mass."""
    return f"{mass:.{digits}f} kg".replace("-", "−")


def mm(arm: float, digits: int = 0) -> str:
    """An arm or a margin."""
    return f"{arm * 1e3:.{digits}f} mm".replace("-", "−")


def known_mm(arm: float, U: float) -> str:
    """An arm with its expanded uncertainty."""
    return f"{mm(arm)} ± {U * 1e3:.1f}"


def kgm(moment: float) -> str:
    """A moment."""
    return f"{moment:.1f} kg·m".replace("-", "−")


def loads_said(loads: Mapping[str, float]) -> str:
    """A combination by its stations."""
    on = [f"{name} {kg(load, 0)}" for name, load in loads.items() if load > 0.05]
    none = [name for name, load in loads.items() if load <= 0.05]
    empty = f"; nothing in {', '.join(none)}" if none else ""
    return (", ".join(on) or "nothing on board") + (empty if on else "")
