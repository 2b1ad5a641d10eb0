"""Levers, cranks and rods that move: solved in closed form, over whole sweeps at once."""
