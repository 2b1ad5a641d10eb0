"""Worksheets: a question of a trade, its answers typed once, judged and kept with the aircraft.

A trade declares its kinds (`kinds.declare`): the fields that a person fills in, and what the rules
make of them. Reading, refusing, keeping and showing are the same for all.
"""
