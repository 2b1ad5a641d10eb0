"""Words that several rules of this trade share: cautions and sources."""

from __future__ import annotations

CAUTION = (
    "Computed from the points you entered. Move every control by hand to both stops, in every "
    "combination, with each flap, trim and pedal setting, and look. A number here never "
    "replaces that, the kit maker's data, or the inspector."
)
