"""What every run has: its way through the aircraft, its length, spans, holes and bays."""
