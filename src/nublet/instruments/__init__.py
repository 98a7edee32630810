"""Instruments on a serial line: drivers, and simulated ones that ship. See ``docs/instruments.md``."""
