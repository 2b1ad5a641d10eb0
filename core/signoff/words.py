"""Words that several rules of this trade share: cautions and sources."""

from __future__ import annotations

LOCAL_RULES = "Who may sign, and which work needs it, is set by local regulations."
