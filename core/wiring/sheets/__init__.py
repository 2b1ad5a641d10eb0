"""What the wire trade asks: circuits, loads, bundles, grounds, connectors, tests, the compass
sensor's place and antennas, as worksheets. The rules are those of `core.wiring`.
"""

from core.wiring.sheets import (  # noqa: F401
    antennas,
    bundles,
    circuits,
    compass,
    connectors,
    grounds,
    loads,
    power,
    tests,
)
