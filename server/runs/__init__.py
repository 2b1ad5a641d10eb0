"""Runs: everything that is routed through the aircraft; what all of them share."""
