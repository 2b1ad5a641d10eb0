"""The answers other than the wanted one that the schema lists for each operation."""

from __future__ import annotations

from typing import Any

TEXT = {"type": "string"}
FIELDS = {"type": "object", "properties": {"field": TEXT, "reason": TEXT}}
PROBLEM = {
    "type": "object",
    "description": "Why it was not done (RFC 9457): for people in `title`, by field in `errors`;"
    " on an old version what is kept (`theirs`) beside what was sent (`yours`).",
    "properties": {
        "type": TEXT,
        "title": TEXT,
        "status": {"type": "integer"},
        "field": TEXT,
        "reason": TEXT,
        "errors": {"type": "array", "items": FIELDS},
        "theirs": {},
        "yours": {},
    },
    "required": ["type", "title", "status"],
}
WHEN = {
    400: "What was sent cannot be read.",
    403: "Nobody is signed in, or this person may not.",
    404: "There is no such thing, or one has nothing to do with it.",
    409: "It was changed meanwhile: both sides.",
    413: "More was sent than is taken.",
    415: "It was sent in a form that is not taken.",
    422: "Refused, by field and reason.",
    429: "Asked too often.",
    503: "The database, or what is asked for, is away.",
    507: "The disk is full.",
}
READ, WRITE = (403, 422, 503), (400, 403, 409, 413, 415, 422, 503, 507)
# What somebody who has not signed in may ask is counted.
COUNTED = ("/api/session", "/api/rules", "/api/join")


def add_refusals(result: Any, generator: Any, request: Any, public: bool) -> Any:
    """Hook of the schema: what an operation may answer instead, the same for all of a kind."""
    parts = result.setdefault("components", {})
    parts.setdefault("schemas", {})["Problem"] = PROBLEM
    content = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}}
    parts["responses"] = {
        f"Problem{status}": {"description": said, "content": content}
        for status, said in WHEN.items()
    }
    for path, methods in result["paths"].items():
        for method, spec in methods.items():
            for status in statuses(method, path):
                answer = {"$ref": f"#/components/responses/Problem{status}"}
                spec["responses"].setdefault(str(status), answer)
    return result


def statuses(method: str, path: str) -> list[int]:
    """Of one operation."""
    found = set(READ if method == "get" else WRITE)
    found |= {404} if "{" in path else set()
    found |= {429} if path.startswith(COUNTED) else set()
    return sorted(found)
