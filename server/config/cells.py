"""Words in a CSV file that a spreadsheet must not take for a formula."""

from __future__ import annotations

STARTS = ("=", "+", "-", "@", "\t", "\r")
MARK = "'"


def cell(text: str) -> str:
    """A word as it is written: one that begins as a formula does gets a mark before it."""
    return MARK + text if text.startswith((*STARTS, MARK)) else text


def plain(written: str) -> str:
    """The word as it was."""
    marked = written.startswith(MARK) and written[1:].startswith((*STARTS, MARK))
    return written[1:] if marked else written
