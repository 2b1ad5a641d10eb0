"""Addresses of what people name: never given twice, even after the first was taken away."""

from __future__ import annotations

from collections.abc import Container
from typing import Any

from django.utils.text import slugify

from server.aircraft.models import Aircraft


def slug_for(model: Any, aircraft: Aircraft, name: str) -> str:
    """A slug of that name that is free on this aircraft and was nobody's before.

    What was signed or noted under a slug is found by it: it must not become another's.
    """
    base = slugify(name)[:40] or "item"
    taken = set(model.objects.filter(aircraft=aircraft).values_list("slug", flat=True))
    past = getattr(model, "history", None)
    if past is not None:
        taken |= set(past.filter(aircraft=aircraft).values_list("slug", flat=True))
    return free(base, taken)


def anywhere(model: Any, base: str) -> str:
    """A slug that is free among all rows of a model."""
    begun = model.objects.filter(slug__startswith=base)
    return free(base, set(begun.values_list("slug", flat=True)))


def free(base: str, taken: Container[str]) -> str:
    """The base, or with the first number that is not taken."""
    slug, n = base, 2
    while slug in taken:
        slug, n = f"{base}-{n}", n + 1
    return slug
