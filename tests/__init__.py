"""Checks of everything."""
