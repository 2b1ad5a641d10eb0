"""The entry bar: one typed line, understood with the aircraft's own names."""
