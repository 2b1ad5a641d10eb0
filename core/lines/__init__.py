"""Lines: tubes, hoses, tanks, fuel, brakes, pitot and static (`lines.md` of the rules).

SI units and radians inside; axes: station aft, butt line right, water line up.
"""
