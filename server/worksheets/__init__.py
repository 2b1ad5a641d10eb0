"""Worksheets of an aircraft: questions that trades declare, kept with their answers."""
