"""The rules and the computation of Ash Lane: pure Python, SI units, no I/O, no clock."""
