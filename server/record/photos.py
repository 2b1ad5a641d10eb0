"""Photos: taking them in, showing them, and drawing on top."""

from __future__ import annotations

import math
import uuid
from datetime import UTC, datetime
from typing import Any, TypedDict

from django.core.files.base import ContentFile
from django.db import transaction
from django.db.models import Q
from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.refused import Refused
from server.aircraft.access import check_version, member
from server.config.forms import Form, checked
from server.config.paging import Pages
from server.config.parsing import Json
from server.config.shapes import answer
from server.config.text import text
from server.journal.writing import note
from server.record.models import TARGETS, Photo
from server.record.pictures import picture
from server.record.places import place_of

MOST_MARKS = 40


class Mark(TypedDict):
    """An arrow or a label drawn on a photo, in shares of its width and height."""

    kind: str
    x0: float
    y0: float
    x1: float
    y1: float
    text: str


class PhotoShown(TypedDict):
    """A photo; its file and thumbnail are read at the addresses given."""

    id: int
    version: int
    target: str
    target_id: str
    bay: str
    caption: str
    shows: str
    width: int
    height: int
    taken_at: str
    camera_time: bool
    by: str
    file: str
    thumb: str
    overlay: list[Mark]


class PhotoPage(TypedDict):
    """Photos."""

    count: int
    results: list[PhotoShown]


class PhotoIn(Form):
    """A picture and what it is of."""

    file = serializers.FileField(allow_empty_file=True)
    target = serializers.ChoiceField(choices=TARGETS, required=False, default="aircraft")
    target_id = text(60)
    caption = text(200)
    shows = serializers.ChoiceField(
        choices=[s for s, _ in Photo.SHOWS], required=False, default="", allow_blank=True
    )


class MarkIn(Form):
    """One mark of the overlay."""

    kind = serializers.ChoiceField(choices=["arrow", "label"])
    x0 = serializers.FloatField()
    y0 = serializers.FloatField()
    x1 = serializers.FloatField()
    y1 = serializers.FloatField()
    text = text(80)


class OverlayIn(Form):
    """What is drawn on top."""

    version = serializers.IntegerField()
    caption = text(200)
    overlay = MarkIn(many=True)


class PhotosView(APIView):
    """The photos of an aircraft."""

    parser_classes = [MultiPartParser]

    @extend_schema(
        parameters=[
            OpenApiParameter("bay", str),
            OpenApiParameter("target", str),
            OpenApiParameter("target_id", str),
            OpenApiParameter("page", int),
            OpenApiParameter("size", int),
        ],
        responses=answer(PhotoPage),
    )
    def get(self, request: Request, slug: str) -> Response:
        """Newest first; of one thing, or of all that lies in a bay."""
        who = member(request, slug)
        rows = Photo.objects.filter(aircraft=who.aircraft).select_related("by", "bay", "aircraft")
        asked = request.query_params
        if bay := asked.get("bay"):
            rows = rows.filter(Q(bay__slug=bay))
        if target := asked.get("target"):
            rows = rows.filter(target=target, target_id=asked.get("target_id", ""))
        pages = Pages()
        page: list[Photo] = pages.paginate_queryset(rows, request, self) or []
        count: Any = pages.page.paginator.count if pages.page else 0
        return Response(PhotoPage(count=count, results=[photo_shown(p) for p in page]))

    @extend_schema(request={"multipart/form-data": PhotoIn}, responses=answer(PhotoShown, 201))
    def post(self, request: Request, slug: str) -> Response:
        """Keep one; refused with the reason if it is not a picture."""
        who = member(request, slug, "write")
        given = checked(PhotoIn, request)
        with transaction.atomic():
            bay = place_of(who.aircraft, given["target"], given["target_id"])
            p = new_photo(
                Photo(
                    aircraft=who.aircraft,
                    changed_by=who.person,
                    by=who.person,
                    bay=bay,
                    target=given["target"],
                    target_id=given["target_id"],
                    caption=given["caption"],
                    shows=given["shows"],
                ),
                given["file"].read(),
            )
            said = f"Photo: {p.caption or p.shows or p.target_id or 'of the aircraft'}"
            note(who.aircraft, who.person, "photo", said, [bay.slug] if bay else [])
            return Response(photo_shown(p), status=201)


