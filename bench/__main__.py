"""bin/bench [core | api | web | start | all]: every line within or over; exit code 1 if any is."""

from __future__ import annotations

import sys

from bench.core import core
from bench.report import Report
from bench.running import served

PARTS = ("core", "api", "web", "start", "all")


def main() -> None:
    """Measure what was asked for."""
    asked = sys.argv[1:] or ["all"]
    for word in asked:
        if word not in PARTS:
            sys.exit(f"{word} is not measured: choose from {', '.join(PARTS)}")
    report = Report()
    parts = set(PARTS) if "all" in asked else set(asked)
    if "core" in parts:
        core(report)
    if parts & {"api", "web", "start"}:
        _served(report, parts)
    sys.exit(1 if report.over else 0)


def _served(report: Report, parts: set[str]) -> None:
    from bench.api import api
    from bench.web import web

    for part, measured in (("start", None), ("web", web), ("api", api)):
        if part not in parts:
            continue
        with served() as server:
            if measured is None:
                report.title("start")
                report.at_most("second start", server.second_start_s, 5, "s")
            else:
                measured(report, server)


main()
