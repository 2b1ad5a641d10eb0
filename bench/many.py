"""Many joints that are not torqued, on the Fenlark: `python -m bench.many IN_ONE_BAY IN_ALL`."""

from __future__ import annotations

import sys

import django

django.setup()

from server.aircraft.models import Aircraft, Bay  # noqa: E402
from server.config.bounds import AT_ONCE  # noqa: E402
from server.hardware.models import Joint  # noqa: E402
from server.kit.standing import keep_all  # noqa: E402


def add(here: int, every: int) -> None:
    """The first `here` of them in the aft fuselage, the others in all bays by turns."""
    a = Aircraft.objects.get(slug="fenlark")
    bays = list(Bay.objects.filter(aircraft=a))
    aft = next(b for b in bays if b.slug == "aft-fuselage")
    who = Joint.objects.filter(aircraft=a)[0].changed_by
    Joint.objects.bulk_create(
        (
            Joint(
                aircraft=a,
                changed_by=who,
                slug=f"many-{i}",
                name=f"Bracket bolt {i}",
                bay=aft if i < here else bays[i % len(bays)],
                why=["not torqued"],
            )
            for i in range(every)
        ),
        batch_size=AT_ONCE,
    )
    keep_all(a.pk)


if __name__ == "__main__":
    add(int(sys.argv[1]), int(sys.argv[2]))
