"""Make the database ready: migrate, and in demo mode load the demo if there is nothing."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand

from server.aircraft.models import Aircraft
from server.demo.loading import load, relocate
from server.find.indexing import rebuild
from server.find.models import Findable
from server.kit.standing import renewed


class Command(BaseCommand):
    """manage.py prepare"""

    help = "Migrates; in demo mode loads the demo into an empty database."

    def handle(self, *args: Any, **options: Any) -> None:
        """Do it."""
        call_command("migrate", verbosity=0, interactive=False)
        for aircraft in Aircraft.objects.exclude(pk__in=Findable.objects.values("aircraft")):
            rebuild(aircraft)
        renewed()
        if not settings.DEMO:
            return
        if not Aircraft.objects.exists():
            load()
            self.stdout.write("The demo is loaded.")
        elif settings.INSTRUMENT_ADDRESSES:
            relocate()
