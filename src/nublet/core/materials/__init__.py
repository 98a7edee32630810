"""Wood, finish families and build-ups."""
