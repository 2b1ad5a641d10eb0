"""The rule book on the command line.

python -m core.rulebook list | table | show ID | run ID < inputs.json | batch < list.json
"""

from __future__ import annotations

import argparse
import json
import sys
from typing import Any

from core.basis.refused import Refused
from core.rulebook import RULES, rule


def outcome(rule_id: Any, inputs: Any) -> dict[str, Any]:
    """The rule's outputs, or the refusal, as plain data."""
    try:
        return rule(str(rule_id)).run(inputs)
    except Refused as refusal:
        return {"refused": {"field": refusal.field, "reason": refusal.reason}}


def _read() -> Any:
    try:
        return json.load(sys.stdin)
    except ValueError as error:
        sys.exit(f"The input is not JSON: {error}")


def _batch(items: Any) -> list[dict[str, Any]]:
    if not isinstance(items, list):
        sys.exit('batch takes a list of {"rule", "inputs"}')
    return [
        outcome(i.get("rule"), i.get("inputs"))
        if isinstance(i, dict)
        else {"refused": {"field": "batch", "reason": "each item must be an object"}}
        for i in items
    ]


def table() -> str:
    """All rules as the table of `docs/rules.md`."""
    rows = ["| rule | what it is | source | where it holds |", "|---|---|---|---|"]
    for r in sorted(RULES.values(), key=lambda r: r.id):
        e = r.entry
        cells = (f"`{e.id}`", f"{e.title}: {e.purpose}", e.source, e.validity)
        rows.append("| " + " | ".join(c.replace("|", "/").replace("\n", " ") for c in cells) + " |")
    return "\n".join(rows)


def main() -> None:
    """Run the command."""
    parser = argparse.ArgumentParser(prog="python -m core.rulebook", description=__doc__)
    verbs = parser.add_subparsers(dest="verb", required=True)
    verbs.add_parser("list")
    verbs.add_parser("batch")
    verbs.add_parser("table")
    for verb in ("show", "run"):
        verbs.add_parser(verb).add_argument("id")
    asked = parser.parse_args()
    if asked.verb == "list":
        for r in RULES.values():
            print(f"{r.id:32} {r.entry.title}")
        return
    if asked.verb == "table":
        print(table())
        return
    if asked.verb != "batch" and asked.id not in RULES:
        sys.exit(f"{asked.id} is not in the rule book: see 'list'")
    answer: Any
    if asked.verb == "show":
        answer = rule(asked.id).shown()
    elif asked.verb == "run":
        answer = outcome(asked.id, _read())
    else:
        answer = _batch(_read())
    json.dump(answer, sys.stdout, ensure_ascii=False, indent=1, allow_nan=False)
    print()


if __name__ == "__main__":
    main()
