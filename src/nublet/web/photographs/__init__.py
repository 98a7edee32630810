"""Photographs of panels and spots."""
