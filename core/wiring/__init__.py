"""Wiring: gauges, protection, loads, bundles, grounds, connectors, tests, fields, antennas."""
