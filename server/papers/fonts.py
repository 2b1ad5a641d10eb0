"""The fonts of printed sheets: TTF with the signs that figures need (− ± ° ≥ → δ)."""

from __future__ import annotations

import os
from functools import lru_cache
from pathlib import Path

from django.core.exceptions import ImproperlyConfigured
from reportlab.lib.fonts import addMapping
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

FOLDER = Path(os.environ.get("ASHLANE_FONTS", "/usr/share/fonts/truetype/dejavu"))
TEXT, BOLD = "AshText", "AshBold"


@lru_cache(maxsize=1)
def ready() -> None:
    """Register the fonts once; says which package is missing."""
    for name, file in ((TEXT, "DejaVuSans.ttf"), (BOLD, "DejaVuSans-Bold.ttf")):
        path = FOLDER / file
        if not path.is_file():
            raise ImproperlyConfigured(f"{path} is missing: install fonts-dejavu-core")
        pdfmetrics.registerFont(TTFont(name, path))
    for bold in (0, 1):
        for italic in (0, 1):
            addMapping(TEXT, bold, italic, BOLD if bold else TEXT)
