"""Words that several rules of this trade share: cautions and sources."""

from __future__ import annotations

CHAPTER_7 = "AC 43.13-1B ch. 7."

LOOK = (
    "A nut that stops on the shank feels tight and clamps nothing. Look for the shank, "
    "count the threads."
)

METROLOGY = "JCGM 106:2012, 8.3 for the verdict."

TURN = "It must turn. Do not press it in: ream or polish first, then try it by hand."
