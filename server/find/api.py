"""Find: results by bay, with a picture, and what must be opened to reach each."""

from __future__ import annotations

from collections import defaultdict
from typing import TypedDict

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.aircraft.access import member
from server.aircraft.models import Bay, Closure
from server.closing.reaching import Airframe, airframe, item, said
from server.config.shapes import answer
from server.find.models import Findable
from server.find.search import search
from server.record.models import Photo


class FoundShown(TypedDict):
    """One thing found, and the way to it."""

    kind: str
    title: str
    text: str
    link: str
    way: str
    reach: str
    place: str


class FoundBay(TypedDict):
    """What was found in one bay (empty slug: outside all bays)."""

    bay: str
    name: str
    photo: str
    photo_alt: str
    closures: list[str]
    results: list[FoundShown]


class FindShown(TypedDict):
    """All that was found."""

    q: str
    count: int
    bays: list[FoundBay]


class FindView(APIView):
    """One search over everything."""

    @extend_schema(parameters=[OpenApiParameter("q", str)], responses=answer(FindShown))
    def get(self, request: Request, slug: str) -> Response:
        """Names, labels, notes, parts, bays; grouped by bay."""
        who = member(request, slug)
        asked = request.query_params.get("q", "")
        found = search(who.aircraft, asked)
        frame = airframe(who.aircraft)
        points = [item(f"{f.kind}/{f.key}", f.point_m) for f in found if f.point_m]
        reached = frame.reach(points) if frame.has_arm and points else {}
        ways = {key: (said(r, frame.names), r.status) for key, r in reached.items()}
        return Response(
            FindShown(q=asked, count=len(found), bays=_bays(who.aircraft_id, frame, found, ways))
        )


def _bays(
    aircraft: int, frame: Airframe, found: list[Findable], ways: dict[str, tuple[str, str]]
) -> list[FoundBay]:
    closures = list(Closure.objects.filter(aircraft=aircraft).prefetch_related("bays"))
    over: dict[str, list[str]] = defaultdict(list)
    of_closure: dict[str, list[str]] = {}
    for c in closures:
        of_closure[c.slug] = [b.slug for b in c.bays.all()]
        kind = "permanent" if c.permanent else "removable"
        for bay in of_closure[c.slug]:
            over[bay].append(f"{c.name} ({kind}, {'closed' if c.closed else 'open'})")
    grouped: dict[str, list[Findable]] = {}
    for f in found:
        bays = f.bays or (of_closure.get(f.key, []) if f.kind == "closure" else [])
        for bay in bays or [""]:
            grouped.setdefault(bay, []).append(f)
    names = dict(Bay.objects.filter(aircraft=aircraft).values_list("slug", "name"))
    newest = Photo.objects.filter(aircraft=aircraft, bay__slug__in=grouped)
    photos = {
        p.bay.slug: p
        for p in newest.order_by("bay_id", "-taken_at")
        .distinct("bay_id")
        .select_related("aircraft", "bay")
        if p.bay
    }
    return [
        FoundBay(
            bay=bay,
            name=names.get(bay, "Outside all bays"),
            photo=_thumb(photos.get(bay)),
            photo_alt=photos[bay].caption or names.get(bay, "") if bay in photos else "",
            closures=over.get(bay, []),
            results=[_shown(f, frame, ways) for f in rows],
        )
        for bay, rows in grouped.items()
    ]


def _thumb(p: Photo | None) -> str:
    return f"/api/aircraft/{p.aircraft.slug}/photos/{p.pk}/thumb" if p else ""


def _shown(f: Findable, frame: Airframe, ways: dict[str, tuple[str, str]]) -> FoundShown:
    way, status = ways.get(f"{f.kind}/{f.key}", ("", ""))
    if f.point_m and not frame.has_arm:
        way = "Enter your arm under Airframe to see the way in"
    place = ""
    if f.point_m:
        x, y, z = (round(v * 1e3) for v in f.point_m)
        side = "right" if y > 0 else "left" if y < 0 else ""
        place = f"station {x}, butt line {abs(y)} {side}".rstrip() + f", water line {z} mm"
    return FoundShown(
        kind=f.kind,
        title=f.title,
        text=f.text if f.text != f.title else "",
        link=f.link,
        way=way,
        reach=status,
        place=place,
    )
