"""The rule book: every rule with source, limits and cases, and a calculator without aircraft."""

from __future__ import annotations

from typing import Any, TypedDict

from django.http import Http404
from drf_spectacular.utils import extend_schema
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.rulebook import RULES
from core.rulebook.registry import Rule
from server.config.shapes import answer


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
    stateless = True

    @extend_schema(responses=answer(RuleShown))
    def get(self, request: Request, rule: str) -> Response:
        """Purpose, source, limits, fields and worked cases."""
        return Response(self._rule(rule).shown())

    @extend_schema(
        request={"application/json": {"type": "object"}}, responses=answer(dict[str, Any])
    )
    def post(self, request: Request, rule: str) -> Response:
        """Compute it for these inputs; saves nothing."""
        return Response(self._rule(rule).run(request.data))

    @staticmethod
    def _rule(rule_id: str) -> Rule:
        if rule_id not in RULES:
            raise Http404
        return RULES[rule_id]
