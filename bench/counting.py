"""How many queries the main pages of an aircraft take: `python -m bench.counting`."""

from __future__ import annotations

import django

django.setup()

from django.db import connection  # noqa: E402
from django.test.utils import CaptureQueriesContext  # noqa: E402

from core.signoff.closing import Lot  # noqa: E402
from server.aircraft.models import Member  # noqa: E402
from server.closing import gates  # noqa: E402
from server.closing.frame import frame  # noqa: E402
from server.kit.standing import concerns, counts  # noqa: E402


def main() -> None:
    """A line each: what, how many."""
    rows = Member.objects.select_related("aircraft", "person")
    who = rows.get(aircraft__slug="fenlark", role="owner")
    key = who.aircraft_id
    pages = {
        "frame": lambda: frame(who),
        "lane": lambda: gates.closings(key, Lot(concerns(key)), gates.closures_of(key)),
        "gate": lambda: gates.closing(key, "aft-top-skin"),
        "list": lambda: counts([key]),
    }
    for name, page in pages.items():
        with CaptureQueriesContext(connection) as asked:
            page()
        print(name, len(asked))


if __name__ == "__main__":
    main()
