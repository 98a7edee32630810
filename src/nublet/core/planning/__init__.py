"""Bench days: windows, hands, the planner, and what to do when the day went otherwise."""
