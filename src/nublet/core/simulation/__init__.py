"""A finishing shop that does not exist, for the demo, the tests and the planner."""
