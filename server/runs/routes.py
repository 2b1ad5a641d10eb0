"""Tubes as other runs meet them."""

from __future__ import annotations

from collections.abc import Iterable

from core.runs.beside import TUBE, Beside
from server.kit.routed import routes
from server.runs.models import Run


@routes(Run)
def tubes(aircraft: int) -> Iterable[Beside]:
    """Those that lie where they were measured."""
    for r in Run.objects.filter(aircraft=aircraft):
        if r.placed:
            way = (tuple(map(tuple, r.points_m)),)
            link = f"lines?line={r.slug}"
            yield Beside(TUBE, r.slug, r.name, r.od_m / 2.0, way, r.service, link=link)
