"""Words that several rules of this trade share: cautions and sources."""

from __future__ import annotations

TABLE = "MIL-W-83420 / MIL-DTL-83420 Type I, as in AC 43.13-1B ch. 7."

ASSUMED = "Stiffness assumed ±40 % (this product's model); measure to improve."

CAUTION = (
    "Control cables: a second person checks sense, travel, tension and safetying before flight. "
    "Figures here do not replace the maker's data."
)

MECHANICS = "Linear elasticity and thermal expansion (any mechanics text)."

SOAK = (
    "Measure tension after the aircraft has stood at one temperature. A steel cable in an "
    "aluminium airframe loses tension in the cold."
)

BOTTOMED = (
    "A bottomed turnbuckle cannot be tightened: shorten the cable. Too many threads outside: "
    "lengthen the engagement, or the cable is too long or too short."
)

WHERE = "Measured where the maker says, at neutral, controls pinned."

STATICS = "Statics of an elastic loop over pulleys (any mechanics text)."

RUB = "14 CFR 23.689(b): the cable must not rub the flange, guards closely fitted."
