"""Simulated stand-ins for measuring instruments: real sockets on loopback."""