def new_photo(p: Photo, data: bytes) -> Photo:
    """Fill in and keep a photo from its bytes."""
    now = datetime.now(UTC)
    kept = picture(data, now)
    p.media_type, p.width, p.height = kept.media_type, kept.width, kept.height
    p.sha256 = kept.sha256
    p.taken_at, p.camera_time = kept.camera_time or now, kept.camera_time is not None
    name = uuid.uuid4().hex
    try:
        p.file.save(f"{name}{kept.suffix}", ContentFile(kept.data), save=False)
        p.thumb.save(f"{name}.jpg", ContentFile(kept.thumb), save=False)
        p.save()
    except Exception:
        # A disk that is full, a database that is away: no file is left that no photo names.
        for file in (p.file, p.thumb):
            if file.name:
                file.storage.delete(file.name)
        raise
    return p


class PhotoView(APIView):
    """One photo's overlay and caption."""

    parser_classes = [Json]

    @extend_schema(request=OverlayIn, responses=answer(PhotoShown))
    def patch(self, request: Request, slug: str, photo: int) -> Response:
        """Keep what is drawn on top; the picture itself stays as it is."""
        who = member(request, slug, "write")
        given = checked(OverlayIn, request)
        with transaction.atomic():
            rows = Photo.objects.select_for_update(of=("self",)).select_related("by", "bay")
            p = rows.filter(aircraft=who.aircraft, pk=photo).first()
            if p is None:
                raise Http404
            p.aircraft = who.aircraft
            check_version(p, given["version"], photo_shown(p), given)
            p.overlay = _marks(given["overlay"])
            p.caption = given["caption"]
            p.version, p.changed_by = p.version + 1, who.person
            p.save()
            return Response(photo_shown(p))


def _marks(marks: list[dict[str, Any]]) -> list[dict[str, Any]]:
    if len(marks) > MOST_MARKS:
        raise Refused("overlay", f"holds at most {MOST_MARKS} marks")
    for i, m in enumerate(marks):
        for at in ("x0", "y0", "x1", "y1"):
            if not (math.isfinite(m[at]) and 0.0 <= m[at] <= 1.0):
                raise Refused(f"overlay.{i}.{at}", "must lie on the picture")
        if m["kind"] == "label" and not m["text"].strip():
            raise Refused(f"overlay.{i}.text", "a label needs its words")
    return [dict(m) for m in marks]


class PhotoFileView(APIView):
    """The picture, or its thumbnail."""

    @extend_schema(responses={(200, "image/jpeg"): OpenApiTypes.BINARY})
    def get(self, request: Request, slug: str, photo: int, which: str) -> HttpResponse:
        """For members of the aircraft alone."""
        who = member(request, slug)
        p = Photo.objects.filter(aircraft=who.aircraft, pk=photo).first()
        if p is None or which not in ("file", "thumb"):
            raise Http404
        kind = "image/jpeg" if which == "thumb" else p.media_type
        with (p.thumb if which == "thumb" else p.file).open("rb") as file:
            response = HttpResponse(file.read(), content_type=kind)
        response["Cache-Control"] = "private, max-age=31536000, immutable"
        response["X-Content-Type-Options"] = "nosniff"
        return response


def photo_shown(p: Photo) -> PhotoShown:
    """A photo for the screen."""
    at = f"/api/aircraft/{p.aircraft.slug}/photos/{p.pk}"
    return PhotoShown(
        id=p.pk,
        version=p.version,
        target=p.target,
        target_id=p.target_id,
        bay=p.bay.slug if p.bay else "",
        caption=p.caption,
        shows=p.shows,
        width=p.width,
        height=p.height,
        taken_at=p.taken_at.isoformat(),
        camera_time=p.camera_time,
        by=p.by.name,
        file=f"{at}/file",
        thumb=f"{at}/thumb",
        overlay=p.overlay,
    )
