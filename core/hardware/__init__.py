"""Bolts, fittings, torque, safetying, fits, rivets, metals in contact, and compounds."""
