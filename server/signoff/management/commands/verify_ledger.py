"""Check the ledgers: the chain, the history, and every covered row."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from server.aircraft.models import Aircraft
from server.signoff.ledger import check

# What the chain cannot show by itself: that nothing was cut off its end.
UNSEEN = (
    "Nothing was changed or taken out of it. That nothing was cut off its end only a witness shows:"
    " give --witness SEQ:HASH from a printed sheet."
)
WITNESSED = "It still has the entry of the witness: up to there nothing was cut off or exchanged."


class Command(BaseCommand):
    """manage.py verify_ledger [AIRCRAFT] [--witness SEQ:HASH]"""

    help = "Checks one aircraft's ledger, or all; exits with 1 if something does not hold."

    def add_arguments(self, parser: CommandParser) -> None:
        """The aircraft, and a head seen earlier."""
        parser.add_argument("aircraft", nargs="?")
        parser.add_argument("--witness", help="SEQ:HASH as printed on a sheet (one aircraft)")

    def handle(self, *args: Any, **options: Any) -> None:
        """Check and say."""
        witness = None
        if options["witness"]:
            seq, colon, digest = options["witness"].partition(":")
            if not options["aircraft"] or not colon or not seq.isdigit() or len(digest) != 64:
                raise CommandError("A witness is SEQ:HASH, for one aircraft.")
            witness = {"seq": int(seq), "hash": digest}
        rows = Aircraft.objects.order_by("slug")
        if options["aircraft"]:
            rows = rows.filter(slug=options["aircraft"])
            if not rows:
                raise CommandError(f"There is no aircraft {options['aircraft']}.")
        whole = True
        for aircraft in rows:
            found = check(aircraft, witness)
            whole = whole and found["ok"]
            head = found["head"]
            state = "holds" if found["ok"] else "DOES NOT HOLD"
            self.stdout.write(
                f"{aircraft.slug}: {state}; {found['entries']} entries, {found['facts']} fact"
                f" revisions, head {head['seq']}:{head['hash']}"
            )
            if found["ok"]:
                self.stdout.write(f"  {WITNESSED if witness else UNSEEN}")
            for fault in found["faults"]:
                self.stdout.write(f"  {fault['where']}: {fault['fault']}")
        if not whole:
            raise CommandError("Not everything holds.", returncode=1)
