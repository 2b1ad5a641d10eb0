"""The canonical form of facts and its hash: RFC 8785 (JCS) and SHA-256 (FIPS 180-4)."""

from __future__ import annotations

import hashlib
import math
from typing import Any

import rfc8785

from core.basis.refused import Refused

LARGEST_WHOLE = 2**53 - 1


def canonical_bytes(value: Any, field: str = "value") -> bytes:
    """UTF-8 bytes of the canonical JSON of `value`.

    Refuses NaN, infinities, whole numbers beyond ±(2^53 - 1), lone surrogates and keys
    that are not text.
    """
    _check(value, field)
    return rfc8785.dumps(value)


def canonical_hash(value: Any, field: str = "value") -> str:
    """SHA-256 of the canonical bytes, 64 lower-case hexadecimal digits."""
    return hashlib.sha256(canonical_bytes(value, field)).hexdigest()


def figure(value: float | None) -> str | None:
    """A computed figure as text, 9 significant digits: a later release that computes the
    last bit otherwise must not make signatures stale."""
    if value is None:
        return None
    text = f"{value:.9g}"
    return "0" if float(text) == 0.0 else text


def _check(value: Any, field: str) -> None:
    if isinstance(value, bool) or value is None:
        return
    if isinstance(value, int):
        if abs(value) > LARGEST_WHOLE:
            raise Refused(field, "whole numbers beyond 2^53 - 1 cannot be kept exactly")
    elif isinstance(value, float):
        if not math.isfinite(value):
            raise Refused(field, "must be a finite number")
    elif isinstance(value, str):
        try:
            value.encode()
        except UnicodeEncodeError:
            raise Refused(field, "holds half a character (lone surrogate)") from None
    elif isinstance(value, (list, tuple)):
        for item in value:
            _check(item, field)
    elif isinstance(value, dict):
        for key, item in value.items():
            if not isinstance(key, str):
                raise Refused(field, "keys must be text")
            _check(key, field)
            _check(item, field)
    else:
        raise Refused(field, f"cannot hold a {type(value).__name__}")
