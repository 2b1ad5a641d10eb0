"""The airframe as data: bays, outlines, and templates of new ones."""
