"""Aircraft: the list, and a new one."""

from __future__ import annotations

from typing import Any, TypedDict

from drf_spectacular.utils import extend_schema
from rest_framework.exceptions import PermissionDenied
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.aircraft.airframe import NewAircraftIn, new_aircraft
from server.aircraft.facts import AircraftRow, aircraft_row
from server.aircraft.models import Member
from server.config.forms import checked
from server.config.paging import Pages
from server.config.shapes import answer
from server.kit.standing import counts


class AircraftPage(TypedDict):
    """A page of aircraft."""

    count: int
    results: list[AircraftRow]


class AircraftListView(APIView):
    """The aircraft that you are a member of."""

    @extend_schema(responses=answer(AircraftPage))
    def get(self, request: Request) -> Response:
        """List them."""
        mine = (
            Member.objects.filter(person__users=request.user.pk)
            .select_related("aircraft")
            .order_by("aircraft__name")
        )
        pages = Pages()
        page: list[Member] = pages.paginate_queryset(mine, request, self) or []
        keys = [m.aircraft_id for m in page]
        owners = dict(
            Member.objects.filter(aircraft__in=keys, role="owner").values_list(
                "aircraft", "person__name"
            )
        )
        verdicts = counts(keys)
        rows = [
            aircraft_row(m, owners.get(m.aircraft_id, ""), verdicts[m.aircraft_id]) for m in page
        ]
        count: Any = pages.page.paginator.count if pages.page else 0
        return Response(AircraftPage(count=count, results=rows))

    @extend_schema(request=NewAircraftIn, responses=answer(AircraftRow, 201))
    def post(self, request: Request) -> Response:
        """A new aircraft from a few words about it; you are its owner."""
        given = checked(NewAircraftIn, request)
        person = getattr(request.user, "person", None)
        if person is None:
            raise PermissionDenied("This account belongs to no person: it cannot own an aircraft.")
        who = new_aircraft(person, given)
        return Response(aircraft_row(who, person.name, {}), status=201)
