"""Trials: question, candidates, design."""
