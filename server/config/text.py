"""Text as people enter it: brought to Unicode NFC, so that it is signed as it was typed."""

from __future__ import annotations

import unicodedata
from typing import Any

from rest_framework import serializers


class Text(serializers.CharField):
    """Text brought to Unicode NFC when entered."""

    def to_internal_value(self, data: Any) -> str:
        """Normalised text."""
        return unicodedata.normalize("NFC", super().to_internal_value(data))


def text(limit: int, **kwargs: Any) -> Text:
    """Optional text up to a length."""
    return Text(max_length=limit, required=False, allow_blank=True, default="", **kwargs)
