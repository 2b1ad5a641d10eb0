"""What the line trade asks: hoses, fuel, brakes, air data, tanks and fittings, as worksheets.

Each module declares its kinds; the rules are those of `core.lines`.
"""

from core.lines.sheets import (  # noqa: F401
    air,
    air_tests,
    brakes,
    fittings,
    fuel,
    hoses,
    moving,
    path,
    selector,
    tanks,
    tubes,
)
