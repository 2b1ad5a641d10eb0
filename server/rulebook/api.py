"""The rule book: every rule with source, limits and cases, and a calculator without aircraft."""

from __future__ import annotations

from typing import Any, TypedDict

from django.http import Http404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.rulebook import RULES
from core.rulebook.registry import Rule
from core.rulebook.workings import working
from server.config.bounds import OpenRules, bounded, within
from server.config.forms import Form, checked
from server.config.shapes import answer

# A recording of ten seconds as numbers; nothing that a rule asks is larger.
MOST_ASKED = 8 * 2**20


class RuleRow(TypedDict):
    """A rule in the list."""

    id: str
    title: str
    purpose: str


class RuleList(TypedDict):
    """All rules."""

    count: int
    results: list[RuleRow]


class CaseShown(TypedDict):
    """A worked case."""

    id: str
    inputs: dict[str, Any]
    expect: dict[str, Any]


class RuleShown(TypedDict):
    """A rule with everything a reader wants to know; fields as JSON Schema."""

    id: str
    title: str
    purpose: str
    edition: int
    source: str
    validity: str
    caution: str
    inputs: dict[str, Any]
    outputs: dict[str, Any]
    cases: list[CaseShown]


class Asked(Form):
    """Inputs of a rule, and their units where it takes any."""

    inputs = serializers.DictField()
    units = serializers.DictField(
        child=serializers.CharField(max_length=12, allow_blank=True), required=False, default=dict
    )


class StepShown(TypedDict):
    """A step that can be followed with a calculator."""

    says: str
    worked: str
    value: float | None
    unit: str


class ShareShown(TypedDict):
    """A contribution to the uncertainty, and its share of the whole."""

    name: str
    u: float
    share: float


class Worked(TypedDict):
    """A rule's answer, and how it comes about."""

    answer: dict[str, Any]
    steps: list[StepShown]
    shares: list[ShareShown]


class RulesView(APIView):
    """The rule book."""

    permission_classes = [AllowAny]

    @extend_schema(responses=answer(RuleList))
    def get(self, request: Request) -> Response:
        """All rules, a line each."""
        rows = [
            RuleRow(id=r.id, title=r.entry.title, purpose=r.entry.purpose) for r in RULES.values()
        ]
        return Response(RuleList(count=len(rows), results=rows))


class RuleView(APIView):
    """One rule."""

    permission_classes = [AllowAny]
    throttle_classes = [OpenRules]
    stateless = True

    @extend_schema(responses=answer(RuleShown))
    def get(self, request: Request, rule: str) -> Response:
        """Purpose, source, limits, fields and worked cases."""
        return Response(known(rule).shown())

    @extend_schema(
        request={"application/json": {"type": "object"}}, responses=answer(dict[str, Any])
    )
    def post(self, request: Request, rule: str) -> Response:
        """Compute it for these inputs; saves nothing."""
        return Response(known(rule).run(bounded(within(request, MOST_ASKED).data)))


def known(rule_id: str) -> Rule:
    """The rule of that id; 404 for none."""
    if rule_id not in RULES:
        raise Http404
    return RULES[rule_id]


class WorkingView(APIView):
    """How a rule comes to its answer."""

    permission_classes = [AllowAny]
    throttle_classes = [OpenRules]
    stateless = True

    @extend_schema(request=Asked, responses=answer(Worked))
    def post(self, request: Request, rule: str) -> Response:
        """The answer for these inputs, step by step; saves nothing."""
        found = known(rule)
        given = checked(Asked, within(request, MOST_ASKED))
        bounded(given["inputs"])
        units = given["units"]
        made = working(found.id, given["inputs"], units.get("", ""), units.get("readings", ""))
        return Response(
            Worked(
                answer=found.run(given["inputs"]),
                steps=[
                    StepShown(says=s.says, worked=s.worked, value=s.value, unit=s.unit)
                    for s in made.steps
                ],
                shares=[ShareShown(name=s.name, u=s.u, share=s.share) for s in made.shares],
            )
        )
