"""Linkages of a control: kept as rows, solved, advised on, adjusted."""
