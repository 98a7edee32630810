"""Nublet: which wood finish to use for what, how sure one may be, and why."""

__version__ = "0.1.0"
