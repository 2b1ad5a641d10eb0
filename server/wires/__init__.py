"""Wires: what they ask of an aircraft, as worksheets."""
