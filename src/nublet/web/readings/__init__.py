"""Readings as they are made, blind."""
