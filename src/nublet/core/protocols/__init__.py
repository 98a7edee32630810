"""What is done to a spot and how its mark is graded."""
