"""Clearance as a trade: shapes, zones, distances, and what is said of every near pair."""
