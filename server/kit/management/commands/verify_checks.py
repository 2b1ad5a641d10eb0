"""Judges everything anew, and names where what is kept differs."""

from __future__ import annotations

import sys
from typing import Any

from django.core.management.base import BaseCommand

from server.aircraft.models import Aircraft
from server.kit.standing import differences, keep_all


class Command(BaseCommand):
    """manage.py verify_checks [AIRCRAFT] [--mend]"""

    help = "Compares every kept check with one made anew; --mend writes them anew."

    def add_arguments(self, parser: Any) -> None:
        """One aircraft, or all."""
        parser.add_argument("aircraft", nargs="?", default="")
        parser.add_argument("--mend", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        """Print every difference; exit code 1 where there is one that was not mended."""
        rows = Aircraft.objects.all()
        if options["aircraft"]:
            rows = rows.filter(slug=options["aircraft"])
        wrong = 0
        for aircraft in rows:
            found = differences(aircraft.pk)
            for line in found:
                self.stdout.write(f"{aircraft.slug}: {line}")
            wrong += len(found)
            if found and options["mend"]:
                keep_all(aircraft.pk)
        self.stdout.write(f"{wrong} differences" + (", mended" if options["mend"] else ""))
        if wrong and not options["mend"]:
            sys.exit(1)
