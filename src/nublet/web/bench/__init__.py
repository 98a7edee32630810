"""The bench: readings as they are made."""
