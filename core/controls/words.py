"""Words that several rules of this trade share: cautions and sources."""

from __future__ import annotations

GUM = "JCGM 100:2008 (propagation), JCGM 106:2012, 8.3 (guard band)."

THREAD = "Thread geometry (1/4-28 thread: pitch 25.4/28 mm)."

FLUTTER = (
    "Flutter. Balance and hinge limits come from the maker only; a repaint or repair changes"
    " them; balance weights need the maker's attachment. In here is no statement about flutter"
    " speed (14 CFR 23.629, 23.659 as reading)."
)

METROLOGY = "JCGM 100:2008 G.3-G.4, JCGM 106:2012, 8.3."
