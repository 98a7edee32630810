"""The bench days: hands and their hours, the plan, and what was done when."""
