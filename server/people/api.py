"""People of an aircraft: who may do what, invitations, and the end of a role."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any, TypedDict

from django.db import transaction
from django.http import Http404
from drf_spectacular.utils import extend_schema
from rest_framework.exceptions import PermissionDenied
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.basis.refused import Refused
from server.aircraft.access import SAID, may, member
from server.aircraft.models import Aircraft, Member
from server.config.forms import checked
from server.config.problems import Conflict
from server.config.shapes import answer
from server.journal.writing import note
from server.kit.writing import Act, Write, writes
from server.people import forms
from server.people.inviting import invite, open_ones


class PersonShown(TypedDict):
    """A person's role here."""

    person: str
    name: str
    role: str
    second_inspector: bool


class InvitationShown(TypedDict):
    """An invitation that can still be used; its link is told only once."""

    id: int
    role: str
    second_inspector: bool
    made_by: str
    expires_at: str


class PeopleShown(TypedDict):
    """Who has a role, and who is invited; `you`: your own person's name in addresses."""

    you: str
    results: list[PersonShown]
    invitations: list[InvitationShown]


class Invited(PeopleShown):
    """All people, and the new link, told this once."""

    link: str


def people(who: Member) -> PeopleShown:
    """Members by role, and open invitations for whoever may invite."""
    order = [r for r, _ in Member.ROLES]
    rows = Member.objects.filter(aircraft=who.aircraft).select_related("person")
    ordered = sorted(rows, key=lambda m: (order.index(m.role), m.person.name))
    invited = open_ones(who.aircraft) if may(who, "change facts") else []
    return PeopleShown(
        you=who.person.slug,
        results=[
            PersonShown(
                person=m.person.slug,
                name=m.person.name,
                role=m.role,
                second_inspector=m.second_inspector,
            )
            for m in ordered
        ],
        invitations=[
            InvitationShown(
                id=i.pk,
                role=i.role,
                second_inspector=i.second_inspector,
                made_by=i.made_by.name if i.made_by else "",
                expires_at=i.expires_at.isoformat(),
            )
            for i in invited
        ],
    )


class PeopleView(APIView):
    """The people of an aircraft."""

    @extend_schema(responses=answer(PeopleShown))
    def get(self, request: Request, slug: str) -> Response:
        """Who may do what."""
        return Response(people(member(request, slug)))


class InvitationsView(APIView):
    """A new invitation. Its answer holds the link, so it is not kept to be sent again."""

    stateless = True

    @extend_schema(request=forms.InvitationIn, responses=answer(Invited, 201))
    def post(self, request: Request, slug: str) -> Response:
        """A link that works once."""
        who = member(request, slug, "change facts")
        given = checked(forms.InvitationIn, request)
        with transaction.atomic():
            _aircraft(who)
            _, token = invite(who.aircraft, given["role"], given["second_inspector"], who.person)
            said = f"Invited: {_role(given['role'], given['second_inspector'])}"
            note(who.aircraft, who.person, "people", said, (), "people")
            return Response(Invited(link=f"/join/{token}", **people(who)), status=201)


def _role(role: str, second: bool) -> str:
    return f"a {role}{', second inspector' if second else ''}".replace("a owner", "an owner")


def _aircraft(who: Member) -> Aircraft:
    """Locked: two do not take each other's last owner away at once."""
    return Aircraft.objects.select_for_update().get(pk=who.aircraft_id)


def _withdraw(act: Act) -> None:
    row = open_ones(act.who.aircraft).filter(pk=act.at["invitation"]).first()
    if row is None:
        raise Http404
    row.withdrawn_at = datetime.now(UTC)
    row.save()
    said = f"Invitation withdrawn: {_role(row.role, row.second_inspector)}"
    note(act.who.aircraft, act.who.person, "people", said, (), "people")


def _on_people(form: Any, do: Any, who_may: tuple[str, ...]) -> Write:
    return Write(
        who_may,
        form,
        lambda who, at: _aircraft(who),
        do,
        lambda act: people(act.who),
        PeopleShown,
        200,
    )


class WithdrawView(APIView):
    """Withdrawing an invitation."""

    post = writes(_on_people(None, _withdraw, ("change facts",)), "Its link works no more.")


def _member(act: Act) -> Member:
    rows = Member.objects.select_related("person", "aircraft")
    found = rows.filter(aircraft=act.who.aircraft_id, person__slug=act.at["person"]).first()
    if found is None:
        raise Http404
    return found


def _other_owner(m: Member) -> bool:
    return Member.objects.filter(aircraft=m.aircraft_id, role="owner").exclude(pk=m.pk).exists()


def _change(act: Act) -> None:
    """Another role for a person; the last owner stays one."""
    m, given = _member(act), act.given
    if m.role != given["was"]:
        raise Conflict({"role": m.role}, given)
    if m.role == "owner" and given["role"] != "owner" and not _other_owner(m):
        raise Refused("role", "is the last owner: name another first")
    if given["second_inspector"] and given["role"] != "helper":
        raise Refused("second_inspector", "is a helper: a counselor inspects anyway")
    m.role, m.second_inspector = given["role"], given["second_inspector"]
    m.save()
    said = f"{m.person.name} is now {_role(m.role, m.second_inspector)}"
    note(act.who.aircraft, act.who.person, "people", said, (), "people")


def _end(act: Act) -> None:
    """A role ends: by an owner, or one leaves. What the person did and signed stays."""
    m = _member(act)
    mine = m.person_id == act.who.person_id
    if not mine and not may(act.who, "change facts"):
        raise PermissionDenied(f"As {act.who.role} you cannot {SAID['change facts']}.")
    reason = act.given["reason"].strip()
    if len(reason) < 3:
        raise Refused("reason", "say why it ends")
    if m.role == "owner" and not _other_owner(m):
        raise Refused("person", "is the last owner: name another first")
    word = "left" if mine else "has no role any more"
    said = f"{m.person.name} ({_role(m.role, m.second_inspector)}) {word}, because {reason}"
    m.delete()
    note(act.who.aircraft, act.who.person, "people", said, (), "people")


class PersonView(APIView):
    """The role of a person."""

    patch = writes(
        _on_people(forms.RoleIn, _change, ("change facts",)),
        "Another role; 409 where it was changed meanwhile.",
    )


class EndView(APIView):
    """The end of a role."""

    post = writes(_on_people(forms.EndIn, _end, ("read",)), "By an owner, or by oneself.")
