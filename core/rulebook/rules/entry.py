"""What an entry of the rule book consists of."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from core.rulebook.fields import Field


@dataclass(frozen=True)
class Entry:
    """A rule as registered: `compute` takes SI under bare names and returns SI under the
    page's names."""

    id: str
    title: str
    purpose: str
    inputs: tuple[Field, ...]
    outputs: tuple[Field, ...]
    compute: Callable[[dict[str, Any]], dict[str, Any]]
    source: str
    validity: str
    caution: str = ""
    edition: int = 1


LIMITS = (
    Field("lo_deg", doc="Low limit, if the result is to be judged."),
    Field("hi_deg", doc="High limit, if the result is to be judged."),
)
VERDICT = Field("verdict", "text", "In, out, too close or not measured.")
DEFLECTION = (
    Field("deflection_deg", doc="Deflection about the hinge."),
    Field("u_deg", doc="Combined standard uncertainty."),
    Field("U_deg", doc="Expanded uncertainty, 95.45 %."),
    Field("k", doc="Coverage factor.", unit=""),
    VERDICT,
)
