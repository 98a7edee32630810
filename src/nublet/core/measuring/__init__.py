"""Measuring: weights, moisture."""
